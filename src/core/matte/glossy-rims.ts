import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import { type Allocate, fresh, type Plane } from "../image/plane";

/** Matte up to which a pixel is open, from which on nearly solid, and from which on solid. */
const OPEN = 0.12;
const NEARLY = 0.6;
const SOLID = 0.99;
/** Where a step's foot lies from the first pixel behind it: one mixed pixel stands between. */
const FOOT = disc(8);
/** Where something solid makes it an ordinary edge. */
const ORDINARY = disc(5);
const BESIDE = disc(2);
/** Half side of the square that tells a step from strands and ramps, px of the full frame. */
const AROUND = 4;
/** Share of that square that may lie between open and nearly solid: the step's own pixels, and no more. */
const BETWEEN = 0.15;
/** Difference from one nearly solid pixel to the next, as a root mean square, over which the place is mesh or hair. */
const ROUGH = 0.12;

/**
 * Closes glossy rims. Metal and glaze mirror the screen where they turn away from the camera, and a key opens them by as
 * much; but no edge is shaped so: blur, motion and smoke climb evenly from nothing to all, while a surface that mirrors
 * stands over a step of one pixel, nearly solid, and grows solid only well behind it. Such a place is made solid as far as it
 * lies within `depth` of the step and goes on smoothly; the step's own mixed pixels are raised by as much. Where a solid place is not
 * within `depth` it is no rim (glass, veil), and stays.
 * Source: the shape of an edge seen through a point spread function rises steepest in its middle (common practice); the
 * thresholds are measured on the truth plates.
 * @param depth px of this plane
 * @param scale this plane's size over the full frame's
 * @param shade 1 where the plate may show the screen itself at less light: that is no rim
 * @param allocate may give the matte's own memory back, which is then changed
 */
export function closeGlossyRims(
  matte: Plane,
  depth: number,
  scale: number,
  shade: Uint8Array | null = null,
  allocate: Allocate = fresh,
): Plane {
  const { width, height } = matte;
  const from = matte.data;
  const rim = rimPixels(matte, depth, Math.max(2, Math.round(AROUND * scale)), shade);
  // What the step's own pixels are a mixture of, read before anything is raised.
  const behind = new Map<number, number>();
  for (const i of rim)
    for (const j of near(matte, i, BESIDE)) {
      const m = from[j] as number;
      if (m > OPEN && m < SOLID && touchesOpen(matte, j)) behind.set(j, Math.max(behind.get(j) ?? 0, from[i] as number));
    }
  const data = allocate(from.length);
  if (data !== from) data.set(from);
  for (const [j, whole] of behind) data[j] = Math.min(1, (data[j] as number) / whole);
  for (const i of rim) data[i] = 1;
  return { width, height, data };
}

/** Pixels of rims, without those of the step itself: from the steps inwards, as far as it goes on smoothly. */
function rimPixels(matte: Plane, depth: number, radius: number, shade: Uint8Array | null): number[] {
  const { width, height, data } = matte;
  let front = steps(matte).filter((i) => !shade?.[i] && goesOnSmoothly(matte, i, radius));
  if (front.length === 0) return [];
  const solid = maskOf(data, (m) => m >= SOLID);
  const toSolid = distanceTo(solid, width, height, depth + 1);
  front = front.filter((i) => (toSolid[i] as number) <= depth);
  const seen = new Uint8Array(data.length);
  for (const i of front) seen[i] = 1;
  const rim: number[] = [];
  for (let walked = 0; walked < depth && front.length > 0; walked++) {
    for (const i of front) rim.push(i);
    const next: number[] = [];
    for (const i of front)
      for (const j of near(matte, i, BESIDE)) {
        if (seen[j]) continue;
        seen[j] = 1;
        const m = data[j] as number;
        if (m >= NEARLY && m < SOLID && !touchesOpen(matte, j) && goesOnSmoothly(matte, j, radius)) next.push(j);
      }
    front = next;
  }
  return rim;
}

/** Nearly solid pixels right behind a step, with nothing solid beside them. */
function steps(matte: Plane): number[] {
  const { data } = matte;
  const found: number[] = [];
  for (let i = 0; i < data.length; i++) {
    const m = data[i] as number;
    if (m < NEARLY || m >= SOLID || touchesOpen(matte, i)) continue;
    if (
      near(matte, i, FOOT).some((j) => (data[j] as number) <= OPEN) &&
      !near(matte, i, ORDINARY).some((j) => (data[j] as number) >= SOLID)
    )
      found.push(i);
  }
  return found;
}

/** Whether one of a pixel's four neighbours is open. */
function touchesOpen({ width, data }: Plane, i: number): boolean {
  const x = i % width;
  return (
    (x > 0 && (data[i - 1] as number) <= OPEN) ||
    (x < width - 1 && (data[i + 1] as number) <= OPEN) ||
    (i >= width && (data[i - width] as number) <= OPEN) ||
    (i + width < data.length && (data[i + width] as number) <= OPEN)
  );
}

/** Whether the place around a pixel is a step between open and nearly solid, and smooth: no ramp, no strands, no mesh. */
function goesOnSmoothly({ width, height, data }: Plane, i: number, radius: number): boolean {
  const x = i % width;
  const y = (i - x) / width;
  const [left, right] = [Math.max(0, x - radius), Math.min(width - 1, x + radius)];
  const [top, bottom] = [Math.max(0, y - radius), Math.min(height - 1, y + radius)];
  let [between, squares, pairs] = [0, 0, 0];
  const compare = (a: number, b: number) => {
    if (b < NEARLY) return;
    squares += (a - b) ** 2;
    pairs++;
  };
  for (let row = top; row <= bottom; row++)
    for (let k = left; k <= right; k++) {
      const j = row * width + k;
      const m = data[j] as number;
      if (m < NEARLY) {
        if (m > OPEN) between++;
        continue;
      }
      if (k < right) compare(m, data[j + 1] as number);
      if (row < bottom) compare(m, data[j + width] as number);
    }
  const seen = (right - left + 1) * (bottom - top + 1);
  return between <= BETWEEN * seen && squares <= ROUGH * ROUGH * pairs;
}

/** Steps from a pixel to those at a squared distance of at most `most`, itself not among them. */
function disc(most: number): readonly (readonly [number, number])[] {
  const r = Math.floor(Math.sqrt(most));
  const line = Array.from({ length: 2 * r + 1 }, (_, k) => k - r);
  return line.flatMap((dy) => line.map((dx) => [dx, dy] as const)).filter(([dx, dy]) => dx * dx + dy * dy > 0 && dx * dx + dy * dy <= most);
}

/** The pixels of the frame that lie so about one. */
function near({ width, height }: Plane, i: number, about: readonly (readonly [number, number])[]): number[] {
  const x = i % width;
  const y = (i - x) / width;
  const found: number[] = [];
  for (const [dx, dy] of about) if (x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height) found.push(i + dy * width + dx);
  return found;
}
