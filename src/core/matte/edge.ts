import { gaussianBlur } from "../image/blur";
import { type Allocate, fresh, type Plane } from "../image/plane";
import { wideBlur } from "../image/wide-blur";

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

/** Widths of a ramp from 0 to 1 from which on it counts as motion blur, and counts in full, px. */
const WIDE_FROM = 14;
const WIDE_FULL = 24;
/** Half side of the square in which a ramp's climb is measured, px. */
const TELL = 5;

/** A matte this near to 0 or 1 is empty or solid. */
const EMPTY = 0.005;

/**
 * Softens the greys of motion blur by themselves: where the matte climbs from 0 to 1 over many pixels. Crisp edges, solid
 * and empty places keep every value.
 * @param sigma σ of the blur, px of this plane
 * @param scale this plane's size over the full one's: a reduced frame's ramps are shorter
 */
export function softenWideGreys(matte: Plane, sigma: number, scale: number, allocate: Allocate = fresh): Plane {
  const { width, height, data } = matte;
  const radius = Math.max(2, Math.round(TELL * scale));
  const high = extreme(data, width, height, radius, Math.max);
  const low = extreme(data, width, height, radius, Math.min);
  const blurred = wideBlur(data, width, height, sigma);
  const out = allocate(data.length);
  for (let i = 0; i < out.length; i++) {
    const m = data[i] as number;
    out[i] = m;
    if (m < EMPTY || m > 1 - EMPTY) continue;
    const climb = (high[i] as number) - (low[i] as number);
    const ramp = climb > 0 ? (2 * radius) / scale / climb : 0;
    const share = Math.min(1, Math.max(0, (ramp - WIDE_FROM) / (WIDE_FULL - WIDE_FROM)));
    out[i] = m + share * ((blurred[i] as number) - m);
  }
  return { width, height, data: out };
}

/** Largest or smallest value in the square of side 2·radius + 1 around each pixel. */
function extreme(source: Float32Array, width: number, height: number, radius: number, of: (a: number, b: number) => number): Float32Array {
  const across = new Float32Array(source.length);
  const out = new Float32Array(source.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = source[y * width + x] as number;
      for (let k = Math.max(0, x - radius); k <= Math.min(width - 1, x + radius); k++) v = of(v, source[y * width + k] as number);
      across[y * width + x] = v;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = across[y * width + x] as number;
      for (let k = Math.max(0, y - radius); k <= Math.min(height - 1, y + radius); k++) v = of(v, across[k * width + x] as number);
      out[y * width + x] = v;
    }
  return out;
}
