import { luminance } from "../color/hue";
import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn, meansOfKnown } from "../image/fill-in";
import { maskUnder } from "../image/mask";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { valueAt } from "../image/rank";
import { factorTo, shrinkChannel, shrinkPicture } from "../image/resample";
import { otherChannels, type Primary } from "../screen/primary";
import { beyondChannels, neutralLimit, type SpillLimit } from "./limit";

/** Longer side of the reduced copy on which surfaces are looked at, px. */
const COPY_SIDE = 480;
/** Matte over which a pixel is subject alone. */
const SOLID = 0.97;
/** Depths under the outline from which on little of the screen's light is left, reduced px: the first that leaves enough of the subject. */
const DEPTHS = [8, 4, 2.5];
/** Least share of the frame that must lie so deep. */
const ENOUGH = 0.003;
/** Half side of the square that a surface is judged over, reduced px. */
const SURFACE = 6;
/** Luminance under which a surface has no colour to tell. */
const DARK = 1e-3;
/**
 * How far over the mean of the two other channels a surface's own primary is believed, as a share of what these differ by: as far as yellow (a hue
 * of 60°); a pale one's, in a frame whose pale surfaces are lit by the screen, as far as straw (40°; whites under warm light lie below it).
 */
const YELLOW = 1 / 2;
const STRAW = 40 / 60 - 1 / 2;
/** Saturation up to which a surface is pale, and from which on it is not at all. */
const PALE = 0.5;
const SATURATED = 0.9;
/** Excess, as a share of luminance, that a quarter of the pale surfaces is over: up to here they are what lamps make them, from there on lit by the screen. */
const LAMPS = 0.065;
const SCREEN_LIT = 0.095;
const GREENEST = 0.75;
/** Share of the screen's own hue over which a surface says nothing of that. */
const NEAR = 0.2;

const ramp = (v: number, from: number, to: number): number => Math.min(1, Math.max(0, (v - from) / (to - from)));
const saturationOf = (u: number, v: number): number => Math.abs(u - v) / Math.max(1e-6, u, v);

/** The primary that a surface may have of its own, for the levels of its two other channels. @param lit how far pale surfaces are lit by the screen, 0…1 */
function believedMost(u: number, v: number, lit: number): number {
  const pale = lit * (1 - ramp(saturationOf(u, v), PALE, SATURATED));
  return 0.5 * (u + v) + (YELLOW + pale * (STRAW - YELLOW)) * Math.abs(u - v);
}

export interface OwnExcess {
  readonly primary: Primary;
  readonly limit: SpillLimit;
  readonly mix?: number | undefined;
  /** Where surfaces have the screen's own hue, 0…1, at the plate's size; nowhere without it. */
  readonly nearScreen?: Float32Array | undefined;
}

/**
 * How much of the primary over its neutral limit is each surface's own, as a share of its luminance: read well inside the subject, where little
 * of the screen's light falls, and carried outwards to its rim. Warm surfaces (wood, straw, brass) and green cloth have some; never below 0.
 * Spill is what a rim has beyond that. A primary above both other channels is taken for spill all the same (glossy white lit by the screen),
 * and so is that of a pale surface greener than straw where the frame's pale surfaces are lit all over (white cloth, a table top); what those show of
 * the screen's light is taken to fall on other surfaces near them too. But for surfaces of the screen's own hue. Linear light.
 * @param matte the pull, of the plate's size
 * @returns at the plate's size; null where too little of the subject lies deep
 */
export function ownExcess(
  plate: Picture,
  matte: Plane,
  { primary, limit, mix, nearScreen }: OwnExcess,
  allocate: Allocate = fresh,
): Float32Array | null {
  const factor = factorTo(COPY_SIDE, plate);
  const small = shrinkPicture(plate, factor);
  const { width, height } = small;
  const cover = shrinkChannel(matte.data, matte.width, matte.height, factor);
  const depth = distanceTo(maskUnder(cover, SOLID), width, height);
  const [un, vn] = otherChannels(primary);
  const [p, u, v] = [small[primary], small[un], small[vn]];
  const light = new Float32Array(depth.length);
  for (let i = 0; i < light.length; i++)
    light[i] = luminance({ r: small.r[i] as number, g: small.g[i] as number, b: small.b[i] as number });
  const deepFrom = (least: number) => {
    const weight = new Float32Array(depth.length);
    let count = 0;
    for (let i = 0; i < weight.length; i++)
      if ((depth[i] as number) > least && (light[i] as number) > DARK) {
        weight[i] = 1;
        count++;
      }
    return count >= ENOUGH * weight.length ? weight : null;
  };
  let weight: Float32Array | null = null;
  for (const least of DEPTHS) weight ??= deepFrom(least);
  if (!weight) return null;
  const hue = nearScreen && shrinkChannel(nearScreen, plate.width, plate.height, factor);
  const own = new Float32Array(depth.length);
  // Before a screen between two primaries warm surfaces lead in the primary themselves.
  const beyond = beyondChannels(limit, mix);
  const greens: number[] = [];
  for (let i = 0; i < own.length; i++) {
    const [U, V] = [u[i] as number, v[i] as number];
    if (weight[i] && !((hue?.[i] as number) > NEAR) && saturationOf(U, V) < PALE)
      greens.push(((p[i] as number) - 0.5 * (U + V)) / (light[i] as number));
  }
  const lit = greens.length > 0 ? ramp(valueAt(Float32Array.from(greens), Math.floor(GREENEST * greens.length)), LAMPS, SCREEN_LIT) : 0;
  // What pale surfaces show of the screen's light falls on all around them: wood and straw, whose colour cannot tell, are no better.
  const shed = new Float32Array(own.length);
  if (lit > 0 && !beyond) {
    const tells = new Float32Array(own.length);
    for (let i = 0; i < own.length; i++) {
      const [P, U, V] = [p[i] as number, u[i] as number, v[i] as number];
      if (!weight[i] || (hue?.[i] as number) > NEAR || saturationOf(U, V) >= PALE) continue;
      tells[i] = 1;
      shed[i] = Math.max(0, P - believedMost(U, V, lit)) / Math.max(1e-6, P);
    }
    shed.set(meansOfKnown([shed], tells, width, height, SURFACE)[0] as Float32Array);
    fillIn([shed], tells, width, height);
  }
  for (let i = 0; i < own.length; i++)
    if (weight[i]) {
      const [P, U, V] = [p[i] as number, u[i] as number, v[i] as number];
      const near = hue ? (hue[i] as number) : 0;
      const most = Math.min(believedMost(U, V, lit), P * (1 - (shed[i] as number) * (1 - near)));
      const believed = P <= most || beyond ? P : most + near * (P - most);
      own[i] = Math.max(0, (believed - neutralLimit(U, V, limit, mix)) / (light[i] as number));
    }
  // The screen's light is uneven over a surface, its own colour is not: what is believed is what the less lit parts have.
  const around = (c: Float32Array) => boxMean(c, width, height, SURFACE);
  const total = around(weight);
  const mean = around(own);
  const square = around(own.map((q) => q * q));
  for (let i = 0; i < own.length; i++) {
    if (!weight[i]) continue;
    const t = total[i] as number;
    const m = (mean[i] as number) / t;
    const sd = Math.sqrt(Math.max(0, (square[i] as number) / t - m * m));
    own[i] = Math.max(0, Math.min(own[i] as number, m - sd));
  }
  fillIn([own], weight, width, height);
  const out = allocate(plate.width * plate.height);
  enlargeChannel(own, width, height, factor, plate.width, plate.height, out);
  return out;
}
