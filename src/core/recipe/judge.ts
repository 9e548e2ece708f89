import { luminance } from "../color/hue";
import { lumaOf } from "../image/luma";
import { maskUnder } from "../image/mask";
import { linesOf, type Plane } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import { type Finding, findFaults } from "../measure/findings";
import { edgeFlicker, type Watched, watched } from "../measure/flicker";
import { type StrandsPlace, strandsPlace } from "../measure/strands";
import { screenEvenness } from "../screen/light";
import { screenPrimary } from "../screen/primary";
import { type Evaluation, evaluate, type Figured, looksAtBackground } from "./evaluate";
import type { Recipe } from "./schema";
import type { Sources } from "./sources";
import type { StepCache } from "./step-cache";

/** Figures of one frame; units as in core/measure/figures. */
export interface Measured {
  readonly holes: number;
  readonly residue: number;
  readonly edgeLoss: number;
  readonly clearance: number | null;
  readonly spill: number;
  readonly softBand: number;
  /** Pull histogram, 128 bins over 0…1, as shares of the frame. */
  readonly histogram: number[];
  /** Evenness of the screen in this frame, in stops, as the plate report tells it; null before a screen is sampled. */
  readonly evenness: number | null;
  /** By how many stops the sampled colour is darker than the middle of the screen; negative where it is lighter. */
  readonly darker: number | null;
}

/** Which frame is judged, at which size. */
export interface JudgedAt {
  /** From 1. */
  readonly frame: number;
  /** 1 for the exact figures. */
  readonly reduce: number;
}

/** Most light values from which the screen's middle is told. */
const LIGHTS = 100_000;

/** Figures of a whole frame; null before a screen is sampled. */
export function measureFrame(recipe: Recipe, sources: Sources, at: JudgedAt, cache: StepCache): Measured | null {
  const { colour } = recipe.screen;
  if (!colour) return null;
  const e = evaluate(recipe, sources, { ...at, outputs: ["figures", "pull", "plate"] }, cache) as Required<Evaluation>;
  const { data } = e.pull;
  const histogram = new Array<number>(128).fill(0);
  for (let i = 0; i < data.length; i++) histogram[Math.min(127, Math.floor((data[i] as number) * 128))]!++;
  const mask = maskUnder(data, 0.5);
  const luma = lumaOf(e.plate);
  // A hundred thousand pixels pin the middle well enough.
  const stride = Math.ceil(mask.length / LIGHTS);
  const light = middleOf(valuesWhere(luma.data, mask, stride), null);
  const level = luminance(colour);
  const { figures, spill } = e.figures;
  return {
    ...figures,
    spill,
    histogram: histogram.map((n) => n / data.length),
    evenness: screenEvenness(e.plate, screenPrimary(colour)),
    darker: light !== null && level > 0 ? Math.log2(light / level) : null,
  };
}

/** What is wrong with a frame, worst first, and where strands lose most. */
export interface Found {
  readonly list: readonly Finding[];
  readonly strands: StrandsPlace | null;
}

/** Side of the square in which strands are looked for, as a share of the frame's lines. */
const STRANDS_SIDE = 0.25;

/**
 * What is wrong with one frame. Paint is left out: it covers faults, it does not mend them.
 * @param pass id of the pass whose settings remedies start from
 * @param nearby the neighbouring frames' mattes at the same size, for what blinks
 */
export function judgeFrame(
  recipe: Recipe,
  sources: Sources,
  at: JudgedAt & { readonly pass: string },
  cache: StepCache,
  nearby: readonly Plane[] = [],
): Found {
  const screen = recipe.screen.colour;
  const judged = recipe.passes.find((p) => p.id === at.pass) ?? recipe.passes[0];
  if (!screen || !judged) return { list: [], strands: null };
  const outputs = ["plate", "pull", "matte", "foreground", "garbage", "figures", "background", "cleanPlate", "nearScreen"] as const;
  const { pass: _, ...frame } = at;
  const e = evaluate({ ...recipe, paint: [] }, sources, { ...frame, outputs }, cache);
  const { plate, pull, matte, foreground, garbage, figures } = e as Required<Evaluation>;
  const scale = 1 / at.reduce;
  const strands = strandsPlace(pull, figures.edge, scale, Math.max(12, STRANDS_SIDE * linesOf(pull)));
  const list = findFaults(
    {
      plate,
      pull,
      matte,
      foreground,
      garbage,
      drawn: recipe.bounds.garbage.some((s) => s.kind === "garbage"),
      figures,
      screen,
      primary: screenPrimary(screen),
      clean: e.cleanPlate,
      nearScreen: e.nearScreen,
      nearby,
      background: sources.background && e.background,
      scale,
    },
    judged,
  );
  return { list, strands };
}

/**
 * Specks that blink on one frame, told by its neighbours; null where there are none, or no neighbour.
 * @param sourcesOf everything the recipe looks at for a frame of the plate
 * @param last number of the plate's last frame
 */
export async function judgeBlinking(
  recipe: Recipe,
  sourcesOf: (frame: number) => Promise<Sources>,
  at: JudgedAt & { readonly pass: string },
  last: number,
  cache: StepCache,
): Promise<Finding | null> {
  if (!recipe.screen.colour) return null;
  const { frame, reduce } = at;
  const nearby: Plane[] = [];
  for (const n of [frame - 1, frame + 1])
    if (n >= 1 && n <= last) {
      const { matte } = evaluate(recipe, await sourcesOf(n), { frame: n, reduce, outputs: ["matte"] }, cache) as Required<Evaluation>;
      nearby.push(copyOf(matte));
    }
  if (nearby.length === 0) return null;
  const { list } = judgeFrame(recipe, await sourcesOf(frame), at, cache, nearby);
  return list.find((f) => f.kind === "blinking-specks") ?? null;
}

/** So that the next evaluation may take the step's memory. */
const copyOf = (matte: Plane): Plane => ({ ...matte, data: matte.data.slice() });

/** A frame as edge flicker compares it. */
export function watchFrame(recipe: Recipe, sources: Sources, at: JudgedAt, cache: StepCache): Watched {
  const { matte, plate } = evaluate(recipe, sources, { ...at, outputs: ["matte", "plate"] }, cache) as Required<Evaluation>;
  return watched(copyOf(matte), plate);
}

/** A frame's figures over the shot. */
export interface ShotFrame {
  readonly frame: number;
  readonly holes: number;
  readonly residue: number;
  readonly edgeLoss: number;
  readonly clearance: number | null;
  readonly spill: number;
  /** Edge flicker against the frame before, in 1/1000; null for the first, and without a still edge. */
  readonly flicker: number | null;
  readonly findings: readonly Finding[];
}

/**
 * Figures and findings of consecutive frames, each against its neighbours.
 * @param sourcesOf everything the recipe looks at for a frame of the plate
 * @param last number of the plate's last frame
 * @returns one frame's row after the other; nothing before a screen is sampled
 */
export async function* measureShot(
  recipe: Recipe,
  sourcesOf: (frame: number) => Promise<Sources>,
  frames: readonly number[],
  last: number,
  reduce: number,
  cache: StepCache,
): AsyncGenerator<ShotFrame> {
  const mattes = new Map<number, Watched>();
  const matteAt = async (frame: number) => {
    let made = mattes.get(frame);
    if (!made) {
      made = watchFrame(recipe, await sourcesOf(frame), { frame, reduce }, cache);
      mattes.set(frame, made);
    }
    return made;
  };
  if (!recipe.screen.colour) return;
  const pass = (recipe.passes.find((p) => p.on) ?? recipe.passes[0])?.id ?? "";
  for (const frame of frames) {
    const here = await matteAt(frame);
    const before = frame > 1 ? await matteAt(frame - 1) : null;
    const after = frame < last ? await matteAt(frame + 1) : null;
    const nearby = [before, after].filter((m) => m !== null).map((m) => m.matte);
    const sources = await sourcesOf(frame);
    const { list } = judgeFrame(recipe, sources, { frame, reduce, pass }, cache, nearby);
    const { figures, spill } = evaluate(recipe, sources, { frame, reduce, outputs: ["figures"] }, cache).figures as Figured;
    const { holes, residue, edgeLoss, clearance } = figures;
    yield { frame, holes, residue, edgeLoss, clearance, spill, flicker: before && edgeFlicker(before, here), findings: list };
    for (const n of mattes.keys()) if (n < frame) mattes.delete(n);
  }
}

/** Whether judging a frame looks at the background. */
export const judgesBackground = (recipe: Recipe): boolean => recipe.scene.background !== null || looksAtBackground(recipe, ["foreground"]);
