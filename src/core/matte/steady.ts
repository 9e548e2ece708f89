import { boxMean } from "../image/box";
import { labelComponents } from "../image/components";
import { maskOf } from "../image/mask";
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
  const pass = (over: (m: number) => boolean, settle: (values: number[], here: number) => number) => {
    const mask = maskOf(now.data, over);
    const others = nearby.map((p) => {
      const wide = boxMean(
        p.data.map((m) => (over(m) ? 1 : 0)),
        width,
        height,
        MOVE,
      );
      return wide;
    });
    const { labels, areas } = labelComponents(mask, width, height);
    const seen = areas.map(() => new Float32Array(nearby.length));
    for (let i = 0; i < labels.length; i++) {
      const l = labels[i] as number;
      if (!l || (areas[l] as number) > area) continue;
      others.forEach((o, k) => {
        if ((o[i] as number) > 0) (seen[l] as Float32Array)[k] = ((seen[l] as Float32Array)[k] as number) + 1;
      });
    }
    for (let i = 0; i < labels.length; i++) {
      const l = labels[i] as number;
      if (!l || (areas[l] as number) > area) continue;
      if ((seen[l] as Float32Array).some((n) => n >= SHOWN * (areas[l] as number))) continue;
      out[i] = settle(
        nearby.map((p) => p.data[i] as number),
        out[i] as number,
      );
    }
  };
  pass(
    (m) => m > SPECK,
    (v, here) => Math.min(here, ...v),
  );
  pass(
    (m) => m < 1 - SPECK,
    (v, here) => Math.max(here, ...v),
  );
  return { width, height, data: out };
}
