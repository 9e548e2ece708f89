import { luminance, type Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { pointwise } from "../kernels/pointwise";
import { otherChannels, type Primary } from "../screen/primary";

/** What the primary may not exceed: the mean, the larger or the smaller of the two other channels, or a mix of them by weight. */
export const SPILL_LIMITS = ["average", "maximum", "minimum", "mix"] as const;
export type SpillLimit = (typeof SPILL_LIMITS)[number];

/**
 * What goes back for the light that is taken, always of the same luminance: nothing at all; neutral grey; the surface's own
 * colour, as what is left of it tells; the original; a muted screen hue; the general light of the background.
 */
export const SPILL_REPLACEMENTS = ["nothing", "neutral", "surface", "original", "muted", "background"] as const;
export type SpillReplacement = (typeof SPILL_REPLACEMENTS)[number];

export interface SpillSettings {
  readonly primary: Primary;
  readonly limit: SpillLimit;
  /** For the mixed limit: share of the first other channel (RGB order), 0…1; beyond both for hues between two primaries. */
  readonly mix?: number;
  /** Share of the excess that is taken, 0…1. */
  readonly amount: number;
  /** Nothing without it. */
  readonly replace?: SpillReplacement;
  /** Degrees of hue from the screen primary's, towards warm and towards cool, that count as spill; all (180) without them. */
  readonly reachWarm?: number;
  readonly reachCool?: number;
  /** Screen colour, linear: for the muted hue. */
  readonly screen?: Rgb;
  /** Blurred background, linear: its light goes back. Neutral without one. */
  readonly light?: Picture;
}

/** Degrees over which the reach's shoulders fall off. */
const SHOULDER = 20;

/** The neutral limit of the primary at one pixel. */
export const neutralLimit = (u: number, v: number, limit: SpillLimit, mix = 0.5): number =>
  limit === "average" ? 0.5 * (u + v) : limit === "mix" ? mix * u + (1 - mix) * v : limit === "maximum" ? Math.max(u, v) : Math.min(u, v);

/**
 * Degrees of hue between a colour and the screen primary, 0…60 and beyond; positive towards the first other channel in
 * RGB order (for green and blue screens the warm side), in the hexcone model, for a colour whose primary is in excess.
 */
export function hueOffset(p: number, u: number, v: number): number {
  const top = Math.max(p, u, v);
  const span = top - Math.min(p, u, v);
  if (span <= 0) return 0;
  if (p >= u && p >= v) return (60 * (u - v)) / span;
  return u > v ? 120 - (60 * (p - v)) / span : -120 + (60 * (p - u)) / span;
}

/** Luminance of one unit of each primary. */
const LUMINANCE: Record<Primary, number> = {
  r: luminance({ r: 1, g: 0, b: 0 }),
  g: luminance({ r: 0, g: 1, b: 0 }),
  b: luminance({ r: 0, g: 0, b: 1 }),
};
/** Luminance of one unit of a primary, linear light. */
export const unitLuminance = (primary: Primary): number => LUMINANCE[primary];
/** How much of the screen's own hue a muted one keeps. */
const MUTED = 0.35;
/** Most that light put back may multiply a surface by, so that near black nothing flares up. */
const SURFACE_MOST = 1.5;

/** Whether a mixed limit goes beyond the other channels themselves, as it does for a screen whose hue lies between two primaries. */
export const beyondChannels = (limit: SpillLimit, mix = 0.5): boolean => limit === "mix" && (mix < 0 || mix > 1);

/**
 * What a unit of taken light takes from each channel. That of the primary alone; where the mixed limit goes beyond the other
 * channels, the screen's own light without its grey, so that magenta leaves both red and blue.
 */
function lightTaken(s: SpillSettings): Rgb {
  const { primary, screen, limit, mix = 0.5 } = s;
  const alone = { r: 0, g: 0, b: 0, [primary]: 1 };
  if (!screen || !beyondChannels(limit, mix)) return alone;
  const grey = Math.min(screen.r, screen.g, screen.b);
  const [un, vn] = otherChannels(primary);
  const excess = screen[primary] - neutralLimit(screen[un], screen[vn], limit, mix);
  if (!(excess > 1e-6)) return alone;
  return { r: (screen.r - grey) / excess, g: (screen.g - grey) / excess, b: (screen.b - grey) / excess };
}

/** What one unit of taken light puts back in each channel, where that is the same everywhere; null where it is not. */
export function evenPutBack(s: SpillSettings): Rgb | null {
  const unit = luminance(lightTaken(s));
  switch (s.replace) {
    case "surface":
      return null;
    case "background":
      return s.light ? null : { r: unit, g: unit, b: unit };
    case "neutral":
      return { r: unit, g: unit, b: unit };
    case "muted": {
      const y = s.screen ? Math.max(1e-6, luminance(s.screen)) : 1;
      const hue = (c: Primary) => unit * (s.screen ? 1 - MUTED + (MUTED * s.screen[c]) / y : 1);
      return { r: hue("r"), g: hue("g"), b: hue("b") };
    }
    default:
      return { r: 0, g: 0, b: 0 };
  }
}

/**
 * Puts taken light back where what goes back depends on the place or on the pixel's own colour: the surface's own, the
 * background's. Changes `picture` in place.
 * @param taken light taken from the primary at each pixel
 */
export function putBack(picture: Picture, taken: Float32Array, s: SpillSettings): void {
  const unit = luminance(lightTaken(s));
  const { r, g, b } = picture;
  for (let i = 0; i < taken.length; i++) {
    const light = (taken[i] as number) * unit;
    if (!(light > 0)) continue;
    const from = s.replace === "surface" ? picture : (s.light as Picture);
    const [R, G, B] = [from.r[i] as number, from.g[i] as number, from.b[i] as number];
    const y = LUMINANCE.r * R + LUMINANCE.g * G + LUMINANCE.b * B;
    // Black has no colour of its own.
    let k = y > 1e-4 ? light / y : 0;
    if (s.replace === "surface") k = Math.min(SURFACE_MOST, k);
    const rest = Math.max(0, light - k * y);
    r[i] = (r[i] as number) + k * R + rest;
    g[i] = (g[i] as number) + k * G + rest;
    b[i] = (b[i] as number) + k * B + rest;
  }
}

/** What the kernels that treat spill are told of it. */
export function spillParameters(s: SpillSettings): number[] {
  const { primary, limit, mix = 0.5, reachWarm = 180, reachCool = 180 } = s;
  const [un, vn] = otherChannels(primary);
  const even = evenPutBack(s) ?? { r: 0, g: 0, b: 0 };
  const taken = lightTaken(s);
  return [
    limit === "maximum" ? 1 : limit === "minimum" ? 2 : 0,
    limit === "average" ? 0.5 : mix,
    s.replace === "original" ? 0 : s.amount,
    LUMINANCE[primary],
    LUMINANCE[un],
    LUMINANCE[vn],
    reachWarm,
    reachCool,
    SHOULDER,
    even[primary] - taken[primary],
    even[un] - taken[un],
    even[vn] - taken[vn],
    taken[primary],
    taken[un],
    taken[vn],
  ];
}

/**
 * Takes the screen primary's excess over its neutral limit out of the picture (linear light), and puts back what is wanted.
 * @param own excess that is the surface's own at each pixel and stays, as a share of its luminance; none without it
 * @returns the treated picture and the light taken from the primary
 */
export function limitSpill(
  picture: Picture,
  settings: SpillSettings,
  allocate: Allocate = fresh,
  own?: Float32Array,
): { picture: Picture; removed: Float32Array } {
  const { primary } = settings;
  const [un, vn] = otherChannels(primary);
  const { width, height, r, g, b } = picture;
  const removed = allocate(r.length);
  const even = evenPutBack(settings);
  const onlyPrimary = even !== null && even.r === 0 && even.g === 0 && even.b === 0 && lightTaken(settings)[primary] === 1;
  const out = onlyPrimary
    ? { width, height, r, g, b, [primary]: allocate(r.length) }
    : { width, height, r: allocate(r.length), g: allocate(r.length), b: allocate(r.length) };
  pointwise(
    "limitSpill",
    spillParameters(settings),
    [picture[primary], picture[un], picture[vn], own ?? 0],
    [out[primary], onlyPrimary ? null : out[un], onlyPrimary ? null : out[vn], removed],
  );
  if (!even) putBack(out, removed, settings);
  return { picture: out, removed };
}
