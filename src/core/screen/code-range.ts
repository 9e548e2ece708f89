import type { Picture } from "../image/plane";
import { valueAt } from "../image/rank";

/** Share of the frame that may lie below or above: single pixels say nothing. */
const BEYOND = 0.002;

export interface CodeRange {
  /** Code values, 0…1, that hardly any channel of a pixel lies under, and over. */
  readonly low: number;
  readonly high: number;
}

/** Between which codes a picture lies. @param encode from scene-linear light to the file's codes */
export function codeRange({ r, g, b }: Picture, encode: (light: number) => number): CodeRange {
  const n = r.length;
  const [least, most] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const [R, G, B] = [r[i] as number, g[i] as number, b[i] as number];
    least[i] = R < G ? (R < B ? R : B) : G < B ? G : B;
    most[i] = R > G ? (R > B ? R : B) : G > B ? G : B;
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
