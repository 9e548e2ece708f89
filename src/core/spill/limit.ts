import { type Allocate, fresh, type Picture } from "../image/plane";
import { otherChannels, type Primary } from "../screen/primary";

/** What the primary may not exceed: the mean, the larger or the smaller of the two other channels. */
export const SPILL_LIMITS = ["average", "maximum", "minimum"] as const;
export type SpillLimit = (typeof SPILL_LIMITS)[number];

export interface SpillSettings {
  readonly primary: Primary;
  readonly limit: SpillLimit;
  /** Share of the excess that is taken, 0…1. */
  readonly amount: number;
}

/** The neutral limit of the primary at one pixel. */
export const neutralLimit = (u: number, v: number, limit: SpillLimit): number =>
  limit === "average" ? 0.5 * (u + v) : limit === "maximum" ? Math.max(u, v) : Math.min(u, v);

/**
 * Takes the screen primary's excess over its neutral limit out of the picture (linear light). Other channels stay.
 * @returns the treated picture and the light taken from the primary
 */
export function limitSpill(
  picture: Picture,
  settings: SpillSettings,
  allocate: Allocate = fresh,
): { picture: Picture; removed: Float32Array } {
  const [un, vn] = otherChannels(settings.primary);
  const p = picture[settings.primary];
  const u = picture[un];
  const v = picture[vn];
  const { limit, amount } = settings;
  const treated = allocate(p.length);
  const removed = allocate(p.length);
  for (let i = 0; i < p.length; i++) {
    const over = (p[i] as number) - neutralLimit(u[i] as number, v[i] as number, limit);
    const take = over > 0 ? amount * over : 0;
    removed[i] = take;
    treated[i] = (p[i] as number) - take;
  }
  const { width, height, r, g, b } = picture;
  return { picture: { width, height, r, g, b, [settings.primary]: treated }, removed };
}
