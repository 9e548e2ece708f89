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

/** The keys between which a frame lies, and how far it is from the one to the other, 0…1; null without keys. Before the first and after the last that key alone. */
export function keysAround<K extends { readonly frame: number }>(
  keys: readonly K[],
  frame: number,
): { readonly from: K; readonly to: K; readonly t: number } | null {
  const last = keys[keys.length - 1];
  if (!last) return null;
  const next = keys.findIndex((k) => k.frame >= frame);
  if (next < 0) return { from: last, to: last, t: 0 };
  const to = keys[next] as K;
  const from = keys[next - 1];
  return from ? { from, to, t: (frame - from.frame) / (to.frame - from.frame) } : { from: to, to, t: 0 };
}

/** The outline on a frame: each point moves evenly from one key to the next, and rests before the first and after the last. */
export function outlineAt({ points, keys }: KeyedOutline, frame: number): readonly Point[] {
  const around = keysAround(keys, frame);
  if (!around) return points;
  const { from, to, t } = around;
  if (from === to) return to.points;
  return to.points.map((q, i) => {
    const p = from.points[i] as Point;
    return { x: p.x + t * (q.x - p.x), y: p.y + t * (q.y - p.y) };
  });
}

/** The same keys with one set on a frame, in place of any that is there. */
export function withKey(keys: readonly ShapeKey[], key: ShapeKey): ShapeKey[] {
  return [...keys.filter((k) => k.frame !== key.frame), key].sort((a, b) => a.frame - b.frame);
}
