import { boxMean } from "../image/box";
import { maskUnder } from "../image/mask";
import type { Picture } from "../image/plane";
import { middleOf } from "../image/rank";

const CHANNELS = ["r", "g", "b"] as const;
/** Grain of the screen over which a change of the plate is a movement, in standard deviations. */
const DEVIATIONS = 4;
/** Least change that counts, as the square root of light: what 8-bit steps do by themselves. */
const LEAST = 0.002;
/** Standard deviation over the median of absolute values, for a normal distribution. */
const MEDIAN_TO_SIGMA = 1.4826;
/** Half side of the square in which moved pixels are counted, px. */
const RADIUS = 4;
/** Share of moved pixels around one that makes it part of the movement; single ones are grain. */
const MOVED = 0.04;

/**
 * Where the plate did not change from one frame to another beyond its grain, 1 there. Grain is read from the screen, as the
 * square root of light, in which photon noise is even over all levels. A swaying mesh keeps the matte's local mean, yet not
 * the plate's.
 * @param isScreen whether a pixel shows certain screen in both frames, where any change is grain
 */
export function stillPlaces(before: Picture, after: Picture, isScreen: (i: number) => boolean): Uint8Array {
  const { width, height } = before;
  const n = width * height;
  const moved = new Float32Array(n);
  const change = new Float32Array(n);
  const grain = new Float32Array(Math.ceil(n / 3));
  for (const c of CHANNELS) {
    const [p, q] = [boxMean(before[c], width, height, 1), boxMean(after[c], width, height, 1)];
    for (let i = 0; i < n; i++) change[i] = Math.abs(Math.sqrt(Math.max(0, p[i] as number)) - Math.sqrt(Math.max(0, q[i] as number)));
    let count = 0;
    for (let i = 0; i < n; i += 3) if (isScreen(i)) grain[count++] = change[i] as number;
    const sigma = MEDIAN_TO_SIGMA * middleOf(grain.subarray(0, count), 0);
    const limit = Math.max(LEAST, DEVIATIONS * sigma);
    for (let i = 0; i < n; i++) if ((change[i] as number) > limit) moved[i] = 1;
  }
  return maskUnder(boxMean(moved, width, height, RADIUS), MOVED);
}
