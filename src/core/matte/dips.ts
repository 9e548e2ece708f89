import { type Allocate, fresh, type Plane } from "../image/plane";

/** Matte at or under which a place is open, and no dip. */
const OPEN = 0.6;
/**
 * Matte from which on a pixel counts as solid around a dip, half side of the square that is looked at (px of the full frame), and the share of it
 * that must be solid.
 */
const SOLID = 0.995;
const AROUND = 3;
const MOST = 0.5;
/** Levels that a matte is told apart in. */
const LEVELS = 1024;

/**
 * Closes dips: places inside the matte that are a little open, whichever way one goes out of them over something more solid. Grain and coarse
 * chroma leave such beside every edge, where bounds that hold what is solid do not reach. A dip is filled up to its lowest way out, when that is
 * no more than `depth` above it, it is over 0.6 itself, and half of what is around it is solid: among strands and mesh nothing is.
 * Sources: filling of holes by morphological reconstruction, L. Vincent, "Morphological Grayscale Reconstruction in Image Analysis", IEEE
 * Trans. Image Processing 2 (1993); from the outside in, level by level, Barnes, Lehman & Mulla, "Priority-flood", Computers &
 * Geosciences 62 (2014).
 * @param depth 0…1 @param scale this plane's size over the full frame's
 * @param allocate may give the matte's own memory back, which is then changed
 */
export function closeDips(matte: Plane, depth: number, scale: number, allocate: Allocate = fresh): Plane {
  const { width, height, data: from } = matte;
  const n = width * height;
  const data = allocate(n);
  data.set(from);
  // How high the lowest way out of a place is; 2 where it is not known yet. Solid pixels are walls, open ones outside.
  const fill = new Float32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) if ((from[i] as number) > OPEN && (from[i] as number) < 1) count++;
  if (count === 0) return { width, height, data };
  const places = new Int32Array(count);
  for (let i = 0, k = 0; k < count; i++)
    if ((from[i] as number) > OPEN && (from[i] as number) < 1) {
      places[k++] = i;
      fill[i] = 2;
    }
  // Places by level, each chained to the one met before it.
  const last = new Int32Array(LEVELS + 1).fill(-1);
  const before = new Int32Array(n);
  const visit = (i: number, level: number) => {
    if (fill[i] !== 2) return;
    const own = from[i] as number;
    const to = level > own ? level : own;
    fill[i] = to;
    const step = Math.ceil(LEVELS * to);
    before[i] = last[step] as number;
    last[step] = i;
  };
  for (let k = 0; k < count; k++) {
    const i = places[k] as number;
    const x = i % width;
    const inside = x > 0 && x < width - 1 && i >= width && i + width < n;
    const enclosed =
      inside &&
      (from[i - 1] as number) > OPEN &&
      (from[i + 1] as number) > OPEN &&
      (from[i - width] as number) > OPEN &&
      (from[i + width] as number) > OPEN;
    if (!enclosed) visit(i, 0);
  }
  for (let step = 0; step <= LEVELS; step++)
    while ((last[step] as number) >= 0) {
      const i = last[step] as number;
      last[step] = before[i] as number;
      const level = fill[i] as number;
      const x = i % width;
      if (x > 0) visit(i - 1, level);
      if (x < width - 1) visit(i + 1, level);
      if (i >= width) visit(i - width, level);
      if (i + width < n) visit(i + width, level);
    }
  const radius = Math.max(1, Math.round(AROUND * scale));
  for (let k = 0; k < count; k++) {
    const i = places[k] as number;
    const own = from[i] as number;
    const to = Math.min(1, fill[i] as number);
    fill[i] = to > own && to - own <= depth && mostlySolid(matte, i, radius) ? to : own;
  }
  for (let k = 0; k < count; k++) data[places[k] as number] = fill[places[k] as number] as number;
  return { width, height, data };
}

/** Whether more than {@link MOST} of the square around a pixel is solid. */
function mostlySolid({ width, height, data }: Plane, i: number, radius: number): boolean {
  const x = i % width;
  const y = (i - x) / width;
  const [left, right] = [Math.max(0, x - radius), Math.min(width - 1, x + radius)];
  let [solid, seen] = [0, 0];
  for (let row = Math.max(0, y - radius); row <= Math.min(height - 1, y + radius); row++)
    for (let k = row * width + left; k <= row * width + right; k++) {
      seen++;
      if ((data[k] as number) >= SOLID) solid++;
    }
  return solid > MOST * seen;
}
