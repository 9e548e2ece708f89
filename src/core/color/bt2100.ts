/**
 * The curves of high dynamic range video. Source: Recommendation ITU-R BT.2100-2, tables 4 (PQ) and 5 (HLG). Light 1 is reference white as Report
 * ITU-R BT.2408 has it, 203 cd/m² in PQ and a signal of 75 % in HLG, so that such a plate is as bright as any other; highlights go beyond.
 */

const M1 = 2610 / 16384;
const M2 = (2523 / 4096) * 128;
const C1 = 3424 / 4096;
const C2 = (2413 / 4096) * 32;
const C3 = (2392 / 4096) * 32;
/** Light of the top code, 10 000 cd/m². */
const PQ_TOP = 10_000 / 203;

/** How steep it is there; beyond, it is carried on straight. */
const PQ_STEEP = ((PQ_TOP / M1 / M2) * (1 + C3)) / (1 - C1);

/** PQ code value to light as displayed; below nothing by odd symmetry. */
export function pqToLinear(v: number): number {
  if (v < 0) return -pqToLinear(-v);
  if (v > 1) return PQ_TOP + PQ_STEEP * (v - 1);
  const p = v ** (1 / M2);
  return PQ_TOP * (Math.max(0, p - C1) / (C2 - C3 * p)) ** (1 / M1);
}

/** Light to PQ code value. */
export function linearToPq(v: number): number {
  if (v < 0) return -linearToPq(-v);
  if (v > PQ_TOP) return 1 + (v - PQ_TOP) / PQ_STEEP;
  // The formula leaves a millionth of the range at nothing.
  if (v === 0) return 0;
  const p = (v / PQ_TOP) ** M1;
  return ((C1 + C2 * p) / (1 + C3 * p)) ** M2;
}

const A = 0.17883277;
const B = 1 - 4 * A;
const C = 0.5 - A * Math.log(4 * A);
const hlgLight = (v: number) => (v <= 0.5 ? (v * v) / 3 : (Math.exp((v - C) / A) + B) / 12);
const HLG_WHITE = hlgLight(0.75);

/** HLG code value to scene-linear light; below nothing by odd symmetry. */
export function hlgToLinear(v: number): number {
  return v < 0 ? -hlgToLinear(-v) : hlgLight(v) / HLG_WHITE;
}

/** Scene-linear light to HLG code value. */
export function linearToHlg(v: number): number {
  if (v < 0) return -linearToHlg(-v);
  const e = v * HLG_WHITE;
  return e <= 1 / 12 ? Math.sqrt(3 * e) : A * Math.log(12 * e - B) + C;
}
