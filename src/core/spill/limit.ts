import { luminance, type Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture } from "../image/plane";
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
  /** For the mixed limit: share of the first other channel (RGB order), 0…1. */
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

/** Share of a pixel's excess that counts as spill by its hue, 0…1. */
export function spillReach(p: number, u: number, v: number, s: SpillSettings): number {
  const { reachWarm = 180, reachCool = 180 } = s;
  if (reachWarm >= 180 && reachCool >= 180) return 1;
  const offset = hueOffset(p, u, v);
  // Red counts as the warm neighbour of green and of blue; on a red screen green does.
  const reach = offset >= 0 ? reachWarm : reachCool;
  const beyond = (Math.abs(offset) - reach) / SHOULDER;
  return beyond <= 0 ? 1 : beyond >= 1 ? 0 : 1 - beyond * beyond * (3 - 2 * beyond);
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

/** What one unit of taken light puts back in each channel, where that is the same everywhere; null where it is not. */
export function evenPutBack(s: SpillSettings): Rgb | null {
  const unit = LUMINANCE[s.primary];
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
 * How one pixel's taken light is put back where that depends on the place or on the pixel's treated colour: fills `out` with
 * what to add to each channel.
 */
export function putBack(s: SpillSettings): (out: { r: number; g: number; b: number }, take: number, treated: Rgb, i: number) => void {
  const unit = LUMINANCE[s.primary];
  if (s.replace === "surface")
    return (out, take, treated) => {
      const y = luminance(treated);
      // Black has no colour of its own.
      const k = y > 1e-4 ? Math.min(SURFACE_MOST, (take * unit) / y) : 0;
      const rest = Math.max(0, take * unit - k * y);
      out.r = k * treated.r + rest;
      out.g = k * treated.g + rest;
      out.b = k * treated.b + rest;
    };
  const light = s.light as Picture;
  return (out, take, _, i) => {
    const [r, g, b] = [light.r[i] as number, light.g[i] as number, light.b[i] as number];
    const y = luminance({ r, g, b });
    const k = y > 1e-4 ? (take * unit) / y : 0;
    const rest = y > 1e-4 ? 0 : take * unit;
    out.r = k * r + rest;
    out.g = k * g + rest;
    out.b = k * b + rest;
  };
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
  const [un, vn] = otherChannels(settings.primary);
  const p = picture[settings.primary];
  const u = picture[un];
  const v = picture[vn];
  const { limit, mix } = settings;
  const amount = settings.replace === "original" ? 0 : settings.amount;
  const removed = allocate(p.length);
  const even = evenPutBack(settings);
  const { width, height, r, g, b } = picture;
  const onlyPrimary = even !== null && even.r === 0 && even.g === 0 && even.b === 0;
  const out = onlyPrimary
    ? { width, height, r, g, b, [settings.primary]: allocate(p.length) }
    : { width, height, r: allocate(p.length), g: allocate(p.length), b: allocate(p.length) };
  const [op, ou, ov] = [out[settings.primary], out[un], out[vn]];
  const [kp, ku, kv] = even ? [even[settings.primary] - 1, even[un], even[vn]] : [-1, 0, 0];
  const unit = { p: LUMINANCE[settings.primary], u: LUMINANCE[un], v: LUMINANCE[vn] };
  const everywhere = (settings.reachWarm ?? 180) >= 180 && (settings.reachCool ?? 180) >= 180;
  for (let i = 0; i < p.length; i++) {
    const P = p[i] as number;
    const U = u[i] as number;
    const V = v[i] as number;
    let over = P - (limit === "average" ? 0.5 * (U + V) : neutralLimit(U, V, limit, mix));
    if (own) over -= (own[i] as number) * (unit.p * P + unit.u * U + unit.v * V);
    let take = 0;
    if (over > 0) {
      take = amount * over;
      if (!everywhere) take *= spillReach(P, U, V, settings);
    }
    removed[i] = take;
    op[i] = P + kp * take;
    if (onlyPrimary) continue;
    ou[i] = U + ku * take;
    ov[i] = V + kv * take;
  }
  if (even) return { picture: out, removed };
  const back = putBack(settings);
  const add = { r: 0, g: 0, b: 0 };
  const colour = { r: 0, g: 0, b: 0 };
  for (let i = 0; i < removed.length; i++) {
    const take = removed[i] as number;
    if (take <= 0) continue;
    colour[settings.primary] = op[i] as number;
    colour[un] = ou[i] as number;
    colour[vn] = ov[i] as number;
    back(add, take, colour, i);
    out.r[i] = colour.r + add.r;
    out.g[i] = colour.g + add.g;
    out.b[i] = colour.b + add.b;
  }
  return { picture: out, removed };
}
