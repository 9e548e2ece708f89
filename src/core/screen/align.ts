import { luminance } from "../color/hue";
import { boxMean } from "../image/box";
import type { Picture, Plane } from "../image/plane";
import { placePicture } from "../image/resample";

/** How far a clean plate drifted: what lies at (x, y) in the plate lies at (x + dx, y + dy) in it; px. */
export interface Drift {
  readonly dx: number;
  readonly dy: number;
}

const STEPS = 14;
/** Errors over this many median ones belong to something else: a shadow, a strand. */
const ROBUST = 4;
/** Largest drift, as a share of the width, that is followed. */
const MOST = 0.02;
/** The error must fall at least to this share of what it was, or the screen has too little texture to tell. */
const BETTER = 0.9;

/** Both are averaged over squares of 2 · 2 + 1 px first: else the blur of a shift by half a pixel would pass for a better fit of grain. */
const CALM = 2;

/** Luminance in stops: exposure becomes an offset, which drops out. */
const stopsOf = ({ width, height, r, g, b }: Picture): Plane => {
  const data = new Float32Array(width * height);
  for (let i = 0; i < data.length; i++)
    data[i] = Math.log2(Math.max(1e-4, luminance({ r: r[i] as number, g: g[i] as number, b: b[i] as number })));
  return { width, height, data: boxMean(data, width, height, CALM) };
};

function bilinear({ width, height, data }: Plane, x: number, y: number): number {
  const cx = Math.min(width - 1, Math.max(0, x));
  const cy = Math.min(height - 1, Math.max(0, y));
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const [fx, fy] = [cx - x0, cy - y0];
  const x1 = Math.min(width - 1, x0 + 1);
  const at = (px: number, py: number) => data[py * width + px] as number;
  const y1 = Math.min(height - 1, y0 + 1);
  return (1 - fy) * ((1 - fx) * at(x0, y0) + fx * at(x1, y0)) + fy * ((1 - fx) * at(x0, y1) + fx * at(x1, y1));
}

/**
 * The shift that brings a clean plate's screen over the plate's, from creases, seams and markers, to a fraction of a pixel.
 * Exposure does not count. Source: Lucas & Kanade, "An Iterative Image Registration Technique", IJCAI 1981, for a shift, with a
 * robust cut of what does not belong.
 * @param certain 1 where the plate shows screen for certain
 * @returns null when the screen is too plain to tell, or the drift too large to be one
 */
export function findDrift(clean: Picture, plate: Picture, certain: Uint8Array): Drift | null {
  const { width, height } = plate;
  const [moving, fixed] = [stopsOf(clean), stopsOf(plate)];
  const places: number[] = [];
  const stride = Math.max(1, Math.round(Math.sqrt((width * height) / 400_000)));
  for (let y = 2; y < height - 2; y += stride)
    for (let x = 2; x < width - 2; x += stride) if (certain[y * width + x]) places.push(y * width + x);
  if (places.length < 500) return null;
  let [dx, dy] = [0, 0];
  const errors = new Float32Array(places.length);
  let first = 0;
  let last = 0;
  for (let step = 0; step < STEPS; step++) {
    for (let k = 0; k < places.length; k++) {
      const i = places[k] as number;
      const x = i % width;
      errors[k] = (fixed.data[i] as number) - bilinear(moving, x + dx, (i - x) / width + dy);
    }
    const middle = errors.slice().sort()[errors.length >> 1] as number;
    const limit = ROBUST * (errors.map((e) => Math.abs(e - middle)).sort()[errors.length >> 1] as number) + 1e-6;
    let [xx, xy, yy, xe, ye, square, count] = [0, 0, 0, 0, 0, 0, 0];
    for (let k = 0; k < places.length; k++) {
      const e = (errors[k] as number) - middle;
      if (Math.abs(e) > limit) continue;
      const i = places[k] as number;
      const x = i % width;
      const y = (i - x) / width;
      const gx = 0.5 * (bilinear(moving, x + dx + 1, y + dy) - bilinear(moving, x + dx - 1, y + dy));
      const gy = 0.5 * (bilinear(moving, x + dx, y + dy + 1) - bilinear(moving, x + dx, y + dy - 1));
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      xe += gx * e;
      ye += gy * e;
      square += e * e;
      count++;
    }
    last = square / Math.max(1, count);
    if (step === 0) first = last;
    const determinant = xx * yy - xy * xy;
    if (determinant < 1e-6 * (xx + yy) ** 2 || count < 300) return null;
    const [sx, sy] = [(yy * xe - xy * ye) / determinant, (xx * ye - xy * xe) / determinant];
    dx += sx;
    dy += sy;
    if (Math.hypot(dx, dy) > MOST * width) return null;
    if (Math.hypot(sx, sy) < 0.002) break;
  }
  return last < BETTER * first ? { dx, dy } : null;
}

/** The clean plate moved back over the plate. */
export const withoutDrift = (clean: Picture, { dx, dy }: Drift): Picture =>
  placePicture(clean, clean.width, clean.height, { scaleX: 1, scaleY: 1, offsetX: -dx, offsetY: -dy }, true);
