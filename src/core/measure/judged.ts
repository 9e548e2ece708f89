import { densestPlace } from "./densest";
import type { JudgedFrame } from "./findings";

/** What faults are looked for in: the subject's outline and distances from it. */
export interface Judged extends JudgedFrame {
  readonly width: number;
  readonly height: number;
  readonly solid: Uint8Array;
  /** Pixels from the outline, inwards and outwards. */
  readonly depth: Float32Array;
  readonly away: Float32Array;
  readonly margin: number;
  /** Area of the subject, px of this frame. */
  readonly area: number;
  /** Side of the square that a place is told by. */
  readonly side: number;
  readonly lines: number;
}

/** Where most marks lie, px of the full frame. */
export const place = (j: Judged, marks: Float32Array) => densestPlace(marks, j.width, j.height, j.scale, j.side);
export const floats = (n: number, f: (i: number) => number): Float32Array => {
  const out = new Float32Array(n);
  for (let i = 0; i < n; i++) out[i] = f(i);
  return out;
};

export const clamp = (v: number, low = 0, high = 1): number => Math.min(high, Math.max(low, v));
export const share = (v: number): string => `${(100 * v).toFixed(1)} %`;
