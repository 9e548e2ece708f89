/** Red, green and blue, in the encoding the name says. */
export interface Rgb {
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

/**
 * Hue, saturation and value of the hexcone model (A. R. Smith, "Color Gamut Transform Pairs", SIGGRAPH 1978).
 * @returns hue in degrees 0…360 (0 for greys), saturation and value as fractions
 */
export function rgbToHsv({ r, g, b }: Rgb): { h: number; s: number; v: number } {
  const max = Math.max(r, g, b);
  const min = Math.min(r, g, b);
  const d = max - min;
  if (d === 0) return { h: 0, s: 0, v: max };
  let h = max === r ? (g - b) / d : max === g ? 2 + (b - r) / d : 4 + (r - g) / d;
  if (h < 0) h += 6;
  return { h: h * 60, s: max > 0 ? d / max : 0, v: max };
}

/** Relative luminance of linear BT.709 / sRGB primaries (BT.709-6, item 3.2). */
export const luminance = ({ r, g, b }: Rgb): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;
