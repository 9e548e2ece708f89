import { gaussianBlur } from "../image/blur";
import { type Allocate, fresh, type Plane } from "../image/plane";

/**
 * Moves the matte's edge along its own slope and softens it; solid and empty places away from it stay as they are.
 * @param shift px of this plane, to a tenth; positive grows, negative shrinks
 * @param soften σ of the blur, px of this plane
 */
export function adjustEdge(matte: Plane, shift: number, soften: number, allocate: Allocate = fresh): Plane {
  const { width, height } = matte;
  let data: Float32Array = matte.data;
  if (shift !== 0) data = shiftEdge(data, width, height, shift, allocate);
  if (soften > 0) data = gaussianBlur(data, width, height, soften);
  return { width, height, data };
}

/**
 * Grows or shrinks in steps of at most a pixel, each towards the largest (or smallest) neighbour, so that a straight edge
 * moves by exactly the shift and keeps its slope.
 */
function shiftEdge(data: Float32Array, width: number, height: number, shift: number, allocate: Allocate): Float32Array {
  const grow = shift > 0;
  const steps = Math.ceil(Math.abs(shift));
  const part = Math.abs(shift) / steps;
  let now = data;
  for (let s = 0; s < steps; s++) {
    // One step of at most a pixel: towards the largest (or smallest) neighbour within the disc of that radius.
    const next = allocate(data.length);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const here = now[i] as number;
        let best = here;
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            if (dx === 0 && dy === 0) continue;
            const v = now[Math.min(height - 1, Math.max(0, y + dy)) * width + Math.min(width - 1, Math.max(0, x + dx))] as number;
            // Diagonal neighbours lie farther: their slope is weaker by √2.
            const along = dx !== 0 && dy !== 0 ? here + (v - here) * Math.SQRT1_2 : v;
            if (grow ? along > best : along < best) best = along;
          }
        next[i] = here + part * (best - here);
      }
    now = next;
  }
  return now;
}
