import type { Plane, Region } from "../image/plane";
import { densestPlace } from "./densest";
import { type LostEdge, SOFT } from "./lost-edge";

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
 * @param lostEdge soft edge that was pushed to 0 or 1
 * @param scale this frame's size over the full one's
 * @param side of the square that is looked at, px of this frame
 */
export function strandsPlace(pull: Plane, lostEdge: LostEdge, scale: number, side: number): StrandsPlace | null {
  const { marks } = lostEdge;
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
