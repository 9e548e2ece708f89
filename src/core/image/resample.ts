import { onPlane } from "../kernels/planes";
import { makePicture, type Picture, type Size } from "./plane";

/** Factor by which a frame is reduced to about so many px along its longer side, so that an upright frame is as the same one lying. */
export const factorTo = (longer: number, { width, height }: Size): number => Math.max(1, Math.round(Math.max(width, height) / longer));

/** Area average of whole `factor` × `factor` blocks; the last row and column average what is there. */
export function shrinkChannel(source: Float32Array, width: number, height: number, factor: number): Float32Array {
  if (factor === 1) return source;
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  return onPlane("shrink", source, new Float32Array(w * h), 4 * width + 12, width, height, factor);
}

/** Reduced copy of a picture in linear light. @param factor whole, 1 or more: 2 halves both sides */
export function shrinkPicture(source: Picture, factor: number): Picture {
  if (factor === 1) return source;
  const { width, height } = source;
  const c = (channel: Float32Array) => shrinkChannel(channel, width, height, factor);
  return {
    width: Math.ceil(width / factor),
    height: Math.ceil(height / factor),
    r: c(source.r),
    g: c(source.g),
    b: c(source.b),
    ...(source.a ? { a: c(source.a) } : {}),
  };
}

/** Where a frame is placed in another: source pixel = (target pixel + 1/2 − offset) / scale − 1/2. */
export interface Placement {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly offsetX: number;
  readonly offsetY: number;
}

/**
 * Places `source` in a frame of `width` × `height` pixels: bilinear when enlarged, area-averaged first when much reduced.
 * Pixels outside the source repeat its edge when `repeatEdge`, else are 0 with alpha 0.
 */
export function placePicture(source: Picture, width: number, height: number, place: Placement, repeatEdge: boolean): Picture {
  // A reduction by more than two is averaged down first, so that no source pixel is skipped.
  const factor = Math.max(1, Math.floor(1 / Math.max(place.scaleX, place.scaleY)));
  if (factor > 1) {
    const small = shrinkPicture(source, factor);
    return placePicture(small, width, height, { ...place, scaleX: place.scaleX * factor, scaleY: place.scaleY * factor }, repeatEdge);
  }
  const out = makePicture(width, height);
  const alpha = source.a || !repeatEdge ? new Float32Array(width * height) : undefined;
  const sw = source.width;
  const sh = source.height;
  const xs = Array.from({ length: width }, (_, x) => (x + 0.5 - place.offsetX) / place.scaleX - 0.5);
  for (let y = 0; y < height; y++) {
    const sy = (y + 0.5 - place.offsetY) / place.scaleY - 0.5;
    const insideY = sy > -0.5 - 1e-6 && sy < sh - 0.5 + 1e-6;
    const y0 = Math.floor(sy);
    const fy = sy - y0;
    const ra = Math.min(sh - 1, Math.max(0, y0)) * sw;
    const rb = Math.min(sh - 1, Math.max(0, y0 + 1)) * sw;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const sx = xs[x] as number;
      const inside = insideY && sx > -0.5 - 1e-6 && sx < sw - 0.5 + 1e-6;
      if (!inside && !repeatEdge) continue;
      const x0 = Math.floor(sx);
      const fx = sx - x0;
      const ca = Math.min(sw - 1, Math.max(0, x0));
      const cb = Math.min(sw - 1, Math.max(0, x0 + 1));
      const wa = (1 - fx) * (1 - fy);
      const wb = fx * (1 - fy);
      const wc = (1 - fx) * fy;
      const wd = fx * fy;
      const at = (c: Float32Array) =>
        (c[ra + ca] as number) * wa + (c[ra + cb] as number) * wb + (c[rb + ca] as number) * wc + (c[rb + cb] as number) * wd;
      out.r[i] = at(source.r);
      out.g[i] = at(source.g);
      out.b[i] = at(source.b);
      if (alpha) alpha[i] = source.a ? at(source.a) : 1;
    }
  }
  return alpha ? { ...out, a: alpha } : out;
}
