import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn } from "../image/fill-in";
import { maskOf, maskUnder } from "../image/mask";
import { type Allocate, fresh, isPicture, type Picture, type Plane, type Size } from "../image/plane";
import { shrinkChannel, shrinkPicture } from "../image/resample";
import { pointwise } from "../kernels/pointwise";
import { otherChannels, type Primary } from "../screen/primary";
import { type AgainstScreen, againstScreen, certainSubject, GARMENT, KEEP_FROM, palerThanScreen } from "./certain-subject";
import { excessOf } from "./colour-difference";
import { passedBy } from "./passed-by";
import { warmFarOut } from "./warm-strands";

export interface SubjectDifference {
  readonly primary: Primary;
  /** Share of the first other channel in what the primary is compared with, 0…1. */
  readonly weight: number;
  /** The screen at every pixel (a clean plate), or one colour. */
  readonly screen: Picture | Rgb;
}

/**
 * Longer side of the largest plate on which certain subject is found and carried outwards as it is, px; and that of a larger one's copy at the least,
 * reduced by the largest power of two: previews of half and a quarter of its size look at the same copy.
 */
const WHOLE = 960;
const COPY = 480;
/** Part of a surface's primary that is in excess, from which on all of it is the surface's own; from {@link KEEP_FROM} on some is. */
const KEEP_ALL = 0.32;
/** How far the subject's colour is carried before it has faded to 1/e, reduced px. */
const REACH = 3.5;
/** And as a share of the way from certain subject to clear screen, where one surface goes all that way; how long that way may be, reduced px. */
const SPAN = 0.6;
const WIDEST = 40;
/** Share of the screen's excess from which on it is clear screen. */
const CLEAR = 0.9;
/** Mean departure of the excess from that around it, in 5 × 5 px and as a share of the screen's, under which it climbs evenly. */
const BENDS = 0.02;
/** How far a surface has the screen's hue from which on it counts as cloth of it. */
const OF_CLOTH = 0.3;
/** How far around such cloth it is left open what its rim is, reduced px. */
const PALER_RIM = 5;
/** The subject's own excess may be at most this share of the screen's; beyond it the two are one colour. */
const MOST = 0.75;

/** Light that a recording calls white: what is brighter has it as its own limit; and most pixels at which that is looked for. */
const WHITE = 1;
const LOOKED_AT = 300_000;
/** Taken off the cover that brightness alone tells: grain, and a clean plate that is a little too dark, tell no more. */
const DOUBT = 0.1;

/** What {@link subjectExcess} tells of the subject. */
export interface SubjectOwn {
  /** Its own excess, linear light. */
  readonly excess: Float32Array;
  /** The same, if what is warm far from certain subject is as warm as that. Null where that makes no difference. */
  readonly warmest: Float32Array | null;
  /** 0…1: how far the surface itself has the screen's hue (green cloth before a green screen). */
  readonly nearScreen: Float32Array;
  /** 1 on cloth of the screen's hue whose excess is as high as the screen's: solid; less around it, where its rim may be; 0 elsewhere. Null where there is none. */
  readonly paler: Float32Array | null;
  /** 1 in the middle of what passed by while the shutter was open, as even as cloth and as open as the first matte says. Null where there is none. */
  readonly passed: Float32Array | null;
}

/**
 * The subject's own excess at every pixel: read where the plate is certain subject, and carried smoothly outwards from
 * there under the soft edge. What is warm has a negative one, what is green-tinged or lit by the screen a positive one.
 * @param scale the plate's size over that of the full frame, 0…1
 * @returns at the plate's size; null where no certain subject was found
 */
export function subjectExcess(plate: Picture, key: SubjectDifference, scale = 1, allocate: Allocate = fresh): SubjectOwn | null {
  const { primary, weight, screen } = key;
  const factor = copyFactor(Math.max(plate.width, plate.height) / scale, scale);
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const n = w * h;
  const smallScreen = isPicture(screen) ? shrinkPicture(screen, factor) : screen;
  const seen = againstScreen(small, smallScreen, primary, weight);
  const e = seen.excess;
  const pale = palerThanScreen(seen);
  const { certain: weights, slopes } = certainSubject(small, primary, seen, pale);
  let found = 0;
  for (let i = 0; i < n; i++) found += weights[i] as number;
  if (found < 1e-4 * n) return null;
  // Screen light on a neutral surface stays a small part of it; where the excess is a large part, it is the surface's own.
  const p = small[primary];
  const green = e.map((v, i) => {
    const part = (v / Math.max(1e-6, p[i] as number) - KEEP_FROM) / (KEEP_ALL - KEEP_FROM);
    return part <= 0 ? 0 : part >= 1 ? 1 : part * part * (3 - 2 * part);
  });
  // A garment is an area; single places of that hue are strands with screen between them.
  const garments = labelComponents(
    maskOf(green, (v, i) => v > OF_CLOTH && weights[i] === 1),
    w,
    h,
  );
  for (let i = 0; i < n; i++) if ((garments.areas[garments.labels[i] as number] as number) < GARMENT * n) green[i] = 0;
  const paler = solidCloth(
    maskOf(e, (v, i) => weights[i] === 1 && pale[i] === 1 && v > MOST * (seen.excessBehind[i] as number)),
    w,
    h,
  );
  const ramps = evenSlopes(seen);
  const clear = maskOf(e, (v, i) => v > CLEAR * (seen.excessBehind[i] as number) && !pale[i]);
  const unfilled = e.slice();
  const passed = passedBy(small, smallScreen, primary, weight, weights, slopes);
  if (passed)
    for (let i = 0; i < n; i++)
      if (!Number.isNaN(passed[i])) {
        e[i] = passed[i] as number;
        green[i] = 0;
      }
  fillIn([e, green], weights, w, h);
  // Far from certain subject nothing is known of the colour of what is there: smoke, a veil. It is taken to be neutral. A blurred
  // edge, which climbs evenly from clear screen, and cloth of the screen's hue are of one surface from end to end.
  const away = distanceTo(new Uint8Array(weights), w, h);
  const asWarm = warmFarOut({ width: w, height: h, excess: unfilled, carried: e, excessBehind: seen.excessBehind, away, clear });
  const warmest = asWarm ? e.slice() : null;
  const toClear = distanceTo(clear, w, h);
  for (let i = 0; i < n; i++) {
    const d = away[i] as number;
    const span = d + (toClear[i] as number);
    const one = span < WIDEST && (ramps[i] || (green[i] as number) > OF_CLOTH);
    const there = e[i] as number;
    const fades = Math.exp(-((d / (one ? Math.max(REACH, SPAN * span) : REACH)) ** 2));
    e[i] = there * fades;
    if (asWarm && warmest) warmest[i] = there * (fades + (asWarm[i] as number) * (1 - fades));
  }
  const enlarged = (small: Float32Array) => {
    const large = allocate(plate.width * plate.height);
    enlargeChannel(small, w, h, factor, plate.width, plate.height, large);
    return large;
  };
  return {
    excess: enlarged(e),
    warmest: warmest ? enlarged(warmest) : null,
    nearScreen: enlarged(green),
    paler: paler ? enlarged(paler) : null,
    passed: passed ? enlarged(passed.map((v) => (Number.isNaN(v) ? 0 : 1))) : null,
  };
}

/** The same of a plate that is reduced. @param full the plate's sides, px @param factor by which it is reduced */
export function shrinkOwn(own: SubjectOwn, full: Size, factor: number): SubjectOwn {
  const shrunk = (plane: Float32Array) => shrinkChannel(plane, full.width, full.height, factor);
  const some = (plane: Float32Array | null) => plane && shrunk(plane);
  const { excess, warmest, nearScreen, paler, passed } = own;
  return { excess: shrunk(excess), warmest: some(warmest), nearScreen: shrunk(nearScreen), paler: some(paler), passed: some(passed) };
}

/** By how much a plate is reduced. @param full longer side of the full frame, px @param scale the plate's size over its */
function copyFactor(full: number, scale: number): number {
  return full <= WHOLE ? 1 : Math.max(1, Math.round(scale * 2 ** Math.floor(Math.log2(full / COPY))));
}

/** 1 where the excess climbs evenly or stands still, as over a blurred edge. */
function evenSlopes({ excess, excessBehind, width, height }: AgainstScreen): Uint8Array {
  const around = boxMean(excess, width, height, 2);
  const departs = excess.map((v, i) => Math.abs(v - (around[i] as number)) / (excessBehind[i] as number));
  return maskUnder(boxMean(departs, width, height, 2), BENDS);
}

/** Cloth as large as a garment: 1 on it, half around it, where its rim may be. Null where there is none. */
function solidCloth(cloth: Uint8Array, w: number, h: number): Float32Array | null {
  const { labels, areas } = labelComponents(cloth, w, h);
  const kept = maskOf(labels, (label) => label > 0 && (areas[label] as number) >= GARMENT * w * h);
  if (!kept.includes(1)) return null;
  return distanceTo(kept, w, h, PALER_RIM + 1).map((d) => (d === 0 ? 1 : d <= PALER_RIM ? 0.5 : 0));
}

/** The brightest that the plate is in either channel; white where nothing is brighter. A glint of a few pixels may be missed: it covers all the same. */
function brightest(u: Float32Array, v: Float32Array): number {
  const stride = Math.ceil(u.length / LOOKED_AT);
  let most = WHITE;
  for (let i = 0; i < u.length; i += stride) {
    if ((u[i] as number) > most) most = u[i] as number;
    if ((v[i] as number) > most) most = v[i] as number;
  }
  return most;
}

/**
 * Colour difference against the screen at every pixel, with the subject's own excess carried in from the nearest certain
 * subject: α = (e(B) − e(C)) / (e(B) − e(F)). Exact for every mixture whose F has the excess that was carried in, so
 * that warm, green-tinged and spill-lit subjects come out right. No subject is brighter than white, so what is much brighter than the screen in both
 * other channels covers no less than that takes, whatever hue coarse chroma gave it. In linear light; clipped to 0…1.
 * Source: the colour difference of P. Vlahos, US Patent 3,158,477 (1964), solved for a subject with an excess of its own.
 * @param own what {@link subjectExcess} gave, or null for a neutral subject
 */
export function subjectDifference(
  plate: Picture,
  key: SubjectDifference,
  own: Pick<SubjectOwn, "excess" | "paler"> | null,
  allocate: Allocate = fresh,
): Plane {
  const { primary, weight, screen } = key;
  const [un, vn] = otherChannels(primary);
  if (!isPicture(screen) && !(excessOf(screen, primary, weight) > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const data = allocate(plate.r.length);
  pointwise(
    "difference",
    [weight, 1 - weight, MOST, brightest(plate[un], plate[vn]), DOUBT],
    [plate[primary], plate[un], plate[vn], screen[primary], screen[un], screen[vn], own ? own.excess : 0],
    [data],
  );
  if (own?.paler) for (let i = 0; i < data.length; i++) if ((own.paler[i] as number) >= 1) data[i] = 1;
  return { width: plate.width, height: plate.height, data };
}
