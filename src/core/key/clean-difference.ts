import type { Rgb } from "../color/hue";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";

export interface CleanDifference {
  /** The screen at every pixel (a clean plate), or one colour; linear light. */
  readonly screen: Picture | Rgb;
  /** Standard deviation of the screen's grain per channel, linear light, at the light of `at`. */
  readonly noise: Rgb;
  readonly at: Rgb;
  /** Standard deviations up to which a difference is grain, and from which on it is subject. */
  readonly inner: number;
  readonly outer: number;
}

/** Grain that even a clean picture is taken to have: one step of 10 bits near middle grey. */
const LEAST = 0.0005;

/**
 * Difference from a clean plate, counted in standard deviations of its grain: d² = Σ ((C − B) / σ)² over three channels,
 * α = (d − inner) / (outer − inner), clipped. Photon noise grows with light, so σ² = σ₀² · B / B₀. It finds whatever
 * changed, of any colour; of partial cover it tells only that there is some.
 * Source: the photon transfer relation, J. R. Janesick, "Photon Transfer" (SPIE, 2007).
 * @throws RangeError unless outer lies above inner
 */
export function cleanDifference(picture: Picture, key: CleanDifference, allocate: Allocate = fresh): Plane {
  const { screen, noise, at, inner, outer } = key;
  if (!(outer > inner)) throw new RangeError("The outer threshold must lie above the inner one.");
  const { width, height } = picture;
  const data = allocate(picture.r.length).fill(0);
  const back = isPicture(screen) ? screen : null;
  for (const c of ["r", "g", "b"] as const) {
    const [own, behind] = [picture[c], back?.[c]];
    const one = back ? 0 : (screen as Rgb)[c];
    const variance = Math.max(LEAST, noise[c]) ** 2 / Math.max(1e-4, at[c]);
    for (let i = 0; i < data.length; i++) {
      const b = behind ? (behind[i] as number) : one;
      const d = (own[i] as number) - b;
      data[i] = (data[i] as number) + (d * d) / (variance * Math.max(0.01, b));
    }
  }
  const k = 1 / (outer - inner);
  for (let i = 0; i < data.length; i++) {
    const m = (Math.sqrt(data[i] as number) - inner) * k;
    data[i] = m < 0 ? 0 : m > 1 ? 1 : m;
  }
  return { width, height, data };
}
