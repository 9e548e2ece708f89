import { bt709ToLinear, linearToBt709 } from "./bt709";
import { hlgToLinear, linearToHlg, linearToPq, pqToLinear } from "./bt2100";
import { linearToSrgb, srgbToLinear } from "./srgb";

/** The transfer curves a plate may carry. BT.601 and BT.2020 (10 bit) share BT.709's curve. */
export const TRANSFERS = ["srgb", "bt709", "gamma22", "hlg", "pq", "linear"] as const;
export type Transfer = (typeof TRANSFERS)[number];

const signedPower = (v: number, p: number) => (v < 0 ? -((-v) ** p) : v ** p);

const toLinear: Record<Transfer, (v: number) => number> = {
  srgb: srgbToLinear,
  bt709: bt709ToLinear,
  gamma22: (v) => signedPower(v, 2.2),
  hlg: hlgToLinear,
  pq: pqToLinear,
  linear: (v) => v,
};
const fromLinear: Record<Transfer, (v: number) => number> = {
  srgb: linearToSrgb,
  bt709: linearToBt709,
  gamma22: (v) => signedPower(v, 1 / 2.2),
  hlg: linearToHlg,
  pq: linearToPq,
  linear: (v) => v,
};

/** The function from code value (0…1) to linear light. */
export const decodeWith = (transfer: Transfer) => toLinear[transfer];
/** The function from linear light to code value (0…1). */
export const encodeWith = (transfer: Transfer) => fromLinear[transfer];

const tables = new Map<string, Float32Array>();

/**
 * Linear light for every whole code of `bits` (0 … 2^bits − 1 standing for 0…1).
 * @param bits 8…16
 */
export function decodeTable(transfer: Transfer, bits: number): Float32Array {
  const key = `${transfer}/${bits}`;
  let table = tables.get(key);
  if (!table) {
    const top = 2 ** bits - 1;
    const f = toLinear[transfer];
    table = Float32Array.from({ length: top + 1 }, (_, i) => f(i / top));
    tables.set(key, table);
  }
  return table;
}

/** Table look-up with linear interpolation for decoded Y'CbCr, which falls between codes; spans −0.25…1.5. */
export const FINE_LOW = -0.25;
export const FINE_STEP = 1 / 16384;
export function fineDecodeTable(transfer: Transfer): Float32Array {
  const key = `${transfer}/fine`;
  let table = tables.get(key);
  if (!table) {
    const f = toLinear[transfer];
    table = Float32Array.from({ length: Math.round(1.75 / FINE_STEP) + 2 }, (_, i) => f(FINE_LOW + i * FINE_STEP));
    tables.set(key, table);
  }
  return table;
}
