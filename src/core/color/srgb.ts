/**
 * The sRGB transfer function. Source: IEC 61966-2-1:1999.
 * Code values are 0…1 nominal; values outside are carried on by odd symmetry.
 */

/** Code value to linear light. */
export function srgbToLinear(v: number): number {
  if (v < 0) return -srgbToLinear(-v);
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** Linear light to code value. */
export function linearToSrgb(v: number): number {
  if (v < 0) return -linearToSrgb(-v);
  return v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055;
}
