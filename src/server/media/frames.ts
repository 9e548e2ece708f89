import { closeSync, openSync, readSync, statSync } from "node:fs";
import path from "node:path";
import type { MediaInfo } from "../../core/documents/media-info";
import { planeSizes, type RawFrame } from "../../core/image/raw-frame";
import { Complaint } from "../files/complaint";
import { decodeClipFrames } from "./clips";
import { fetchFor } from "./pixel-formats";
import { type FrameIndex, frameIndex } from "./probe";
import { patternFile } from "./sequences";
import { decodeStill, stillFormat } from "./stills";

const bytesOf = (f: RawFrame) => f.planes.reduce((n, p) => n + p.byteLength, 0);
/** Frames decoded at once: what follows, or goes before, is likely wanted next. */
const AHEAD = 8;

/** Random access to the frames of one plate, clean plate or background, with the last ones kept. */
export class FrameReader {
  private readonly kept = new Map<number, RawFrame>();
  private keptBytes = 0;
  private readonly pending = new Map<number, Promise<RawFrame>>();
  private index: Promise<FrameIndex> | undefined;

  /**
   * @param file absolute path; a pattern for a sequence
   * @param maxBytes most bytes of decoded frames kept
   */
  constructor(
    private readonly file: string,
    private readonly info: MediaInfo,
    private readonly maxBytes = 256 * 1024 * 1024,
  ) {}

  /** @param number from 1 @throws Complaint when there is no such frame or it cannot be decoded */
  async frame(number: number): Promise<RawFrame> {
    if (!Number.isInteger(number) || number < 1 || number > this.info.frames)
      throw new Complaint(404, `There is no frame ${number}.`, `Frames run from 1 to ${this.info.frames}.`);
    const kept = this.kept.get(number);
    if (kept) {
      this.kept.delete(number);
      this.kept.set(number, kept);
      return kept;
    }
    const pending = this.pending.get(number);
    if (pending) return pending;
    if (this.info.kind !== "clip") return this.hold(number, this.decodeOne(number));
    const { first, count } = this.batch(number);
    this.index ??= frameIndex(this.file);
    const batch = this.index.then((index) => decodeClipFrames(this.file, this.info, index, first, count));
    let asked: Promise<RawFrame> | undefined;
    for (let n = first; n < first + count; n++) {
      if (this.has(n)) continue;
      const one = this.hold(
        n,
        batch.then((frames) => {
          const frame = frames[n - first];
          if (!frame)
            throw new Complaint(
              422,
              `Frame ${n} cannot be decoded: the clip is damaged there.`,
              "Use the frames before it, or export the clip again.",
            );
          return frame;
        }),
      );
      if (n === number) asked = one;
      else one.catch(() => {});
    }
    return asked as Promise<RawFrame>;
  }

  private has(number: number): boolean {
    return this.kept.has(number) || this.pending.has(number);
  }

  /** The frames to decode in one go with one that is not here: those after it, or those before it where one comes from behind. */
  private batch(number: number): { first: number; count: number } {
    const most = this.ahead();
    if (number < this.info.frames && this.has(number + 1)) {
      const first = Math.max(1, number - most + 1);
      return { first, count: number - first + 1 };
    }
    return { first: number, count: Math.min(most, this.info.frames - number + 1) };
  }

  /** Frames to decode in one go: no more than are kept, or the first would be gone before they are asked for. */
  private ahead(): number {
    const fetch = fetchFor(this.info.pixelFormat);
    if (!fetch) return 1;
    const bytes = planeSizes(this.info.width, this.info.height, fetch.layout).reduce((n, s) => n + 2 * s.width * s.height, 0);
    return Math.max(1, Math.min(AHEAD, Math.floor(this.maxBytes / bytes)));
  }

  private hold(number: number, decoding: Promise<RawFrame>): Promise<RawFrame> {
    const held = decoding
      .then((frame) => {
        this.kept.set(number, frame);
        this.keptBytes += bytesOf(frame);
        for (const [n, f] of this.kept) {
          if (this.keptBytes <= this.maxBytes || n === number) break;
          this.kept.delete(n);
          this.keptBytes -= bytesOf(f);
        }
        return frame;
      })
      .finally(() => this.pending.delete(number));
    this.pending.set(number, held);
    return held;
  }

  private async decodeOne(number: number): Promise<RawFrame> {
    const sequence = this.info.kind === "sequence";
    const file = sequence ? patternFile(this.file, this.info.firstNumber + number - 1) : this.file;
    if (!statSync(file, { throwIfNoEntry: false })?.isFile())
      throw new Complaint(404, `Frame ${number} is missing on disk.`, "Bring the plate in again.");
    const frame = await decodeFile(file).catch((error) => {
      // Of many files one is meant.
      throw sequence && error instanceof Complaint ? error.of(`Frame ${number} (${path.basename(file)})`) : error;
    });
    if (frame.width !== this.info.width || frame.height !== this.info.height)
      throw new Complaint(
        422,
        `Frame ${number} is ${frame.width}×${frame.height}, the others ${this.info.width}×${this.info.height}.`,
        "Bring in frames of one size.",
      );
    return frame;
  }
}

/** @throws Complaint when the file is no whole picture */
async function decodeFile(file: string): Promise<RawFrame> {
  const head = Buffer.alloc(16);
  const handle = openSync(file, "r");
  try {
    readSync(handle, head, 0, 16, 0);
  } finally {
    closeSync(handle);
  }
  const format = stillFormat(head);
  if (!format) throw new Complaint(422, "The file holds no picture.", "Copy or export it again.");
  return decodeStill(file, format);
}
