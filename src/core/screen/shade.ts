import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { isPicture, type Picture } from "../image/plane";
import { otherChannels, type Primary } from "./primary";

/** Half side of the square that colour is averaged over, so that grain and coarse chroma tell nothing, px. */
const CALM = 3;
/** Own light of a thing, the two other channels together, as a share of the screen's primary, up to which it may be none: black cloth has more. */
const OWN = 0.08;
/** Least part of the screen's light that is left in shade. */
const DARKEST = 0.1;

/**
 * Where the plate shows the screen itself at less light, as folds, seams, stains and shadows do: of light that is missing nothing has come instead.
 * What stands before the screen, however dark, adds light of its own to the two channels that the screen has little of.
 * @returns 1 there, 0 elsewhere
 */
export function screenInShade(plate: Picture, screen: Picture | Rgb, primary: Primary): Uint8Array {
  const { width, height } = plate;
  const [un, vn] = otherChannels(primary);
  const even = isPicture(screen) ? null : screen;
  const calm = (c: Float32Array) => boxMean(c, width, height, CALM);
  const [P, U, V] = [calm(plate[primary]), calm(plate[un]), calm(plate[vn])];
  const back = isPicture(screen) ? screen : null;
  const shade = new Uint8Array(P.length);
  for (let i = 0; i < shade.length; i++) {
    const p = back ? (back[primary][i] as number) : (even as Rgb)[primary];
    const u = back ? (back[un][i] as number) : (even as Rgb)[un];
    const v = back ? (back[vn][i] as number) : (even as Rgb)[vn];
    const k = (P[i] as number) / Math.max(1e-6, p);
    if (k < DARKEST || k >= 1) continue;
    const own = (U[i] as number) - k * u + ((V[i] as number) - k * v);
    if (own <= OWN * (1 - k) * p) shade[i] = 1;
  }
  return shade;
}
