import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { isPicture, type Picture } from "../image/plane";
import { pointwise } from "../kernels/pointwise";
import { otherChannels, type Primary } from "./primary";

/** Half side of the square that colour is averaged over, so that grain and coarse chroma tell nothing, px. */
const CALM = 3;
/** Own light of a thing, the two other channels together, as a share of the screen's primary, up to which it may be none: black cloth has more. */
const OWN = 0.08;
/** The same for 3 × 3 pixels that may be thin shade: grain and coarse chroma tell that much, and only many together less. */
const MAYBE = 0.25;
/** The same for all pixels of an area together, whose grain averages out. */
const OWN_TOGETHER = 0.05;
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
  pointwise("weigh", [0, 1, 1], [plate[primary], plate[un], plate[vn]], [both]);
  const main = boxMean(plate[primary], width, height, CALM);
  const others = boxMean(both, width, height, CALM);
  const shade = new Uint8Array(n);
  pointwise("shaded", [DARKEST, OWN], [main, others, screen[primary], screen[un], screen[vn]], [shade]);
  return shade;
}

/** The screen's primary and the two other channels: M, U, V of the plate, P, A, B of the screen, which hold one value where it is `even`. */
function channelsOf(plate: Picture, screen: Picture | Rgb, primary: Primary) {
  const [un, vn] = otherChannels(primary);
  const even = !isPicture(screen);
  const of = (c: Primary) => (isPicture(screen) ? screen[c] : Float32Array.of(screen[c]));
  return { M: plate[primary], U: plate[un], V: plate[vn], P: of(primary), A: of(un), B: of(vn), even };
}

/** Light that is missing from a plate. */
export interface MissingLight {
  /** Light of the screen's primary that is missing at a pixel, and light of the other two that has come instead; linear. */
  readonly lack: (i: number) => number;
  readonly own: (i: number) => number;
}

/** Whether of the light that is missing from pixels together nothing has come instead. */
export const isShade = (lack: number, own: number): boolean => own <= OWN_TOGETHER * lack;

/** Light that is missing, a pixel at a time: few are asked for, so that no planes need be kept. Reads the planes given as long as they last. */
export function missingLight(plate: Picture, screen: Picture | Rgb, primary: Primary): MissingLight {
  const { M, U, V, P, A, B, even } = channelsOf(plate, screen, primary);
  return {
    lack: (i) => (P[even ? 0 : i] as number) - (M[i] as number),
    own: (i) => {
      const k = even ? 0 : i;
      const left = (M[i] as number) / Math.max(1e-6, P[k] as number);
      return (U[i] as number) + (V[i] as number) - left * ((A[k] as number) + (B[k] as number));
    },
  };
}

/**
 * Shade as thin as a seam, or beside something else, where colour cannot be averaged over a wide square: pixel by pixel, to be judged
 * as a whole.
 * @returns 1 where a pixel may be so, 0 elsewhere
 */
export function thinShade(plate: Picture, screen: Picture | Rgb, primary: Primary): Uint8Array {
  const { width, height } = plate;
  const n = width * height;
  const lacks = new Float32Array(n);
  const owns = new Float32Array(n);
  const [un, vn] = otherChannels(primary);
  pointwise("missing", [], [plate[primary], plate[un], plate[vn], screen[primary], screen[un], screen[vn]], [lacks, owns]);
  const around = boxMean(lacks, width, height, 1);
  const instead = boxMean(owns, width, height, 1);
  // A line of one pixel counts by itself: the clean plate may follow what lies beside it.
  const maybe = new Uint8Array(n);
  pointwise("thin", [MAYBE], [lacks, around, instead], [maybe]);
  return maybe;
}
