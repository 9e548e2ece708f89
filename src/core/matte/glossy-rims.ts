import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { maskOver, maskUnder } from "../image/mask";
import { around } from "../image/neighbours";
import { type Allocate, fresh, linesOf, type Plane } from "../image/plane";

/** Matte up to which a pixel is open, from which on nearly solid, and from which on as good as solid. */
const OPEN = 0.12;
const NEARLY = 0.6;
const SOLID = 0.96;
/** Lengths are in px of a frame of so many lines: the same picture is closed alike at every size. */
const LINES = 360;
/** How near the foot of the step must lie to a nearly solid pixel; and how far from it anything solid, or it is an ordinary edge. */
const FOOT = 2.9;
const ORDINARY = 2.8;
/** Half side of the square that tells a step from strands and ramps. */
const AROUND = 4;
/** Share of that square that may lie between open and nearly solid: the step itself, and no more. */
const BETWEEN = 0.15;
/** Difference between nearly solid places a px of such a frame apart, as a root mean square, over which the place is mesh or hair. */
const ROUGH = 0.1;
/** Distance from an open pixel up to which one is mixed, px of this plane. */
const BESIDE = 1.2;

/** How far in such rims reach that are worth closing, px, for a frame of so many lines. */
export const glossyDepth = (lines: number): number => Math.round(lines / 25);

/**
 * Closes glossy rims. Metal and glaze mirror the screen where they turn away from the camera, and a key opens them by as
 * much; but no edge is shaped so: blur, motion and smoke climb evenly from nothing to all, while a surface that mirrors
 * stands nearly solid over a steep step, and grows solid only well behind it. Such a place is made solid as far as it
 * lies within `depth` of the step and goes on smoothly; the step's own pixels are raised by as much as the rim behind them. Where
 * nothing solid lies within `depth` it is no rim (glass, veil), and stays.
 * Source: the image of a sharp outline climbs steepest in its middle, whatever blurs it (common practice); the thresholds are
 * measured on the truth plates.
 * @param depth px of this plane
 * @param shade 1 where the plate may show the screen itself at less light: that is no rim
 * @param lens whether what spreads a step over several pixels is a lens; coarse chroma opens what is solid, and all over `NEARLY` is closed
 * @param allocate may give the matte's own memory back, which is then changed
 */
export function closeGlossyRims(
  matte: Plane,
  depth: number,
  shade: Uint8Array | null = null,
  allocate: Allocate = fresh,
  { lens = true }: { readonly lens?: boolean } = {},
): Plane {
  const { width, height, data: from } = matte;
  const unit = Math.max(1, linesOf(matte) / LINES);
  const found = findRims(matte, depth, unit, shade);
  const data = allocate(from.length);
  if (data !== from) data.set(from);
  if (!found) return { width, height, data };
  // The step's own pixels, outwards: each is a mixture of nothing with the rim that it is reached from. A lens spreads it over some that are over `NEARLY`.
  const { rim, toOpen } = found;
  const behind = new Float32Array(from.length);
  const top = stepTops(matte, toOpen, FOOT * unit);
  let front: number[] = [];
  for (let i = 0; i < rim.length; i++)
    if (rim[i]) {
      const over = lens && (toOpen[i] as number) <= FOOT * unit ? top(i) : null;
      if (over !== null) rim[i] = 0;
      behind[i] = over ?? (from[i] as number);
      front.push(i);
    }
  const raised = front.slice();
  for (let walked = 0; walked < FOOT * unit && front.length > 0; walked++) {
    const next: number[] = [];
    for (const i of front)
      for (const j of around(i, width, height)) {
        const m = from[j] as number;
        if (behind[j] || m <= OPEN || m >= (behind[i] as number)) continue;
        behind[j] = behind[i] as number;
        next.push(j);
      }
    for (const j of next) raised.push(j);
    front = next;
  }
  for (const i of raised) data[i] = rim[i] ? 1 : Math.min(1, (from[i] as number) / (behind[i] as number));
  return { width, height, data };
}

/** Share of its top that a step begins at; half its width over which a lens spreads it, since a sharp one takes up to that between pixels; and how much further it ends. */
const BEGINS = 0.05;
const SPREAD = 1.3;
const ENDS = 1.5;

/**
 * Tells the matte that a step climbs to, where a pixel lies on it; null where one lies behind it. What spreads a sharp outline spreads it to both
 * sides alike, so that the step ends as far behind its middle as it begins before it, and its tail further on.
 */
function stepTops({ width, height, data }: Plane, toOpen: Float32Array, reach: number): (i: number) => number | null {
  return (i) => {
    const slope = slopeAt(i, toOpen, width, height);
    if (!slope) return null;
    const [x, y] = [i % width, Math.floor(i / width)];
    /** So many pixels outwards, between pixels in proportion. */
    const at = (t: number) => {
      const [u, v] = [Math.min(width - 1.001, Math.max(0, x - t * slope[0])), Math.min(height - 1.001, Math.max(0, y - t * slope[1]))];
      const [k, fx, fy] = [Math.floor(v) * width + Math.floor(u), u % 1, v % 1];
      const along = (j: number) => (data[j] as number) * (1 - fx) + (data[j + 1] as number) * fx;
      return along(k) * (1 - fy) + along(k + width) * fy;
    };
    const falls = (level: number) => {
      let last = data[i] as number;
      for (let t = 0.5; t <= reach + 2; t += 0.5) {
        const m = at(t);
        if (m <= level) return t - (0.5 * (level - m)) / Math.max(1e-6, last - m);
        last = m;
      }
      return null;
    };
    let top = data[i] as number;
    for (let round = 0; round < 2; round++) {
      const [middle, begins] = [falls(top / 2), falls(BEGINS * top)];
      if (middle === null || begins === null) return null;
      const half = begins - middle;
      if (half <= SPREAD * (Math.abs(slope[0]) + Math.abs(slope[1]))) return null;
      const ends = middle - ENDS * half;
      if (ends >= 0) return null;
      top = Math.max(data[i] as number, at(ends));
    }
    return top;
  };
}

/** Which way the distance to what is open grows, as a unit vector. */
function slopeAt(i: number, toOpen: Float32Array, width: number, height: number): readonly [number, number] | null {
  const [x, y] = [i % width, Math.floor(i / width)];
  const at = (u: number, v: number) => toOpen[Math.min(height - 1, Math.max(0, v)) * width + Math.min(width - 1, Math.max(0, u))] as number;
  const [dx, dy] = [at(x + 1, y) - at(x - 1, y), at(x, y + 1) - at(x, y - 1)];
  const length = Math.hypot(dx, dy);
  return length === 0 ? null : [dx / length, dy / length];
}

/**
 * 1 at the pixels of rims, without those of the step itself: from behind the steps inwards, as far as it goes on smoothly; and how far each pixel is
 * from what is open.
 */
function findRims(
  matte: Plane,
  depth: number,
  unit: number,
  shade: Uint8Array | null,
): { readonly rim: Uint8Array; readonly toOpen: Float32Array } | null {
  const { width, height, data } = matte;
  const toOpen = distanceTo(maskUnder(data, OPEN), width, height, FOOT * unit + 1);
  const footNear: number[] = [];
  for (let i = 0; i < data.length; i++) {
    const m = data[i] as number;
    if (m < NEARLY || m >= SOLID || shade?.[i]) continue;
    if ((toOpen[i] as number) > BESIDE && (toOpen[i] as number) <= FOOT * unit) footNear.push(i);
  }
  if (footNear.length === 0) return null;
  const toSolid = distanceTo(maskOver(data, SOLID), width, height, depth + 1);
  const behindStep = footNear.filter(
    (i) => (toSolid[i] as number) > ORDINARY * unit && (toSolid[i] as number) <= depth && growsSolidInwards(i, toOpen, data, width, depth),
  );
  if (behindStep.length === 0) return null;
  const smooth = smoothPlaces(matte, unit);
  const rim = new Uint8Array(data.length);
  let front = behindStep.filter(smooth);
  if (front.length === 0) return null;
  for (const i of front) rim[i] = 1;
  for (let walked = 1; walked < depth && front.length > 0; walked++) {
    const next: number[] = [];
    for (const i of front)
      for (const j of around(i, width, height)) {
        const m = data[j] as number;
        if (rim[j] || m < NEARLY || m >= 1 || (toOpen[j] as number) <= BESIDE || !smooth(j)) continue;
        rim[j] = 1;
        next.push(j);
      }
    front = next;
  }
  return { rim, toOpen };
}

/** Tells whether the place around a pixel is a step between open and nearly solid, and smooth: no ramp, no strands, no mesh. */
function smoothPlaces({ width, height, data }: Plane, unit: number): (i: number) => boolean {
  const n = data.length;
  const step = Math.round(unit);
  // Of a pair, by how much its square is over what is smooth: the sum tells of the mean.
  const [between, over] = [new Float32Array(n), new Float32Array(n)];
  const allowed = ROUGH * ROUGH;
  for (let row = 0; row < n; row += width)
    for (let i = row; i < row + width; i++) {
      const m = data[i] as number;
      if (m <= OPEN) continue;
      if (m < NEARLY) {
        between[i] = 1;
        continue;
      }
      const right = i + step < row + width ? (data[i + step] as number) : 0;
      const below = i + step * width < n ? (data[i + step * width] as number) : 0;
      const [a, b] = [m - right, m - below];
      over[i] = (right < NEARLY ? 0 : a * a - allowed) + (below < NEARLY ? 0 : b * b - allowed);
    }
  const mean = (plane: Float32Array) => boxMean(plane, width, height, Math.round(AROUND * unit));
  const [share, rough] = [mean(between), mean(over)];
  return (i) => (share[i] as number) <= BETWEEN && (rough[i] as number) <= 0;
}

/** Whether the matte grows solid straight away from the step. Along the end of what moved past it, it grows along the step instead. */
function growsSolidInwards(i: number, toOpen: Float32Array, data: Float32Array, width: number, depth: number): boolean {
  const [x, y] = [i % width, Math.floor(i / width)];
  const height = data.length / width;
  const slope = slopeAt(i, toOpen, width, height);
  if (!slope) return false;
  for (let t = 1; t <= depth; t++) {
    const [u, v] = [Math.round(x + t * slope[0]), Math.round(y + t * slope[1])];
    if (u < 0 || v < 0 || u >= width || v >= height) return false;
    const m = data[v * width + u] as number;
    if (m >= SOLID) return true;
    if (m <= OPEN) return false;
  }
  return false;
}
