import { edgeColour } from "../edge/edge-colour";
import { type Allocate, cropChannel, cropPicture, type Picture, type Plane, type Region } from "../image/plane";
import { placePicture, shrinkPicture } from "../image/resample";
import { colourDifference, excessOf } from "../key/colour-difference";
import { holdOut, matteLevels } from "../matte/levels";
import { garbageMatte } from "../matte/polygon";
import { type FigureMap, measureFigures, measureSpill } from "../measure/figures";
import { fitPlacement } from "../scene/fit";
import { straightOverOpaque } from "../scene/over";
import { screenPrimary } from "../screen/primary";
import { limitSpill } from "../spill/limit";
import type { Pass, Recipe } from "./schema";
import { StepCache } from "./step-cache";

/** A decoded frame and a key that changes whenever its pixels do. */
export interface Source {
  readonly key: string;
  /** Scene-linear, full size. */
  readonly picture: Picture;
}

export interface Sources {
  readonly plate: Source;
  readonly background?: Source;
}

export const OUTPUTS = [
  "plate",
  "garbage",
  "pull",
  "matte",
  "spillRemoved",
  "spillMap",
  "foreground",
  "background",
  "composite",
  "figures",
] as const;
export type OutputName = (typeof OUTPUTS)[number];

export interface Request {
  /** Part of the full frame, in full-size pixels; the whole frame without it. Snapped outwards to whole reduced pixels. */
  readonly region?: Region;
  /** Reduction: 1 full size, 2 half, 4 quarter… */
  readonly reduce: number;
  readonly outputs: readonly OutputName[];
}

export interface Figured extends FigureMap {
  /** Spill that was taken from the subject, relative to the screen's own excess, 0…1. */
  readonly spill: number;
}

/** What was asked for; pictures and planes are valid until the next call with the same cache. */
export interface Evaluation {
  readonly width: number;
  readonly height: number;
  plate?: Picture;
  /** 1 where bounds throw away. */
  garbage?: Plane;
  /** The matte before levels and bounds. */
  pull?: Plane;
  matte?: Plane;
  /** The plate with spill taken out. */
  spillRemoved?: Picture;
  /** Light taken from the screen primary. */
  spillMap?: Plane;
  /** Straight colour, spill treated, screen out of mixed pixels; `a` is the matte. */
  foreground?: Picture;
  background?: Picture;
  /** Foreground over background, opaque. Without a background, over black. */
  composite?: Picture;
  /** Figures of the whole frame; only for requests without a region. */
  figures?: Figured;
}

/** FNV-1a over the text, as a short key. Keys are compared within one session only. */
function hash(text: string): string {
  let h = 0x811c9dc5;
  let g = 0x1b873593;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    h = Math.imul(h ^ c, 0x01000193);
    g = Math.imul(g ^ c, 0x85ebca6b) ^ (g >>> 13);
  }
  return (h >>> 0).toString(36) + (g >>> 0).toString(36);
}

const keyOf = (...parts: unknown[]): string => hash(JSON.stringify(parts));
const channels = (p: Picture): Float32Array[] => [p.r, p.g, p.b, ...(p.a ? [p.a] : [])];

/** The recipe needs a screen colour before anything can be pulled. */
export class NoScreenError extends Error {
  constructor() {
    super("No screen colour yet: sample the screen first.");
  }
}

/**
 * Runs the steps of a recipe on one frame. Pure: the same recipe, sources and request give the same numbers anywhere.
 * Each step is kept under a key made of its own settings and its inputs' keys, so that a change recomputes from its
 * step down and no more.
 * @throws NoScreenError when an output is asked for that needs a screen colour and the recipe has none
 * @throws RangeError when the settings contradict each other
 */
export function evaluate(recipe: Recipe, sources: Sources, request: Request, cache: StepCache = new StepCache()): Evaluation {
  cache.trim();
  const allocate: Allocate = (n) => cache.pool.take(n);
  const full = sources.plate.picture;
  const factor = request.reduce;
  const scale = 1 / factor;
  const wanted = new Set(request.outputs);
  if (wanted.has("figures") && request.region) throw new RangeError("Figures are measured on the whole frame.");
  const part = request.region && snapRegion(request.region, factor, full.width, full.height);
  const cut = part ? keyOf(part) : "all";

  const plateKey = keyOf(sources.plate.key, factor, cut);
  const plate = cache.step("plate", plateKey, () => {
    const small = shrinkPicture(full, factor);
    const picture = part ? cropPicture(small, part) : small;
    return { value: picture, owned: picture === full ? [] : channels(picture) };
  });
  const { width, height } = plate;
  const out: Evaluation = { width, height };
  if (wanted.has("plate")) out.plate = plate;

  const pass = recipe.passes[0] as Pass;
  const wants = (...names: OutputName[]) => names.some((n) => wanted.has(n));
  const background = () => {
    const back = sources.background;
    if (!back) return undefined;
    const { fit, scale: enlarge, x, y } = recipe.scene;
    return cache.step("background", keyOf(back.key, fit, enlarge, x, y, factor, cut, full.width, full.height), () => {
      const p = fitPlacement(back.picture.width, back.picture.height, full.width, full.height, { fit, scale: enlarge, x, y });
      const place = {
        scaleX: p.scaleX * scale,
        scaleY: p.scaleY * scale,
        offsetX: p.offsetX * scale - (part?.x ?? 0),
        offsetY: p.offsetY * scale - (part?.y ?? 0),
      };
      // What the background leaves free is black; where it has alpha, it is premultiplied so that it lies over black too.
      const placed = placePicture(back.picture, width, height, place, false);
      const a = placed.a as Float32Array;
      for (const c of [placed.r, placed.g, placed.b]) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) * (a[i] as number);
      return { value: placed, owned: channels(placed) };
    });
  };
  if (wanted.has("background")) out.background = background();
  if (!wants("garbage", "pull", "matte", "spillRemoved", "spillMap", "foreground", "composite", "figures")) return out;

  const shapes = recipe.bounds.garbage.filter((s) => s.points.length >= 3);
  const boundsKey = keyOf(
    shapes.map(({ points, out, soft }) => [points, out, soft]),
    full.width,
    full.height,
    factor,
    cut,
  );
  const garbage = shapes.length
    ? cache.step("bounds", boundsKey, () => {
        const whole = garbageMatte(shapes, Math.ceil(full.width / factor), Math.ceil(full.height / factor), scale);
        const plane = part ? { width, height, data: cropChannel(whole.data, whole.width, part) } : whole;
        return { value: plane, owned: [plane.data] };
      })
    : undefined;
  if (wanted.has("garbage") && garbage) out.garbage = garbage;
  if (!wants("pull", "matte", "spillRemoved", "spillMap", "foreground", "composite", "figures")) return out;

  const screen = recipe.screen.colour;
  if (!screen) throw new NoScreenError();
  const primary = screenPrimary(screen);
  const { weight } = pass.pull;

  const pullKey = keyOf(plateKey, screen, weight);
  const pull = cache.step("pull", pullKey, () => {
    const plane = colourDifference(plate, { screen, primary, weight }, allocate);
    return { value: plane, owned: [plane.data] };
  });
  if (wanted.has("pull")) out.pull = pull;

  const levelsKey = keyOf(pullKey, pass.matte);
  const levelled = cache.step("matte", levelsKey, () => {
    const plane = matteLevels(pull, pass.matte, allocate);
    return { value: plane, owned: [plane.data] };
  });
  const matteKey = garbage ? keyOf(levelsKey, boundsKey) : levelsKey;
  const matte = garbage
    ? cache.step("holdout", matteKey, () => {
        const plane = holdOut(levelled, garbage, allocate);
        return { value: plane, owned: [plane.data] };
      })
    : levelled;
  if (wanted.has("matte")) out.matte = matte;
  if (!wants("spillRemoved", "spillMap", "foreground", "composite", "figures")) return out;

  const spillSettings = { primary, limit: pass.spill.limit, amount: pass.spill.amount };
  const spillKey = keyOf(plateKey, spillSettings);
  const spill = cache.step("spill", spillKey, () => {
    const treated = limitSpill(plate, spillSettings, allocate);
    return { value: treated, owned: [treated.removed, treated.picture[primary]] };
  });
  if (wanted.has("spillRemoved")) out.spillRemoved = spill.picture;
  if (wanted.has("spillMap")) out.spillMap = { width, height, data: spill.removed };

  if (wanted.has("figures"))
    out.figures = cache.step("figures", keyOf(pullKey, matteKey, spillKey), () => ({
      value: {
        ...measureFigures(pull, matte, garbage, scale),
        spill: measureSpill(spill.removed, matte, Math.max(0, excessOf(screen, primary, 0.5))),
      },
      owned: [],
    }));
  if (!wants("foreground", "composite")) return out;

  const edgeKey = keyOf(spillKey, matteKey, screen, pass.edge);
  const coloured =
    pass.edge.screenOut > 0
      ? cache.step("edge", edgeKey, () => {
          const picture = edgeColour(plate, spill.picture, matte, screen, pass.edge.screenOut, spillSettings, allocate);
          return { value: picture, owned: channels(picture) };
        })
      : spill.picture;
  if (wanted.has("foreground")) out.foreground = { ...coloured, a: matte.data };
  if (wanted.has("composite")) {
    const back = background();
    out.composite = cache.step("composite", keyOf(edgeKey, back ? [sources.background?.key, recipe.scene] : null, cut), () => {
      const behind = back ?? { width, height, r: zeros(width * height), g: zeros(width * height), b: zeros(width * height) };
      const picture = straightOverOpaque(coloured, matte.data, behind, allocate);
      return { value: picture, owned: channels(picture) };
    });
  }
  return out;
}

let zero = new Float32Array(0);
const zeros = (n: number): Float32Array => {
  if (zero.length !== n) zero = new Float32Array(n);
  return zero;
};

/** A region of the full frame in whole reduced pixels that cover it. */
export function snapRegion(region: Region, factor: number, width: number, height: number): Region {
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const x = Math.min(w - 1, Math.max(0, Math.floor(region.x / factor)));
  const y = Math.min(h - 1, Math.max(0, Math.floor(region.y / factor)));
  const right = Math.min(w, Math.max(x + 1, Math.ceil((region.x + region.width) / factor)));
  const bottom = Math.min(h, Math.max(y + 1, Math.ceil((region.y + region.height) / factor)));
  return { x, y, width: right - x, height: bottom - y };
}
