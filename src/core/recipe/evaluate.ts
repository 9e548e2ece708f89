import { type Allocate, cropChannel, cropPicture, type Picture, type Plane, type Region, snapRegion } from "../image/plane";
import { excessOf } from "../key/colour-difference";
import type { SubjectOwn } from "../key/subject-difference";
import { holdIn, holdOut } from "../matte/levels";
import { ownersOf } from "../matte/owners";
import { dropBlinking, steadyMatte } from "../matte/steady";
import { type FigureMap, measureFigures, measureSpill } from "../measure/figures";
import { levelPlate } from "../screen/level";
import { paintColour, strokesOn } from "../spill/paint";
import type { AskedFrame } from "./asked-frame";
import { type DrawnRun, drawnSteps } from "./drawn-steps";
import { type Joined, joinColours, joinPasses, joinPulls, type PassRun, passSteps } from "./pass-steps";
import { type PlateRun, plateSteps } from "./plate-steps";
import { sceneSteps } from "./scene-steps";
import type { Recipe } from "./schema";
import type { Nearby, Sources } from "./sources";
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
  "nearScreen",
  "subject",
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
  /** Where the pull takes surfaces for cloth of the screen's own hue, 0…1; absent where it does not look for them. */
  nearScreen?: Plane;
  /** What the first matte tells of the subject's own colour, over the whole frame; absent where the pull does not look for it, or finds no subject. */
  subject?: SubjectOwn;
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

/** Outputs that are made of what passes are joined to. */
const FROM_MATTE = ["matte", "owners", "spillRemoved", "spillMap", "foreground", "composite", "figures"] as const;

function runSteps(recipe: Recipe, sources: Sources, request: Request, cache: StepCache, mattes: readonly NearbyMatte[]): Evaluation {
  const allocate: Allocate = (n) => cache.pool.take(n);
  const { reduce } = request;
  const number = request.frame ?? 1;
  const asked: AskedFrame = { recipe, sources, reduce, number, cache, allocate };
  const wanted = new Set(request.outputs);
  const wants = (...names: readonly OutputName[]) => names.some((n) => wanted.has(n));
  if (wanted.has("figures") && request.region) throw new RangeError("Figures are measured on the whole frame.");
  // Steps look at their surroundings, so they run on the whole frame and are kept; a region is cut from what comes out.
  const full = sources.plate.picture;
  const part = request.region && snapRegion(request.region, reduce, full.width, full.height);
  const cutPicture = (p: Picture): Picture => (part ? cropPicture(p, part) : p);
  const cutPlane = (p: Plane): Plane => (part ? { width: part.width, height: part.height, data: cropChannel(p.data, p.width, part) } : p);

  const plateRun = plateSteps(asked);
  const { plate, plateKey, prepared, cleanPlate, primary } = plateRun;
  const { width, height } = plate;
  const scene = sceneSteps(asked, width, height);
  const out: Evaluation = { width: part?.width ?? width, height: part?.height ?? height };
  if (wanted.has("plate")) out.plate = cutPicture(plate);
  const behind = wanted.has("background") && scene.background();
  if (behind) out.background = cutPicture(behind);
  if (wanted.has("prepared")) out.prepared = cutPicture(prepared());
  const clean = wanted.has("cleanPlate") && cleanPlate();
  if (clean) out.cleanPlate = cutPicture(clean);
  const drawn = drawnSteps(asked, plateRun);
  const { garbage, holdouts } = drawn;
  if (wanted.has("garbage") && garbage) out.garbage = cutPlane(garbage.plane());
  if (!wants("levelled", "pull", "autoBounds", "nearScreen", "subject", ...FROM_MATTE)) return out;

  const { colour: screen } = recipe.screen;
  if (!screen || !primary) throw new NoScreenError();
  const against = () => cleanPlate() ?? screen;
  const active = recipe.passes.filter((p) => p.on);
  if (active.length === 0) throw new RangeError("Every pass is off: switch one on in Pull.");
  // Whether RGB hides coarse chroma takes time to tell: it is asked only where rims are put right.
  const rims = active.some((p) => p.edge.chroma > 0) && plateRun.isCoarse();
  const rebuilt = rims ? plateRun.rebuilt : undefined;
  const frame = { ...asked, ...plateRun, ...drawn, scale: 1 / reduce, screen, primary, against, rebuilt, light: scene.light };
  const runs = active.map((p) => passSteps(frame, p));
  const first = runs[0] as PassRun;
  // What is asked of one pass is the one that is looked at, or the first.
  const looked = runs[active.findIndex((p) => p.id === request.pass)] ?? first;
  if (wanted.has("pull")) out.pull = cutPlane(request.pass === undefined ? joinPulls(frame, active, runs).plane : looked.pull());
  if (wanted.has("autoBounds")) {
    const b = looked.bounds();
    if (b) out.autoBounds = cutPlane({ width, height, data: b.in.map((v, i) => 0.5 + 0.5 * v - 0.5 * (b.out[i] as number)) });
  }
  const subject = wants("nearScreen", "subject") ? looked.subject() : null;
  if (subject && wanted.has("nearScreen")) out.nearScreen = cutPlane({ width, height, data: subject.nearScreen });
  if (subject && wanted.has("subject")) out.subject = subject;
  if (wanted.has("levelled")) {
    const pulled = joinPulls(frame, active, runs);
    const levelled = cache.picture("level", keyOf(plateKey, pulled.key, garbage?.key ?? null, recipe.screen.level), () =>
      levelPlate(plate, pulled.plane, against(), screen, recipe.screen.level, garbage?.plane(), allocate),
    );
    out.levelled = cutPicture(levelled);
  }
  if (!wants(...FROM_MATTE)) return out;

  const joined = joinPasses(frame, active, runs);
  const { key: matteKey, plane: matte } = matteSteps(asked, plateRun, drawn, joined, mattes);
  if (wanted.has("matte")) out.matte = cutPlane(matte);
  if (wanted.has("owners")) out.owners = cutPlane({ width, height, data: ownersOf(joined.shares, matte.data) });
  if (wanted.has("spillRemoved")) out.spillRemoved = cutPicture(looked.spill().picture);
  if (wanted.has("spillMap")) out.spillMap = cutPlane({ width, height, data: looked.spill().removed });
  if (wanted.has("figures")) {
    const pulled = joinPulls(frame, active, runs);
    out.figures = cache.step("figures", keyOf(pulled.key, matteKey, first.spillKey), () => {
      const map = measureFigures(pulled.plane, matte, garbage?.plane(), frame.scale, holdouts?.plane());
      const excess = Math.max(0, excessOf(screen, primary, 0.5));
      return { value: { ...map, spill: measureSpill(first.spill().removed, map.inside, excess, first.subject()?.nearScreen) }, owned: [] };
    });
  }
  if (!wants("foreground", "composite")) return out;
  // Only pulls look at the matte's copy, and rims at the rebuilt chroma.
  if (!wants("prepared")) {
    for (const run of runs) run.ownColour();
    cache.spent("prepare", "rebuilt");
  }

  const coloured = painted(asked, joinColours(frame, runs, joined));
  if (wanted.has("foreground")) out.foreground = { ...cutPicture(coloured.picture), a: cutPlane(matte).data };
  if (wanted.has("composite")) {
    if (!wants("cleanPlate")) cache.spent("clean");
    out.composite = cutPicture(scene.composite(coloured, matte, matteKey));
  }
  return out;
}

/** The passes' joined matte with what drawn shapes hold and throw away, steadied by those of the neighbouring frames. */
function matteSteps(
  { recipe, sources, reduce, cache, allocate }: AskedFrame,
  { still }: PlateRun,
  { garbage, holdouts }: DrawnRun,
  joined: Joined,
  mattes: readonly NearbyMatte[],
): { readonly key: string; readonly plane: Plane } {
  const kept = (name: string, key: string, make: () => Plane) => ({ key, plane: cache.plane(name, key, make) });
  const held = holdouts
    ? kept("held", keyOf(joined.key, holdouts.key), () => holdIn(joined.plane, holdouts.plane(), allocate))
    : { key: joined.key, plane: joined.plane };
  const cut = garbage ? kept("holdout", keyOf(held.key, garbage.key), () => holdOut(held.plane, garbage.plane(), allocate)) : held;
  if (!mattes.length) return cut;
  const { steady, blinking } = recipe.time;
  const key = keyOf(
    cut.key,
    recipe.time,
    mattes.map((m) => m.key),
  );
  return kept("time", key, () => {
    const planes = mattes.map((m) => m.matte);
    const whole = blinking > 0 ? dropBlinking(cut.plane, planes, Math.max(1, blinking / (reduce * reduce)), allocate) : cut.plane;
    if (steady === 0) return whole;
    const around = planes.map((matte, k) => ({ matte, still: still(((sources.nearby ?? [])[k] as Nearby).source) }));
    const plane = steadyMatte(whole, around, steady, allocate);
    if (whole !== cut.plane) cache.pool.give(whole.data);
    return plane;
  });
}

type Coloured = ReturnType<typeof joinColours>;

/** The treated colour with the frame's strokes of paint over it. */
function painted({ recipe, reduce, number, cache, allocate }: AskedFrame, under: Coloured): Coloured {
  const strokes = strokesOn(recipe.paint, number);
  if (!strokes.length) return under;
  const key = keyOf(under.key, strokes, strokes.some((p) => p.keys.length > 0) && number);
  return { key, picture: cache.picture("paint", key, () => paintColour(under.picture, strokes, number, 1 / reduce, allocate)) };
}
