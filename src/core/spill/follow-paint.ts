import { type Affine, growthOf, movedBy, movedTwice } from "../image/affine";
import { type FollowedGround, type Ground, keysFollowed } from "../matte/follow";
import type { ShapeKey } from "../matte/keys";
import type { Point } from "../matte/polygon";
import { type PaintStroke, type StrokeKey, strokeMotion } from "./paint";

/** At least as far around a stroke's middle it is looked at what lies there, px at 1080 lines: what a small dab covers is too even to be followed. */
const LEAST = 30;
/** Directions in which a brush's round is looked at. */
const ROUND = 8;

/** What is looked at to follow a stroke: what its brush covers on a frame, and some around it. @param lines of the frame */
export function strokeGround(stroke: PaintStroke, frame: number, lines: number): Ground {
  const motion = strokeMotion(stroke, frame);
  const reach = Math.max(stroke.radius * growthOf(motion), (LEAST * lines) / 1080);
  const covered = stroke.points.flatMap((p) => {
    const { x, y } = movedBy(motion, p);
    return Array.from({ length: ROUND }, (_, k) => {
      const angle = (2 * Math.PI * k) / ROUND;
      return { x: x + reach * Math.cos(angle), y: y + reach * Math.sin(angle) };
    });
  });
  const outline = convexHull(covered);
  const [xs, ys] = [outline.map((p) => p.x), outline.map((p) => p.y)];
  const [left, top, right, bottom] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  // The box's corners: nothing in it moves farther than they do.
  const points = [
    { x: left, y: top },
    { x: right, y: top },
    { x: left, y: bottom },
    { x: right, y: bottom },
  ];
  return { points, outline };
}

/**
 * A stroke that goes with what lies under it. As far as it was followed it has new keys, as few as hold it there, and beyond that it shows only where it
 * has keys already; one that was lost at once stays as it was.
 * @param found how far its {@link strokeGround} was followed @param lines of the frame
 */
export function strokeFollowed<S extends PaintStroke>(stroke: S, { outlines }: Pick<FollowedGround, "outlines">, lines: number): S {
  const [start, end] = [outlines[0], outlines[outlines.length - 1]] as [ShapeKey, ShapeKey];
  if (start === end) return stroke;
  const before = strokeMotion(stroke, start.frame);
  const keys = keysFollowed(
    stroke.keys,
    { outlines },
    lines,
    ({ frame, points }): StrokeKey => ({ frame, ...rounded(movedTwice(motionOfBox(start.points, points), before)) }),
  );
  // Where it was stopped before keys that it has from earlier, it goes on by those.
  if (end.frame > start.frame) return { ...stroke, keys, last: keys.some((k) => k.frame > end.frame) ? stroke.last : end.frame };
  return { ...stroke, keys, first: keys.some((k) => k.frame < end.frame) ? stroke.first : end.frame };
}

/** The motion that takes the corners of an upright box (left top, right top, left bottom) to where they are now. */
function motionOfBox(box: readonly Point[], now: readonly Point[]): Affine {
  const [p, px, py] = box as [Point, Point, Point];
  const [q, qx, qy] = now as [Point, Point, Point];
  const [w, h] = [px.x - p.x, py.y - p.y];
  const [a, c, b, d] = [(qx.x - q.x) / w, (qx.y - q.y) / w, (qy.x - q.x) / h, (qy.y - q.y) / h];
  return { a, b, c, d, x: q.x - a * p.x - b * p.y, y: q.y - c * p.x - d * p.y };
}

/** To a hundredth of a px in any frame. */
function rounded({ a, b, c, d, x, y }: Affine): Affine {
  const to = (v: number, parts: number) => Math.round(parts * v) / parts;
  return { a: to(a, 1e6), b: to(b, 1e6), c: to(c, 1e6), d: to(d, 1e6), x: to(x, 1e3), y: to(y, 1e3) };
}

/** The convex outline around places, against the clock in a frame whose y points down. Source: Andrew (1979). */
function convexHull(places: readonly Point[]): Point[] {
  const sorted = [...places].sort((p, q) => p.x - q.x || p.y - q.y);
  const half = (list: readonly Point[]): Point[] => {
    const hull: Point[] = [];
    for (const p of list) {
      while (hull.length > 1 && turn(hull[hull.length - 2] as Point, hull[hull.length - 1] as Point, p) <= 0) hull.pop();
      hull.push(p);
    }
    return hull.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

const turn = (o: Point, p: Point, q: Point): number => (p.x - o.x) * (q.y - o.y) - (p.y - o.y) * (q.x - o.x);
