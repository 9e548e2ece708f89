import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn } from "../image/fill-in";
import type { Picture } from "../image/plane";
import { middleOf } from "../image/rank";
import { filledScreen } from "./falloff";

const CHANNELS = ["r", "g", "b"] as const;
/** Half width of the seam's strip in which a pixel's own colour tells where it lies, reduced px. */
const STRIP = 6;
/** How far a pixel of the strip may be from a mixture of both materials, as a share of its light. */
const MIXTURE = 0.03;
/**
 * Light of a pixel against a material's within which it may show it, in shade and as it is; and how far its colour may be off, as shares of the
 * light, and as a multiple of how far certain screen is off with its grain.
 */
const DARKEST = 0.6;
const BRIGHTEST = 1.15;
const OFF = 0.02;
const OFF_WITH_GRAIN = 2;
/** Every so many places of certain screen are asked for it. */
const EVERY = 97;

/** Both materials, each filled in over the whole reduced frame, r g b, and which is where: the first up to a half. */
export interface TwoMaterials {
  readonly first: readonly Float32Array[];
  readonly second: readonly Float32Array[];
  readonly which: Float32Array;
}

/**
 * Fills in each material from where it is seen, and goes on with the seam between them: between strands of hair single pixels still tell which it is.
 * @param small `plate` reduced by `factor`
 * @param isSecond 1 where its colour is nearer to the second material's
 * @returns null where only one of them is certain anywhere
 */
export function fillMaterials(
  plate: Picture,
  small: Picture,
  factor: number,
  certain: Float32Array,
  isSecond: Uint8Array,
): TwoMaterials | null {
  const { width, height } = small;
  const seen = [0, 1].map((k) => certain.map((c, i) => (isSecond[i] === k ? c : 0))) as [Float32Array, Float32Array];
  if (!seen.every((s) => s.some((c) => c > 0))) return null;
  const [first, second] = [filledScreen(small, seen[0]), filledScreen(small, seen[1])];
  const which = Float32Array.from(isSecond);
  const known = certain.slice();
  const { r, g, b } = plate;
  /** How far a pixel's colour is off a material's, as a share of its light; out of all bounds where its light is. */
  const off = (i: number, channels: readonly Float32Array[], cell: number): number => {
    const [R, G, B] = [r[i] as number, g[i] as number, b[i] as number];
    const [fr, fg, fb] = channels as [Float32Array, Float32Array, Float32Array];
    const [u, v, w] = [fr[cell] as number, fg[cell] as number, fb[cell] as number];
    const [own, of] = [Math.max(1e-6, R + G + B), Math.max(1e-6, u + v + w)];
    if (own < DARKEST * of || own > BRIGHTEST * of) return 1;
    return Math.abs(R / own - u / of) + Math.abs(G / own - v / of) + Math.abs(B / own - w / of);
  };
  const middles: number[] = [];
  for (let cell = 0; cell < known.length; cell += EVERY) {
    const i = Math.floor(cell / width) * factor * plate.width + (cell % width) * factor;
    if (certain[cell]) middles.push(off(i, isSecond[cell] ? second : first, cell));
  }
  const most = Math.max(OFF, OFF_WITH_GRAIN * middleOf(Float32Array.from(middles), 0));
  for (let cell = 0; cell < known.length; cell++) {
    if (known[cell]) continue;
    const [x, y] = [(cell % width) * factor, Math.floor(cell / width) * factor];
    let more = 0;
    for (let v = y; v < Math.min(plate.height, y + factor); v++)
      for (let i = v * plate.width + x; i < v * plate.width + Math.min(plate.width, x + factor); i++) {
        const [ofFirst, ofSecond] = [off(i, first, cell), off(i, second, cell)];
        if (Math.min(ofFirst, ofSecond) < most) more += ofFirst < ofSecond ? -1 : 1;
      }
    if (more === 0) continue;
    known[cell] = 1;
    which[cell] = more > 0 ? 1 : 0;
  }
  fillIn([which], known, width, height);
  return { first, second, which };
}

/** The screen where both meet: r g b of the reduced copy. */
export const joinMaterials = ({ first, second, which }: TwoMaterials): Float32Array[] =>
  first.map((c, k) => c.map((v, i) => ((which[i] as number) > 0.5 ? ((second[k] as Float32Array)[i] as number) : v)));

/**
 * Sets the seam to where the plate shows it: beside it pixels that are one of both materials, or a mixture of them, are what they are.
 * @param screen at the plate's size; changed in place
 * @param factor by which the reduced copy is smaller
 */
export function sharpenSeam(screen: Picture, plate: Picture, { first, second, which }: TwoMaterials, small: Picture, factor: number): void {
  const { width, height } = plate;
  const beyond = which.map((v) => (v > 0.5 ? 1 : 0));
  const [toFirst, toSecond] = [true, false].map((one) =>
    distanceTo(
      Uint8Array.from(beyond, (b) => ((b === 1) === one ? 0 : 1)),
      small.width,
      small.height,
      STRIP + 1,
    ),
  ) as [Float32Array, Float32Array];
  const near = Uint8Array.from(beyond, (_, i) => (Math.max(toFirst[i] as number, toSecond[i] as number) <= STRIP ? 1 : 0));
  const enlarged = (channels: readonly Float32Array[]) =>
    channels.map((c) => {
      const out = new Float32Array(width * height);
      enlargeChannel(c, small.width, small.height, factor, width, height, out);
      return out;
    });
  const [a, b] = [enlarged(first), enlarged(second)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!near[Math.floor(y / factor) * small.width + Math.floor(x / factor)]) continue;
      const i = y * width + x;
      let [light, across, square] = [0, 0, 0];
      CHANNELS.forEach((c, k) => {
        const [from, to] = [(a[k] as Float32Array)[i] as number, (b[k] as Float32Array)[i] as number];
        light += plate[c][i] as number;
        across += ((plate[c][i] as number) - from) * (to - from);
        square += (to - from) ** 2;
      });
      const share = square > 0 ? Math.min(1, Math.max(0, across / square)) : 0;
      const mixture = CHANNELS.map((_, k) => {
        const from = (a[k] as Float32Array)[i] as number;
        return from + share * (((b[k] as Float32Array)[i] as number) - from);
      });
      const off = CHANNELS.reduce((sum, c, k) => sum + Math.abs((plate[c][i] as number) - (mixture[k] as number)), 0);
      if (off > MIXTURE * light) continue;
      CHANNELS.forEach((c, k) => {
        screen[c][i] = mixture[k] as number;
      });
    }
}
