import { luminance } from "../color/hue";
import { pointwise } from "../kernels/pointwise";
import type { Picture, Plane } from "./plane";

const [R, G, B] = [luminance({ r: 1, g: 0, b: 0 }), luminance({ r: 0, g: 1, b: 0 }), luminance({ r: 0, g: 0, b: 1 })];

/** Relative luminance of a picture, scene-linear. */
export function lumaOf({ width, height, r, g, b }: Picture): Plane {
  const data = new Float32Array(r.length);
  pointwise("weigh", [R, G, B], [r, g, b], [data]);
  return { width, height, data };
}
