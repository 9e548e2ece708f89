import { luminance } from "../color/hue";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { otherChannels, type Primary } from "../screen/primary";

/** What the primary may not exceed: the mean, the larger or the smaller of the two other channels. */
export const SPILL_LIMITS = ["average", "maximum", "minimum"] as const;
export type SpillLimit = (typeof SPILL_LIMITS)[number];

/** What goes back for the light that is taken: nothing, or neutral grey of the same luminance. */
export const SPILL_REPLACEMENTS = ["nothing", "neutral"] as const;
export type SpillReplacement = (typeof SPILL_REPLACEMENTS)[number];

export interface SpillSettings {
  readonly primary: Primary;
  readonly limit: SpillLimit;
  /** Share of the excess that is taken, 0…1. */
  readonly amount: number;
  /** Nothing without it. */
  readonly replace?: SpillReplacement;
  /** Degrees of hue from the screen primary's, towards warm and towards cool, that count as spill; all (180) without them. */
  readonly reachWarm?: number;
  readonly reachCool?: number;
}

/** Degrees over which the reach's shoulders fall off. */
const SHOULDER = 20;

/** The neutral limit of the primary at one pixel. */
export const neutralLimit = (u: number, v: number, limit: SpillLimit): number =>
  limit === "average" ? 0.5 * (u + v) : limit === "maximum" ? Math.max(u, v) : Math.min(u, v);

/**
 * Degrees of hue between a colour and the screen primary, 0…60 and beyond; positive towards the first other channel in
 * RGB order (for green and blue screens the warm side), in the hexcone model, for a colour whose primary is in excess.
 */
function hueOffset(p: number, u: number, v: number): number {
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

/** Grey that goes back for one unit of light taken. */
export const greyFor = (s: SpillSettings): number => (s.replace === "neutral" ? LUMINANCE[s.primary] : 0);

/**
 * Takes the screen primary's excess over its neutral limit out of the picture (linear light).
 * @param keep share of the excess at each pixel that is the surface's own and stays, 0…1; none without it
 * @returns the treated picture and the light taken from the primary
 */
export function limitSpill(
  picture: Picture,
  settings: SpillSettings,
  allocate: Allocate = fresh,
  keep?: Float32Array,
): { picture: Picture; removed: Float32Array } {
  const [un, vn] = otherChannels(settings.primary);
  const p = picture[settings.primary];
  const u = picture[un];
  const v = picture[vn];
  const { limit, amount } = settings;
  const grey = greyFor(settings);
  const treated = allocate(p.length);
  const removed = allocate(p.length);
  const everywhere = (settings.reachWarm ?? 180) >= 180 && (settings.reachCool ?? 180) >= 180;
  for (let i = 0; i < p.length; i++) {
    const P = p[i] as number;
    const U = u[i] as number;
    const V = v[i] as number;
    const over = P - (limit === "average" ? 0.5 * (U + V) : neutralLimit(U, V, limit));
    let take = 0;
    if (over > 0) {
      take = amount * over;
      if (keep) take *= 1 - (keep[i] as number);
      if (!everywhere) take *= spillReach(P, U, V, settings);
    }
    removed[i] = take;
    treated[i] = P - take;
  }
  const { width, height, r, g, b } = picture;
  if (grey === 0) return { picture: { width, height, r, g, b, [settings.primary]: treated }, removed };
  // The grey goes to all three, so that the pixel's luminance stays.
  const lift = (c: Float32Array) => {
    const out = allocate(c.length);
    for (let i = 0; i < c.length; i++) out[i] = (c[i] as number) + grey * (removed[i] as number);
    return out;
  };
  for (let i = 0; i < treated.length; i++) treated[i] = (treated[i] as number) + grey * (removed[i] as number);
  return { picture: { width, height, [un]: lift(u), [vn]: lift(v), [settings.primary]: treated } as unknown as Picture, removed };
}
