import type { MediaInfo } from "../../core/documents/media-info";
import { type ColourReading, decodeRawFrame } from "../../core/image/raw-frame";
import { type Evaluation, evaluate, framesNearby, looksAtBackground, type OutputName } from "../../core/recipe/evaluate";
import { judgesBackground, measureShot, type ShotFrame } from "../../core/recipe/judge";
import { backgroundReading, cleanReading, plateReading, readingKey } from "../../core/recipe/reading";
import type { Recipe } from "../../core/recipe/schema";
import { type Nearby, type PlateSource, plateSource, type Source, type Sources } from "../../core/recipe/sources";
import { StepCache } from "../../core/recipe/step-cache";
import { FrameReader } from "../media/frames";

/** One file or sequence to read frames from. */
export interface Footage {
  readonly file: string;
  readonly info: MediaInfo;
}

/** Which frame of a background lies behind a frame of the plate: the same number, holding the last one. */
export const backgroundFrame = (plateFrame: number, info: MediaInfo): number => Math.min(plateFrame, info.frames);

/** Frames a thread renders or measures before it asks for more: with one on either side, as many as are decoded at once. */
export const FRAMES_PER_TASK = 6;

/** Frames in the stretches that threads are given. */
export const inStretches = (frames: readonly number[], most = FRAMES_PER_TASK): number[][] =>
  Array.from({ length: Math.ceil(frames.length / most) }, (_, k) => frames.slice(k * most, (k + 1) * most));

const MB = 1024 * 1024;
/** Steps that the next frame may need too: its neighbours' mattes, a background that stands still; and a supplied clean plate. */
const LASTING = ["nearbyMatte", "background", "light"];
/** Pixels from which on a frame's own steps are let go as soon as it is rendered: they come close to a gigabyte at 4K. */
const LARGE = 2048 * 1200;

/** Renders frames of one plate one after the other, at full size. Keeps nothing between frames but what the steps share. */
export class Renderer {
  private readonly cache: StepCache;
  private readonly large: boolean;
  private readonly plate: FrameReader;
  private readonly background: FrameReader | undefined;
  private readonly clean: FrameReader | undefined;
  /** The last decoded frames of the plate, as far as neighbours are looked at. */
  private readonly decoded = new Map<string, PlateSource>();
  private heldClean: Source | undefined;
  private held: { frame: number; source: Source } | undefined;

  constructor(
    private readonly recipe: Recipe,
    private readonly plateFootage: Footage,
    private readonly backgroundFootage?: Footage,
    private readonly cleanFootage?: Footage,
  ) {
    this.large = plateFootage.info.width * plateFootage.info.height > LARGE;
    const lasting = recipe.screen.from === "supplied" ? [...LASTING, "clean"] : LASTING;
    this.cache = new StepCache(512 * MB, new Set(lasting), (this.large ? 256 : 512) * MB, this.large);
    this.plate = new FrameReader(plateFootage.file, plateFootage.info, (this.large ? 64 : 128) * MB);
    this.clean = cleanFootage && new FrameReader(cleanFootage.file, cleanFootage.info, 64 * MB);
    this.background = backgroundFootage && new FrameReader(backgroundFootage.file, backgroundFootage.info, 64 * MB);
  }

  /** @param frame from 1. The result is valid until the next call. */
  async render(frame: number, outputs: readonly OutputName[], reduce = 1): Promise<Evaluation> {
    const sources = await this.sources(frame, looksAtBackground(this.recipe, outputs));
    const rendered = evaluate(this.recipe, sources, { reduce, outputs, frame }, this.cache);
    // Nothing takes their memory until the next call; what writes the result has room meanwhile.
    if (this.large) this.cache.leaveFrame();
    return rendered;
  }

  /** Figures and findings of consecutive frames. */
  measure(frames: readonly number[], reduce: number): AsyncGenerator<ShotFrame> {
    const { frames: last } = this.plateFootage.info;
    return measureShot(this.recipe, (n) => this.sources(n, judgesBackground(this.recipe)), frames, last, reduce, this.cache);
  }

  /** Everything the recipe looks at for one frame. */
  private async sources(frame: number, behind: boolean): Promise<Sources> {
    const reading = plateReading(this.plateFootage.info.reading, this.recipe);
    const { frames } = this.plateFootage.info;
    const nearby: Nearby[] = [];
    for (const n of framesNearby(this.recipe, frame, frames)) nearby.push({ frame: n, source: await this.plateFrame(n, reading) });
    return {
      plate: await this.plateFrame(frame, reading),
      nearby,
      ...(await this.cleanSource()),
      ...(behind ? await this.behind(frame) : {}),
    };
  }

  private async plateFrame(frame: number, reading: ColourReading): Promise<PlateSource> {
    const key = `plate/${frame}/${readingKey(reading)}`;
    const held = this.decoded.get(key);
    this.decoded.delete(key);
    // A frame and its neighbours on both sides; of large ones no more than are looked at. Room for one more first, or both lie in memory.
    const most = this.large ? framesNearby(this.recipe, 2, 3).length + 1 : 3;
    while (this.decoded.size >= most) this.decoded.delete(this.decoded.keys().next().value as string);
    const found = held ?? plateSource(key, await this.plate.frame(frame), reading);
    this.decoded.set(key, found);
    return found;
  }

  private async cleanSource(): Promise<{ clean?: Source }> {
    if (!this.clean || !this.cleanFootage) return {};
    const reading = cleanReading(this.cleanFootage.info.reading, this.plateFootage.info.reading, this.recipe);
    this.heldClean ??= { key: "clean", picture: decodeRawFrame(await this.clean.frame(1), reading) };
    return { clean: this.heldClean };
  }

  private async behind(frame: number): Promise<{ background?: Source }> {
    if (!this.background || !this.backgroundFootage) return {};
    const { info } = this.backgroundFootage;
    const number = backgroundFrame(frame, info);
    const reading = backgroundReading(info.reading, this.plateFootage.info.reading, this.recipe);
    if (this.held?.frame !== number)
      this.held = {
        frame: number,
        source: { key: `background/${number}`, picture: decodeRawFrame(await this.background.frame(number), reading) },
      };
    return { background: this.held.source };
  }
}
