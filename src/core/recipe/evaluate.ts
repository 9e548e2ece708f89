import type { Rgb } from "../color/hue";
import { lightWrap } from "../edge/light-wrap";
import { decodeWithRebuiltChroma, hasCoarseChroma } from "../image/chroma-rebuild";
import {
  type Allocate,
  channels,
  cropChannel,
  cropPicture,
  type Picture,
  type Plane,
  type Region,
  snapRegion,
  wholeOf,
} from "../image/plane";
import { placePicture, shrinkPicture } from "../image/resample";
import { wideBlur } from "../image/wide-blur";
import { excessOf } from "../key/colour-difference";
import { joinBeyond } from "../matte/beyond-screen";
import { outlineAt } from "../matte/keys";
import { holdIn, holdOut } from "../matte/levels";
import { ownersOf } from "../matte/owners";
import { type DrawnShape, shapesMatte } from "../matte/polygon";
import { dropBlinking, steadyMatte } from "../matte/steady";
import { stillPlaces } from "../matte/still";
import { type FigureMap, measureFigures, measureSpill } from "../measure/figures";
import { fitPlacement } from "../scene/fit";
import { straightOverOpaque } from "../scene/over";
import { insideBars } from "../screen/bars";
import { suppliedCleanPlate, synthesiseCleanPlate } from "../screen/clean-plate";
import { denoiseOverTime } from "../screen/denoise-over-time";
import { levelPlate } from "../screen/level";
import { prepareCopy } from "../screen/prepare";
import { otherChannels, screenPrimary } from "../screen/primary";
import { paintColour } from "../spill/paint";
import { joinColours, joinPasses, joinPulls, type PassFrame, type PassRun, passSteps } from "./pass-steps";
import type { Recipe } from "./schema";
import type { Nearby, PlateSource, Sources } from "./sources";
import { StepCache } from "./step-cache";
import { keyOf } from "./step-key";

export const OUTPUTS = [
  "plate",
  "prepared",
  "cleanPlate",
  "levelled",
  "garbage",
  "pull",
  "autoBounds",
  "matte",
  "owners",
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
  /** Number of the plate's frame, from 1: tells where keyed shapes are. */
  readonly frame?: number;
  /** Id of the pass that is looked at: its own pull, automatic bounds and spill. Without it the joined pull, and the first pass's. */
  readonly pass?: string;
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
  /** The copy that the matte is made from. */
  prepared?: Picture;
  /** The screen without the subject, as the pull sees it; absent when it pulls against one colour. */
  cleanPlate?: Picture;
  /** The plate with its screen brought to one colour. */
  levelled?: Picture;
  /** What automatic bounds hold and throw away: 1 in, 0 out, 0.5 undecided. */
  autoBounds?: Plane;
  /** 1 where bounds throw away. */
  garbage?: Plane;
  /** The matte before levels and bounds. */
  pull?: Plane;
  matte?: Plane;
  /** Which pass owns each pixel: 1 for the first pass that is on, 2 for the next…; 0 where the matte is empty. */
  owners?: Plane;
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

/** Whether these outputs depend on the background: also where its light is put back for spill. */
export const looksAtBackground = (recipe: Recipe, outputs: readonly OutputName[]): boolean =>
  outputs.includes("composite") || outputs.includes("background") || recipe.passes.some((p) => p.on && p.spill.replace === "background");

/** Numbers of the neighbouring frames that a recipe looks at besides the one asked for. */
export function framesNearby(recipe: Recipe, frame: number, frames: number): number[] {
  const looks = recipe.prepare.overTime > 0 || recipe.time.steady > 0 || recipe.time.blinking > 0;
  return looks ? [frame - 1, frame + 1].filter((n) => n >= 1 && n <= frames) : [];
}

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
  const wantsMatte = request.outputs.some(
    (o) => o === "matte" || o === "owners" || o === "foreground" || o === "composite" || o === "figures",
  );
  const looks = wantsMatte && recipe.screen.colour && (recipe.time.steady > 0 || recipe.time.blinking > 0);
  const nearby = looks ? mattesNearby(recipe, sources, request, cache) : [];
  return runSteps(recipe, sources, request, cache, nearby);
}

interface NearbyMatte {
  readonly key: string;
  readonly matte: Plane;
}

/** The neighbouring frames' own mattes, copied, so that the memory of their steps may go before this frame's are made. */
function mattesNearby(recipe: Recipe, sources: Sources, { reduce }: Request, cache: StepCache): NearbyMatte[] {
  const alone: Recipe = { ...recipe, time: { steady: 0, blinking: 0 }, paint: [] };
  const made = (sources.nearby ?? []).map(({ frame, source }) => {
    const { nearby: _, ...rest } = sources;
    const behind = looksAtBackground(alone, ["matte"]) ? (sources.background?.key ?? null) : null;
    const key = keyOf(source.key, sources.clean?.key ?? null, behind, { ...alone, scene: null }, frame, reduce);
    const matte = cache.step("nearbyMatte", key, () => {
      const plane = runSteps(alone, { ...rest, plate: source }, { reduce, outputs: ["matte"], frame }, cache, []).matte as Plane;
      // Not the pool's memory: it must outlive what the trim below lets go.
      return { value: { ...plane, data: plane.data.slice() }, owned: [] };
    });
    return { key, matte };
  });
  cache.trim();
  return made;
}

function runSteps(recipe: Recipe, sources: Sources, request: Request, cache: StepCache, mattes: readonly NearbyMatte[]): Evaluation {
  const allocate: Allocate = (n) => cache.pool.take(n);
  const full = sources.plate.picture;
  const factor = request.reduce;
  const scale = 1 / factor;
  const wanted = new Set(request.outputs);
  const wants = (...names: OutputName[]) => names.some((n) => wanted.has(n));
  if (wanted.has("figures") && request.region) throw new RangeError("Figures are measured on the whole frame.");
  // Steps look at their surroundings, so they run on the whole frame and are kept; a region is cut from what comes out.
  const part = request.region && snapRegion(request.region, factor, full.width, full.height);
  const cutPicture = (p: Picture): Picture => (part ? cropPicture(p, part) : p);
  const cutPlane = (p: Plane): Plane => (part ? { width: part.width, height: part.height, data: cropChannel(p.data, p.width, part) } : p);

  const shrunk = (source: PlateSource) =>
    cache.step("plate", keyOf(source.key, factor), () => {
      const picture = shrinkPicture(source.picture, factor);
      return { value: picture, owned: picture === source.picture ? [] : channels(picture) };
    });
  const plateKey = keyOf(sources.plate.key, factor);
  const plate = shrunk(sources.plate);
  const { width, height } = plate;
  const out: Evaluation = { width: part?.width ?? width, height: part?.height ?? height };
  if (wanted.has("plate")) out.plate = cutPicture(plate);

  const background = () => {
    const back = sources.background;
    if (!back) return undefined;
    const { fit, scale: enlarge, x, y } = recipe.scene;
    return cache.step("background", keyOf(back.key, fit, enlarge, x, y, factor, full.width, full.height), () => {
      const p = fitPlacement(back.picture.width, back.picture.height, full.width, full.height, { fit, scale: enlarge, x, y });
      const place = { scaleX: p.scaleX * scale, scaleY: p.scaleY * scale, offsetX: p.offsetX * scale, offsetY: p.offsetY * scale };
      // What the background leaves free is black; where it has alpha, it is premultiplied so that it lies over black too.
      const placed = placePicture(back.picture, width, height, place, false);
      const a = placed.a as Float32Array;
      for (const c of [placed.r, placed.g, placed.b]) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) * (a[i] as number);
      return { value: placed, owned: channels(placed) };
    });
  };
  if (wanted.has("background")) {
    const behind = background();
    if (behind) out.background = cutPicture(behind);
  }

  const { chroma, overTime, ...rest } = recipe.prepare;
  const recorded = sources.plate.recorded;
  // At half size and below, chroma is as fine as luma anyway.
  const coarse = factor === 1 && recorded !== undefined;
  const rebuild = chroma && coarse;
  const { colour: screen, from: cleanFrom } = recipe.screen;
  const others = sources.nearby ?? [];
  const averaged = overTime > 0 && screen !== null && others.length > 0;
  const still = (source: PlateSource) =>
    cache.step("still", keyOf(plateKey, source.key, factor, screen), () => ({
      value: stillPlaces(plate, shrunk(source), screenLike(plate, screen as Rgb)),
      owned: [],
    }));
  const rebuilt = () =>
    cache.step("rebuilt", plateKey, () => {
      const { raw, reading } = recorded as NonNullable<typeof recorded>;
      const picture = decodeWithRebuiltChroma(raw, reading, allocate);
      return { value: picture, owned: channels(picture) };
    });
  const decoded = (source: PlateSource) =>
    rebuild && source.recorded ? decodeWithRebuiltChroma(source.recorded.raw, source.recorded.reading) : shrunk(source);
  const touched =
    averaged || rest.blur > 0 || rest.denoiseLuma > 0 || rest.denoiseChroma > 0 || (rest.flattenRounds > 0 && screen !== null);
  const preparedKey =
    rebuild || touched
      ? keyOf(
          plateKey,
          rebuild,
          rest,
          rest.flattenRounds ? screen : null,
          averaged ? [overTime, screen, others.map((o) => o.source.key)] : null,
        )
      : plateKey;
  const untouched = () => (rebuild ? rebuilt() : plate);
  const prepared = () =>
    !touched
      ? untouched()
      : cache.step("prepare", preparedKey, () => {
          const own = untouched();
          const base = averaged
            ? denoiseOverTime(
                own,
                others.map(({ source }) => ({ picture: decoded(source), still: still(source) })),
                overTime,
              )
            : own;
          const picture = prepareCopy(base, rest, screen, scale);
          return { value: picture, owned: channels(picture).filter((c) => !channels(own).includes(c)) };
        });
  if (wanted.has("prepared")) out.prepared = cutPicture(prepared());

  const primary = screen && screenPrimary(screen);
  const supplied = cleanFrom === "supplied" ? sources.clean : undefined;
  const cleanKey = cleanFrom === "none" ? "none" : keyOf(cleanFrom, supplied?.key ?? preparedKey, primary, factor);
  const cleanPlate = (): Picture | null => {
    if (cleanFrom === "none" || !primary) return null;
    return cache.step("clean", cleanKey, () => {
      const made = sources.plate.cleanPlate;
      const picture = supplied
        ? suppliedCleanPlate(shrinkPicture(supplied.picture, factor), plate, primary)
        : made
          ? shrinkPicture(made, factor)
          : synthesiseCleanPlate(prepared(), primary, allocate);
      return { value: picture, owned: channels(picture) };
    });
  };
  if (wanted.has("cleanPlate")) {
    const clean = cleanPlate();
    if (clean) out.cleanPlate = cutPicture(clean);
  }

  const drawn = (kind: "garbage" | "holdout") =>
    recipe.bounds.garbage
      .filter((s) => s.kind === kind && s.points.length >= 3)
      .map((s) => ({ ...s, points: outlineAt(s, request.frame ?? 1) }));
  const keyOfShapes = (list: readonly DrawnShape[]) =>
    keyOf(
      list.map(({ points, smooth, out: side, soft, lean }) => [points, smooth, side, soft, lean]),
      full.width,
      full.height,
      factor,
    );
  const shapes = drawn("garbage");
  const holdoutShapes = drawn("holdout");
  const holdoutsKey = keyOfShapes(holdoutShapes);
  const holdouts = holdoutShapes.length
    ? {
        key: holdoutsKey,
        plane: () =>
          cache.step("holdoutShapes", holdoutsKey, () => {
            const plane = shapesMatte(holdoutShapes, width, height, scale);
            return { value: plane, owned: [plane.data] };
          }),
      }
    : undefined;
  const beyond = recipe.bounds.beyond && primary;
  const inside = beyond ? cache.step("bars", plateKey, () => ({ value: insideBars(plate), owned: [] })) : wholeOf(plate);
  const boundsKey = keyOf(keyOfShapes(shapes), beyond ? [plateKey, primary, holdouts?.key ?? null] : null);
  const garbage =
    (shapes.length || beyond) && wants("garbage", "matte", "owners", "foreground", "composite", "figures", "levelled", "autoBounds")
      ? cache.step("bounds", boundsKey, () => {
          const plane = shapesMatte(shapes, width, height, scale);
          if (beyond) joinBeyond(plane, plate, primary, inside, holdouts?.plane());
          return { value: plane, owned: [plane.data] };
        })
      : undefined;
  if (wanted.has("garbage") && garbage) out.garbage = cutPlane(garbage);
  if (!wants("levelled", "pull", "autoBounds", "matte", "owners", "spillRemoved", "spillMap", "foreground", "composite", "figures"))
    return out;

  if (!screen || !primary) throw new NoScreenError();
  const against = () => cleanPlate() ?? screen;
  const backgroundKey = sources.background ? keyOf(sources.background.key, recipe.scene) : "none";
  const active = recipe.passes.filter((p) => p.on);
  if (active.length === 0) throw new RangeError("Every pass is off: switch one on in Pull.");
  const frame: PassFrame = {
    cache,
    allocate,
    scale,
    plate,
    plateKey,
    prepared,
    preparedKey,
    // Whether RGB hides coarse chroma takes time to tell: it is asked only where rims are put right.
    rebuilt:
      coarse && active.some((p) => p.edge.chroma > 0) && hasCoarseChroma(recorded.raw, recorded.reading.transfer) ? rebuilt : undefined,
    screen,
    primary,
    inside,
    against,
    cleanKey,
    holdouts,
    light: () => {
      const back = background();
      return (
        back && {
          key: backgroundKey,
          picture: cache.step("light", keyOf("light", backgroundKey, factor), () => {
            const blur = (c: Float32Array) => wideBlur(c, width, height, Math.max(1, recipe.scene.wrap.blur * scale));
            return { value: { width, height, r: blur(back.r), g: blur(back.g), b: blur(back.b) }, owned: [] };
          }),
        }
      );
    },
  };
  const runs = active.map((p) => passSteps(frame, p));
  // What is asked of one pass is the one that is looked at, or the first.
  const looked = runs[
    Math.max(
      0,
      active.findIndex((p) => p.id === request.pass),
    )
  ] as PassRun;
  if (wanted.has("pull")) out.pull = cutPlane(request.pass === undefined ? joinPulls(frame, active, runs).plane : looked.pull());
  if (wanted.has("autoBounds")) {
    const b = looked.bounds();
    if (b) out.autoBounds = cutPlane({ width, height, data: b.in.map((v, i) => 0.5 + 0.5 * v - 0.5 * (b.out[i] as number)) });
  }
  if (wanted.has("levelled")) {
    const pulled = joinPulls(frame, active, runs);
    const levelled = cache.step("level", keyOf(plateKey, pulled.key, boundsKey, recipe.screen.level), () => {
      const picture = levelPlate(plate, pulled.plane, against(), screen, recipe.screen.level, garbage, allocate);
      return { value: picture, owned: channels(picture) };
    });
    out.levelled = cutPicture(levelled);
  }
  if (!wants("matte", "owners", "spillRemoved", "spillMap", "foreground", "composite", "figures")) return out;

  const joined = joinPasses(frame, active, runs);
  const held = holdouts
    ? cache.step("held", keyOf(joined.key, holdouts.key), () => {
        const plane = holdIn(joined.plane, holdouts.plane(), allocate);
        return { value: plane, owned: [plane.data] };
      })
    : joined.plane;
  const cutKey = keyOf(joined.key, holdouts?.key ?? null, garbage ? boundsKey : null);
  const cut = garbage
    ? cache.step("holdout", cutKey, () => {
        const plane = holdOut(held, garbage, allocate);
        return { value: plane, owned: [plane.data] };
      })
    : held;
  const { steady, blinking } = recipe.time;
  const matteKey = mattes.length
    ? keyOf(
        cutKey,
        recipe.time,
        mattes.map((m) => m.key),
      )
    : cutKey;
  const matte = mattes.length
    ? cache.step("time", matteKey, () => {
        const planes = mattes.map((m) => m.matte);
        const whole = blinking > 0 ? dropBlinking(cut, planes, Math.max(1, blinking * scale * scale), allocate) : cut;
        const plane =
          steady > 0
            ? steadyMatte(
                whole,
                planes.map((p, k) => ({ matte: p, still: still((others[k] as Nearby).source) })),
                steady,
                allocate,
              )
            : whole;
        if (plane !== whole && whole !== cut) cache.pool.give(whole.data);
        return { value: plane, owned: [plane.data] };
      })
    : cut;
  if (wanted.has("matte")) out.matte = cutPlane(matte);
  if (wanted.has("owners")) out.owners = cutPlane({ width, height, data: ownersOf(joined.shares, matte.data) });
  if (wanted.has("spillRemoved")) out.spillRemoved = cutPicture(looked.spill().picture);
  if (wanted.has("spillMap")) out.spillMap = cutPlane({ width, height, data: looked.spill().removed });
  if (wanted.has("figures")) {
    const pulled = joinPulls(frame, active, runs);
    const first = runs[0] as PassRun;
    out.figures = cache.step("figures", keyOf(pulled.key, matteKey, first.spillKey), () => {
      const map = measureFigures(pulled.plane, matte, garbage, scale);
      const excess = Math.max(0, excessOf(screen, primary, 0.5));
      return { value: { ...map, spill: measureSpill(first.spill().removed, map.inside, excess, first.nearScreen()) }, owned: [] };
    });
  }
  if (!wants("foreground", "composite")) return out;
  // Only pulls look at the matte's copy, and rims at the rebuilt chroma.
  if (!wants("prepared")) {
    for (const run of runs) run.ownColour();
    cache.spent("prepare", "rebuilt");
  }

  const unpainted = joinColours(frame, runs, joined);
  const number = request.frame ?? 1;
  const strokes = recipe.paint.filter((p) => number >= p.first && number <= p.last);
  const coloured = strokes.length ? paintOver(unpainted) : unpainted;
  function paintOver(under: { key: string; picture: Picture }) {
    const key = keyOf(under.key, strokes);
    const picture = cache.step("paint", key, () => {
      const value = paintColour(under.picture, strokes, number, scale, allocate);
      return { value, owned: channels(value) };
    });
    return { key, picture };
  }
  if (wanted.has("foreground")) out.foreground = { ...cutPicture(coloured.picture), a: cutPlane(matte).data };
  if (wanted.has("composite")) {
    if (!wants("cleanPlate")) cache.spent("clean");
    const back = background();
    const composite = cache.step("composite", keyOf(coloured.key, matteKey, back ? backgroundKey : null), () => {
      const behind = back ?? { width, height, r: zeros(width * height), g: zeros(width * height), b: zeros(width * height) };
      const over = straightOverOpaque(coloured.picture, matte.data, behind, allocate);
      const { wrap } = recipe.scene;
      if (!back || wrap.strength === 0) return { value: over, owned: channels(over) };
      const lengths = { reach: wrap.reach * scale, blur: wrap.blur * scale, grow: wrap.grow * scale };
      const picture = lightWrap(over, matte, back, { ...wrap, ...lengths }, allocate);
      cache.pool.give(...channels(over));
      return { value: picture, owned: channels(picture) };
    });
    out.composite = cutPicture(composite);
  }
  return out;
}

/** Which pixels show screen by their excess of its primary. */
function screenLike(plate: Picture, screen: Rgb): (i: number) => boolean {
  const primary = screenPrimary(screen);
  const [u, v] = otherChannels(primary);
  const least = 0.5 * excessOf(screen, primary, 0.5);
  return (i) => (plate[primary][i] as number) - 0.5 * ((plate[u][i] as number) + (plate[v][i] as number)) > least;
}

let zero = new Float32Array(0);
const zeros = (n: number): Float32Array => {
  if (zero.length !== n) zero = new Float32Array(n);
  return zero;
};
