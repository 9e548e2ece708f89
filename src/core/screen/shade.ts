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
  const n = width * height;
  const [un, vn] = otherChannels(primary);
  const both = new Float32Array(n);
  const [U, V] = [plate[un], plate[vn]];
  for (let i = 0; i < n; i++) both[i] = (U[i] as number) + (V[i] as number);
  const main = boxMean(plate[primary], width, height, CALM);
  const others = boxMean(both, width, height, CALM);
  const back = isPicture(screen) ? { p: screen[primary], u: screen[un], v: screen[vn] } : null;
  let [p, rest] = isPicture(screen) ? [0, 0] : [screen[primary], screen[un] + screen[vn]];
  const shade = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (back) {
      p = back.p[i] as number;
      rest = (back.u[i] as number) + (back.v[i] as number);
    }
    const P = main[i] as number;
    // The share of its light that is left, and what has come instead.
    if (P < DARKEST * p || P >= p) continue;
    const own = (others[i] as number) - (P / p) * rest;
    if (own <= OWN * (p - P)) shade[i] = 1;
  }
  return shade;
}
