import type { Rgb } from "../color/hue";
import { gaussianBlur } from "../image/blur";
import { type Fringes, withoutFringes } from "../image/fringes";
import type { Picture } from "../image/plane";
import { denoise } from "./denoise";
import { flattenRange } from "./flatten";

/** Lengths in px of the full frame; see the recipe's `prepare`. */
export interface Preparation {
  readonly blur: number;
  readonly denoiseLuma: number;
  readonly denoiseChroma: number;
  readonly flattenRounds: 0 | 1 | 2;
  readonly flattenAmount: number;
  readonly fringes: Fringes;
}

/** Whether a copy is any other than the plate. */
export const isPrepared = ({ blur, denoiseLuma, denoiseChroma, flattenRounds, fringes }: Preparation, screen: Rgb | null): boolean =>
  blur > 0 || denoiseLuma > 0 || denoiseChroma > 0 || (flattenRounds > 0 && screen !== null) || fringes.red !== 0 || fringes.blue !== 0;

/** The copy that the matte is made from: without the lens's fringes, denoised, flattened, blurred, as far as the recipe asks. */
export function prepareCopy(base: Picture, settings: Preparation, screen: Rgb | null, scale: number): Picture {
  const { blur, denoiseLuma, denoiseChroma, flattenRounds, flattenAmount, fringes } = settings;
  let picture = withoutFringes(base, fringes, scale);
  // Averaging pixels lowers their grain by the same factor.
  if (denoiseLuma > 0 || denoiseChroma > 0) picture = denoise(picture, { luma: denoiseLuma * scale, chroma: denoiseChroma * scale });
  if (flattenRounds > 0 && screen) picture = flattenRange(picture, screen, { rounds: flattenRounds, amount: flattenAmount });
  if (blur > 0) {
    const soft = (c: Float32Array) => gaussianBlur(c, base.width, base.height, blur * scale);
    picture = { width: base.width, height: base.height, r: soft(picture.r), g: soft(picture.g), b: soft(picture.b) };
  }
  return picture;
}
