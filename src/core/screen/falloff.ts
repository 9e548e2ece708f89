import { fillIn, meansOfKnown } from "../image/fill-in";
import type { Picture } from "../image/plane";
import { deviationOf } from "../measure/correlation";
import { leastSquares } from "../measure/least-squares";

/** What 1, x, y, x², xy and y² count for, x and y from −1 to 1 across the frame. */
type Surface = readonly [number, number, number, number, number, number];
const TERMS = 6;
/** Part of the spread of the screen's light, in squared stops, that a fall-off must account for: folds, hot spots and shadows are none. */
const ACCOUNTS = 0.9;
/** How far beyond the light that was seen the fall-off may lead, as a share of what was seen. */
const BEYOND = 0.25;
/** Fits, each without what the one before was farther off from than so many deviations. */
const ROUNDS = 3;
const OFF = 2.5;
/** What is no farther off is on the surface, stops. */
const ROUNDING = 1e-4;
/** Every so many pixels across and down tell it. */
const STRIDE = 4;
/** Fewest places that tell a surface, and least light of one, linear. */
const FEWEST = 40;
const LEAST = 1e-4;

function surfaceAt(surface: Surface, x: number, y: number): number {
  return surface[0] + x * (surface[1] + x * surface[3] + y * surface[4]) + y * (surface[2] + y * surface[5]);
}

/** The surface that fits the first `count` places best. */
function fitSurface(xs: Float64Array, ys: Float64Array, stops: Float64Array, count: number): Surface {
  const termsAt = (p: number, out: Float64Array): number => {
    const [x, y] = [xs[p] as number, ys[p] as number];
    out[0] = 1;
    out[1] = x;
    out[2] = y;
    out[3] = x * x;
    out[4] = x * y;
    out[5] = y * y;
    return 1;
  };
  return leastSquares(TERMS, count, termsAt, stops) as unknown as Surface;
}

/**
 * How a screen's light falls off over the frame: a surface of the second degree in stops, fitted to what is seen of the screen but for what
 * is off it (hot spots, shadows), and led on over what is hidden.
 * @param channels linear, of one size; their sum is the light
 * @param seen 1 where they hold the screen
 * @returns the light at every pixel against its middle, 1 for as much; null where the screen's light is no such surface
 */
export function fallOff(channels: readonly Float32Array[], seen: Float32Array, width: number, height: number): Float32Array | null {
  const most = Math.ceil(width / STRIDE) * Math.ceil(height / STRIDE);
  const [xs, ys, stops, off] = [0, 1, 2, 3].map(() => new Float64Array(most)) as [Float64Array, Float64Array, Float64Array, Float64Array];
  let count = 0;
  for (let v = 1; v < height; v += STRIDE)
    for (let u = 1; u < width; u += STRIDE) {
      const i = v * width + u;
      if (!seen[i]) continue;
      const light = channels.reduce((sum, c) => sum + (c[i] as number), 0);
      if (light < LEAST) continue;
      xs[count] = (2 * u) / width - 1;
      ys[count] = (2 * v) / height - 1;
      stops[count++] = Math.log2(light);
    }
  let surface: Surface = [0, 0, 0, 0, 0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    if (count < FEWEST) return null;
    surface = fitSurface(xs, ys, stops, count);
    for (let p = 0; p < count; p++) off[p] = (stops[p] as number) - surfaceAt(surface, xs[p] as number, ys[p] as number);
    const bound = Math.max(ROUNDING, OFF * deviationOf(off.subarray(0, count)));
    let kept = 0;
    for (let p = 0; p < count; p++)
      if (Math.abs(off[p] as number) <= bound) {
        for (const list of [xs, ys, stops, off]) list[kept] = list[p] as number;
        kept++;
      }
    count = kept;
  }
  const [left, whole] = [deviationOf(off.subarray(0, count)), deviationOf(stops.subarray(0, count))];
  if (left ** 2 > (1 - ACCOUNTS) * whole ** 2) return null;
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let p = 0; p < count; p++) {
    const value = surfaceAt(surface, xs[p] as number, ys[p] as number);
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const [middle, room] = [(low + high) / 2, BEYOND * (high - low)];
  const falls = new Float32Array(width * height);
  for (let i = 0, v = 0; v < height; v++)
    for (let u = 0; u < width; u++, i++) {
      const value = surfaceAt(surface, (2 * u) / width - 1, (2 * v) / height - 1);
      falls[i] = Math.exp(Math.LN2 * (Math.min(high + room, Math.max(low - room, value)) - middle));
    }
  return falls;
}

/**
 * Fills in the screen where it is not seen: its light falls off beneath the subject as it does around it, and what is left of folds and
 * colour goes on smoothly from around.
 * @param channels linear, of one size; filled in place
 * @param seen 1 where they hold the screen
 */
export function fillScreen(channels: readonly Float32Array[], seen: Float32Array, width: number, height: number): void {
  const falls = fallOff(channels, seen, width, height);
  if (falls) for (const c of channels) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) / (falls[i] as number);
  fillIn(channels, seen, width, height);
  if (falls) for (const c of channels) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) * (falls[i] as number);
}

/** Radius over which what is seen of the screen is averaged, px: grain goes, gradients and creases stay. */
const MEAN = 2;

/** The screen of a reduced copy, r g b, where it is seen, and filled in where it is not. */
export function filledScreen(small: Picture, seen: Float32Array): Float32Array[] {
  const { width, height } = small;
  const channels = meansOfKnown([small.r, small.g, small.b], seen, width, height, MEAN);
  fillScreen(channels, seen, width, height);
  return channels;
}
