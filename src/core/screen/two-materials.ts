import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn, meansOfKnown } from "../image/fill-in";
import type { Picture } from "../image/plane";
import { middleOf } from "../image/rank";
import { meanOf } from "../measure/correlation";
import { fillScreen } from "./falloff";

const CHANNELS = ["r", "g", "b"] as const;
/** Least part of the certain screen that each of two materials has. */
const LEAST = 0.02;
/** How far their colours lie apart, as shares of a pixel's light: lamps tint one material by less. */
const APART = 0.025;
/** Most of the screen that lies in the middle third between both: one material in uneven light has many of every colour between its extremes. */
const BETWEEN = 0.02;
/** Share of the top border, or of either side, along which a material must meet the frame's border: a wall, or a floor. Cloth on a subject does not. */
const AT_BORDER = 0.04;
/** Depth at which borders are looked at, reduced px. */
const INSET = 3;
/**
 * How far to either side of a seam each material is seen as it is, reduced px; the part of all changes from one to the other that must be so sharp,
 * and how many; and how far off a straight line they may lie. Smoke is paler than the screen behind it too, and ends neither straight nor sharply.
 */
const BESIDE_SEAM = 3;
const SHARP = 0.8;
const SEAM_LEAST = 10;
const STRAIGHT = 2;
/** Values of colour that are told apart. */
const BINS = 128;
/** Round of the search for the two middles, and for the direction in which colour varies most. */
const ROUNDS = 12;

/**
 * Whether a screen is of two materials side by side, a roll of paper beside a painted wall or floor say: their colours, light set aside, make two
 * heaps with next to nothing between, they meet sharply along a straight line, and each meets the frame's top or both of its sides.
 * Source: the two heaps by k-means, S. P. Lloyd, "Least Squares Quantization in PCM", IEEE Trans. Inf. Theory 28 (1982), along the principal axis.
 * @param hue 1 where the plate has the screen's hue @param shown 1 where that is smooth
 * @returns 1 where its colour is nearer to the second material's than to the first's, 0 elsewhere; null when it is one
 */
export function tellMaterials(small: Picture, hue: Uint8Array, shown: Uint8Array): Uint8Array | null {
  const n = shown.length;
  const [u, v] = [new Float32Array(n), new Float32Array(n)];
  // Grain averages out.
  const [r, g, b] = CHANNELS.map((c) => boxMean(small[c], small.width, small.height, 1)) as [Float32Array, Float32Array, Float32Array];
  let [count, mu, mv] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const light = Math.max(1e-5, (r[i] as number) + (g[i] as number) + (b[i] as number));
    u[i] = (r[i] as number) / light;
    v[i] = (b[i] as number) / light;
    if (!shown[i]) continue;
    mu += u[i] as number;
    mv += v[i] as number;
    count++;
  }
  if (count === 0) return null;
  mu /= count;
  mv /= count;
  let [uu, uv, vv] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    if (!shown[i]) continue;
    const [du, dv] = [(u[i] as number) - mu, (v[i] as number) - mv];
    uu += du * du;
    uv += du * dv;
    vv += dv * dv;
  }
  const angle = 0.5 * Math.atan2(2 * uv, uu - vv);
  const [ax, ay] = [Math.cos(angle), Math.sin(angle)];
  const along = (i: number) => ((u[i] as number) - mu) * ax + ((v[i] as number) - mv) * ay;
  const reach = 4 * Math.sqrt((uu * ax * ax + 2 * uv * ax * ay + vv * ay * ay) / count);
  if (!(reach > 0)) return null;
  const bins = new Float64Array(BINS);
  const middleOfBin = (bin: number) => ((2 * (bin + 0.5)) / BINS - 1) * reach;
  for (let i = 0; i < n; i++) if (shown[i]) bins[Math.min(BINS - 1, Math.max(0, Math.floor(((along(i) / reach + 1) / 2) * BINS)))]!++;
  let [low, high] = [-reach / 4, reach / 4];
  let share = 0;
  for (let round = 0; round < ROUNDS; round++) {
    let [below, above, sumBelow, sumAbove] = [0, 0, 0, 0];
    bins.forEach((c, bin) => {
      const value = middleOfBin(bin);
      if (2 * value < low + high) {
        below += c;
        sumBelow += c * value;
      } else {
        above += c;
        sumAbove += c * value;
      }
    });
    if (below === 0 || above === 0) return null;
    low = sumBelow / below;
    high = sumAbove / above;
    share = Math.min(below, above) / count;
  }
  const third = (high - low) / 3;
  const between = bins.reduce((sum, c, bin) => (middleOfBin(bin) > low + third && middleOfBin(bin) < high - third ? sum + c : sum), 0);
  if (share < LEAST || high - low < APART || between > BETWEEN * count) return null;
  const second = new Uint8Array(n);
  for (let i = 0; i < n; i++) if (2 * along(i) > low + high) second[i] = 1;
  const isPure = (i: number) => (second[i] ? along(i) > high - third : along(i) < low + third);
  const isSeam = meetSharply(small, hue, shown, second, isPure);
  return isSeam && [0, 1].every((k) => meetsBorders(small, (i) => shown[i] === 1 && second[i] === k)) ? second : null;
}

/** Whether two materials meet along a straight line, and sharply. @param isPure whether a pixel is as one of them is, and no mixture */
function meetSharply(
  { width, height }: Picture,
  hue: Uint8Array,
  shown: Uint8Array,
  second: Uint8Array,
  isPure: (i: number) => boolean,
): boolean {
  const [xs, ys]: [number[], number[]] = [[], []];
  let changes = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const [dx, dy] of [
        [1, 0],
        [0, 1],
      ] as const) {
        if (x + dx >= width || y + dy >= height) continue;
        const [i, step] = [y * width + x, dy * width + dx];
        if (!hue[i] || !hue[i + step] || second[i] === second[i + step]) continue;
        const far = BESIDE_SEAM + 1;
        if (x - far * dx < 0 || y - far * dy < 0 || x + far * dx >= width || y + far * dy >= height) continue;
        const [before, after] = [i - BESIDE_SEAM * step, i + far * step];
        // Between strands nothing is told.
        if (!shown[before] || !shown[after]) continue;
        changes++;
        if (second[before] !== second[i] || second[after] === second[i] || !isPure(before) || !isPure(after)) continue;
        xs.push(x + dx / 2);
        ys.push(y + dy / 2);
      }
  if (xs.length < SEAM_LEAST || xs.length < SHARP * changes) return false;
  const [mx, my] = [meanOf(xs, xs.length), meanOf(ys, ys.length)];
  let [xx, xy, yy] = [0, 0, 0];
  xs.forEach((x, k) => {
    const y = ys[k] as number;
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  });
  // The lesser eigenvalue is the mean square off the principal axis.
  const off = (xx + yy - Math.hypot(xx - yy, 2 * xy)) / 2 / xs.length;
  return Math.sqrt(Math.max(0, off)) <= STRAIGHT;
}

/** Whether a material meets the frame's top, or both of its sides. */
function meetsBorders({ width, height }: Picture, is: (i: number) => boolean): boolean {
  let [top, left, right] = [0, 0, 0];
  for (let x = 0; x < width; x++) top += Number(is(INSET * width + x));
  for (let y = 0; y < height; y++) {
    left += Number(is(y * width + INSET));
    right += Number(is(y * width + width - 1 - INSET));
  }
  return top > AT_BORDER * width || Math.min(left, right) > AT_BORDER * height;
}

/** Half width of the seam's strip in which a pixel's own colour tells where it lies, reduced px. */
const STRIP = 6;
/** How far a pixel of the strip may be from a mixture of both materials, as a share of its light. */
const MIXTURE = 0.03;
/** Radius over which certain screen is averaged, reduced px. */
const MEAN = 2;

/** Both materials, each filled in over the whole reduced frame, r g b, and which is where: the first up to a half. */
export interface TwoMaterials {
  readonly first: readonly Float32Array[];
  readonly second: readonly Float32Array[];
  readonly which: Float32Array;
}

/**
 * Light of a pixel against a material's within which it may show it, in shade and as it is; and how far its colour may be off, as shares of the
 * light, and as a multiple of how far certain screen is off with its grain.
 */
const DARKEST = 0.6;
const BRIGHTEST = 1.15;
const OFF = 0.02;
const OFF_WITH_GRAIN = 2;
/** Every so many places of certain screen are asked for it. */
const EVERY = 97;

/**
 * Fills in each material from where it is seen, and goes on with the seam between them: between strands of hair single pixels still tell which it is.
 * @param small `plate` reduced by `factor`
 * @param isSecond as {@link tellMaterials} tells
 */
export function fillMaterials(plate: Picture, small: Picture, factor: number, certain: Float32Array, isSecond: Uint8Array): TwoMaterials {
  const { width, height } = small;
  const filled = (seen: Float32Array) => {
    const channels = meansOfKnown([small.r, small.g, small.b], seen, width, height, MEAN);
    fillScreen(channels, seen, width, height);
    return channels;
  };
  const first = filled(certain.map((c, i) => (isSecond[i] ? 0 : c)));
  const second = filled(certain.map((c, i) => (isSecond[i] ? c : 0)));
  const which = Float32Array.from(isSecond);
  const known = certain.slice();
  const lightOf = (v: readonly number[]) =>
    Math.max(
      1e-6,
      v.reduce((sum, c) => sum + c, 0),
    );
  /** How far a pixel's colour is off a material's, as a share of its light; out of all bounds where its light is. */
  const off = (i: number, channels: readonly Float32Array[], cell: number) => {
    const own = CHANNELS.map((c) => plate[c][i] as number);
    const of = channels.map((c) => c[cell] as number);
    const [a, b] = [lightOf(own), lightOf(of)];
    if (a < DARKEST * b || a > BRIGHTEST * b) return 1;
    return own.reduce((sum, v, k) => sum + Math.abs(v / a - (of[k] as number) / b), 0);
  };
  const middles: number[] = [];
  for (let cell = 0; cell < known.length; cell += EVERY) {
    const i = Math.floor(cell / width) * factor * plate.width + (cell % width) * factor;
    if (certain[cell]) middles.push(off(i, isSecond[cell] ? second : first, cell));
  }
  const most = Math.max(OFF, OFF_WITH_GRAIN * middleOf(Float32Array.from(middles), 0));
  for (let cell = 0; cell < known.length; cell++) {
    if (known[cell]) continue;
    const [x, y] = [(cell % width) * factor, Math.floor(cell / width) * factor];
    let more = 0;
    for (let v = y; v < Math.min(plate.height, y + factor); v++)
      for (let i = v * plate.width + x; i < v * plate.width + Math.min(plate.width, x + factor); i++) {
        const [a, b] = [off(i, first, cell), off(i, second, cell)];
        if (Math.min(a, b) < most) more += a < b ? -1 : 1;
      }
    if (more === 0) continue;
    known[cell] = 1;
    which[cell] = more > 0 ? 1 : 0;
  }
  fillIn([which], known, width, height);
  return { first, second, which };
}

/** The screen where both meet: r g b of the reduced copy. */
export const joinMaterials = ({ first, second, which }: TwoMaterials): Float32Array[] =>
  first.map((c, k) => c.map((v, i) => ((which[i] as number) > 0.5 ? ((second[k] as Float32Array)[i] as number) : v)));

/**
 * Sets the seam to where the plate shows it: beside it pixels that are one of both materials, or a mixture of them, are what they are.
 * @param screen at the plate's size; changed in place
 * @param factor by which the reduced copy is smaller
 */
export function sharpenSeam(screen: Picture, plate: Picture, { first, second, which }: TwoMaterials, small: Picture, factor: number): void {
  const { width, height } = plate;
  const beyond = which.map((v) => (v > 0.5 ? 1 : 0));
  const [toFirst, toSecond] = [true, false].map((one) =>
    distanceTo(
      Uint8Array.from(beyond, (b) => ((b === 1) === one ? 0 : 1)),
      small.width,
      small.height,
      STRIP + 1,
    ),
  ) as [Float32Array, Float32Array];
  const near = Uint8Array.from(beyond, (_, i) => (Math.max(toFirst[i] as number, toSecond[i] as number) <= STRIP ? 1 : 0));
  const enlarged = (channels: readonly Float32Array[]) =>
    channels.map((c) => {
      const out = new Float32Array(width * height);
      enlargeChannel(c, small.width, small.height, factor, width, height, out);
      return out;
    });
  const [a, b] = [enlarged(first), enlarged(second)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!near[Math.floor(y / factor) * small.width + Math.floor(x / factor)]) continue;
      const i = y * width + x;
      let [light, across, square] = [0, 0, 0];
      CHANNELS.forEach((c, k) => {
        const [from, to] = [(a[k] as Float32Array)[i] as number, (b[k] as Float32Array)[i] as number];
        light += plate[c][i] as number;
        across += ((plate[c][i] as number) - from) * (to - from);
        square += (to - from) ** 2;
      });
      const share = square > 0 ? Math.min(1, Math.max(0, across / square)) : 0;
      const mixture = CHANNELS.map((_, k) => {
        const from = (a[k] as Float32Array)[i] as number;
        return from + share * (((b[k] as Float32Array)[i] as number) - from);
      });
      const off = CHANNELS.reduce((sum, c, k) => sum + Math.abs((plate[c][i] as number) - (mixture[k] as number)), 0);
      if (off > MIXTURE * light) continue;
      CHANNELS.forEach((c, k) => {
        screen[c][i] = mixture[k] as number;
      });
    }
}
