/** Reads the truth plates under demo/truth: for tests and benchmarks. */
import { existsSync, readdirSync } from "node:fs";
import path from "node:path";
import sharp from "sharp";
import { srgbToLinear } from "../src/core/color/srgb";
import type { Picture, Plane } from "../src/core/image/plane";

/** One frame of a truth plate. All of one size; colour scene-linear. */
export interface TruthFrame {
  readonly name: string;
  readonly frame: number;
  /** The subject in front of the lit screen. */
  readonly plate: Picture;
  /** The stage without the subject. */
  readonly clean: Picture;
  /** Exact coverage. */
  readonly coverage: Plane;
  /** The subject over black, with the screen's light on it; premultiplied. */
  readonly spilled: Picture;
  /** The same with a neutral grey screen of the same luminance; premultiplied. */
  readonly free: Picture;
}

const folder = path.join(import.meta.dirname, "truth");
const linear = Float32Array.from({ length: 65536 }, (_, i) => srgbToLinear(i / 65535));

async function codes(file: string, channels: 1 | 3): Promise<{ data: Uint16Array; width: number; height: number }> {
  const { data, info } = await sharp(file)
    .toColourspace(channels === 1 ? "grey16" : "rgb16")
    .raw({ depth: "ushort" })
    .toBuffer({ resolveWithObject: true });
  if (info.channels !== channels) throw new Error(`${file} has ${info.channels} channels.`);
  return { data: new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2), width: info.width, height: info.height };
}

async function picture(file: string): Promise<Picture> {
  const { data, width, height } = await codes(file, 3);
  const channel = (c: number) => {
    const out = new Float32Array(width * height);
    for (let i = 0; i < out.length; i++) out[i] = linear[data[3 * i + c]!]!;
    return out;
  };
  return { width, height, r: channel(0), g: channel(1), b: channel(2) };
}

export const truthNames = (): string[] => (existsSync(folder) ? readdirSync(folder).sort() : []);
export const truthFrames = (name: string): number =>
  readdirSync(path.join(folder, name)).filter((f) => /^coverage\.\d+\.png$/.test(f)).length;
export const truthFile = (name: string, what: "plate" | "coverage" | "free" | "spilled", frame: number): string =>
  path.join(folder, name, `${what}.${String(frame).padStart(4, "0")}.png`);

export async function readTruth(name: string, frame = 1): Promise<TruthFrame> {
  const { data, width, height } = await codes(truthFile(name, "coverage", frame), 1);
  return {
    name,
    frame,
    plate: await picture(truthFile(name, "plate", frame)),
    clean: await picture(path.join(folder, name, "clean.png")),
    coverage: { width, height, data: new Float32Array(data).map((v) => v / 65535) },
    spilled: await picture(truthFile(name, "spilled", frame)),
    free: await picture(truthFile(name, "free", frame)),
  };
}
