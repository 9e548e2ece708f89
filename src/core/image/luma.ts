import { luminance } from "../color/hue";
import type { Picture, Plane } from "./plane";

/** Relative luminance of a picture, scene-linear. */
export function lumaOf({ width, height, r, g, b }: Picture): Plane {
  const data = new Float32Array(r.length);
  for (let i = 0; i < data.length; i++) data[i] = luminance({ r: r[i] as number, g: g[i] as number, b: b[i] as number });
  return { width, height, data };
}
