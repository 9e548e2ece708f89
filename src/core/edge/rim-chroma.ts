import { distanceTo } from "../image/distance";
import { maskUnder } from "../image/mask";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { onRims } from "../kernels/rims";

/** Matte under which a pixel holds screen, and over which it is solid but for what grain and coarse chroma take from it. */
const SCREEN = 0.97;
const SOLID = 0.9;
/** Matte up to which there is no subject whose colour could be put right. */
const EMPTY = 0.02;
/** Distances from pixels that hold screen, px: up to the first coarse chroma has mixed colours in full, from the second on it has not. */
const MIXED = 3;
const CLEAR = 5;
/** Distances over which a pixel's chroma is taken for the subject's own, the more the farther. */
const PURE = 1;
const PUREST = 2;
/** How far such pixels are looked for, px, and the deviation of their weights. */
const REACH = 4;
const NEAR = 1.8;
const PLACES = Float32Array.from({ length: 2 * REACH + 1 }, (_, k) => Math.exp(-((k - REACH) ** 2) / (2 * NEAR * NEAR)));
/** Difference of luma, as a share of full scale, at which such a pixel is of another surface: a biweight falls to nothing there. */
const UNLIKE = 0.16;
/** Weight of neighbours at which half of the rebuilt chroma stays. */
const DOUBT = 0.5;

/**
 * Puts right the colour that coarse chroma (4:2:0, 4:2:2) mixed across the subject's edge: a sample shared by subject and screen
 * leaves the screen's colour on the rim, and the subject's in mixed pixels. Mixed pixels get the rebuilt chroma; nearly solid ones
 * the chroma of clear subject beside them, that of their own luma most, each at its own luma. Pixels farther than a few from the
 * edge stay the plate's own.
 * Source: Kopf, Cohen, Lischinski & Uyttendaele, "Joint Bilateral Upsampling", SIGGRAPH 2007, with samples that hold screen left out
 * and Tukey's biweight for luma.
 * @param plate linear light, full size
 * @param rebuilt the same frame with its chroma rebuilt along luma
 * @param matte the pull, of the plate's size
 * @param amount 0…1
 */
export function rimChroma(plate: Picture, rebuilt: Picture, matte: Plane, amount: number, allocate: Allocate = fresh): Picture {
  const { width, height } = plate;
  const m = matte.data;
  const copy = (c: Float32Array) => {
    const out = allocate(c.length);
    out.set(c);
    return out;
  };
  const out = { width, height, r: copy(plate.r), g: copy(plate.g), b: copy(plate.b) };
  const toScreen = distanceTo(maskUnder(m, SCREEN), width, height, CLEAR + 1);
  onRims(out, rebuilt, m, toScreen, {
    amount,
    mixed: MIXED,
    clear: CLEAR,
    pure: PURE,
    purest: PUREST,
    empty: EMPTY,
    solid: SOLID,
    unlike: UNLIKE,
    doubt: DOUBT,
    places: PLACES,
  });
  return out;
}
