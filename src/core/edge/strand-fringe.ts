import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import { type Allocate, fresh, type Plane } from "../image/plane";
import { wideBlur } from "../image/wide-blur";

export interface StrandFringe {
  /** How strongly the fringe shows, 0…1; 0 is off. */
  readonly strength: number;
  /** How far the copy is grown, px, and the σ it is softened by, px. */
  readonly grow: number;
  readonly soft: number;
}

/**
 * Lays a grown, softened copy of the key beneath it and blends it gently: m + (1 − m) · strength · copy. It brings back the
 * look of strands too fine for the pull. Common practice.
 */
export function strandFringe(matte: Plane, { strength, grow, soft }: StrandFringe, allocate: Allocate = fresh): Plane {
  const { width, height } = matte;
  const toSubject = distanceTo(
    maskOf(matte.data, (m) => m >= 0.5),
    width,
    height,
  );
  const grown = new Float32Array(toSubject.length);
  for (let i = 0; i < grown.length; i++) grown[i] = Math.min(1, Math.max(0, grow + 0.5 - (toSubject[i] as number)));
  const copy = wideBlur(grown, width, height, soft);
  const data = allocate(copy.length);
  for (let i = 0; i < data.length; i++) {
    const m = matte.data[i] as number;
    data[i] = m + (1 - m) * strength * (copy[i] as number);
  }
  return { width, height, data };
}
