import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { pointwise } from "../kernels/pointwise";
import { otherChannels, type Primary } from "../screen/primary";

export interface ColourDifference {
  readonly screen: Rgb;
  readonly primary: Primary;
  /** Share of the first other channel (RGB order) in what the primary is compared with, 0…1; 0.5 is their mean. */
  readonly weight: number;
}

/**
 * The excess of the primary over its two other channels: e(C) = P − (w·U + (1−w)·V). Linear in light, so that a
 * mixture's excess is the mixture of the excesses.
 */
export function excessOf(c: Rgb, primary: Primary, weight: number): number {
  const [u, v] = otherChannels(primary);
  return c[primary] - (weight * c[u] + (1 - weight) * c[v]);
}

/**
 * Colour difference pull in linear light: α = 1 − e(C) / e(B), clipped to 0…1.
 * Exact for every mixture α·F + (1−α)·B whose subject has no excess of its own, e(F) = 0.
 * Source: the principle of P. Vlahos, US Patent 3,158,477 (1964); Smith & Blinn, "Blue Screen Matting", SIGGRAPH 1996.
 * @throws RangeError when the screen colour has no excess, since nothing can be told apart by it
 */
export function colourDifference(picture: Picture, key: ColourDifference, allocate: Allocate = fresh): Plane {
  const base = excessOf(key.screen, key.primary, key.weight);
  if (!(base > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const [un, vn] = otherChannels(key.primary);
  const data = allocate(picture.r.length);
  const { screen, primary, weight } = key;
  pointwise(
    "difference",
    [weight, 1 - weight, 1, Number.POSITIVE_INFINITY, 0],
    [picture[primary], picture[un], picture[vn], screen[primary], screen[un], screen[vn], 0],
    [data],
  );
  return { width: picture.width, height: picture.height, data };
}
