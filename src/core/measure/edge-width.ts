import type { Plane } from "../image/plane";

/** Widths of clean edges, in px: what a straight ramp from 0 to 1 of the same slope would measure. */
export interface EdgeWidths {
  readonly median: number;
  /** 5th percentile: what the lens and the recording make of an outline in focus that stands still. */
  readonly sharp: number;
  /** 95th percentile: where motion or defocus spreads the edge most. */
  readonly widest: number;
  /** Edge pixels that were measured. */
  readonly count: number;
  /** A place where the edge is about that wide, px. */
  readonly at: { readonly x: number; readonly y: number } | null;
}

/** Measures edges that go all the way from 0 to 1; strands and other partial cover are passed over. */
export function edgeWidths({ width, height, data }: Plane): EdgeWidths {
  const [widths, places]: [number[], number[]] = [[], []];
  const at = (x: number, y: number) =>
    data[Math.min(height - 1, Math.max(0, Math.round(y))) * width + Math.min(width - 1, Math.max(0, Math.round(x)))] as number;
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const m = data[i] as number;
      if (m < 0.35 || m > 0.65) continue;
      const gx = ((data[i + 1] as number) - (data[i - 1] as number)) / 2;
      const gy = ((data[i + width] as number) - (data[i - width] as number)) / 2;
      const g = Math.sqrt(gx * gx + gy * gy);
      if (g < 0.005) continue;
      const w = 1 / g;
      // Wider than this it is glass, smoke or a reflection, not an edge.
      if (w > Math.max(32, width / 16)) continue;
      const [dx, dy] = [(gx / g) * (0.6 * w + 1), (gy / g) * (0.6 * w + 1)];
      if (at(x + dx, y + dy) < 0.88 || at(x - dx, y - dy) > 0.12) continue;
      widths.push(w);
      places.push(i);
    }
  const count = widths.length;
  if (count === 0) return { median: 0, sharp: 0, widest: 0, count, at: null };
  const inOrder = Float64Array.from(widths).sort();
  const part = (share: number) => inOrder[Math.floor(share * (count - 1))] as number;
  const widest = part(0.95);
  const there = places[widths.indexOf(widest)] as number;
  return { median: part(0.5), sharp: part(0.05), widest, count, at: { x: there % width, y: Math.floor(there / width) } };
}
