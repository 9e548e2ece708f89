import { boxMean } from "../image/box";
import type { Plane } from "../image/plane";

/** Change of the matte's local mean under which an edge counts as not having moved. */
const STILL = 0.02;
const RADIUS = 4;

/**
 * Edge flicker: mean change of the matte between two neighbouring frames along edges that did not move, in 1/1000.
 * An edge did not move where the matte's mean over 9 × 9 px stayed; a moving edge changes it.
 */
export function edgeFlicker(before: Plane, after: Plane): number {
  if (before.width !== after.width || before.height !== after.height)
    throw new RangeError(`Sizes differ: ${before.width}×${before.height} and ${after.width}×${after.height}.`);
  const { width, height } = before;
  const [p, q] = [boxMean(before.data, width, height, RADIUS), boxMean(after.data, width, height, RADIUS)];
  let sum = 0;
  let count = 0;
  for (let i = 0; i < p.length; i++) {
    const [a, b] = [before.data[i] as number, after.data[i] as number];
    const soft = Math.max(a, b) > 0.02 && Math.min(a, b) < 0.98;
    if (!soft || Math.abs((p[i] as number) - (q[i] as number)) > STILL) continue;
    sum += Math.abs(a - b);
    count++;
  }
  return count ? (1000 * sum) / count : 0;
}

/**
 * True flicker: the same for the error against exact coverage, over the band where the truth is soft in either frame.
 * In 1/1000; counts moving edges too, since the truth tells them apart.
 */
export function trueFlicker(before: Plane, after: Plane, truthBefore: Plane, truthAfter: Plane): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < before.data.length; i++) {
    const [s, t] = [truthBefore.data[i] as number, truthAfter.data[i] as number];
    if (Math.max(s, t) <= 0.02 || Math.min(s, t) >= 0.98) continue;
    sum += Math.abs((after.data[i] as number) - t - ((before.data[i] as number) - s));
    count++;
  }
  return count ? (1000 * sum) / count : 0;
}
