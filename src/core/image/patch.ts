import { gaussianBlur } from "./blur";
import { cropChannel, type Picture, type Region } from "./plane";
import { shrinkChannel } from "./resample";

/** Coarser copies halve the one before, until the patch is only so many px across. */
const SMALLEST = 12;
/** Blur of every copy, px of it: grain counts less, and values between pixels are told truly. */
export const SIGMA = 0.8;
/** A part of a frame, coded and blurred, in several sizes. */
export interface Copy {
  readonly width: number;
  readonly height: number;
  readonly channels: readonly [Float32Array, Float32Array, Float32Array];
  /** Its top left corner in the frame, and px of the frame to one of its own. */
  readonly left: number;
  readonly top: number;
  readonly factor: number;
}

/** A part of a frame in sizes 1/factor, 1/(2·factor)…; steps of light count as they are seen, by their square root. */
export function copiesOf(frame: Picture, region: Region, factor: number, count: number): Copy[] {
  const copies: Copy[] = [];
  const coded = (channel: Float32Array) => {
    const part = cropChannel(channel, frame.width, region);
    for (let i = 0; i < part.length; i++) part[i] = Math.sqrt(Math.max(0, part[i] as number));
    return part;
  };
  const sharp = [coded(frame.r), coded(frame.g), coded(frame.b)] as const;
  for (let k = 0; k < count; k++) {
    const f = factor * 2 ** k;
    const [width, height] = [Math.ceil(region.width / f), Math.ceil(region.height / f)];
    const reduced = (c: Float32Array) => gaussianBlur(shrinkChannel(c, region.width, region.height, f), width, height, SIGMA);
    const channels = [reduced(sharp[0]), reduced(sharp[1]), reduced(sharp[2])] as const;
    copies.push({ width, height, channels, left: region.x, top: region.y, factor: f });
  }
  return copies;
}

/** What of a patch one size of it has: places, values, slopes. */
export interface Sampled {
  readonly factor: number;
  readonly count: number;
  /** Places from the patch's centre, px of the copy. */
  readonly u: Float32Array;
  readonly v: Float32Array;
  /** Three values, three slopes along x, three along y at each. */
  readonly values: Float32Array;
  readonly slopes: Float32Array;
}

/** A patch that is looked for in other frames. */
export interface Patch {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly levels: readonly Sampled[];
}

/** Most pixels of a patch's finest copy. */
const MOST_PIXELS = 20_000;

/**
 * A patch of a frame, to be looked for in others.
 * @param region its box, inside the frame
 * @param weight what counts: over 1/2 at the pixels of `region` that do
 * @returns null where nothing counts
 */
export function patchOf(frame: Picture, region: Region, weight: Float32Array): Patch | null {
  const factor = Math.max(1, Math.ceil(Math.sqrt((region.width * region.height) / MOST_PIXELS)));
  const { width, height } = region;
  const count = 1 + Math.max(0, Math.floor(Math.log2(Math.min(width, height) / factor / SMALLEST)));
  const x = region.x + width / 2;
  const y = region.y + height / 2;
  const levels = copiesOf(frame, region, factor, count).map((copy) => sampled(copy, x, y, weight, region));
  const shown = levels.findIndex((l) => l.count === 0);
  return shown === 0 ? null : { x, y, width, height, levels: shown < 0 ? levels : levels.slice(0, shown) };
}

function sampled(
  { width, height, channels, factor, left, top }: Copy,
  x: number,
  y: number,
  weight: Float32Array,
  region: Region,
): Sampled {
  const share = shrinkChannel(weight, region.width, region.height, factor);
  const at: number[] = [];
  for (let i = 0; i < share.length; i++) if ((share[i] as number) > 0.5) at.push(i);
  const count = at.length;
  const [u, v] = [new Float32Array(count), new Float32Array(count)];
  const [values, slopes] = [new Float32Array(3 * count), new Float32Array(6 * count)];
  at.forEach((i, k) => {
    const [px, py] = [i % width, Math.floor(i / width)];
    u[k] = px + 0.5 - (x - left) / factor;
    v[k] = py + 0.5 - (y - top) / factor;
    const [x0, x1] = [Math.max(0, px - 1), Math.min(width - 1, px + 1)];
    const [y0, y1] = [Math.max(0, py - 1), Math.min(height - 1, py + 1)];
    channels.forEach((c, n) => {
      values[3 * k + n] = c[i] as number;
      slopes[6 * k + n] = x1 > x0 ? ((c[py * width + x1] as number) - (c[py * width + x0] as number)) / (x1 - x0) : 0;
      slopes[6 * k + 3 + n] = y1 > y0 ? ((c[y1 * width + px] as number) - (c[y0 * width + px] as number)) / (y1 - y0) : 0;
    });
  });
  return { factor, count, u, v, values, slopes };
}
