import { boxMean } from "../image/box";
import { maskOf, maskUnder } from "../image/mask";
import type { Picture, Plane } from "../image/plane";
import { stillPlaces } from "../matte/still";

/** Change of the matte's local mean under which an edge counts as not having moved. */
const STILL = 0.02;
const RADIUS = 4;

/** Matte under which a place is certain screen, where any change of the plate is grain. */
const SCREEN = 0.01;
/** A frame's matte and the plate it was pulled from, of one size. */
export interface MatteOfPlate {
  readonly matte: Plane;
  readonly plate: Picture;
}

/**
 * Edge flicker: mean change of the matte between two neighbouring frames along edges that did not move, in 1/1000.
 * An edge did not move where the plate stayed the same and the matte's mean over 9 × 9 px did; null without such an edge.
 */
export function edgeFlicker(before: MatteOfPlate, after: MatteOfPlate): number | null {
  const { width, height } = before.matte;
  for (const p of [before.plate, after.matte, after.plate])
    if (p.width !== width || p.height !== height) throw new RangeError(`Sizes differ: ${width}×${height} and ${p.width}×${p.height}.`);
  const [m, k] = [before.matte.data, after.matte.data];
  const still = stillPlaces(before.plate, after.plate, (i) => (m[i] as number) < SCREEN && (k[i] as number) < SCREEN);
  const [edge, edgeAfter] = [edges(before.matte), edges(after.matte)];
  const [p, q] = [boxMean(m, width, height, RADIUS), boxMean(k, width, height, RADIUS)];
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
function edges({ width, height, data }: Plane): Uint8Array {
  const share = boxMean(new Float32Array(maskUnder(data, EDGE)), width, height, 2);
  return maskOf(share, (v) => v > 1e-4 && v < 1 - 1e-4);
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
