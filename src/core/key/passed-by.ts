import type { Rgb } from "../color/hue";
import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { fillIn } from "../image/fill-in";
import { maskOf } from "../image/mask";
import { isPicture, type Picture } from "../image/plane";
import { middleOf, valuesAt } from "../image/rank";
import type { Primary } from "../screen/primary";
import { excessOf } from "./colour-difference";

/** Least of such a place, reduced px; how far from it the surface is looked for that it may be of, at first and at most; and how much of that there must be. */
const LEAST = 30;
const NEAREST = 3;
const FARTHEST = 48;
const ENOUGH = 8;
/** What a mixture may leave unexplained, as a share of the light of surface and screen together; and how much of the place must be explained so. */
const LEFT = 0.06;
const MOST_OF_IT = 0.7;
/** How much darker and brighter than that it may be. */
const DARKEST = 0.7;
const BRIGHTEST = 1.4;
/** Cover that grain makes of a whole one at most; and under which shade is not told. */
const WHOLE = 1.02;
const LITTLE = 0.1;
/** Cover under which half of the place must be: rims that the screen lights seem as open as a tenth. */
const OPEN = 0.85;

/**
 * Finds what passed by while the shutter was open, as a waving arm's end does, and nowhere covered the screen all the time. Its middle is even and
 * seems solid, as of a colour of its own: skin that is half green has no more of the screen's primary than grey does. Told by blurred edges
 * beside it, wider than it reaches in from them, and by its colour, which is a mixture of the screen and of the surface that it goes over into.
 * @param plate the reduced copy, linear @param screen at its size, or one colour @param weight share of the first other channel in the excess, 0…1
 * @param certain 1 where the plate is certain subject @param steepness of the cover on blurred edges, per px; 0 elsewhere
 * @returns the excess of that surface at each such pixel, NaN elsewhere; null where there is none
 */
export function passedBy(
  plate: Picture,
  screen: Picture | Rgb,
  primary: Primary,
  weight: number,
  certain: Float32Array,
  steepness: Float32Array,
): Float32Array | null {
  const { width: w, height: h } = plate;
  const edges = labelComponents(
    maskOf(steepness, (s) => s > 0),
    w,
    h,
  );
  const blurred = maskOf(edges.labels, (label) => label > 0 && (edges.areas[label] as number) >= LEAST);
  if (!blurred.includes(1)) return null;
  const reach = steepness.map((s, i) => (blurred[i] ? 1 / s : 0));
  fillIn([reach], new Float32Array(blurred), w, h);
  const toBlurred = distanceTo(blurred, w, h);
  const doubtful = maskOf(certain, (c, i) => c === 1 && (toBlurred[i] as number) <= (reach[i] as number));
  const { labels, areas } = labelComponents(doubtful, w, h);
  const at = areas.map((area, label) => (label > 0 && area >= LEAST ? ([] as number[]) : null));
  for (let i = 0; i < labels.length; i++) at[labels[i] as number]?.push(i);
  let found: Float32Array | null = null;
  for (const pixels of at) {
    const surface = pixels && surfaceBeside(plate, pixels, (i) => certain[i] === 1 && !doubtful[i]);
    if (!surface) continue;
    const own = excessOf(surface, primary, weight);
    const mixture = (i: number) =>
      asMixture(
        plate,
        i,
        surface,
        isPicture(screen) ? { r: screen.r[i] as number, g: screen.g[i] as number, b: screen.b[i] as number } : screen,
      );
    const explained = pixels.flatMap((i) => {
      const mixed = mixture(i);
      return mixed ? [{ i, cover: mixed.cover }] : [];
    });
    const covers = Float32Array.from(explained, ({ cover }) => cover);
    if (explained.length < MOST_OF_IT * pixels.length || middleOf(covers, 1) > OPEN) continue;
    found ??= new Float32Array(w * h).fill(Number.NaN);
    const there = new Uint8Array(w * h);
    for (const { i } of explained) there[i] = 1;
    // Its blurred edges are of the same surface, as far as they reach, and what grain parts from it.
    const away = distanceTo(there, w, h);
    for (let i = 0; i < away.length; i++) {
      if (!there[i] && ((certain[i] === 1 && !doubtful[i]) || (away[i] as number) > (reach[i] as number))) continue;
      const mixed = mixture(i);
      if (mixed) found[i] = mixed.shade * own;
    }
  }
  return found;
}

/** The middle colour of what is certain beside a place, as near as there is any; null where there is none. */
function surfaceBeside(plate: Picture, pixels: readonly number[], isCertain: (i: number) => boolean): Rgb | null {
  const { width: w, height: h } = plate;
  const beside = new Set<number>();
  for (let away = NEAREST; beside.size < ENOUGH && away <= FARTHEST; away *= 2)
    for (const i of pixels) {
      const [x, y] = [i % w, Math.floor(i / w)];
      for (let v = y - away; v <= y + away; v += away)
        for (let u = x - away; u <= x + away; u += away)
          if (u >= 0 && v >= 0 && u < w && v < h && isCertain(v * w + u)) beside.add(v * w + u);
    }
  if (beside.size < ENOUGH) return null;
  const places = Uint32Array.from(beside);
  const middle = (c: "r" | "g" | "b") => middleOf(valuesAt(plate[c], places), 0);
  return { r: middle("r"), g: middle("g"), b: middle("b") };
}

/** A pixel's share of a surface, and how much brighter than that it is there. */
interface Mixture {
  readonly cover: number;
  readonly shade: number;
}

/** A pixel as p of a surface and q of what is behind, which is a mixture of the surface in more or less light; null where that does not explain it. */
function asMixture(plate: Picture, i: number, surface: Rgb, behind: Rgb): Mixture | null {
  let [ff, fb, bb, cf, cb, cc] = [0, 0, 0, 0, 0, 0];
  for (const c of ["r", "g", "b"] as const) {
    const [f, b, v] = [surface[c], behind[c], plate[c][i] as number];
    ff += f * f;
    fb += f * b;
    bb += b * b;
    cf += v * f;
    cb += v * b;
    cc += v * v;
  }
  const apart = ff * bb - fb * fb;
  const p = (cf * bb - cb * fb) / apart;
  const q = (cb * ff - cf * fb) / apart;
  const cover = 1 - q;
  if (cc - p * cf - q * cb > LEFT * LEFT * (ff + bb) || cover > WHOLE) return null;
  // Of so little the light says nothing.
  if (cover < LITTLE) return { cover, shade: 1 };
  const shade = p / cover;
  return shade < DARKEST || shade > BRIGHTEST ? null : { cover, shade };
}
