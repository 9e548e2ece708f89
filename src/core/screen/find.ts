import { luminance, type Rgb, rgbToHsv } from "../color/hue";
import type { Picture, Region } from "../image/plane";
import { middleOf } from "../image/rank";
import { otherChannels, type Primary, screenPrimary } from "./primary";
import { type ScreenSample, sampleScreen } from "./sample";

/** The screen as found in a plate without anybody's help. */
export interface FoundScreen {
  readonly sample: ScreenSample;
  readonly primary: Primary;
  /** The cleanest block of screen near the subject: where the sample was taken. */
  readonly box: Region;
  /** 1 where a pixel is taken to be screen. */
  readonly mask: Uint8Array;
  /** Share of the frame that is screen, 0…1. */
  readonly share: number;
}

/** How many bins the excess histogram has. */
const BINS = 256;

/** Excess of a primary over the mean of the two others. */
const excess = (p: Float32Array, u: Float32Array, v: Float32Array, i: number) =>
  (p[i] as number) - 0.5 * ((u[i] as number) + (v[i] as number));

/**
 * Threshold that best parts a histogram in two.
 * Source: N. Otsu, "A Threshold Selection Method from Gray-Level Histograms", IEEE Trans. SMC 9 (1979).
 * @returns the index of the last bin of the lower class
 */
export function otsuThreshold(histogram: ArrayLike<number>): number {
  let total = 0;
  let weighted = 0;
  for (let i = 0; i < histogram.length; i++) {
    total += histogram[i] as number;
    weighted += i * (histogram[i] as number);
  }
  let best = 0;
  let bestScore = -1;
  let below = 0;
  let belowWeighted = 0;
  for (let i = 0; i < histogram.length; i++) {
    below += histogram[i] as number;
    belowWeighted += i * (histogram[i] as number);
    const above = total - below;
    if (below === 0 || above === 0) continue;
    const gap = belowWeighted / below - (weighted - belowWeighted) / above;
    const score = below * above * gap * gap;
    if (score > bestScore) {
      bestScore = score;
      best = i;
    }
  }
  return best;
}

const binOf = (e: number, max: number): number => (e <= 0 ? 0 : Math.min(BINS - 1, Math.floor((e / max) * BINS)));

/**
 * Where screen begins in a histogram of excess, in bins. Otsu's threshold first; then half the median of what lies above,
 * again and again until it rests: a screen lit within a stop of its median stays whole however many others there are.
 */
function screenThreshold(histogram: Float64Array): number {
  let threshold = otsuThreshold(histogram) + 1;
  for (let round = 0; round < 8; round++) {
    let above = 0;
    for (let b = threshold; b < histogram.length; b++) above += histogram[b] as number;
    let median = threshold;
    for (let sum = 0; median < histogram.length; median++) {
      sum += histogram[median] as number;
      if (sum >= above / 2) break;
    }
    const next = Math.max(1, Math.round(median / 2));
    if (next === threshold) break;
    threshold = next;
  }
  return threshold;
}

/**
 * Where a picture shows a screen of the given primary: pixels that clearly exceed their other channels, and their shade.
 * @returns 1 where a pixel is taken to be screen, and how many are
 */
export function screenMask(picture: Picture, primary: Primary): { mask: Uint8Array<ArrayBuffer>; count: number } {
  const n = picture.width * picture.height;
  const mask = new Uint8Array(n);
  const [u, v] = otherChannels(primary).map((c) => picture[c]) as [Float32Array, Float32Array];
  const p = picture[primary];
  const leads = new Float64Array(n);
  let max = 0;
  for (let i = 0; i < n; i++) {
    const e = excess(p, u, v, i);
    leads[i] = e;
    if (e > max) max = e;
  }
  if (max <= 0.005) return { mask, count: 0 };
  // Everything that does not lean towards the primary counts as the lowest bin.
  const histogram = new Float64Array(BINS);
  for (let i = 0; i < n; i++) histogram[binOf(leads[i] as number, max)]!++;
  const threshold = (screenThreshold(histogram) / BINS) * max;
  for (let i = 0; i < n; i++) {
    if ((leads[i] as number) < threshold) continue;
    const P = p[i] as number;
    // A screen is saturated as well as bright: its primary is at least a third over each other channel.
    if (P > 1.33 * (u[i] as number) && P > 1.33 * (v[i] as number)) mask[i] = 1;
  }
  dropOthers(picture, primary, mask);
  growIntoShade(picture, primary, mask);
  let count = 0;
  for (let i = 0; i < n; i++) count += mask[i] as number;
  return { mask, count };
}

/** Light under which a pixel belongs to a black bar. */
const BLACK = 0.004;
/** What an area counts that reaches neither the frame's top nor its sides, and what whole sides count beside the whole top. */
const NOWHERE = 0.1;
const SIDES = 0.5;
/** A red screen is rare, and skin, wood, honey, brick and curtains all lean that way: it is one where there is no other to speak of. */
const RED = 0.015;
/** Least share of the frame that a screen takes; and one whose primary is given, a display in a hand say. */
const LEAST = 0.02;
const LEAST_ASKED = 0.002;

/**
 * How much of the frame's top and sides an area takes, bars left aside: a screen stands behind the subject and goes on beyond it, where a garment,
 * in close-up as large as the screen, reaches the bottom.
 */
function standing({ width, height, r, g, b }: Picture, mask: Uint8Array): number {
  /** Whether the first pixel that is lit, of so many from one on, is in the area. */
  const meets = (from: number, step: number, count: number): number => {
    for (let k = 0, i = from; k < count; k++, i += step)
      if (Math.max(r[i] as number, g[i] as number, b[i] as number) > BLACK) return mask[i] as number;
    return 0;
  };
  let [top, sides] = [0, 0];
  for (let x = 0; x < width; x++) top += meets(x, width, height);
  for (let y = 0; y < height; y++) sides += meets(y * width, 1, width) + meets(y * width + width - 1, -1, width);
  return NOWHERE + top / width + (SIDES * sides) / (2 * height);
}

/**
 * Finds the screen: the primary whose pixels that clearly exceed their other channels are most, purest, and most where a screen stands, parted
 * from the rest by the histogram of the excess; then the block of it that is most even and closest to something that is not screen.
 * @param asked the only primary that is looked at, where somebody sampled the screen
 * @throws RangeError when under 2 % of the frame stands out in any primary, 0.2 % in one that is asked for
 */
export function findScreen(picture: Picture, asked?: Primary): FoundScreen {
  const { width, height } = picture;
  const n = width * height;
  let primary: Primary | undefined;
  let mask = new Uint8Array(n);
  let count = 0;
  let best = 0;
  for (const p of asked ? [asked] : (["g", "b", "r"] as const)) {
    const found = screenMask(picture, p);
    if (found.count < (asked ? LEAST_ASKED : LEAST) * n) continue;
    const [u, v] = otherChannels(p).map((c) => picture[c]) as [Float32Array, Float32Array];
    let purity = 0;
    for (let i = 0; i < n; i++) if (found.mask[i]) purity += purityAt(picture[p], u, v, i);
    const score = (p === "r" ? RED : 1) * purity * standing(picture, found.mask);
    if (score > best) {
      best = score;
      count = found.count;
      mask = found.mask;
      primary = p;
    }
  }
  if (!primary)
    throw new RangeError(
      asked
        ? `No screen was found: what was sampled covers under ${100 * LEAST_ASKED} % of the frame. Sample the screen again, where it is evenly lit.`
        : `No screen was found: no colour stands out over ${100 * LEAST} % of the frame or more. Sample the screen by hand.`,
    );
  const box = cleanestBlock(picture, mask, primary);
  const sample = sampleScreen(picture, [box]);
  return { sample, primary: screenPrimary(sample.colour), box, mask, share: count / n };
}

/** How pure a pixel of the primary is: its excess as a share of it, the same in light and shade. */
const purityAt = (p: Float32Array, u: Float32Array, v: Float32Array, i: number) => excess(p, u, v, i) / Math.max(1e-6, p[i] as number);

/** Cloth of the screen's hue is paler than the screen: under this share of its median purity nothing is screen. */
const PALE = 0.6;
/** Wood before a magenta screen leans the other way: difference of the two other channels, as a share of the primary, from the screen's middle. */
const LEAN = 0.3;

/** Takes pixels much paler than the screen's middle, or of another hue, out of a mask. */
function dropOthers(picture: Picture, primary: Primary, found: Uint8Array): void {
  const [u, v] = otherChannels(primary).map((c) => picture[c]) as [Float32Array, Float32Array];
  const p = picture[primary];
  const lean = (i: number) => ((u[i] as number) - (v[i] as number)) / Math.max(1e-6, p[i] as number);
  const [purities, leans]: [number[], number[]] = [[], []];
  for (let i = 0; i < found.length; i += 11)
    if (found[i]) {
      purities.push(purityAt(p, u, v, i));
      leans.push(lean(i));
    }
  const least = PALE * middleOf(Float32Array.from(purities), 0);
  const usual = middleOf(Float32Array.from(leans), 0);
  for (let i = 0; i < found.length; i++) if (found[i] && (purityAt(p, u, v, i) < least || Math.abs(lean(i) - usual) > LEAN)) found[i] = 0;
}

/** Shade is followed down to this share of the screen's median excess, and while colour keeps this share of its purity. */
const SHADE = 0.1;
const PURITY = 0.85;

/**
 * Adds pixels that hang together with the screen and have its colour at less light: shadows and the dark end of a gradient.
 * @param found 1 where a pixel is screen for certain; grown in place
 */
function growIntoShade(picture: Picture, primary: Primary, found: Uint8Array): void {
  const { width } = picture;
  const [u, v] = otherChannels(primary).map((c) => picture[c]) as [Float32Array, Float32Array];
  const p = picture[primary];
  const sampled: number[] = [];
  const purities: number[] = [];
  for (let i = 0; i < found.length; i += 11)
    if (found[i]) {
      sampled.push(excess(p, u, v, i));
      purities.push(purityAt(p, u, v, i));
    }
  if (sampled.length === 0) return;
  const least = SHADE * middleOf(Float32Array.from(sampled), 0);
  const purity = PURITY * middleOf(Float32Array.from(purities), 0);
  const stack: number[] = [];
  const visit = (i: number) => {
    if (found[i]) return;
    const e = excess(p, u, v, i);
    if (e < least || e < purity * (p[i] as number)) return;
    found[i] = 1;
    stack.push(i);
  };
  const around = (i: number) => {
    const x = i % width;
    if (x > 0) visit(i - 1);
    if (x < width - 1) visit(i + 1);
    if (i >= width) visit(i - width);
    if (i + width < found.length) visit(i + width);
  };
  for (let row = 0; row < found.length; row += width)
    for (let i = row; i < row + width; i++) {
      if (!found[i]) continue;
      // Within the screen there is nothing to visit.
      const within = i > row && i < row + width - 1 && i >= width && i + width < found.length;
      if (within && found[i - 1] && found[i + 1] && found[i - width] && found[i + width]) continue;
      around(i);
    }
  while (stack.length > 0) around(stack.pop() as number);
}

/** The block of pure screen with the least spread for its level, preferring blocks near the edge of the screen area. */
function cleanestBlock(picture: Picture, mask: Uint8Array, primary: Primary): Region {
  const { width, height } = picture;
  const size = Math.max(4, Math.round(Math.min(width, height) / 24));
  const channel = picture[primary];
  const cols = Math.floor(width / size);
  const rows = Math.floor(height / size);
  const pure: (number | undefined)[] = [];
  const levels: number[] = [];
  for (let by = 0; by < rows; by++)
    for (let bx = 0; bx < cols; bx++) {
      let s = 0;
      let q = 0;
      let c = 0;
      for (let y = by * size; y < (by + 1) * size; y++)
        for (let x = bx * size; x < (bx + 1) * size; x++) {
          const i = y * width + x;
          const v = channel[i] as number;
          c += mask[i] as number;
          s += v;
          q += v * v;
        }
      const k = size * size;
      const mean = s / k;
      const whole = c >= 0.995 * k;
      pure.push(whole ? Math.sqrt(Math.max(0, q / k - mean * mean)) / mean : undefined);
      if (whole) levels.push(mean);
    }
  levels.sort((a, b) => a - b);
  const middle = levels[levels.length >> 1] ?? 0;
  let best = -1;
  let bestScore = Number.POSITIVE_INFINITY;
  for (let b = 0; b < pure.length; b++) {
    const spread = pure[b];
    if (spread === undefined) continue;
    const bx = b % cols;
    const by = (b - bx) / cols;
    // Steps to the nearest block that is not pure screen.
    let near = 6;
    for (let dy = -5; dy <= 5; dy++)
      for (let dx = -5; dx <= 5; dx++) {
        const x = bx + dx;
        const y = by + dy;
        if (x < 0 || y < 0 || x >= cols || y >= rows) continue;
        if (pure[y * cols + x] === undefined) near = Math.min(near, Math.max(Math.abs(dx), Math.abs(dy)));
      }
    const mean = blockMean(channel, width, bx * size, by * size, size);
    const score = spread + 0.01 * Math.abs(near - 2) + 0.05 * Math.abs(Math.log2(mean / middle));
    if (score < bestScore) {
      bestScore = score;
      best = b;
    }
  }
  if (best < 0) {
    // No block is pure: the screen shows only in slivers, so the box around all of it is sampled, robustly.
    let [x0, y0, x1, y1] = [width, height, 0, 0];
    for (let i = 0; i < mask.length; i++)
      if (mask[i]) {
        const x = i % width;
        const y = (i - x) / width;
        [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
      }
    return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
  }
  const bx = best % cols;
  return { x: bx * size, y: ((best - bx) / cols) * size, width: size, height: size };
}

function blockMean(channel: Float32Array, width: number, x0: number, y0: number, size: number): number {
  let s = 0;
  for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) s += channel[y * width + x] as number;
  return s / (size * size);
}

/** Level of a screen colour in percent of BT.709 video level, and its hue and saturation of the code values. */
export function describeColour(c: Rgb, encode: (v: number) => number): { hue: number; saturation: number; level: number } {
  const code = { r: encode(c.r), g: encode(c.g), b: encode(c.b) };
  const { h, s } = rgbToHsv(code);
  return { hue: h, saturation: s, level: 100 * luminance(code) };
}
