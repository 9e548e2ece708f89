import { boxMean } from "../image/box";
import { areaRuns } from "../image/components";
import { maskOver, maskUnder } from "../image/mask";
import { type Allocate, fresh, type Plane } from "../image/plane";

/** A neighbouring frame's matte, and where the plate stayed the same between it and the frame that is worked on. */
export interface MatteNearby {
  readonly matte: Plane;
  readonly still: Uint8Array;
}

/** Half side of the square over which the way into a still place is eased, px. */
const EASE = 2;
/** Change of the matte's local mean over which the subject moved even where the plate hardly did (dark on dark). */
const MEAN = 0.03;
const MEAN_RADIUS = 4;

/**
 * Steadies edges that stand still: there each pixel becomes the mean over the frame and its neighbours, so that grain no longer
 * makes the edge crawl. Where anything moved nothing is mixed, so that nothing smears.
 * @param amount 0…1
 */
export function steadyMatte(now: Plane, nearby: readonly MatteNearby[], amount: number, allocate: Allocate = fresh): Plane {
  const { width, height } = now;
  const out = allocate(now.data.length);
  const weights = nearby.map(({ matte, still }) => stillness(now, matte, still));
  for (let i = 0; i < out.length; i++) {
    const m = now.data[i] as number;
    let sum = 0;
    let total = 1;
    nearby.forEach(({ matte }, k) => {
      const w = (weights[k] as Float32Array)[i] as number;
      sum += w * ((matte.data[i] as number) - m);
      total += w;
    });
    out[i] = m + (amount * sum) / total;
  }
  return { width, height, data: out };
}

/** How still each pixel is, 0…1: 0 wherever the plate or the matte's local mean moved, rising over a few pixels inside. */
function stillness(now: Plane, other: Plane, still: Uint8Array): Float32Array {
  const { width, height } = now;
  const [a, b] = [boxMean(now.data, width, height, MEAN_RADIUS), boxMean(other.data, width, height, MEAN_RADIUS)];
  const quiet = new Float32Array(still.length);
  for (let i = 0; i < quiet.length; i++) quiet[i] = still[i] && Math.abs((a[i] as number) - (b[i] as number)) < MEAN ? 1 : 0;
  const eased = boxMean(quiet, width, height, EASE);
  return eased.map((v, i) => (quiet[i] ? v : 0));
}

/** Cover from which a speck or a pinhole counts as such. */
const SPECK = 0.04;
/** How far a speck may have moved between frames and still be the same, px. */
const MOVE = 4;
/** Share of its area that another frame must show too. */
const SHOWN = 0.3;

/**
 * Drops specks outside the subject and fills pinholes inside it that blink: such as are in neither neighbouring frame at (nearly) the
 * same place. What stays there from frame to frame is real, however small, and is kept.
 * @param area largest that may go, px² of this plane
 */
export function dropBlinking(now: Plane, nearby: readonly Plane[], area: number, allocate: Allocate = fresh): Plane {
  const { width, height } = now;
  const out = allocate(now.data.length);
  out.set(now.data);
  if (nearby.length === 0) return { width, height, data: out };
  // Specks are what lies over a level, pinholes what lies under its mirror; each settles at the less striking of what is there.
  settleAreas(now, nearby, area, maskOver, SPECK, (pixel) => {
    for (const p of nearby) out[pixel] = Math.min(out[pixel] as number, p.data[pixel] as number);
  });
  settleAreas(now, nearby, area, maskUnder, 1 - SPECK, (pixel) => {
    for (const p of nearby) out[pixel] = Math.max(out[pixel] as number, p.data[pixel] as number);
  });
  return { width, height, data: out };
}

/** Settles every pixel of the areas up to a size that no neighbouring frame shows within {@link MOVE} px. */
function settleAreas(
  now: Plane,
  nearby: readonly Plane[],
  area: number,
  maskAt: (values: Float32Array, level: number) => Uint8Array,
  level: number,
  settle: (pixel: number) => void,
): void {
  const { width, height } = now;
  const { count, starts, ends, labels, areas } = areaRuns(maskAt(now.data, level), width, height);
  const others = nearby.map((p) => maskAt(p.data, level));
  const seen = others.map(() => new Float64Array(areas.length));
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if ((areas[label] as number) > area) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++)
      others.forEach((mask, o) => {
        if (anyWithin(mask, i, width, height)) (seen[o] as Float64Array)[label]!++;
      });
  }
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    const size = areas[label] as number;
    if (size > area || seen.some((n) => (n[label] as number) >= SHOWN * size)) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) settle(i);
  }
}

/** Whether a mask holds anything within {@link MOVE} px of a pixel, to the sides and down. */
function anyWithin(mask: Uint8Array, pixel: number, width: number, height: number): boolean {
  const x = pixel % width;
  const y = (pixel - x) / width;
  const [left, right] = [Math.max(0, x - MOVE), Math.min(width - 1, x + MOVE)];
  const bottom = Math.min(height - 1, y + MOVE);
  for (let row = Math.max(0, y - MOVE); row <= bottom; row++)
    for (let i = row * width + left; i <= row * width + right; i++) if (mask[i]) return true;
  return false;
}
