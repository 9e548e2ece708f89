import { areaRuns } from "../image/components";
import { maskOver } from "../image/mask";
import type { Plane } from "../image/plane";

/** Pull from which on, and its mirror up to which, a pixel is a soft edge for certain: well over the grain. */
export const SOFT = 0.08;
/** A matte this near 0 or 1 has been pushed there, whatever rounding left of it. */
const GONE = 1e-4;

export interface LostEdge {
  /** Pixels that are a soft edge for certain, and those of them pushed to 0 or 1. */
  readonly soft: number;
  readonly lost: number;
  /** How far each lost pixel was pushed, 0…1. */
  readonly marks: Float32Array;
}

/**
 * Soft edge that levels and bounds pushed to 0 or 1. An edge hangs on the subject: folds, seams and stains of the screen that bounds throw away
 * are none, and what is lifted by grain alone may be pushed to 0 and costs nothing.
 * @param garbage 1 where bounds throw away; what lies there does not count
 * @param solid 1 within the subject's outline
 */
export function lostEdge(pull: Plane, matte: Plane, garbage: Plane | undefined, solid: Uint8Array): LostEdge {
  const { count, starts, ends, labels, areas } = areaRuns(maskOver(pull.data, SOFT), pull.width, pull.height);
  const hangs = new Uint8Array(areas.length);
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    for (let i = starts[k] as number; i < (ends[k] as number) && !hangs[label]; i++) hangs[label] = solid[i] as number;
  }
  const marks = new Float32Array(pull.data.length);
  let [soft, lost] = [0, 0];
  for (let k = 0; k < count; k++) {
    if (!hangs[labels[k] as number]) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) {
      const p = pull.data[i] as number;
      if (p > 1 - SOFT || (garbage && (garbage.data[i] as number) > 0.5)) continue;
      soft++;
      const m = matte.data[i] as number;
      if (m > GONE && m < 1 - GONE) continue;
      lost++;
      marks[i] = Math.abs(m - p);
    }
  }
  return { soft, lost, marks };
}
