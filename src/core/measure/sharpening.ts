import { tellsMosaic } from "../image/mosaic-colour";
import type { Plane } from "../image/plane";
import { percentile } from "../image/rank";
import type { RawFrame } from "../image/raw-frame";
import { lumaCodes } from "../image/sharpening";
import { turnChannel } from "../image/turn";

/** How far along a line an edge is looked at, px from it: on the screen's side from here on it is even, up to there. */
const EVEN = 4;
const FAR = 7;
/** Matte that the screen's side has at most, and the subject's at least. */
const SCREEN = 0.15;
const SUBJECT = 0.8;
/** Least step of luma, of the range of codes; and how much either side may vary, as a share of it. */
const STEP = 0.04;
const VARIES = 0.2;
/** How straight across the line an edge must run: cosine. And luma one px inside it, as a share of the step, of sharp ones. */
const ACROSS = 0.8;
const INSIDE = 0.8;
/** Distances outside an edge at which luma is read, px, from and to; the last is far from it. */
const BINS = [
  [0.75, 1.25],
  [1.25, 1.75],
  [1.75, 2.5],
  [2.5, 3.5],
  [4, FAR],
] as const;
/** The quarter of edges that luma goes furthest beyond the screen's at: soft edges are in the rest. */
const QUARTER = 0.25;
/** Edges that must be told from, in the bin that tells; and least overshoot, as a share of the step. */
const ENOUGH = 60;
const LEAST = 0.055;
/** What an amount of 1 makes at one px from a sharp edge, at the usual radius: Φ of a lens of σ 0.3 px, and of that blurred again. Most that is told. */
const OF_ONE = 0.12;
const MOST = 1.5;

/** Overshoot that edges show, as a share of their step, grain and soft edges taking some of it away; and the amount of sharpening at the usual radius that makes it. */
export interface ToldSharpening {
  readonly amount: number;
  readonly overshoot: number;
}

const NONE: ToldSharpening = { amount: 0, overshoot: 0 };

/**
 * Tells how far a camera sharpened its picture. No lens makes luma go beyond both sides of an edge; sharpening makes a line along it, lighter than a light
 * screen beside a dark subject, darker beside a light one. Sharp edges between solid subject and even screen are read along rows and columns at their
 * distance from where luma is half-way; what goes beyond the screen there by more than grain does farther away is overshoot. Of narrow masks and wide
 * ones the usual undoes nearly all. Interpolating a mosaic goes beyond edges as well, by no blur that could be undone: of such frames nothing is told.
 * Sources: edge profiles of many phases in one, ISO 12233 (slanted edge); overshoot as the sign of sharpening, common practice.
 * @param raw of codes: of half floats there is nothing to tell
 * @param pull a first matte of it, upright
 */
export function tellSharpening(raw: RawFrame, pull: Plane): ToldSharpening {
  if (raw.layout.kind === "half" || tellsMosaic(raw)) return NONE;
  const { width, height } = pull;
  const luma = turnChannel(lumaCodes(raw), raw.width, raw.height, raw.turn);
  const least = STEP * (2 ** raw.layout.bits - 1);
  const bins: number[][] = BINS.map(() => []);
  // Far enough from the frame's border for all that is read beside an edge.
  const margin = FAR + 2;
  const isSubject = (i: number) => (pull.data[i] as number) >= 0.5;
  for (let y = margin; y < height - margin; y++)
    for (let x = margin, i = y * width + margin; x < width - margin; x++, i++) {
      const here = isSubject(i);
      if (here !== isSubject(i + 1)) readEdge(luma, pull.data, i, { step: 1, beside: width }, least, bins);
      if (here !== isSubject(i + width)) readEdge(luma, pull.data, i, { step: width, beside: 1 }, least, bins);
    }
  const quarters = bins.map((values) => percentile(Float32Array.from(values), QUARTER, Number.NaN));
  const grain = quarters.at(-1) as number;
  const beyond = quarters.slice(0, -1).map((q) => q - grain);
  const deepest = beyond.reduce((best, v, k) => (v < (beyond[best] as number) ? k : best), 0);
  const overshoot = -(beyond[deepest] as number);
  if (!(overshoot >= LEAST) || (bins[deepest] as number[]).length < ENOUGH) return NONE;
  return { amount: Math.min(MOST, overshoot / OF_ONE), overshoot };
}

/** The way across an edge: to the next pixel along it, and to the one beside. */
interface Across {
  readonly step: number;
  readonly beside: number;
}

/**
 * Adds what an edge between pixel `i` and the next shows outside to the bins: luma over the screen's, as shares of the step from there to the subject.
 * @param least step of luma, in codes
 */
function readEdge(Y: Float32Array, A: Float32Array, i: number, { step, beside }: Across, least: number, bins: number[][]): void {
  const subjectFirst = (A[i] as number) >= 0.5;
  // From the last pixel of the subject outwards.
  const edge = subjectFirst ? i : i + step;
  const out = subjectFirst ? step : -step;
  const screen = evenSide(Y, A, edge, out, EVEN, FAR, (a) => a <= SCREEN);
  const subject = screen && evenSide(Y, A, edge, -out, 2, 4, (a) => a >= SUBJECT);
  if (!screen || !subject) return;
  const high = subject.mean - screen.mean;
  if (Math.abs(high) < least || Math.max(screen.deviation, subject.deviation) > VARIES * Math.abs(high)) return;
  const slope = (by: number) => (A[i + by] as number) - (A[i - by] as number) + (A[i + step + by] as number) - (A[i + step - by] as number);
  const across = Math.abs(slope(step)) / (Math.hypot(slope(step), slope(beside)) || 1);
  if (across < ACROSS) return;
  const at = (d: number) => ((Y[edge + d * out] as number) - screen.mean) / high;
  const half = halfWay(at);
  if (half === null || at(Math.floor(half - 1)) < INSIDE) return;
  for (let d = 0; d < FAR; d++) {
    const far = (d - half) * across;
    const bin = BINS.findIndex(([from, to]) => far >= from && far < to);
    if (bin >= 0) (bins[bin] as number[]).push(at(d));
  }
}

/** Mean and deviation of luma on one side of an edge; null where not all of it is of that side. */
function evenSide(
  Y: Float32Array,
  A: Float32Array,
  edge: number,
  step: number,
  first: number,
  last: number,
  isSide: (a: number) => boolean,
) {
  let [sum, square] = [0, 0];
  for (let d = Math.min(first, 3); d <= last; d++) {
    const i = edge + d * step;
    if (!isSide(A[i] as number)) return null;
    if (d < first) continue;
    sum += Y[i] as number;
    square += (Y[i] as number) ** 2;
  }
  const n = last - first + 1;
  return { mean: sum / n, deviation: Math.sqrt(Math.max(0, square / n - (sum / n) ** 2)) };
}

/** Where luma is half-way, px outwards of the subject's last pixel; null where it is not near there. */
function halfWay(at: (d: number) => number): number | null {
  for (let d = -2; d <= 2; d++) {
    const [here, next] = [at(d), at(d + 1)];
    if (here >= 0.5 && next < 0.5) return d + (here - 0.5) / (here - next);
  }
  return null;
}
