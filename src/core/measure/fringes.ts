import { Matrix, solve } from "ml-matrix";
import { boxMean } from "../image/box";
import { cornerOf, type Fringes, withoutFringes } from "../image/fringes";
import type { Picture, Region } from "../image/plane";
import { factorTo, shrinkPicture } from "../image/resample";
import { pointwise } from "../kernels/pointwise";
import { insideBars, reducedInside } from "../screen/bars";
import type { Primary } from "../screen/primary";

/** Longer side of the reduced copy that is looked at, px; and by how much it is reduced at least: coarse chroma is full there. */
const COPY_SIDE = 640;
const LEAST_REDUCED = 2;
const COARSE_REDUCED = 3;
/** Window in which one channel is a straight line of another, radius. */
const RADIUS = 3;
/** Variance in a window, of linear light, under which there is only grain; and the share of one channel's that the other must explain for two surfaces. */
const FLAT = 4e-5;
const STRAIGHT = 0.9;
/** Rounds of fitting and taking out; the frame is told in so many blocks a side, to see how far they agree. */
const ROUNDS = 2;
const BLOCKS = 4;
/** Windows that must count. */
const ENOUGH = 2600;
/** What is fitted: a shift across and down, and the size. */
const TERMS = 3;
const SIZE = 2;
/**
 * Red and blue drawn this much apart, each way from the middle, are worth bringing together, px at the corner; and how many standard errors it must be,
 * since few edges near the corners tell little.
 */
const LEAST = 0.4;
const SURE = 5;
/** Parts of a pixel that fringes are told in: finer ones edges do not tell. */
const STEPS = 20;
/** How far the screen's primary may lie from where a lens would draw it between or beyond the two others, as a share of that, to be believed. */
const USUAL = 0.5;

/**
 * Tells how much larger a lens draws red and blue than green, from the frame itself. Where two surfaces meet, each channel is a straight line of
 * another (their mixture); a channel that is drawn elsewhere leaves a rest that goes with the other's slope. The rests of the whole frame
 * are fitted by a size about the frame's centre, beside a shift (coarse chroma's place). Gauss-Newton; errors by leaving out each
 * block of the frame in turn (the jackknife; Efron & Stein, "The Jackknife Estimate of Variance", Annals of Statistics 9, 1981).
 * What decides is how far apart the two channels are that are not the screen's: the screen's light on rims, green on their inner side alone, looks
 * like a green that is drawn smaller. Lenses draw red and blue to opposite sides of green; the screen's primary is believed near there.
 * Sources: the colour line of He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013); Lucas & Kanade, IJCAI 1981.
 * @param plate linear light
 * @param coarse whether chroma was recorded coarser than luma
 * @returns 0 where edges tell of none for certain
 */
export function tellFringes(plate: Picture, primary: Primary, coarse: boolean): Fringes {
  const factor = Math.max(coarse ? COARSE_REDUCED : LEAST_REDUCED, factorTo(COPY_SIDE, plate));
  const small = shrinkPicture(plate, factor);
  const inside = reducedInside(insideBars(plate), plate, small, factor);
  const green = slopesOf(small, inside);
  const [red, blue] = [sizeOf(small, "r", green), sizeOf(small, "b", green)];
  /** What red is drawn larger by, and blue smaller, as the channels tell that are not the screen's. */
  const apart = (of: (size: Size) => number): number | null =>
    primary === "g" ? red && blue && (of(red) - of(blue)) / 2 : primary === "b" ? red && of(red) : blue && -of(blue);
  const d = apart((size) => size.px);
  const without = Array.from({ length: BLOCKS * BLOCKS }, (_, k) => apart((size) => size.without[k] as number) ?? 0);
  if (d === null || Math.abs(d) < Math.max(LEAST / factor, SURE * jackknife(without))) return { red: 0, blue: 0 };
  const inFull = (px: number) => Math.round(STEPS * factor * px) / STEPS;
  const believed = (px: number, usual: number) => Math.abs(px - usual) <= USUAL * Math.abs(d);
  if (primary === "g" && red && blue) {
    const middle = (red.px + blue.px) / 2;
    const kept = believed(middle, 0) ? middle : 0;
    return { red: inFull(kept + d), blue: inFull(kept - d) };
  }
  return {
    red: red && (primary === "b" || believed(red.px, d)) ? inFull(red.px) : 0,
    blue: blue && (primary === "r" || believed(blue.px, -d)) ? inFull(blue.px) : 0,
  };
}

/** Standard error of a figure, by what it is without each block. */
function jackknife(without: readonly number[]): number {
  const middle = without.reduce((sum, v) => sum + v, 0) / without.length;
  return Math.sqrt(((without.length - 1) / without.length) * without.reduce((sum, v) => sum + (v - middle) ** 2, 0));
}

/** Fringes in words: "red is drawn 1.10 px larger and blue 0.45 px smaller than green at the corners". */
export const describeFringes = ({ red, blue }: Fringes): string =>
  `${(
    [
      ["red", red],
      ["blue", blue],
    ] as const
  )
    .filter(([, px]) => px !== 0)
    .map(([name, px], k) => `${name}${k === 0 ? " is drawn" : ""} ${Math.abs(px).toFixed(2)} px ${px > 0 ? "larger" : "smaller"}`)
    .join(" and ")} than green at the corners`;

/** A channel and its mean over the window around each pixel. */
interface Around {
  readonly channel: Float32Array;
  readonly mean: Float32Array;
}

const around = (channel: Float32Array, { width, height }: Picture): Around => ({ channel, mean: boxMean(channel, width, height, RADIUS) });

/** Covariance of two channels over the window around each pixel. */
function covariance(a: Around, b: Around, { width, height }: Picture): Float32Array {
  const products = new Float32Array(a.channel.length);
  pointwise("product", [], [a.channel, b.channel], [products]);
  const out = boxMean(products, width, height, RADIUS);
  pointwise("product", [], [a.mean, b.mean], [products]);
  pointwise("weigh", [1, -1, 0], [out, products, 0], [out]);
  return out;
}

/** The green channel, what of its slopes is no multiple of itself in its window, per pixel; and the pixels where it varies. */
interface Slopes {
  readonly green: Around;
  readonly variance: Float32Array;
  readonly across: Float32Array;
  readonly down: Float32Array;
  readonly places: Int32Array;
}

function slopesOf(picture: Picture, inside: Region): Slopes {
  const { width, g } = picture;
  const green = around(g, picture);
  const variance = covariance(green, green, picture);
  const varies = new Int32Array(g.length);
  let count = 0;
  const margin = RADIUS + 1;
  for (let y = inside.y + margin; y < inside.y + inside.height - margin; y++)
    for (let i = y * width + inside.x + margin; i < y * width + inside.x + inside.width - margin; i++)
      if ((variance[i] as number) >= FLAT) varies[count++] = i;
  const places = varies.subarray(0, count);
  const rest = (step: number) => {
    const slope = new Float32Array(g.length);
    const [before, behind] = [g.subarray(0, g.length - 2 * step), g.subarray(2 * step)];
    pointwise("weigh", [0.5, -0.5, 0], [behind, before, 0], [slope.subarray(step, g.length - step)]);
    const own = around(slope, picture);
    const alike = covariance(own, green, picture);
    const out = new Float32Array(g.length);
    for (let k = 0; k < count; k++) {
      const i = places[k] as number;
      const steep = (alike[i] as number) / (variance[i] as number);
      out[i] = (slope[i] as number) - (own.mean[i] as number) - steep * ((g[i] as number) - (green.mean[i] as number));
    }
    return out;
  };
  return { green, variance, across: rest(1), down: rest(width), places };
}

/** Normal equations of one block. */
interface Normal {
  readonly left: Float64Array;
  readonly right: Float64Array;
  windows: number;
}

const solved = (blocks: readonly Normal[]): number[] => {
  const left = new Float64Array(TERMS * TERMS);
  const right = new Float64Array(TERMS);
  for (const block of blocks) {
    block.left.forEach((v, i) => {
      left[i]! += v;
    });
    block.right.forEach((v, i) => {
      right[i]! += v;
    });
  }
  return solve(Matrix.from1DArray(TERMS, TERMS, left), Matrix.columnVector(right), true).to1DArray();
};

/** How much larger a channel is drawn than green, px at the corner of the reduced copy; and what it is told to be without each block. */
interface Size {
  readonly px: number;
  readonly without: readonly number[];
}

function sizeOf(picture: Picture, channel: "r" | "b", slopes: Slopes): Size | null {
  let px = 0;
  let without: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const sized = withoutFringes(picture, { red: channel === "r" ? px : 0, blue: channel === "b" ? px : 0 });
    const blocks = blocksOf(around(sized[channel], picture), slopes, picture);
    if (blocks.reduce((sum, b) => sum + b.windows, 0) < ENOUGH) return null;
    const larger = (of: readonly Normal[]) => px - (solved(of)[SIZE] as number);
    without = blocks.map((left) => larger(blocks.filter((b) => b !== left)));
    px = larger(blocks);
  }
  return { px, without };
}

/** The normal equations of every block: what the channel leaves of its straight line by green, told by green's slopes. */
function blocksOf(own: Around, { green, variance, across, down, places }: Slopes, picture: Picture): Normal[] {
  const { width, height } = picture;
  const corner = cornerOf(width, height);
  const [ownVariance, alike] = [covariance(own, own, picture), covariance(own, green, picture)];
  const blocks = Array.from({ length: BLOCKS * BLOCKS }, () => ({
    left: new Float64Array(TERMS * TERMS),
    right: new Float64Array(TERMS),
    windows: 0,
  }));
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const terms = new Float64Array(TERMS);
  for (let p = 0; p < places.length; p++) {
    const i = places[p] as number;
    const v = variance[i] as number;
    const vOwn = ownVariance[i] as number;
    const both = alike[i] as number;
    if (vOwn < FLAT || both * both < STRAIGHT * v * vOwn) continue;
    const x = i % width;
    const y = (i - x) / width;
    const steep = both / v;
    const rest = (own.channel[i] as number) - (own.mean[i] as number) - steep * ((green.channel[i] as number) - (green.mean[i] as number));
    const [h, w] = [steep * (across[i] as number), steep * (down[i] as number)];
    terms[0] = h;
    terms[1] = w;
    terms[SIZE] = (h * (x - cx) + w * (y - cy)) / corner;
    const block = blocks[Math.floor((BLOCKS * y) / height) * BLOCKS + Math.floor((BLOCKS * x) / width)] as Normal;
    // By what the window varies, so that no bright edge outweighs all others.
    const weight = 1 / (vOwn + FLAT);
    for (let s = 0; s < TERMS; s++) {
      const t = weight * (terms[s] as number);
      block.right[s]! += t * rest;
      for (let k = 0; k < TERMS; k++) block.left[s * TERMS + k]! += t * (terms[k] as number);
    }
    block.windows++;
  }
  return blocks;
}
