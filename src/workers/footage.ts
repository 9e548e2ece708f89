import { type ColourReading, type RawFrame, unpackRawFrame } from "../core/image/raw-frame";
import { framesNearby } from "../core/recipe/evaluate";
import { backgroundReading, cleanReading, plateReading, readingKey } from "../core/recipe/reading";
import type { Recipe } from "../core/recipe/schema";
import { type PlateSource, plateSource, type Sources } from "../core/recipe/sources";

/** A plate or background as the worker needs to know it. */
export interface Footage {
  readonly id: string;
  readonly frames: number;
  readonly reading: ColourReading;
}

/** Most bytes of decoded frames kept. */
const FRAME_BYTES = 400 * 1024 * 1024;

/** Frames as the server sends them, decoded; the last ones are kept. */
export class FootageFrames {
  private readonly frames = new Map<string, Promise<PlateSource>>();
  private readonly sizes = new Map<string, number>();

  private async fetchFrame(id: string, frame: number): Promise<RawFrame> {
    const response = await fetch(`/api/media/${id}/frames/${frame}`, { cache: "no-store" });
    if (!response.ok) {
      const body = (await response.json().catch(() => null)) as { error?: { what: string; remedy: string } } | null;
      throw new Error(
        body?.error ? `${body.error.what} ${body.error.remedy}` : `Frame ${frame} could not be loaded. Check that the server is running.`,
      );
    }
    return unpackRawFrame(await response.arrayBuffer());
  }

  /** One decoded frame; the last ones are kept within a bound of bytes. */
  source(footage: Footage, frame: number, reading: ColourReading): Promise<PlateSource> {
    const key = `${footage.id}/${frame}/${readingKey(reading)}`;
    let found = this.frames.get(key);
    if (found) this.frames.delete(key);
    else {
      found = this.fetchFrame(footage.id, frame).then((raw) => {
        this.sizes.set(key, raw.width * raw.height * 12 + raw.planes.reduce((n, p) => n + p.byteLength, 0));
        return plateSource(key, raw, reading);
      });
      found.catch(() => this.frames.delete(key));
    }
    this.frames.set(key, found);
    let bytes = 0;
    for (const k of [...this.frames.keys()].reverse()) {
      bytes += this.sizes.get(k) ?? 0;
      if (bytes > FRAME_BYTES && k !== key) {
        this.frames.delete(k);
        this.sizes.delete(k);
      }
    }
    return found;
  }

  /** Everything that a recipe looks at for one frame of the plate. */
  async sources(recipe: Recipe, plate: Footage, clean: Footage | null, background: Footage | null, frame: number): Promise<Sources> {
    const reading = plateReading(plate.reading, recipe);
    const front = this.source(plate, frame, reading);
    const around = framesNearby(recipe, frame, plate.frames).map(async (n) => ({ frame: n, source: await this.source(plate, n, reading) }));
    const empty = clean && this.source(clean, 1, cleanReading(clean.reading, plate.reading, recipe));
    const back =
      background &&
      this.source(background, Math.min(frame, background.frames), backgroundReading(background.reading, plate.reading, recipe));
    const [p, c, b, nearby] = await Promise.all([front, empty, back, Promise.all(around)]);
    return { plate: p, nearby, ...(c ? { clean: c } : {}), ...(b ? { background: b } : {}) };
  }
}
