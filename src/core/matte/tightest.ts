import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import type { Plane } from "../image/plane";
import { type Point, smoothOutline } from "./polygon";

/** Matte over which a pixel belongs to the subject; the same as for the clearance figure. */
const SUBJECT = 0.02;
/** Islands smaller than this are specks, not subject; px² of the reduced frame. */
const SPECK = 12;

/** Where the subject is over a shot, on reduced frames. */
export interface Occupied {
  readonly width: number;
  readonly height: number;
  /** Reduced size over the full one. */
  readonly scale: number;
  /** The first frame on which each pixel holds subject; 0 where none does. */
  readonly frames: Uint16Array;
}

export const nothingOccupied = (width: number, height: number, scale: number): Occupied => ({
  width,
  height,
  scale,
  frames: new Uint16Array(width * height),
});

/** Adds a frame's subject. @param matte of the same reduced size @throws RangeError when sizes differ */
export function occupy(occupied: Occupied, matte: Plane, frame: number): void {
  const { width, height, frames } = occupied;
  if (matte.width !== width || matte.height !== height)
    throw new RangeError(`Sizes differ: ${matte.width}×${matte.height} and ${width}×${height}.`);
  const { labels, areas } = labelComponents(
    maskOf(matte.data, (m) => m > SUBJECT),
    width,
    height,
  );
  for (let i = 0; i < labels.length; i++) {
    const l = labels[i] as number;
    if (l && (areas[l] as number) >= SPECK && !frames[i]) frames[i] = frame;
  }
}

/** What holds a side of an outline where it is: the subject's nearest pixel, and the frame that has it there. */
export interface Decider {
  /** The side from this corner to the next. */
  readonly side: number;
  readonly frame: number;
  /** Px of the full frame. */
  readonly at: Point;
}

export interface Tightest {
  readonly points: readonly Point[];
  /** How far each side came closer, px of the full frame. */
  readonly moved: readonly number[];
  /** Least distance between the outline and the subject over the shot, before and after; px of the full frame. */
  readonly before: number;
  readonly after: number;
  /** For each side that moved, what stopped it; and what comes nearer than the margin to a side that stays. */
  readonly deciders: readonly Decider[];
}

/** How close to the frame's border a corner counts as lying on it, px. */
const BORDER = 1;
/** A side that cannot move this far any more stays, px. */
const FINE = 0.25;

/**
 * How close a garbage outline may come without touching the subject on any frame: each side moves towards what is kept, in parallel to
 * itself, until something of the subject is nearer than the margin. Sides on the frame's border stay, and sides that are too near already.
 * @param out the side of the outline that is thrown away
 * @param margin distance that is kept to the subject, px of the full frame, over 0
 */
export function tightestSafe(
  { points, smooth, out }: { readonly points: readonly Point[]; readonly smooth: boolean; readonly out: "outside" | "inside" },
  occupied: Occupied,
  margin: number,
): Tightest {
  const { width, height, scale, frames } = occupied;
  const [fullWidth, fullHeight] = [width / scale, height / scale];
  const distance = distanceTo(
    maskOf(frames, (f) => f > 0),
    width,
    height,
  );
  const n = points.length;
  const inFrame = (p: Point) => p.x > BORDER && p.y > BORDER && p.x < fullWidth - BORDER && p.y < fullHeight - BORDER;
  const pixel = (p: Point) =>
    Math.min(height - 1, Math.max(0, Math.floor(p.y * scale))) * width + Math.min(width - 1, Math.max(0, Math.floor(p.x * scale)));
  /** Clearance along a line from corner to corner, and where it is least. */
  const along = (a: Point, b: Point): { least: number; at: Point } => {
    const steps = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) * scale));
    let found = { least: Number.POSITIVE_INFINITY, at: a };
    for (let s = 0; s <= steps; s++) {
      const p = { x: a.x + ((b.x - a.x) * s) / steps, y: a.y + ((b.y - a.y) * s) / steps };
      if (!inFrame(p)) continue;
      // Between pixel centres; the gap between what they cover may be a pixel less.
      const d = Math.max(0, (distance[pixel(p)] as number) - 1) / scale;
      if (d < found.least) found = { least: d, at: p };
    }
    return found;
  };
  const clearance = (corners: readonly Point[]): number => {
    const outline = smooth ? smoothOutline(corners) : corners;
    let least = Number.POSITIVE_INFINITY;
    outline.forEach((a, i) => {
      least = Math.min(least, along(a, outline[(i + 1) % outline.length] as Point).least);
    });
    return least;
  };

  // The normal of each side, towards what is kept.
  const area = points.reduce((s, a, i) => {
    const b = points[(i + 1) % n] as Point;
    return s + a.x * b.y - b.x * a.y;
  }, 0);
  const turn = (area > 0 ? 1 : -1) * (out === "outside" ? 1 : -1);
  const sides = points.map((a, i) => {
    const b = points[(i + 1) % n] as Point;
    const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    return { a, dx: (b.x - a.x) / length, dy: (b.y - a.y) / length, fixed: !inFrame(a) && !inFrame(b) };
  });
  const cornersOf = (moves: readonly number[]): Point[] =>
    sides.map((side, i) => {
      const before = sides[(i + n - 1) % n] as (typeof sides)[0];
      const line = (s: (typeof sides)[0], d: number) => ({ x: s.a.x - turn * s.dy * d, y: s.a.y + turn * s.dx * d });
      const p = line(side, moves[i] as number);
      const q = line(before, moves[(i + n - 1) % n] as number);
      const cross = before.dx * side.dy - before.dy * side.dx;
      // Sides in one line have no corner to speak of: it goes with the one that moved less.
      if (Math.abs(cross) < 1e-3)
        return (moves[i] as number) < (moves[(i + n - 1) % n] as number)
          ? p
          : { x: q.x + (side.a.x - before.a.x), y: q.y + (side.a.y - before.a.y) };
      const t = ((p.x - q.x) * side.dy - (p.y - q.y) * side.dx) / cross;
      return { x: q.x + t * before.dx, y: q.y + t * before.dy };
    });

  const before = clearance(points);
  const moves = new Array<number>(n).fill(0);
  const sideClearance = (corners: readonly Point[], i: number) => along(corners[i] as Point, corners[(i + 1) % n] as Point).least;
  // A side that is too near already stays, and must not come nearer by what its neighbours do.
  const wanted = points.map((_, i) => Math.min(margin, sideClearance(points, i)));
  const safe = (corners: readonly Point[], i: number): boolean =>
    smooth
      ? clearance(corners) >= Math.min(margin, before)
      : [i + n - 1, i, i + 1].every((k) => sideClearance(corners, k % n) >= (wanted[k % n] as number));
  const stuck = sides.map((s, i) => s.fixed || (wanted[i] as number) < margin);
  const keepsForm = (corners: readonly Point[]) =>
    sides.every((s, i) => {
      const [a, b] = [corners[i] as Point, corners[(i + 1) % n] as Point];
      return (b.x - a.x) * s.dx + (b.y - a.y) * s.dy > 1;
    });
  // Small steps, all sides in turn: nothing is leapt over, and no side takes its neighbours' room.
  while (stuck.includes(false)) {
    for (let i = 0; i < n; i++) {
      if (stuck[i]) continue;
      let step = margin;
      for (; step >= FINE; step /= 2) {
        const tried = moves.map((m, k) => (k === i ? m + step : m));
        const corners = cornersOf(tried);
        // Beyond the border there is nothing to come closer to.
        const within = inFrame(corners[i] as Point) || inFrame(corners[(i + 1) % n] as Point);
        if (within && keepsForm(corners) && safe(corners, i)) {
          moves[i] = tried[i] as number;
          break;
        }
      }
      if (step < FINE) stuck[i] = true;
    }
  }
  const corners = cornersOf(moves);
  const deciders: Decider[] = [];
  corners.forEach((a, i) => {
    if ((moves[i] as number) === 0 && (wanted[i] as number) >= margin) return;
    const { least, at } = along(a, corners[(i + 1) % n] as Point);
    if (!Number.isFinite(least)) return;
    const found = nearest(occupied, at, least);
    if (found) deciders.push({ side: i, ...found });
  });
  return { points: corners, moved: moves, before, after: clearance(corners), deciders };
}

/** The subject's pixel nearest to a place that is known to be so far from it. */
function nearest({ width, height, scale, frames }: Occupied, from: Point, distance: number): { frame: number; at: Point } | null {
  const reach = Math.ceil(distance * scale) + 2;
  const [cx, cy] = [Math.floor(from.x * scale), Math.floor(from.y * scale)];
  let best: { frame: number; at: Point } | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (let y = Math.max(0, cy - reach); y <= Math.min(height - 1, cy + reach); y++)
    for (let x = Math.max(0, cx - reach); x <= Math.min(width - 1, cx + reach); x++) {
      const frame = frames[y * width + x] as number;
      const d = (x - cx) ** 2 + (y - cy) ** 2;
      if (!frame || d >= least) continue;
      least = d;
      best = { frame, at: { x: (x + 0.5) / scale, y: (y + 0.5) / scale } };
    }
  return best;
}
