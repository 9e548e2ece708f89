import { boxMean } from "../image/box";
import { bothOf, maskOver, maskUnder } from "../image/mask";
import type { Picture, Plane } from "../image/plane";
import { rootsOf, stillBetween } from "../matte/still";

/** Change of the matte's local mean under which an edge counts as not having moved. */
const STILL = 0.02;
const RADIUS = 4;

/** Matte under which a place is certain screen, where any change of the plate is grain. */
const SCREEN = 0.01;
/** What is looked at in one frame, which is compared with the one before it and then with the one after it. */
export interface Watched {
  readonly matte: Plane;
  readonly mean: Float32Array;
  readonly edges: Uint8Array;
  readonly roots: readonly Float32Array[];
}

/** A frame as {@link edgeFlicker} compares it. @param matte kept as it is @param plate that it was pulled from, of its size; nothing of it is kept */
export function watched(matte: Plane, plate: Picture): Watched {
  const { width, height, data } = matte;
  if (plate.width !== width || plate.height !== height)
    throw new RangeError(`Sizes differ: ${width}×${height} and ${plate.width}×${plate.height}.`);
  return { matte, mean: boxMean(data, width, height, RADIUS), edges: edgesOf(matte), roots: rootsOf(plate) };
}

/**
 * Edge flicker: mean change of the matte between two neighbouring frames along edges that did not move, in 1/1000.
 * An edge did not move where the plate stayed the same and the matte's mean over 9 × 9 px did; null without such an edge.
 */
export function edgeFlicker(before: Watched, after: Watched): number | null {
  const { width, height } = before.matte;
  if (after.matte.width !== width || after.matte.height !== height)
    throw new RangeError(`Sizes differ: ${width}×${height} and ${after.matte.width}×${after.matte.height}.`);
  const [m, k] = [before.matte.data, after.matte.data];
  const still = stillBetween(before.roots, after.roots, width, height, (i) => (m[i] as number) < SCREEN && (k[i] as number) < SCREEN);
  const [edge, edgeAfter] = [before.edges, after.edges];
  const [p, q] = [before.mean, after.mean];
  let sum = 0;
  let count = 0;
  for (let i = 0; i < p.length; i++) {
    const [a, b] = [m[i] as number, k[i] as number];
    if (!(edge[i] || edgeAfter[i]) || !still[i] || Math.abs((p[i] as number) - (q[i] as number)) > STILL) continue;
    sum += Math.abs(a - b);
    count++;
  }
  return count >= LEAST ? (1000 * sum) / count : null;
}

/** An edge runs where the matte crosses this level, and 2 px to either side: a hardened edge counts over the same width as a soft one. */
const EDGE = 0.3;
function edgesOf({ width, height, data }: Plane): Uint8Array {
  const share = boxMean(new Float32Array(maskUnder(data, EDGE)), width, height, 2);
  return bothOf(maskOver(share, 1e-4), maskUnder(share, 1 - 1e-4));
}
/** Fewer edge pixels than this say nothing. */
const LEAST = 30;

/** Change of exact coverage under which an edge truly held still. */
const TRULY_STILL = 0.02;

/**
 * True flicker: mean change of the error against exact coverage, in 1/1000, over the soft band that truly held still.
 * NaN without such a band.
 */
export function trueFlicker(before: Plane, after: Plane, truthBefore: Plane, truthAfter: Plane): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < before.data.length; i++) {
    const [s, t] = [truthBefore.data[i] as number, truthAfter.data[i] as number];
    if (Math.max(s, t) <= 0.02 || Math.min(s, t) >= 0.98 || Math.abs(s - t) > TRULY_STILL) continue;
    sum += Math.abs((after.data[i] as number) - t - ((before.data[i] as number) - s));
    count++;
  }
  return (1000 * sum) / count;
}
