import type { Plane, Region } from "../image/plane";
import { densestPlace } from "./densest";

/** Pull from which on, and its mirror up to which, a pixel is a soft edge for certain: well over the grain. */
export const SOFT = 0.08;

export interface LostEdge {
  /** Pixels that are a soft edge for certain, and those of them pushed to 0 or 1. */
  readonly soft: number;
  readonly lost: number;
  /** How far each lost pixel was pushed, 0…1. */
  readonly marks: Float32Array;
}

/**
 * Soft edge that levels and bounds pushed to 0 or 1. What is lifted by grain alone may be pushed to 0 and costs nothing.
 * @param garbage 1 where bounds throw away; what lies there does not count
 */
export function lostEdge(pull: Plane, matte: Plane, garbage: Plane | undefined): LostEdge {
  const marks = new Float32Array(pull.data.length);
  let [soft, lost] = [0, 0];
  for (let i = 0; i < marks.length; i++) {
    const p = pull.data[i] as number;
    if (p < SOFT || p > 1 - SOFT || (garbage && (garbage.data[i] as number) > 0.5)) continue;
    soft++;
    const m = matte.data[i] as number;
    if (m > 1e-4 && m < 1 - 1e-4) continue;
    lost++;
    marks[i] = Math.abs(m - p);
  }
  return { soft, lost, marks };
}

/** Where strands lose most, and how much of them. */
export interface StrandsPlace {
  /** Px of the full frame. */
  readonly place: Region;
  /** Share of the soft edge there that is pushed to 0 or 1. */
  readonly loss: number;
}

/** Loss from which on a pass of its own pays, and the share of the place that must be soft for it to hold strands. */
const LOSS = 0.2;
const LEAST_SOFT = 0.04;

/**
 * The place whose strands a gentler pass would bring back: where most soft edge is lost, and much of it lies.
 * @param scale this frame's size over the full one's
 * @param side of the square that is looked at, px of this frame
 */
export function strandsPlace(pull: Plane, matte: Plane, garbage: Plane | undefined, scale: number, side: number): StrandsPlace | null {
  const { marks } = lostEdge(pull, matte, garbage);
  const place = densestPlace(marks, pull.width, pull.height, scale, side);
  if (!place) return null;
  let [soft, lost, all] = [0, 0, 0];
  const [left, top] = [Math.round(place.x * scale), Math.round(place.y * scale)];
  const [right, bottom] = [Math.round((place.x + place.width) * scale), Math.round((place.y + place.height) * scale)];
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const i = y * pull.width + x;
      const p = pull.data[i] as number;
      all++;
      if (p < SOFT || p > 1 - SOFT) continue;
      soft++;
      if ((marks[i] as number) > 0) lost++;
    }
  const loss = lost / Math.max(1, soft);
  return loss >= LOSS && soft >= LEAST_SOFT * all ? { place, loss } : null;
}
