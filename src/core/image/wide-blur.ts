import { gaussianBlur } from "./blur";
import { boxMean } from "./box";

/** σ from which on three box means take the Gaussian's place, px. */
const WIDE = 6;

/**
 * Gaussian blur whose cost does not grow with σ: three box means for wide ones, the Gaussian itself for narrow ones. A
 * square over the frame's border counts what lies inside, so that a border pixel stays as solid as its surroundings.
 * Source: W. M. Wells, "Efficient Synthesis of Gaussian Filters by Cascaded Uniform Filters", IEEE TPAMI 8 (1986); radii that
 * come nearest to the wanted variance. @param sigma px
 */
export function wideBlur(source: Float32Array, width: number, height: number, sigma: number): Float32Array {
  if (sigma < WIDE) return gaussianBlur(source, width, height, sigma);
  // A box of side 2r + 1 has the variance ((2r + 1)² − 1) / 12; three of them add up to σ².
  const side = Math.sqrt(4 * sigma * sigma + 1);
  const low = Math.floor((side - 1) / 2);
  const variance = (r: number) => ((2 * r + 1) ** 2 - 1) / 12;
  const large = Math.min(3, Math.max(0, Math.round((sigma * sigma - 3 * variance(low)) / (variance(low + 1) - variance(low)))));
  let out = source;
  for (let k = 0; k < 3; k++) out = boxMean(out, width, height, k < large ? low + 1 : low);
  return out;
}
