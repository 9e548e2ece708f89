import { luminance, type Rgb } from "../core/color/hue";
import { linearToSrgb } from "../core/color/srgb";
import { boxMean } from "../core/image/box";
import { lumaOf } from "../core/image/luma";
import type { Picture, Plane } from "../core/image/plane";
import { otherChannels, screenPrimary } from "../core/screen/primary";
import { ownerPattern } from "./owner-pattern";
import { type Stretch, stretchLevel } from "./stretch";

/** Display code by the square root of linear light 0…1: fine steps where the eye sees them. */
const SIZE = 4096;
const table = Uint8Array.from({ length: SIZE + 1 }, (_, i) => Math.round(255 * linearToSrgb((i / SIZE) ** 2)));
const code = (v: number): number => (v <= 0 ? 0 : v >= 1 ? 255 : (table[Math.round(Math.sqrt(v) * SIZE)] as number));

/** A linear picture as sRGB-coded RGBA for a canvas. */
export function displayPicture(p: Picture): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(p.r.length * 4);
  for (let i = 0, o = 0; i < p.r.length; i++, o += 4) {
    out[o] = code(p.r[i] as number);
    out[o + 1] = code(p.g[i] as number);
    out[o + 2] = code(p.b[i] as number);
    out[o + 3] = 255;
  }
  return out;
}

/** A matte as grey: coverage 0…1 on code 0…255. Stretched, what is neither empty nor solid never shows as either. */
export function displayMatte(m: Plane, stretch: Stretch | null = null): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(m.data.length * 4);
  for (let i = 0, o = 0; i < m.data.length; i++, o += 4) {
    const v = m.data[i] as number;
    const s = stretch === null ? v : stretchLevel(Math.min(1, Math.max(0, v)), stretch);
    const g = v > 0 && v < 1 && stretch !== null ? Math.min(254, Math.max(1, Math.round(255 * s))) : Math.round(255 * s);
    out[o] = g;
    out[o + 1] = g;
    out[o + 2] = g;
    out[o + 3] = 255;
  }
  return out;
}

/** How dark a pattern's marks are against the matte. */
const MARK = 0.45;

/** The matte with the pattern of the pass that owns each pixel; patterns stay in place over the frame. */
export function displayOwners(m: Plane, owners: Plane, originX: number, originY: number): Uint8ClampedArray<ArrayBuffer> {
  const out = displayMatte(m);
  for (let i = 0, o = 0; i < m.data.length; i++, o += 4) {
    if (!ownerPattern(owners.data[i] as number, originX + (i % m.width), originY + Math.floor(i / m.width))) continue;
    for (let c = 0; c < 3; c++) out[o + c] = MARK * (out[o + c] as number);
  }
  return out;
}

/** Light taken from the screen primary, as grey, brightened. */
export const displayMap = (m: Plane): Uint8ClampedArray<ArrayBuffer> =>
  displayMatte({ ...m, data: m.data.map((v) => Math.min(1, Math.sqrt(Math.max(0, v)))) });

/** Steps of the evenness view, in stops against the screen colour's light; greys from dark to light, so that no hue deceives. */
export const STOP_STEPS = [-1, -0.5, -0.25, -0.1, 0.1, 0.25, 0.5, 1] as const;

/** Code of each step: the even middle is mid grey, what is under is darker, what is over is lighter. */
export const stopCode = (step: number): number => Math.round(24 + (207 * step) / STOP_STEPS.length);

/**
 * Light against the screen colour's, in stops, as flat steps of grey. What is not of the screen's hue is dimmed to a
 * checked pattern, so that it is not taken for screen.
 */
export function displayStops(p: Picture, screen: Rgb): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(p.r.length * 4);
  const base = luminance(screen);
  const primary = screenPrimary(screen);
  const [u, v] = otherChannels(primary);
  const purity = (screen[primary] - 0.5 * (screen[u] + screen[v])) / screen[primary];
  for (let i = 0, o = 0; i < p.r.length; i++, o += 4) {
    const c = { r: p.r[i] as number, g: p.g[i] as number, b: p.b[i] as number };
    const own = (c[primary] - 0.5 * (c[u] + c[v])) / Math.max(1e-6, c[primary]);
    let code: number;
    if (own < 0.75 * purity) code = ((i % p.width) + Math.floor(i / p.width)) & 1 ? 12 : 20;
    else {
      const stops = Math.log2(Math.max(1e-6, luminance(c)) / base);
      let step = 0;
      while (step < STOP_STEPS.length && stops >= (STOP_STEPS[step] as number)) step++;
      code = stopCode(step);
    }
    out[o] = code;
    out[o + 1] = code;
    out[o + 2] = code;
    out[o + 3] = 255;
  }
  return out;
}

/** How much grain is raised for looking at it. */
const NOISE_GAIN = 24;

/** Grain and block steps of luma by itself: what differs from the mean of 3 × 3, raised, around mid grey. */
export function displayNoise(p: Picture): Uint8ClampedArray<ArrayBuffer> {
  const luma = lumaOf(p).data.map((v) => Math.sqrt(Math.max(0, v)));
  const mean = boxMean(luma, p.width, p.height, 1);
  const out = new Uint8ClampedArray(luma.length * 4);
  for (let i = 0, o = 0; i < luma.length; i++, o += 4) {
    const code = 128 + 127 * NOISE_GAIN * ((luma[i] as number) - (mean[i] as number));
    out[o] = code;
    out[o + 1] = code;
    out[o + 2] = code;
    out[o + 3] = 255;
  }
  return out;
}
