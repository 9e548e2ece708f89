import type { Picture, Region } from "../image/plane";
import { valueAt } from "../image/rank";

/** Share of the frame that may lie below or above: single pixels say nothing. */
const BEYOND = 0.002;

export interface CodeRange {
  /** Code values, 0…1, that hardly any channel of a pixel lies under, and over. */
  readonly low: number;
  readonly high: number;
}

/**
 * Between which codes a picture lies.
 * @param inside the part of it that counts: without black bars
 * @param encode from scene-linear light to the file's codes
 */
export function codeRange({ width, r, g, b }: Picture, inside: Region, encode: (light: number) => number): CodeRange {
  const n = inside.width * inside.height;
  const [least, most] = [new Float32Array(n), new Float32Array(n)];
  for (let y = 0, k = 0; y < inside.height; y++)
    for (let x = 0, i = (inside.y + y) * width + inside.x; x < inside.width; x++, i++, k++) {
      const [R, G, B] = [r[i] as number, g[i] as number, b[i] as number];
      least[k] = R < G ? (R < B ? R : B) : G < B ? G : B;
      most[k] = R > G ? (R > B ? R : B) : G > B ? G : B;
    }
  const last = Math.round(BEYOND * (n - 1));
  return { low: encode(valueAt(least, last)), high: encode(valueAt(most, n - 1 - last)) };
}

/**
 * Codes that logarithmic curves keep to, whose black lies near 9 % and whose white near 60 %; video reaches down to black or up to white. Drawn
 * plates of either kind lie clear of these bounds.
 */
const BLACK = 0.085;
const WHITE = 0.68;

/** Whether a plate that is read as video may be a camera's logarithm. */
export const looksLogarithmic = ({ low, high }: CodeRange): boolean => low > BLACK && high < WHITE;
