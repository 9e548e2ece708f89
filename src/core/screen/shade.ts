import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { isPicture, type Picture } from "../image/plane";
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
  const { M, U, V, P, A, B, even } = channelsOf(plate, screen, primary);
  const both = new Float32Array(n);
  for (let i = 0; i < n; i++) both[i] = (U[i] as number) + (V[i] as number);
  const main = boxMean(M, width, height, CALM);
  const others = boxMean(both, width, height, CALM);
  const shade = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const k = even ? 0 : i;
    const p = P[k] as number;
    const m = main[i] as number;
    // The share of its light that is left, and what has come instead.
    if (m < DARKEST * p || m >= p) continue;
    const own = (others[i] as number) - (m / p) * ((A[k] as number) + (B[k] as number));
    if (own <= OWN * (p - m)) shade[i] = 1;
  }
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

type Read = (from: number, to: number, lack: Float32Array, own: Float32Array) => void;
function reader(plate: Picture, screen: Picture | Rgb, primary: Primary): Read {
  const { M, U, V, P, A, B, even } = channelsOf(plate, screen, primary);
  return (from, to, lack, own) => {
    for (let i = from; i < to; i++) {
      const k = even ? 0 : i;
      const [p, m] = [P[k] as number, M[i] as number];
      lack[i - from] = p - m;
      own[i - from] = (U[i] as number) + (V[i] as number) - (m / Math.max(1e-6, p)) * ((A[k] as number) + (B[k] as number));
    }
  };
}

/** Light that is missing, a pixel at a time: few are asked for, so that no planes need be kept. Reads the planes given as long as they last. */
export function missingLight(plate: Picture, screen: Picture | Rgb, primary: Primary): MissingLight {
  const read = reader(plate, screen, primary);
  const [lack, own] = [new Float32Array(1), new Float32Array(1)];
  const one = (i: number, what: Float32Array) => {
    read(i, i + 1, lack, own);
    return what[0] as number;
  };
  return { lack: (i) => one(i, lack), own: (i) => one(i, own) };
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
  reader(plate, screen, primary)(0, n, lacks, owns);
  const around = boxMean(lacks, width, height, 1);
  const instead = boxMean(owns, width, height, 1);
  // A line of one pixel counts by itself: the clean plate may follow what lies beside it.
  const maybe = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const lack = lacks[i] as number;
    if (lack > 0 && (instead[i] as number) <= MAYBE * Math.max(around[i] as number, lack / 3)) maybe[i] = 1;
  }
  return maybe;
}
