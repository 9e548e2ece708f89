import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import type { Picture } from "../image/plane";
import { filledScreen } from "./falloff";
import { ownLight } from "./own-light";
import type { Primary } from "./primary";

/** Least part of the frame that a place at its border must take so that the screen elsewhere is filled in from it. */
const TRUSTED = 0.02;
/**
 * Least part of the screen's light that a veil takes; under that, what comes back to shade from pale clothes beside it is as much. Least part where no
 * clothes are: everything around, so far off in reduced px, has that share of the screen's hue.
 */
const LACK = 0.2;
const LITTLE = 0.05;
const BESIDE = 5;
const OF_HUE = 0.75;
/**
 * Own light of a place, the two other channels together, up to which only light is missing: as a share of what it lacks, and of its
 * light; and where it lacks little. Black mesh out of focus has .06 to .1 of what it lacks, thin black veils and mesh .06 to .5, shade less than .01.
 */
const OWN = 0.02;
const OWN_OF_LITTLE = 0.06;
const OWN_OF_LIGHT = 0.0025;
/** By how much more where there is grain: as a share of its own median, over the root of the place's pixels. */
const OWN_OF_GRAIN = 1.5;
/**
 * Area, as a share of the frame, under which a place is too small to tell: of many such behind one veil some pass by chance. It goes with a veil
 * that is so near, as a share of the width.
 */
const TOO_SMALL = 1 / 6000;
const NEAR = 1 / 16;

/**
 * Takes out of certain screen what lies behind a veil or a mesh, as dark as they may be: out of focus they are smooth
 * and have the screen's hue. Such a place stands apart, is darker than the screen filled in from around, and of the light that it lacks
 * something has come instead. Of shade nothing has. A pixel's own light is lost in grain; a place's, all pixels together, is not, unless they are few.
 * @param certain 1 where the plate shows nothing but screen, as far as single pixels tell; changed in place
 * @param hue 1 where the plate has the screen's hue
 */
export function dropBehindVeils(small: Picture, primary: Primary, certain: Float32Array, hue: Uint8Array): void {
  const { width, height } = small;
  const n = width * height;
  const { labels, areas, atBorder } = labelComponents(Uint8Array.from(certain), width, height);
  const largest = areas.reduce((best, area, l) => (l > 0 && area > (areas[best] ?? 0) ? l : best), 0);
  const trusted = areas.map((area, l) => l === largest || ((atBorder[l] as boolean) && area >= TRUSTED * n));
  if (areas.every((_, l) => l === 0 || trusted[l])) return;
  const known = certain.map((v, i) => (v && trusted[labels[i] as number] ? 1 : 0));
  const clean = filledScreen(small, known);
  const { main, screen, beyond, grain } = ownLight(clean, small, primary, known);
  const [light, lack, own] = [0, 1, 2].map(() => new Float64Array(areas.length)) as [Float64Array, Float64Array, Float64Array];
  for (let i = 0; i < n; i++) {
    const l = labels[i] as number;
    if (!l || trusted[l]) continue;
    light[l]! += main[i] as number;
    lack[l]! += (screen[i] as number) - (main[i] as number);
    own[l]! += beyond[i] as number;
  }
  const lacksOver = (share: number, l: number) => (lack[l] as number) > share * ((light[l] as number) + (lack[l] as number));
  const beside = hueBeside(labels, trusted, hue, width, height);
  const much = areas.map((_, l) => lacksOver(LACK, l));
  const lacks = areas.map((_, l) => much[l] === true || ((beside[l] as number) > OF_HUE && lacksOver(LITTLE, l)));
  const veiled = areas.map((area, l) => {
    const [left, missing] = [light[l] as number, lack[l] as number];
    const most = (much[l] ? OWN : OWN_OF_LITTLE) * missing + (OWN_OF_LIGHT + (OWN_OF_GRAIN * grain) / Math.sqrt(area)) * left;
    return lacks[l] === true && (own[l] as number) > most;
  });
  const told = veiled.map((v, l) => v && (areas[l] as number) >= TOO_SMALL * n);
  if (told.includes(true)) {
    const away = distanceTo(
      maskOf(labels, (l) => told[l] === true),
      width,
      height,
      NEAR * width + 1,
    );
    for (let i = 0; i < n; i++) {
      const l = labels[i] as number;
      if (lacks[l] && (areas[l] as number) < TOO_SMALL * n && (away[i] as number) <= NEAR * width) veiled[l] = true;
    }
  }
  for (let i = 0; i < n; i++) if (veiled[labels[i] as number]) certain[i] = 0;
}

/** Share of the screen's hue in what lies a little way off each place that is not trusted, to all four sides. */
function hueBeside(labels: Int32Array, trusted: readonly boolean[], hue: Uint8Array, width: number, height: number): Float64Array {
  const [around, ofHue] = [new Float64Array(trusted.length), new Float64Array(trusted.length)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const l = labels[y * width + x] as number;
      if (!l || trusted[l]) continue;
      for (const [u, v] of [
        [x - BESIDE, y],
        [x + BESIDE, y],
        [x, y - BESIDE],
        [x, y + BESIDE],
      ] as const) {
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const q = v * width + u;
        if (labels[q] === l) continue;
        around[l]!++;
        ofHue[l]! += hue[q] as number;
      }
    }
  return ofHue.map((h, l) => h / Math.max(1, around[l] as number));
}
