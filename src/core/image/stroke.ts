import type { Region } from "./plane";

interface Place {
  readonly x: number;
  readonly y: number;
}

/** A round brush drawn along straight pieces, px. */
export interface BrushStroke {
  readonly points: readonly Place[];
  readonly radius: number;
}

/** Calls back for every pixel of a frame whose middle lies nearer to the stroke's middle than its radius, once, with that distance. */
export function underStroke(
  { points, radius }: BrushStroke,
  width: number,
  height: number,
  found: (i: number, distance: number) => void,
): void {
  const box = around(points, radius, width, height);
  if (box.width <= 0 || box.height <= 0) return;
  const nearest = new Float32Array(box.width * box.height).fill(Number.POSITIVE_INFINITY);
  points.forEach((b, k) => {
    const a = points[Math.max(0, k - 1)] as Place;
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const square = Math.max(1e-12, dx * dx + dy * dy);
    const piece = around([a, b], radius, width, height);
    for (let y = piece.y; y < piece.y + piece.height; y++)
      for (let x = piece.x; x < piece.x + piece.width; x++) {
        const [px, py] = [x + 0.5 - a.x, y + 0.5 - a.y];
        const t = Math.min(1, Math.max(0, (px * dx + py * dy) / square));
        const i = (y - box.y) * box.width + x - box.x;
        nearest[i] = Math.min(nearest[i] as number, Math.hypot(px - t * dx, py - t * dy));
      }
  });
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const d = nearest[y * box.width + x] as number;
      if (d < radius) found((y + box.y) * width + x + box.x, d);
    }
}

/** The pixels of a frame that may lie within a radius of some places. */
function around(places: readonly Place[], radius: number, width: number, height: number): Region {
  let [left, top, right, bottom] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const { x, y } of places) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  const x = Math.max(0, Math.floor(left - radius));
  const y = Math.max(0, Math.floor(top - radius));
  return { x, y, width: Math.min(width, Math.ceil(right + radius) + 1) - x, height: Math.min(height, Math.ceil(bottom + radius) + 1) - y };
}

/** Every point that lies at least this far from the one kept before it, and the last; at most 500. */
export function thinned(points: readonly Place[], apart: number): Place[] {
  const kept: Place[] = [];
  for (const p of points) {
    const last = kept[kept.length - 1];
    if (!last || Math.hypot(p.x - last.x, p.y - last.y) >= apart) kept.push({ x: p.x, y: p.y });
  }
  const every = Math.ceil(kept.length / 499);
  const end = points[points.length - 1] as Place;
  return [...kept.filter((_, i) => i % every === 0), { x: end.x, y: end.y }];
}
