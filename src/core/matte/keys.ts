import type { Point } from "./polygon";

/** The outline of a shape on one frame. */
export interface ShapeKey {
  readonly frame: number;
  readonly points: readonly Point[];
}

/** Most keys of a shape. */
export const MOST_KEYS = 500;

export interface KeyedOutline {
  readonly points: readonly Point[];
  /** In order of frames, each with as many points; none for a shape that stands still. */
  readonly keys: readonly ShapeKey[];
}

/** The outline on a frame: each point moves evenly from one key to the next, and rests before the first and after the last. */
export function outlineAt({ points, keys }: KeyedOutline, frame: number): readonly Point[] {
  const last = keys[keys.length - 1];
  if (!last) return points;
  const next = keys.findIndex((k) => k.frame >= frame);
  if (next < 0) return last.points;
  const after = keys[next] as ShapeKey;
  const before = keys[next - 1];
  if (!before) return after.points;
  const t = (frame - before.frame) / (after.frame - before.frame);
  return after.points.map((q, i) => {
    const p = before.points[i] as Point;
    return { x: p.x + t * (q.x - p.x), y: p.y + t * (q.y - p.y) };
  });
}

/** The same keys with one set on a frame, in place of any that is there. */
export function withKey(keys: readonly ShapeKey[], key: ShapeKey): ShapeKey[] {
  return [...keys.filter((k) => k.frame !== key.frame), key].sort((a, b) => a.frame - b.frame);
}
