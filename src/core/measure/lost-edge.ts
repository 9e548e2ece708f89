import { areaRuns, type Runs } from "../image/components";
import { maskOf, maskOver } from "../image/mask";
import type { Plane } from "../image/plane";

/** Pull from which on, and its mirror up to which, a pixel is a soft edge for certain: well over the grain. */
export const SOFT = 0.08;
/** Area of a place amid what is solid up to which grain leaves it open, and no strands or gap, px. */
const GRAIN = 12;
/** Pull over which all of such a place is when it only dips, as metal and glaze that mirror the screen do, and lets nothing through. */
const DIPS = 2 / 3;
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
 * are none, and what is lifted by grain alone may be pushed to 0 and costs nothing; nor does what grain alone opens amid what is solid, or what only
 * dips there, and is closed; nor does what a hand draws.
 * @param garbage 1 where bounds throw away; what lies there does not count
 * @param solid 1 within the subject's outline
 * @param held 1 where drawn holdouts hold; what lies there does not count
 */
export function lostEdge(pull: Plane, matte: Plane, garbage: Plane | undefined, solid: Uint8Array, held?: Plane): LostEdge {
  const { data, width, height } = pull;
  const subject = areaRuns(maskOver(data, SOFT), width, height);
  const hangs = new Uint8Array(subject.areas.length);
  eachRun(subject, (label, start, end) => {
    for (let i = start; i < end && !hangs[label]; i++) hangs[label] = solid[i] as number;
  });
  const hanging = new Uint8Array(data.length);
  eachRun(subject, (label, start, end) => {
    if (hangs[label]) hanging.fill(1, start, end);
  });
  const edges = areaRuns(
    maskOf(hanging, (h, i) => h === 1 && (data[i] as number) <= 1 - SOFT),
    width,
    height,
  );
  const lowest = new Float32Array(edges.areas.length).fill(1);
  eachRun(edges, (label, start, end) => {
    for (let i = start; i < end; i++) lowest[label] = Math.min(lowest[label] as number, data[i] as number);
  });
  const isEdge = Uint8Array.from(edges.areas, (area, label) => (area > GRAIN && (lowest[label] as number) <= DIPS ? 1 : 0));
  const isClear = (i: number) => (data[i] as number) <= SOFT;
  eachRun(edges, (label, start, end) => {
    const [row, y] = [start - (start % width), Math.floor(start / width)];
    if ((start > row && isClear(start - 1)) || (end < row + width && isClear(end))) isEdge[label] = 1;
    for (let i = start; i < end && !isEdge[label]; i++)
      if ((y > 0 && isClear(i - width)) || (y < height - 1 && isClear(i + width))) isEdge[label] = 1;
  });
  const marks = new Float32Array(data.length);
  let [soft, lost] = [0, 0];
  eachRun(edges, (label, start, end) => {
    if (!isEdge[label]) return;
    for (let i = start; i < end; i++) {
      if ((garbage && (garbage.data[i] as number) > 0.5) || (held && (held.data[i] as number) > 0.5)) continue;
      soft++;
      const m = matte.data[i] as number;
      if (m > GONE && m < 1 - GONE) continue;
      lost++;
      marks[i] = Math.abs(m - (data[i] as number));
    }
  });
  return { soft, lost, marks };
}

function eachRun({ count, starts, ends, labels }: Runs, does: (label: number, start: number, end: number) => void): void {
  for (let k = 0; k < count; k++) does(labels[k] as number, starts[k] as number, ends[k] as number);
}
