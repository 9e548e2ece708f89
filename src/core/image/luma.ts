import { luminance } from "../color/hue";
import { pointwise } from "../kernels/pointwise";
import type { Picture, Plane } from "./plane";

/** Share of each channel in relative luminance. */
export const LUMA = { r: luminance({ r: 1, g: 0, b: 0 }), g: luminance({ r: 0, g: 1, b: 0 }), b: luminance({ r: 0, g: 0, b: 1 }) };

/** Relative luminance of a picture, scene-linear. */
export function lumaOf({ width, height, r, g, b }: Picture): Plane {
  const data = new Float32Array(r.length);
  pointwise("weigh", [LUMA.r, LUMA.g, LUMA.b], [r, g, b], [data]);
  return { width, height, data };
}
