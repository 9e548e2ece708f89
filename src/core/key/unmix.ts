import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { guidedFilter } from "../image/guided";
import { lumaOf } from "../image/luma";
import { maskUnder } from "../image/mask";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";
import { coloursAlong } from "../kernels/mixtures";
import { pointwise } from "../kernels/pointwise";
import type { Primary } from "../screen/primary";
import { closePattern } from "./close-pattern";
import { coverBright } from "./cover-bright";
import { knownColours } from "./known-colours";
import { openMixedRims } from "./mixed-rims";

export interface Unmix {
  /** The screen at every pixel (a clean plate), or one colour; linear light. */
  readonly screen: Picture | Rgb;
  /** A first matte: tells certain screen, certain subject and the band between. */
  readonly prior: Plane;
  /** By which the subject is certain, where that is less than the first matte: as warm as it may be. The first matte without it. */
  readonly sure?: Plane;
  /** How far subject colours are looked for, px of the plane. */
  readonly reach: number;
  /** How much of the picture's own edges the matte is made to follow, 0…1. */
  readonly follow: number;
  /** First matte at or under which a pixel is certain screen: the pull's noise floor. */
  readonly floor: number;
  /** How far under white the first matte of certain subject may waver; one and a half times the floor without it. */
  readonly waver?: number;
  /** How deep rims are looked through that pass for solid, px of the plane: see {@link openMixedRims}. */
  readonly rims?: number;
  /** The screen's own. */
  readonly primary: Primary;
  /** 0…1: how far the surface itself has the screen's hue; rims of such cloth are not looked through, and well inside it cover is no less than the first matte. */
  readonly nearScreen?: Float32Array;
  /** Over a half in the middle of what passed by while the shutter was open: there the first matte stays, and no colour is known. */
  readonly passed?: Float32Array;
}

/** The floor is at least this: no first matte is surer. */
const LEAST_FLOOR = 0.01;
/** Directions in which subject colours are looked for. */
const RAYS = 12;
/**
 * Error of a mixture, as a share of the distance between subject and screen, at which a candidate's weight has fallen to 1/e:
 * without grain, and how much more for each share of the pull's noise floor.
 */
const TOLERANCE = 0.022;
const GRAINY = 1.4;
/**
 * Most of that distance, in the screen's own light, that counts where nothing but the screen shows: before a dim screen a bright subject's distance
 * would excuse an error as large as the screen itself.
 */
const OF_SCREEN = 1.5;
/** A floor beyond this is no longer grain: folds, smoke. */
const MOST_FLOOR = 0.025;
/** A candidate at the end of the reach weighs e to the power of −this against one nearby. */
const FAR = 1.3;
/** How much farther along its ray a candidate is read, as a share of the reach, where the subject goes on: its rim is mixed. */
const DEEPER = 1 / 12;
/** First matte from which on something was before the screen all the time. */
const WHOLE = 0.985;
/** First matte from which on a pixel is solid where the mean around it is so within the grain. */
const NEARLY = 0.8;
/**
 * Where cloth of the screen's hue meets other cloth, mixtures of both are like mixtures with the screen: the first matte, which knows that cloth's
 * excess, tells them apart. How far from what is open that is so, as a share of the reach; the first matte under which a place is open; and how
 * much of the hue is enough.
 */
const WITHIN = 0.12;
const OPEN = 0.5;
const SOME_HUE = 0.33;
/** Weight of the first matte beside a candidate of no error. */
const PRIOR = 0.25;

/**
 * How dear it is for the subject to be brighter or darker than a candidate, as the error that a doubling counts for: for each
 * share of the noise floor, and without grain. Shade is free where grain cannot pass for it.
 */
const SHADE_GRAINY = 6;
const SHADE = 0.03;
/** Share of the subject in a mixture under which its shade gets no dearer: the less there is of it, the less it can change. */
const LEAST_SHARE = 0.05;

/** Squared error, in tolerances, from which on a candidate explains nothing, and under which it explains a pixel well. */
const HOPELESS = 30;
const EXPLAINS = 1;
/**
 * A strand that passed for solid may be a mixture itself: magenta hair before green does at half of its cover. It is told by being thin, and by a
 * purer colour that explains the pixel as well, with less cover. How much less it counts, in exponents for each share of cover more that it tells,
 * and of screen that the purer one tells; by that much less as grain's floor is higher than the least.
 */
const PURER = 30;

/**
 * Known-background unmix: coverage and subject colour solved together at every mixed pixel. The screen B is known; the
 * subject's colour F is one of those met along twelve rays to the nearest certain subject, brighter or darker by as much as
 * explains the pixel: C − B = α·(F − B) + δ·F, in least squares with δ at a price. What the mixture leaves unexplained is a
 * candidate's error; candidates are averaged by it, by distance, and by how pure they are. Exact for α·F + (1−α)·B with F among the candidates.
 * Where none explains the pixel the first matte stays; beyond the reach, the surer one.
 * Sources: Gastal & Oliveira, "Shared Sampling for Real-Time Alpha Matting", Eurographics 2010 (gathering along rays, the
 * projection and its error); He, Sun & Tang, TPAMI 35 (2013) for the regularisation; the price is Tikhonov's (1963).
 */
export function unmix(plate: Picture, key: Unmix, allocate: Allocate = fresh): Plane {
  const { prior, screen, primary, reach, follow } = key;
  const { width, height } = plate;
  const n = width * height;
  const back = isPicture(screen) ? screen : null;
  const empty = Math.max(LEAST_FLOOR, key.floor);
  const solid = 1 - (key.waver || 1.5 * empty);
  // Grain alone opens no solid place: it is told by the mean of 3 × 3, which no strand and no rim reaches.
  const sure = (key.sure ?? prior).data;
  const around = boxMean(sure, width, height, 1);
  const calm = key.floor > 0 ? 1 - 1.5 * empty : Number.POSITIVE_INFINITY;
  const [certain, firm] = [new Uint8Array(n), new Uint8Array(n)];
  pointwise("firm", [solid, NEARLY, calm], [sure, around], [certain, firm]);
  closePattern({ firm, certain }, sure, { width, height, data: plate[primary] }, screen[primary], reach);
  const { passed } = key;
  if (passed)
    for (let i = 0; i < n; i++)
      if ((passed[i] as number) > 0.5 && (sure[i] as number) < WHOLE) {
        firm[i] = 0;
        certain[i] = 0;
      }
  const tolerance = TOLERANCE + GRAINY * Math.min(MOST_FLOOR, key.floor);
  const deeper = DEEPER * reach;
  const priceOfShade = (SHADE_GRAINY * key.floor + SHADE) ** 2;
  const first = key.rims ? prior.data.slice() : prior.data;
  const colours = knownColours(plate, certain);
  if (key.rims) openMixedRims(plate, screen, { firm, certain, colours, first }, reach, key.rims, key.nearScreen);
  const toCertain = distanceTo(certain, width, height, reach + 1);
  const fade = FAR / reach;
  const perTolerance = 1 / (tolerance * tolerance);
  const data = allocate(n);
  for (let i = 0; i < n; i++) {
    const before = first[i] as number;
    const a = (toCertain[i] as number) > reach ? Math.min(before, sure[i] as number) : before;
    data[i] = key.floor > 0 && a <= empty ? 0 : key.floor > 0 && firm[i] ? 1 : a;
  }
  const ofHue = key.nearScreen;
  const toOpen = distanceTo(maskUnder(first, OPEN), width, height, WITHIN * reach + 1);
  const wellInside = (i: number): boolean => (toOpen[i] as number) > WITHIN * reach;
  const purer = (PURER * LEAST_FLOOR) / empty;
  const [covers, weights, thin] = [new Float64Array(RAYS), new Float64Array(RAYS), new Uint8Array(RAYS)];
  const unknown = new Uint8Array(n);
  const angles = Array.from({ length: RAYS }, (_, k) => (2 * Math.PI * (k + 0.5)) / RAYS);
  const { told, cover, error, far, ends, mixturesAlong } = coloursAlong({ width, height, ...colours }, certain, toCertain, angles);
  told.set([priceOfShade, LEAST_SHARE, 0, perTolerance, 2 * reach, deeper], 6);
  const [R, G, B] = [plate.r, plate.g, plate.b];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const before = first[i] as number;
      if (before <= empty || firm[i] || (toCertain[i] as number) > reach || (passed && (passed[i] as number) > 0.5)) continue;
      unknown[i] = 1;
      const br = back ? (back.r[i] as number) : (screen as Rgb).r;
      const bg = back ? (back.g[i] as number) : (screen as Rgb).g;
      const bb = back ? (back.b[i] as number) : (screen as Rgb).b;
      told[0] = (R[i] as number) - br;
      told[1] = (G[i] as number) - bg;
      told[2] = (B[i] as number) - bb;
      told[3] = br;
      told[4] = bg;
      told[5] = bb;
      told[8] = OF_SCREEN * OF_SCREEN * (br * br + bg * bg + bb * bb);
      let sum = 0;
      let total = 0;
      let least = HOPELESS;
      let lowest = 1;
      let second = 1;
      let count = 0;
      const met = mixturesAlong(x, y);
      for (let k = 0; k < met; k++) {
        const cost = error[k] as number;
        if (cost >= HOPELESS) continue;
        const a = cover[k] as number;
        covers[count] = a;
        weights[count] = Math.exp(-cost - fade * (far[k] as number));
        thin[count++] = ends[k] as number;
        if (cost < least) least = cost;
        if (cost >= EXPLAINS) continue;
        if (a < lowest) {
          second = lowest;
          lowest = a;
        } else if (a < second) second = a;
      }
      for (let k = 0; k < count; k++) {
        const a = covers[k] as number;
        let w = weights[k] as number;
        if (thin[k] && a > second && !wellInside(i)) w *= Math.exp(-purer * (1 - second) * (a - second));
        sum += w * a;
        total += w;
      }
      if (total > 0) {
        // A mixture that no candidate explains is left to the first matte; and so is cloth of the screen's hue, if that matte has more of it.
        const best = Math.exp(-least);
        const trust = best / (best + PRIOR * (1 - best) ** 2);
        const mixed = trust * (sum / total) + (1 - trust) * before;
        const hue = ofHue ? (ofHue[i] as number) : 0;
        const cloth = hue > 0 && before > mixed && wellInside(i) ? Math.min(1, hue / SOME_HUE) : 0;
        data[i] = mixed + cloth * (before - mixed);
      }
    }
  coverBright(data, unknown, plate, screen, primary);
  if (follow <= 0) return { width, height, data };
  const smooth = guidedFilter(data, lumaOf(plate).data, width, height, 1, 1e-5);
  for (let i = 0; i < n; i++)
    if (unknown[i]) data[i] = (1 - follow) * (data[i] as number) + follow * Math.min(1, Math.max(0, smooth[i] as number));
  return { width, height, data };
}
