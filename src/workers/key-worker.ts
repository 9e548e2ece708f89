import * as Comlink from "comlink";
import { type Rgb, rgbToHsv } from "../core/color/hue";
import { encodeWith } from "../core/color/transfer";
import { clipRegion, type Picture, type Plane, type Region, snapRegion } from "../core/image/plane";
import { shrinkPicture } from "../core/image/resample";
import { type ColourRange, rangeOf } from "../core/key/colour-ranges";
import { type FollowedGround, followThrough, type Ground } from "../core/matte/follow";
import { nothingOccupied, type Occupied, occupy, type Tightest, tightestSafe } from "../core/matte/tightest";
import { densestPlace } from "../core/measure/densest";
import { edgeFlicker } from "../core/measure/flicker";
import { type Scope, vectorPlot, waveform } from "../core/measure/scopes";
import { type Proposal, proposeRecipe } from "../core/recipe/auto";
import type { Shape } from "../core/recipe/drawn-schema";
import { type Evaluation, evaluate, looksAtBackground, type OutputName } from "../core/recipe/evaluate";
import { type Found, judgeBlinking, judgeFrame, judgesBackground, type Measured, measureFrame, watchFrame } from "../core/recipe/judge";
import { plateReading } from "../core/recipe/reading";
import type { Recipe } from "../core/recipe/schema";
import type { Sources } from "../core/recipe/sources";
import { StepCache } from "../core/recipe/step-cache";
import { locateScreen } from "../core/screen/locate";
import { screenPrimary } from "../core/screen/primary";
import { type PlateReport, reportPlate } from "../core/screen/report";
import { type ScreenSample, sampleScreen } from "../core/screen/sample";
import { measureSpillReach, type SpillProposal } from "../core/spill/measure";
import { drawView, type ViewRequest } from "./draw-view";
import { type Footage, FootageFrames } from "./footage";
import { smallReduce } from "./small";

/** A frame of a recipe, and what it is made from. */
interface FrameRequest {
  readonly recipe: Recipe;
  readonly plate: Footage;
  readonly clean: Footage | null;
  readonly background: Footage | null;
  readonly frame: number;
}

/** What is to be drawn. */
export interface DrawRequest extends FrameRequest, ViewRequest {
  /** Id of the pass whose own pull, bounds and spill are shown; all joined without it. */
  readonly pass?: string;
  readonly region?: Region;
}

/** What is to be judged. */
export interface JudgeRequest extends FrameRequest {
  /** Id of the pass that remedies are for. */
  readonly pass: string;
}

/** A drawn picture, ready for a canvas, and where in the frame it lies. */
export interface Drawn {
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
  readonly width: number;
  readonly height: number;
  /** Full-frame pixels covered. */
  readonly region: Region;
  readonly reduce: number;
}

export interface Probe {
  readonly box: Region;
  readonly plate: { r: number; g: number; b: number };
  readonly code: { r: number; g: number; b: number };
  readonly hue: number;
  readonly matte: number | null;
}

/** Width of the reduced frames on which blinking specks are looked for, px: as for the whole shot. */
const BLINKING_WIDTH = 640;

/** Width of the reduced frames on which a garbage shape is brought closer, px. */
const TIGHTEST_WIDTH = 640;

class KeyWorker {
  private readonly cache = new StepCache(500 * 1024 * 1024);
  private readonly frames = new FootageFrames();

  /** Draws one view of one frame. */
  async draw(request: DrawRequest): Promise<Drawn> {
    const { recipe, view, ground } = request;
    const shows = view === "composite" && ground === "scene" ? (["composite"] as const) : (["foreground"] as const);
    const needsBackground = looksAtBackground(recipe, shows) ? request.background : null;
    const sources = await this.frames.sources(recipe, request.plate, request.clean, needsBackground, request.frame);
    const { width: fw, height: fh } = sources.plate.picture;
    const { reduce } = request;
    const snapped = snapRegion(request.region ?? { x: 0, y: 0, width: fw, height: fh }, reduce, fw, fh);
    const region = { x: snapped.x * reduce, y: snapped.y * reduce, width: snapped.width * reduce, height: snapped.height * reduce };
    const ask = (...outputs: OutputName[]): Evaluation =>
      evaluate(
        recipe,
        sources,
        {
          reduce,
          outputs,
          frame: request.frame,
          ...(request.region ? { region: request.region } : {}),
          ...(request.pass ? { pass: request.pass } : {}),
        },
        this.cache,
      );
    const pixels = drawView(request, ask, region);
    return Comlink.transfer({ pixels, width: snapped.width, height: snapped.height, region, reduce }, [pixels.buffer]);
  }

  /** The place, of the given width over height, where two recipes' whole frames differ most; about a quarter of the frame's height tall. */
  async changesMost(a: DrawRequest, b: DrawRequest, aspect: number): Promise<Region> {
    const { width, height } = (await this.frames.sources(a.recipe, a.plate, a.clean, null, a.frame)).plate.picture;
    const { reduce } = a;
    const [one, other] = [await this.draw(a), await this.draw(b)];
    const marks = new Float32Array(one.width * one.height);
    for (let i = 0; i < marks.length; i++)
      for (let c = 0; c < 3; c++)
        marks[i] = (marks[i] as number) + Math.abs((one.pixels[4 * i + c] as number) - (other.pixels[4 * i + c] as number));
    const tall = Math.round(height / 4);
    const wide = Math.round(Math.min(width, tall * aspect));
    const found = densestPlace(marks, one.width, one.height, 1 / reduce, tall / reduce);
    const middle = found ? { x: found.x + found.width / 2, y: found.y + found.height / 2 } : { x: width / 2, y: height / 2 };
    const within = (v: number, size: number, all: number) => Math.min(all - size, Math.max(0, Math.round(v - size / 2)));
    return { x: within(middle.x, wide, width), y: within(middle.y, tall, height), width: wide, height: tall };
  }

  /** Figures of a variant at reduced size; their steps are those that the other variants share. */
  async smallFigures(
    recipe: Recipe,
    plate: Footage,
    clean: Footage | null,
    frame: number,
  ): Promise<{ figures: Measured | null; flicker: number | null }> {
    const { picture } = (await this.frames.sources(recipe, plate, clean, null, frame)).plate;
    const reduce = smallReduce(picture);
    const figures = await this.measure(recipe, plate, clean, frame, reduce);
    return { figures, flicker: await this.flicker(recipe, plate, clean, frame, reduce) };
  }

  /** Figures of a whole frame. @param reduce 1 for the exact ones */
  async measure(recipe: Recipe, plate: Footage, clean: Footage | null, frame: number, reduce: number): Promise<Measured | null> {
    if (!recipe.screen.colour) return null;
    return measureFrame(recipe, await this.frames.sources(recipe, plate, clean, null, frame), { frame, reduce }, this.cache);
  }

  private judged({ recipe, plate, clean, background }: JudgeRequest, frame: number): Promise<Sources> {
    return this.frames.sources(recipe, plate, clean, judgesBackground(recipe) ? background : null, frame);
  }

  /** What is wrong with a frame, worst first, and where a pass for strands would pay. @param reduce 1 for the exact figures */
  async findings(request: JudgeRequest, reduce: number): Promise<Found> {
    const { recipe, frame, pass } = request;
    return judgeFrame(recipe, await this.judged(request, frame), { frame, reduce, pass }, this.cache);
  }

  /** Specks that blink on a frame, at reduced size: its neighbours are pulled too. */
  async blinking(request: JudgeRequest) {
    const { recipe, plate, frame, pass } = request;
    const sourcesOf = (n: number) => this.judged(request, n);
    const { width } = (await sourcesOf(frame)).plate.picture;
    const reduce = Math.max(1, Math.ceil(width / BLINKING_WIDTH));
    return judgeBlinking(recipe, sourcesOf, { frame, reduce, pass }, plate.frames, this.cache);
  }

  /** Edge flicker between a frame and the one before it, in 1/1000; null for the first. */
  async flicker(recipe: Recipe, plate: Footage, clean: Footage | null, frame: number, reduce: number): Promise<number | null> {
    if (!recipe.screen.colour || frame < 2) return null;
    const at = async (n: number) =>
      watchFrame(recipe, await this.frames.sources(recipe, plate, clean, null, n), { frame: n, reduce }, this.cache);
    return edgeFlicker(await at(frame - 1), await at(frame));
  }

  /**
   * How close a garbage shape may come over the whole shot; see tightestSafe.
   * @param margin px of the plate @param onFrame told after every frame; false stops
   * @returns null when it was stopped
   */
  async tightest(
    recipe: Recipe,
    plate: Footage,
    clean: Footage | null,
    shape: Pick<Shape, "points" | "smooth" | "out">,
    margin: number,
    onFrame: (frame: number) => Promise<boolean>,
  ): Promise<Tightest | null> {
    let occupied: Occupied | null = null;
    for (let frame = 1; frame <= plate.frames; frame++) {
      const sources = await this.frames.sources(recipe, plate, clean, null, frame);
      const reduce = Math.max(1, Math.ceil(sources.plate.picture.width / TIGHTEST_WIDTH));
      const matte = evaluate(recipe, sources, { reduce, frame, outputs: ["matte"] }, this.cache).matte as Plane;
      occupied ??= nothingOccupied(matte.width, matte.height, 1 / reduce);
      occupy(occupied, matte, frame);
      if (!(await onFrame(frame))) return null;
    }
    return occupied && tightestSafe(shape, occupied, margin);
  }

  /**
   * Follows what lies under some outlines from a frame towards another; see {@link followThrough}.
   * @param grounds as they lie on frame `from` @param onFrame told after every frame; false stops there
   */
  async follow(
    recipe: Recipe,
    plate: Footage,
    grounds: readonly Ground[],
    from: number,
    to: number,
    onFrame: (frame: number) => Promise<boolean>,
  ): Promise<FollowedGround[]> {
    const reading = plateReading(plate.reading, recipe);
    const picture = async (frame: number) => (await this.frames.source(plate, frame, reading)).picture;
    return followThrough(picture, grounds, from, to, onFrame);
  }

  /** Robust average of the sample boxes and strokes, each on its own frame. */
  async sample(recipe: Recipe, plate: Footage, { boxes, strokes }: Pick<Recipe["screen"], "boxes" | "strokes">): Promise<ScreenSample> {
    const reading = plateReading(plate.reading, recipe);
    const picture = async (frame: number) => (await this.frames.source(plate, Math.min(frame, plate.frames), reading)).picture;
    const found: ScreenSample[] = [];
    for (const box of boxes) found.push(sampleScreen(await picture(box.frame), [box]));
    for (const stroke of strokes) found.push(sampleScreen(await picture(stroke.frame), [], [stroke]));
    const first = found[0] as ScreenSample;
    if (found.length === 1) return first;
    const total = found.reduce((n, s) => n + s.pixels - s.rejected, 0);
    const mean = (pick: (s: ScreenSample) => { r: number; g: number; b: number }) => {
      const m = { r: 0, g: 0, b: 0 };
      for (const s of found) for (const c of ["r", "g", "b"] as const) m[c] += (pick(s)[c] * (s.pixels - s.rejected)) / total;
      return m;
    };
    return {
      colour: mean((s) => s.colour),
      noise: mean((s) => s.noise),
      pixels: found.reduce((n, s) => n + s.pixels, 0),
      rejected: found.reduce((n, s) => n + s.rejected, 0),
    };
  }

  /** The screen's colour where the plate shows it cleanest. */
  async locate(recipe: Recipe, plate: Footage, frame: number): Promise<Rgb> {
    return locateScreen((await this.frames.source(plate, frame, plateReading(plate.reading, recipe))).picture).sample.colour;
  }

  /** The range of colour in a box of one frame. */
  async range(recipe: Recipe, plate: Footage, frame: number, box: Region, take: boolean): Promise<ColourRange> {
    return rangeOf((await this.frames.source(plate, frame, plateReading(plate.reading, recipe))).picture, box, take);
  }

  /** Amount and reach of spill as the picture asks for them, from the pass's own matte. */
  async spillReach(recipe: Recipe, plate: Footage, clean: Footage | null, frame: number, pass: string): Promise<SpillProposal | null> {
    const { colour } = recipe.screen;
    const chosen = recipe.passes.find((p) => p.id === pass);
    if (!colour || !chosen) return null;
    const sources = await this.frames.sources(recipe, plate, clean, null, frame);
    const reduce = Math.max(1, Math.round(sources.plate.picture.width / 640));
    const e = evaluate(recipe, sources, { reduce, frame, outputs: ["plate", "matte"] }, this.cache) as Required<Evaluation>;
    return measureSpillReach(e.plate, e.matte, screenPrimary(colour), chosen.spill.limit, chosen.spill.mix);
  }

  /** Mean colour of the treated subject in 5 × 5 px around a place; null outside the frame. */
  async colourAt(recipe: Recipe, plate: Footage, clean: Footage | null, frame: number, x: number, y: number): Promise<Rgb | null> {
    const sources = await this.frames.sources(recipe, plate, clean, null, frame);
    const { width, height } = sources.plate.picture;
    const region = clipRegion({ x: Math.floor(x) - 2, y: Math.floor(y) - 2, width: 5, height: 5 }, width, height);
    if (region.width === 0 || region.height === 0) return null;
    const e = evaluate({ ...recipe, paint: [] }, sources, { reduce: 1, frame, region, outputs: ["foreground"] }, this.cache);
    const f = e.foreground as Picture;
    const mean = (c: Float32Array) => c.reduce((a, b) => a + b, 0) / c.length;
    return { r: mean(f.r), g: mean(f.g), b: mean(f.b) };
  }

  async propose(recipe: Recipe, plate: Footage, clean: Footage | null, frame: number): Promise<Proposal> {
    const { plate: p, clean: c } = await this.frames.sources(recipe, plate, clean, null, frame);
    return proposeRecipe(p.picture, frame, recipe, {
      shared: { steps: this.cache, plateKey: p.key },
      ...(p.recorded ? { recorded: p.recorded } : {}),
      ...(c && clean ? { clean: { id: clean.id, picture: c.picture } } : {}),
    });
  }

  async report(recipe: Recipe, plate: Footage, frame: number, file: { chromaFormat: string; pixelAspect: number }): Promise<PlateReport> {
    const reading = plateReading(plate.reading, recipe);
    const { picture, recorded } = await this.frames.source(plate, frame, reading);
    return reportPlate(picture, { ...file, transfer: reading.transfer, ...(recorded ? { raw: recorded.raw } : {}) });
  }

  /** Waveform and vector plot of a frame, at reduced size. */
  async scopes(recipe: Recipe, plate: Footage, frame: number): Promise<{ waveform: Scope; vectors: Scope }> {
    const reading = plateReading(plate.reading, recipe);
    const { picture } = await this.frames.source(plate, frame, reading);
    const small = shrinkPicture(picture, Math.max(1, Math.round(picture.width / 640)));
    const encode = encodeWith(reading.transfer === "linear" ? "bt709" : reading.transfer);
    return { waveform: waveform(small, encode), vectors: vectorPlot(small, encode) };
  }

  /** Averages a box of `size` × `size` px around a point of the full frame. */
  async probe(request: Omit<DrawRequest, "view" | "region" | "reduce" | "ground">, x: number, y: number, size: number): Promise<Probe> {
    const { recipe, plate, frame } = request;
    const sources = await this.frames.sources(recipe, plate, request.clean, request.background, frame);
    const p = sources.plate.picture;
    const half = (size - 1) / 2;
    const box = clipRegion({ x: Math.floor(x) - half, y: Math.floor(y) - half, width: size, height: size }, p.width, p.height);
    const screen = recipe.screen.colour !== null;
    const part = evaluate(recipe, sources, { reduce: 1, frame, region: box, outputs: screen ? ["plate", "matte"] : ["plate"] }, this.cache);
    const mean = (c: Float32Array) => c.reduce((a, b) => a + b, 0) / c.length;
    const rgb = (q: Picture) => ({ r: mean(q.r), g: mean(q.g), b: mean(q.b) });
    const average = rgb(part.plate as Picture);
    const encode = encodeWith(plateReading(plate.reading, recipe).transfer);
    const code = { r: encode(average.r), g: encode(average.g), b: encode(average.b) };
    return {
      box,
      plate: average,
      code,
      hue: rgbToHsv(code).h,
      matte: part.matte ? mean(part.matte.data) : null,
    };
  }
}

export type KeyWorkerApi = KeyWorker;
Comlink.expose(new KeyWorker());
