import type { Rgb } from "../color/hue";

/** One channel of a frame: row-major 32-bit floats, `data.length === width * height`. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** A colour frame as separate planes. Scene-linear light unless the name says otherwise. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  /** Linear coverage 0…1, when the picture carries one. */
  readonly a?: Float32Array;
}

/** A rectangle in pixels; `x`, `y` is its top left corner. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Size of a frame, px. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Lines of a frame, by which lengths in it are measured: its shorter side, so that an upright frame has those of the same one lying. */
export const linesOf = ({ width, height }: Size): number => Math.min(width, height);

/** Where a kernel gets its result's memory: fresh, or from a pool. The contents may be anything; every kernel that takes one writes all of it. */
export type Allocate = (length: number) => Float32Array;
export const fresh: Allocate = (length) => new Float32Array(length);

/** The largest width or height accepted, in pixels. */
export const MAX_SIDE = 16_384;
/** The largest frame accepted, in pixels (about 8K × 8K). */
export const MAX_PIXELS = 64_000_000;

/** Throws RangeError unless the size is whole, positive and within {@link MAX_SIDE} and {@link MAX_PIXELS}. */
export function checkSize(width: number, height: number): void {
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1)
    throw new RangeError(`Frame size ${width}×${height} is not a whole, positive size.`);
  if (width > MAX_SIDE || height > MAX_SIDE || width * height > MAX_PIXELS)
    throw new RangeError(
      `Frame of ${width}×${height} is larger than ${MAX_SIDE} px a side or ${MAX_PIXELS / 1e6} megapixels; scale it down first.`,
    );
}

export function makePlane(width: number, height: number, fill = 0): Plane {
  checkSize(width, height);
  const data = new Float32Array(width * height);
  if (fill !== 0) data.fill(fill);
  return { width, height, data };
}

export function makePicture(width: number, height: number): Picture {
  checkSize(width, height);
  const n = width * height;
  return { width, height, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
}

/** Replaces NaN by 0 and infinities by the largest half-float value, in place. Returns how many were replaced. */
export function stopNotFinite(data: Float32Array): number {
  let stopped = 0;
  for (let i = 0; i < data.length; i++) {
    const v = data[i] as number;
    // v - v is 0 for finite numbers and NaN for NaN and infinities.
    if (v - v !== 0) {
      data[i] = v > 0 ? 65504 : v < 0 ? -65504 : 0;
      stopped++;
    }
  }
  return stopped;
}

/** The part of `region` that lies in a frame of `width` × `height`; zero-sized when they do not meet. */
export function clipRegion(region: Region, width: number, height: number): Region {
  const x = Math.min(Math.max(0, Math.floor(region.x)), width);
  const y = Math.min(Math.max(0, Math.floor(region.y)), height);
  const right = Math.min(width, Math.ceil(region.x + region.width));
  const bottom = Math.min(height, Math.ceil(region.y + region.height));
  return { x, y, width: Math.max(0, right - x), height: Math.max(0, bottom - y) };
}

/** All of a frame. */
export const wholeOf = ({ width, height }: Pick<Region, "width" | "height">): Region => ({ x: 0, y: 0, width, height });

/** A region of a copy reduced by a whole factor, as it lies in the full picture. */
export const regionInFull = ({ x, y, width, height }: Region, factor: number): Region => ({
  x: x * factor,
  y: y * factor,
  width: width * factor,
  height: height * factor,
});

/** Sets all of a channel or mask that lies around a rectangle to one value. `inside` must lie inside the frame. */
export function fillAround(data: Float32Array | Uint8Array, width: number, inside: Region, value: number): void {
  const bottom = inside.y + inside.height;
  data.fill(value, 0, inside.y * width);
  data.fill(value, bottom * width);
  if (inside.width === width) return;
  for (let y = inside.y; y < bottom; y++) {
    data.fill(value, y * width, y * width + inside.x);
    data.fill(value, y * width + inside.x + inside.width, (y + 1) * width);
  }
}

/** Copies a rectangle out of one channel or mask. `region` must lie inside the frame. */
export function cropChannel<T extends Float32Array | Uint8Array>(source: T, sourceWidth: number, region: Region): T {
  const out = new (source.constructor as new (length: number) => T)(region.width * region.height);
  for (let y = 0; y < region.height; y++) {
    const from = (region.y + y) * sourceWidth + region.x;
    out.set(source.subarray(from, from + region.width), y * region.width);
  }
  return out;
}

export function cropPicture(source: Picture, region: Region): Picture {
  return {
    width: region.width,
    height: region.height,
    r: cropChannel(source.r, source.width, region),
    g: cropChannel(source.g, source.width, region),
    b: cropChannel(source.b, source.width, region),
    ...(source.a ? { a: cropChannel(source.a, source.width, region) } : {}),
  };
}

/** A picture's channels, alpha too where there is one. */
export const channels = (p: Picture): Float32Array[] => [p.r, p.g, p.b, ...(p.a ? [p.a] : [])];

/** Tells a picture from one colour: what stands for the screen may be either. */
export const isPicture = (s: Picture | Rgb): s is Picture => (s as Picture).width !== undefined;

/** A region of the full frame in whole reduced pixels that cover it. */
export function snapRegion(region: Region, factor: number, width: number, height: number): Region {
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const x = Math.min(w - 1, Math.max(0, Math.floor(region.x / factor)));
  const y = Math.min(h - 1, Math.max(0, Math.floor(region.y / factor)));
  const right = Math.min(w, Math.max(x + 1, Math.ceil((region.x + region.width) / factor)));
  const bottom = Math.min(h, Math.max(y + 1, Math.ceil((region.y + region.height) / factor)));
  return { x, y, width: right - x, height: bottom - y };
}
