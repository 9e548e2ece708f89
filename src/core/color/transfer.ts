import { bt709ToLinear, linearToBt709 } from "./bt709";
import { hlgToLinear, linearToHlg, linearToPq, pqToLinear } from "./bt2100";
import { ACESCCT, FILM_DENSITY, type LogCurve, linearToLog, logToLinear } from "./log";
import { linearToSrgb, srgbToLinear } from "./srgb";

/** The transfer curves that have a name. BT.601 and BT.2020 (10 bit) share BT.709's curve. */
export const TRANSFERS = ["srgb", "bt709", "gamma22", "hlg", "pq", "acescct", "film-density", "linear"] as const;
export type NamedTransfer = (typeof TRANSFERS)[number];
/** The transfer curve a plate carries: one that has a name, or a logarithmic one by its numbers. */
export type Transfer = NamedTransfer | LogCurve;

const signedPower = (v: number, p: number) => (v < 0 ? -((-v) ** p) : v ** p);

const toLinear: Record<NamedTransfer, (v: number) => number> = {
  srgb: srgbToLinear,
  bt709: bt709ToLinear,
  gamma22: (v) => signedPower(v, 2.2),
  hlg: hlgToLinear,
  pq: pqToLinear,
  acescct: (v) => logToLinear(ACESCCT, v),
  "film-density": (v) => logToLinear(FILM_DENSITY, v),
  linear: (v) => v,
};
const fromLinear: Record<NamedTransfer, (v: number) => number> = {
  srgb: linearToSrgb,
  bt709: linearToBt709,
  gamma22: (v) => signedPower(v, 1 / 2.2),
  hlg: linearToHlg,
  pq: linearToPq,
  acescct: (v) => linearToLog(ACESCCT, v),
  "film-density": (v) => linearToLog(FILM_DENSITY, v),
  linear: (v) => v,
};

/** The function from code value (0…1) to linear light. */
export const decodeWith = (transfer: Transfer): ((v: number) => number) =>
  typeof transfer === "string" ? toLinear[transfer] : (v) => logToLinear(transfer, v);
/** The function from linear light to code value (0…1). */
export const encodeWith = (transfer: Transfer): ((v: number) => number) =>
  typeof transfer === "string" ? fromLinear[transfer] : (v) => linearToLog(transfer, v);

/** Whether a curve's codes are what a display is given. */
export const isVideo = (transfer: Transfer): boolean => transfer === "srgb" || transfer === "bt709" || transfer === "gamma22";

/** A text that changes with the curve, for keys. */
export const transferKey = (transfer: Transfer): string => (typeof transfer === "string" ? transfer : Object.values(transfer).join(","));

const tables = new Map<string, Float32Array>();

/**
 * Linear light for every whole code of `bits` (0 … 2^bits − 1 standing for 0…1).
 * @param bits 8…16
 */
export function decodeTable(transfer: Transfer, bits: number): Float32Array {
  const key = `${transferKey(transfer)}/${bits}`;
  let table = tables.get(key);
  if (!table) {
    const top = 2 ** bits - 1;
    const f = decodeWith(transfer);
    table = Float32Array.from({ length: top + 1 }, (_, i) => f(i / top));
    tables.set(key, table);
  }
  return table;
}

/** Table look-up with linear interpolation for decoded Y'CbCr, which falls between codes; spans −0.25…1.5. */
export const FINE_LOW = -0.25;
export const FINE_STEP = 1 / 16384;
export function fineDecodeTable(transfer: Transfer): Float32Array {
  const key = `${transferKey(transfer)}/fine`;
  let table = tables.get(key);
  if (!table) {
    const f = decodeWith(transfer);
    table = Float32Array.from({ length: Math.round(1.75 / FINE_STEP) + 2 }, (_, i) => f(FINE_LOW + i * FINE_STEP));
    tables.set(key, table);
  }
  return table;
}
