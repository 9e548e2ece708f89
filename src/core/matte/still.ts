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

/** The square root of a picture's light, over 3 × 3 px, by channel: what frames are compared by. */
export function rootsOf(picture: Picture): Float32Array[] {
  const { width, height } = picture;
  return CHANNELS.map((c) => {
    const root = boxMean(picture[c], width, height, 1);
    for (let i = 0; i < root.length; i++) root[i] = Math.sqrt(Math.max(0, root[i] as number));
    return root;
  });
}

/**
 * Where the plate did not change from one frame to another beyond its grain, 1 there. Grain is read from the screen, as the
 * square root of light, in which photon noise is even over all levels. A swaying mesh keeps the matte's local mean, yet not
 * the plate's.
 * @param isScreen whether a pixel shows certain screen in both frames, where any change is grain
 */
export const stillPlaces = (before: Picture, after: Picture, isScreen: (i: number) => boolean): Uint8Array =>
  stillBetween(rootsOf(before), rootsOf(after), before.width, before.height, isScreen);

/** {@link stillPlaces} for frames whose roots are at hand. @param before, after by {@link rootsOf} */
export function stillBetween(
  before: readonly Float32Array[],
  after: readonly Float32Array[],
  width: number,
  height: number,
  isScreen: (i: number) => boolean,
): Uint8Array {
  const n = width * height;
  const moved = new Float32Array(n);
  const grain = new Float32Array(Math.ceil(n / 3));
  const screen = new Uint32Array(Math.ceil(n / 3));
  let count = 0;
  for (let i = 0; i < n; i += 3) if (isScreen(i)) screen[count++] = i;
  before.forEach((p, c) => {
    const q = after[c] as Float32Array;
    for (let k = 0; k < count; k++) {
      const i = screen[k] as number;
      grain[k] = Math.abs((p[i] as number) - (q[i] as number));
    }
    const sigma = MEDIAN_TO_SIGMA * middleOf(grain.subarray(0, count), 0);
    const limit = Math.max(LEAST, DEVIATIONS * sigma);
    for (let i = 0; i < n; i++) if (Math.abs((p[i] as number) - (q[i] as number)) > limit) moved[i] = 1;
  });
  return maskUnder(boxMean(moved, width, height, RADIUS), MOVED);
}
