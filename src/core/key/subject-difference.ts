import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { type Components, labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn } from "../image/fill-in";
import { maskOf } from "../image/mask";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";
import { shrinkPicture } from "../image/resample";
import { pointwise } from "../kernels/pointwise";
import { screenMask } from "../screen/find";
import { excessPlane, otherChannels, type Primary } from "../screen/primary";
import { excessOf } from "./colour-difference";

export interface SubjectDifference {
  readonly primary: Primary;
  /** Share of the first other channel in what the primary is compared with, 0…1. */
  readonly weight: number;
  /** The screen at every pixel (a clean plate), or one colour. */
  readonly screen: Picture | Rgb;
}

/** Width of the reduced copy on which certain subject is found and carried outwards, px. */
const WIDTH = 480;
/** Distance from the screen that makes a pixel certain subject, in reduced px. */
const MARGIN = 2.5;
/** Matte of the plain difference from which on a smooth area is subject for certain, and from which on it may be. */
const SOLID = 0.75;
const MAYBE = 0.25;
/** Mean under which an even area that hangs on nothing is a pane of glass and no garment; its deviation; reduced px to what a garment hangs on. */
const PANE = 0.4;
const EVEN = 0.025;
const HANGS = 8;
/** Deviation of the excess around a pixel, against the screen's own, that gives mixed pixels away. */
const TEXTURE = 0.035;
/** Part of a surface's primary that is in excess, from which on the surface itself is taken to have the screen's hue. */
const KEEP_FROM = 0.2;
const KEEP_ALL = 0.32;
/** Least share of the frame that a garment of the screen's hue covers. */
const GARMENT = 0.0006;
/** How far the subject's colour is carried before it has faded to 1/e, reduced px. */
const REACH = 3.5;
/** Plain matte under which a place is clear screen, and how far from the margin it may begin for an outline to be sharp, reduced px. */
const CLEAR = 0.1;
const STEP = 5;
/** Share of an area's outline that must stand sharply against the screen for it to be cloth and not smoke. */
const SHARP = 0.3;
/** Holes in an area that are smaller than this are its texture and no outline, reduced px. */
const HOLE = 30;
/**
 * Light in the two other channels, as a share of the primary, beyond what the screen has of it, from which on a surface is no screen however green:
 * cloth of the screen's hue is paler. Before a screen that is dark, or in shade, its excess is as high as the screen's, and tells nothing.
 */
const PALER = 0.5;
/** How far around such cloth it is left open what its rim is, reduced px. */
const PALER_RIM = 5;
/** The subject's own excess may be at most this share of the screen's; beyond it the two are one colour. */
const MOST = 0.75;

/** What {@link subjectExcess} tells of the subject. */
export interface SubjectOwn {
  /** Its own excess, linear light. */
  readonly excess: Float32Array;
  /** 0…1: how far the surface itself has the screen's hue (green cloth before a green screen). */
  readonly nearScreen: Float32Array;
  /** 1 on cloth of the screen's hue whose excess is as high as the screen's: solid; less around it, where its rim may be; 0 elsewhere. Null where there is none. */
  readonly paler: Float32Array | null;
}

/**
 * Which areas that may be subject are panes: mostly screen, as even as it, and hanging on nothing. A garment has folds, and
 * someone in it.
 * @param certain 1 where subject is certain @param matte of the plain difference at a pixel
 * @returns 1 for each label that is one
 */
function paneAreas(areas: Components, certain: Float32Array, matte: (i: number) => number, w: number, h: number): Uint8Array {
  const n = w * h;
  const solid = labelComponents(new Uint8Array(certain), w, h);
  const toSolid = distanceTo(
    maskOf(solid.labels, (label) => label > 0 && (solid.areas[label] as number) >= GARMENT * n),
    w,
    h,
    HANGS + 1,
  );
  const [sum, squares] = [new Float64Array(areas.areas.length), new Float64Array(areas.areas.length)];
  const hangs = new Uint8Array(areas.areas.length);
  for (let i = 0; i < n; i++) {
    const label = areas.labels[i] as number;
    if (!label) continue;
    const m = matte(i);
    sum[label]! += m;
    squares[label]! += m * m;
    if ((toSolid[i] as number) <= HANGS) hangs[label] = 1;
  }
  return Uint8Array.from(areas.areas, (area, label) => {
    const mean = (sum[label] as number) / Math.max(1, area);
    const deviation = Math.sqrt(Math.max(0, (squares[label] as number) / Math.max(1, area) - mean * mean));
    return !hangs[label] && mean < PANE && deviation < EVEN ? 1 : 0;
  });
}

/**
 * Certain subject: away from the screen, smooth in its excess (mixed pixels are not), and either clearly not screen or,
 * when its colour comes close to the screen's, an area that ends sharply against it, as cloth does and smoke does not.
 * @param e excess of the plate; @param back excess of the screen at a pixel; @param screen 1 where the plate is screen
 * @param paler 1 where a pixel is paler than any screen; @param light the plate's primary
 * @returns 1 where certain, on the same grid
 */
function certainSubject(
  e: Float32Array,
  back: (i: number) => number,
  screen: Uint8Array,
  paler: Uint8Array,
  light: Float32Array,
  w: number,
  h: number,
): Float32Array {
  const n = w * h;
  const toScreen = distanceTo(screen, w, h);
  const mean = boxMean(e, w, h, 1);
  const square = boxMean(
    e.map((v) => v * v),
    w,
    h,
    1,
  );
  const certain = new Float32Array(n);
  const maybe = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if ((toScreen[i] as number) <= MARGIN) continue;
    const b = Math.max(1e-6, back(i));
    const m = mean[i] as number;
    const matte = 1 - (e[i] as number) / b;
    // Folds of cloth are as deep as its own light makes them.
    const against = paler[i] && matte < MAYBE ? Math.max(b, light[i] as number) : b;
    if (Math.sqrt(Math.max(0, (square[i] as number) - m * m)) > TEXTURE * against) continue;
    if (matte >= SOLID) certain[i] = 1;
    else if (matte >= MAYBE || paler[i]) maybe[i] = 1;
  }
  const clear = maskOf(e, (v, i) => 1 - v / Math.max(1e-6, back(i)) < CLEAR && !paler[i]);
  // A pixel of grain in smoke is none.
  const clears = boxMean(Float32Array.from(clear), w, h, 1);
  for (let i = 0; i < n; i++) if ((clears[i] as number) < 0.5) clear[i] = 0;
  const toClear = distanceTo(clear, w, h);
  const areas = labelComponents(maybe, w, h);
  const around = labelComponents(
    maybe.map((v) => 1 - v),
    w,
    h,
  );
  const panes = paneAreas(areas, certain, (i) => 1 - (mean[i] as number) / Math.max(1e-6, back(i)), w, h);
  const rim = new Float64Array(areas.areas.length);
  const sharp = new Float64Array(areas.areas.length);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const label = areas.labels[i] as number;
      if (!label) continue;
      // What is in the area has no label there, and counts as no hole of any size.
      const outer = [i - 1, i + 1, i - w, i + w].filter((k) => (around.areas[around.labels[k] as number] as number) >= HOLE);
      // Where it meets other certain subject its outline says nothing.
      if (outer.length === 0 || outer.some((k) => certain[k] === 1)) continue;
      rim[label]!++;
      if ((toClear[i] as number) < MARGIN + STEP) sharp[label]!++;
    }
  for (let i = 0; i < n; i++) {
    const label = areas.labels[i] as number;
    if (!label || (areas.areas[label] as number) < 12 || panes[label]) continue;
    if ((sharp[label] as number) > SHARP * (rim[label] as number)) certain[i] = 1;
  }
  return certain;
}

/**
 * The subject's own excess at every pixel: read where the plate is certain subject, and carried smoothly outwards from
 * there under the soft edge. What is warm has a negative one, what is green-tinged or lit by the screen a positive one.
 * @returns at the plate's size; null where no certain subject was found
 */
export function subjectExcess(plate: Picture, key: SubjectDifference, allocate: Allocate = fresh): SubjectOwn | null {
  const { primary, weight, screen } = key;
  const factor = Math.max(1, Math.round(plate.width / WIDTH));
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const n = w * h;
  const e = excessPlane(small, primary, weight);
  const behind = isPicture(screen) ? shrinkPicture(screen, factor) : null;
  const back = behind ? excessPlane(behind, primary, weight) : null;
  const constant = isPicture(screen) ? 0 : excessOf(screen, primary, weight);
  const excessBehind = (i: number) => Math.max(1e-6, back ? (back[i] as number) : constant);
  const pale = palerThanScreen(small, behind ?? (screen as Rgb), primary);
  const weights = certainSubject(e, excessBehind, screenMask(small, primary).mask, pale, small[primary], w, h);
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
    maskOf(green, (v, i) => v > 0.3 && weights[i] === 1),
    w,
    h,
  );
  for (let i = 0; i < n; i++) if ((garments.areas[garments.labels[i] as number] as number) < GARMENT * n) green[i] = 0;
  const paler = solidCloth(
    maskOf(e, (v, i) => weights[i] === 1 && pale[i] === 1 && v > MOST * excessBehind(i)),
    w,
    h,
  );
  fillIn([e, green], weights, w, h);
  // Far from certain subject nothing is known of the colour of what is there: smoke, a veil. It is taken to be neutral.
  const away = distanceTo(new Uint8Array(weights), w, h);
  for (let i = 0; i < n; i++) e[i] = (e[i] as number) * Math.exp(-(((away[i] as number) / REACH) ** 2));
  const excess = allocate(plate.width * plate.height);
  enlargeChannel(e, w, h, factor, plate.width, plate.height, excess);
  const nearScreen = allocate(plate.width * plate.height);
  enlargeChannel(green, w, h, factor, plate.width, plate.height, nearScreen);
  if (!paler) return { excess, nearScreen, paler };
  const cloth = allocate(plate.width * plate.height);
  enlargeChannel(paler, w, h, factor, plate.width, plate.height, cloth);
  return { excess, nearScreen, paler: cloth };
}

/** @returns 1 where the two other channels hold more beside the primary than any light on the screen gives them */
function palerThanScreen(small: Picture, screen: Picture | Rgb, primary: Primary): Uint8Array {
  const [u, v] = otherChannels(primary);
  const share = (p: number, a: number, b: number) => (a + b) / Math.max(1e-6, p);
  const constant = isPicture(screen) ? 0 : share(screen[primary], screen[u], screen[v]);
  return maskOf(small[primary], (p, i) => {
    const ofScreen = isPicture(screen) ? share(screen[primary][i] as number, screen[u][i] as number, screen[v][i] as number) : constant;
    return share(p, small[u][i] as number, small[v][i] as number) > ofScreen + PALER;
  });
}

/** Cloth as large as a garment: 1 on it, half around it, where its rim may be. Null where there is none. */
function solidCloth(cloth: Uint8Array, w: number, h: number): Float32Array | null {
  const { labels, areas } = labelComponents(cloth, w, h);
  const kept = maskOf(labels, (label) => label > 0 && (areas[label] as number) >= GARMENT * w * h);
  if (!kept.includes(1)) return null;
  return distanceTo(kept, w, h, PALER_RIM + 1).map((d) => (d === 0 ? 1 : d <= PALER_RIM ? 0.5 : 0));
}

/**
 * Colour difference against the screen at every pixel, with the subject's own excess carried in from the nearest certain
 * subject: α = (e(B) − e(C)) / (e(B) − e(F)). Exact for every mixture whose F has the excess that was carried in, so
 * that warm, green-tinged and spill-lit subjects come out right. In linear light; clipped to 0…1.
 * Source: the colour difference of P. Vlahos, US Patent 3,158,477 (1964), solved for a subject with an excess of its own.
 * @param own what {@link subjectExcess} gave, or null for a neutral subject
 */
export function subjectDifference(plate: Picture, key: SubjectDifference, own: SubjectOwn | null, allocate: Allocate = fresh): Plane {
  const { primary, weight, screen } = key;
  const [un, vn] = otherChannels(primary);
  if (!isPicture(screen) && !(excessOf(screen, primary, weight) > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const data = allocate(plate.r.length);
  pointwise(
    "difference",
    [weight, 1 - weight, MOST],
    [plate[primary], plate[un], plate[vn], screen[primary], screen[un], screen[vn], own ? own.excess : 0],
    [data],
  );
  if (own?.paler) for (let i = 0; i < data.length; i++) if ((own.paler[i] as number) >= 1) data[i] = 1;
  return { width: plate.width, height: plate.height, data };
}
