import { linearToSrgb } from "../core/color/srgb";
import type { Picture, Plane } from "../core/image/plane";

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

/**
 * A matte as grey: coverage 0…1 on code 0…255.
 * @param stretch shows faint grey in black and faint holes in white: both ends are spread by `stretch`, 1 for plain
 */
export function displayMatte(m: Plane, stretch = 1): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(m.data.length * 4);
  for (let i = 0, o = 0; i < m.data.length; i++, o += 4) {
    const v = m.data[i] as number;
    // Near black the distance from 0 is multiplied, near white the distance from 1; the middle stays in order.
    const s = stretch === 1 ? v : v < 0.5 ? 0.5 * (1 - (1 - 2 * v) ** stretch) : 0.5 + 0.5 * (2 * v - 1) ** stretch;
    const g = v > 0 && v < 1 && stretch > 1 ? Math.min(254, Math.max(1, Math.round(255 * s))) : Math.round(255 * s);
    out[o] = g;
    out[o + 1] = g;
    out[o + 2] = g;
    out[o + 3] = 255;
  }
  return out;
}

/** Light taken from the screen primary, as grey, brightened. */
export const displayMap = (m: Plane): Uint8ClampedArray<ArrayBuffer> =>
  displayMatte({ ...m, data: m.data.map((v) => Math.min(1, Math.sqrt(Math.max(0, v)))) });
