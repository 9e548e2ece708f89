/**
 * Y'CbCr: matrices and ranges.
 * Sources: Recommendation ITU-R BT.601-7 (2.5.1), BT.709-6 (items 3.2–3.5), BT.2020-2 (table 4).
 */
export const MATRICES = ["bt709", "bt601", "bt2020"] as const;
export type Matrix = (typeof MATRICES)[number];
export const RANGES = ["limited", "full"] as const;
export type Range = (typeof RANGES)[number];

/** Luma weights of red and blue; green takes the rest. */
export const LUMA: Record<Matrix, { kr: number; kb: number }> = {
  bt709: { kr: 0.2126, kb: 0.0722 },
  bt601: { kr: 0.299, kb: 0.114 },
  bt2020: { kr: 0.2627, kb: 0.0593 },
};

/** How whole codes map to Y' 0…1 and Cb, Cr −0.5…0.5: `(code − offset) × scale`. */
export interface CodeScale {
  readonly yOffset: number;
  readonly yScale: number;
  readonly cOffset: number;
  readonly cScale: number;
}

/** @param bits 8…16 */
export function codeScale(range: Range, bits: number): CodeScale {
  const unit = 2 ** (bits - 8);
  if (range === "limited") return { yOffset: 16 * unit, yScale: 1 / (219 * unit), cOffset: 128 * unit, cScale: 1 / (224 * unit) };
  const top = 2 ** bits - 1;
  return { yOffset: 0, yScale: 1 / top, cOffset: 2 ** (bits - 1), cScale: 1 / top };
}

/** Factors of R' = Y' + rCr·Cr, G' = Y' + gCb·Cb + gCr·Cr, B' = Y' + bCb·Cb. */
export function rgbFactors(matrix: Matrix): { rCr: number; gCb: number; gCr: number; bCb: number } {
  const { kr, kb } = LUMA[matrix];
  const kg = 1 - kr - kb;
  return { rCr: 2 * (1 - kr), gCb: (-2 * kb * (1 - kb)) / kg, gCr: (-2 * kr * (1 - kr)) / kg, bCb: 2 * (1 - kb) };
}

/** R'G'B' code values (0…1) to whole Y'CbCr codes, rounded and clipped to what the range allows. */
export function rgbToYcbcrCodes(
  [r, g, b]: readonly [number, number, number],
  matrix: Matrix,
  range: Range,
  bits: number,
): [number, number, number] {
  const { kr, kb } = LUMA[matrix];
  const y = kr * r + (1 - kr - kb) * g + kb * b;
  const s = codeScale(range, bits);
  const top = 2 ** bits - 1;
  const code = (v: number) => Math.min(top, Math.max(0, Math.round(v)));
  return [
    code(y / s.yScale + s.yOffset),
    code((b - y) / (2 * (1 - kb)) / s.cScale + s.cOffset),
    code((r - y) / (2 * (1 - kr)) / s.cScale + s.cOffset),
  ];
}

/** Whole Y'CbCr codes to R'G'B' code values (0…1 nominal, not clipped). */
export function ycbcrCodesToRgb(
  [y, cb, cr]: readonly [number, number, number],
  matrix: Matrix,
  range: Range,
  bits: number,
): [number, number, number] {
  const s = codeScale(range, bits);
  const f = rgbFactors(matrix);
  const Y = (y - s.yOffset) * s.yScale;
  const B = (cb - s.cOffset) * s.cScale;
  const R = (cr - s.cOffset) * s.cScale;
  return [Y + f.rCr * R, Y + f.gCb * B + f.gCr * R, Y + f.bCb * B];
}
