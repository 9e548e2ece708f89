import { luminance } from "../color/hue";
import { linearToSrgb } from "../color/srgb";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";

export interface LuminancePull {
  /** sRGB code of the luminance that is 0 in the matte, and of the one that is 1; the second may lie below the first. */
  readonly empty: number;
  readonly solid: number;
}

/**
 * Pull by luminance alone, between two code levels: for smoke and steam before black, silhouettes before white, and
 * details that no colour tells apart. α = (L − empty) / (solid − empty), clipped.
 * @throws RangeError when both levels are the same
 */
export function luminancePull(picture: Picture, { empty, solid }: LuminancePull, allocate: Allocate = fresh): Plane {
  if (Math.abs(solid - empty) < 1e-4) throw new RangeError("The two levels of a luminance pull must differ.");
  const { width, height, r, g, b } = picture;
  const data = allocate(r.length);
  const k = 1 / (solid - empty);
  for (let i = 0; i < data.length; i++) {
    const level = linearToSrgb(Math.max(0, luminance({ r: r[i] as number, g: g[i] as number, b: b[i] as number })));
    const m = (level - empty) * k;
    data[i] = m < 0 ? 0 : m > 1 ? 1 : m;
  }
  return { width, height, data };
}
