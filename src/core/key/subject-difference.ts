import type { Rgb } from "../color/hue";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn } from "../image/fill-in";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { shrinkPicture } from "../image/resample";
import { otherChannels, type Primary } from "../screen/primary";
import { screenMask } from "../screen/find";

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
/** Matte of the plain difference from which on a pixel may be certain subject. Under it, it may as well be smoke. */
const SOLID = 0.7;
/** The subject's own excess may be at most this share of the screen's; beyond it the two are one colour. */
const MOST = 0.6;

const isPicture = (s: Picture | Rgb): s is Picture => (s as Picture).width !== undefined;

/** Excess of the primary at every pixel: P − (w·U + (1−w)·V). */
function excessPlane(p: Picture, primary: Primary, weight: number, allocate: Allocate): Float32Array {
  const [un, vn] = otherChannels(primary);
  const [P, U, V] = [p[primary], p[un], p[vn]];
  const out = allocate(P.length);
  for (let i = 0; i < out.length; i++) out[i] = (P[i] as number) - weight * (U[i] as number) - (1 - weight) * (V[i] as number);
  return out;
}

/**
 * The subject's own excess at every pixel: read where the plate is certain subject, and carried smoothly outwards from
 * there under the soft edge. What is warm has a negative one, what is green-tinged or lit by the screen a positive one.
 * @returns at the plate's size, or null where no certain subject was found
 */
export function subjectExcess(plate: Picture, key: SubjectDifference, allocate: Allocate = fresh): Float32Array | null {
  const { primary, weight, screen } = key;
  const factor = Math.max(1, Math.round(plate.width / WIDTH));
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const n = w * h;
  const e = excessPlane(small, primary, weight, fresh);
  const back = isPicture(screen) ? excessPlane(shrinkPicture(screen, factor), primary, weight, fresh) : null;
  const [un, vn] = otherChannels(primary);
  const constant = isPicture(screen) ? 0 : screen[primary] - weight * screen[un] - (1 - weight) * screen[vn];
  const toScreen = distanceTo(screenMask(small, primary).mask, w, h);
  const weights = new Float32Array(n);
  let found = 0;
  for (let i = 0; i < n; i++) {
    const b = back ? (back[i] as number) : constant;
    if ((toScreen[i] as number) > MARGIN && 1 - (e[i] as number) / Math.max(1e-6, b) >= SOLID) {
      weights[i] = 1;
      found++;
    }
  }
  if (found < 1e-4 * n) return null;
  fillIn([e], weights, w, h);
  const out = allocate(plate.width * plate.height);
  enlargeChannel(e, w, h, factor, plate.width, plate.height, out);
  return out;
}

/**
 * Colour difference against the screen at every pixel, with the subject's own excess carried in from the nearest certain
 * subject: α = (e(B) − e(C)) / (e(B) − e(F)). Exact for every mixture whose F has the excess that was carried in, so
 * that warm, green-tinged and spill-lit subjects come out right. In linear light; clipped to 0…1.
 * Source: the colour difference of P. Vlahos, US Patent 3,158,477 (1964), solved for a subject with an excess of its own.
 * @param own what {@link subjectExcess} gave, or null for a neutral subject
 */
export function subjectDifference(plate: Picture, key: SubjectDifference, own: Float32Array | null, allocate: Allocate = fresh): Plane {
  const { primary, weight, screen } = key;
  const [un, vn] = otherChannels(primary);
  const [P, U, V] = [plate[primary], plate[un], plate[vn]];
  const constant = isPicture(screen) ? null : screen[primary] - weight * screen[un] - (1 - weight) * screen[vn];
  if (constant !== null && !(constant > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const back = isPicture(screen) ? [screen[primary], screen[un], screen[vn]] : null;
  const data = allocate(P.length);
  for (let i = 0; i < data.length; i++) {
    const b =
      constant ??
      (back?.[0]?.[i] as number) - weight * (back?.[1]?.[i] as number) - (1 - weight) * (back?.[2]?.[i] as number);
    if (b <= 1e-6) {
      data[i] = 1;
      continue;
    }
    const f = own ? Math.min(MOST * b, Math.max(-b, own[i] as number)) : 0;
    const c = (P[i] as number) - weight * (U[i] as number) - (1 - weight) * (V[i] as number);
    const a = (b - c) / (b - f);
    data[i] = a < 0 ? 0 : a > 1 ? 1 : a;
  }
  return { width: plate.width, height: plate.height, data };
}
