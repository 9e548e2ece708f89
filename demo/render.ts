/**
 * Renders the demo's footage and the truth plates from their scene files with POV-Ray (Debian package `povray`).
 * Not part of set-up: the results are committed.
 *
 *   npx tsx demo/render.ts footage NAME [FIRST]   frames of a plate or background, from FIRST on, into demo/.render/footage-NAME
 *   npx tsx demo/render.ts encode NAME FILE   the rendered frames as a camera's clip: H.264, 8 bit, 4:2:0, 24 fps
 *   npx tsx demo/render.ts truth NAME     plate, clean plate, coverage and foregrounds, into demo/truth/NAME
 *
 * Every frame is the linear average of sub-frames spread over the shutter, each with its own sub-pixel offset and
 * rendered larger: that is what gives anti-aliasing, motion blur and noise-free soft lights. Interrupted work goes on
 * where it was.
 */
import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import sharp from "sharp";
import { linearToSrgb, srgbToLinear } from "../src/core/color/srgb";
import { gaussianBlur } from "../src/core/image/blur";
import type { Picture } from "../src/core/image/plane";
import { shrinkPicture } from "../src/core/image/resample";

interface Scene {
  /** Scene file, without `.pov`. */
  scene: string;
  width: number;
  height: number;
  /** Frames of the whole cycle, and the first ones of them to render. */
  cycle: number;
  frames: number;
  /** Frame of the cycle to begin with. */
  from?: number;
  subframes: number;
  /** Rendered this many times larger in both directions, then averaged. */
  larger: number;
  /** Rays gathered for one radiosity sample. */
  rays: number;
  /** Bits of a finished still's codes, as a camera's raw file has; 16 without it. */
  bits?: number;
  /** Gaussian blur of the finished frame in linear light, σ in pixels: a background behind the focus. */
  defocus?: number;
}
const footage: Record<string, Scene> = {
  beekeeper: { scene: "beekeeper", width: 1280, height: 720, cycle: 28, frames: 24, subframes: 4, larger: 1, rays: 25 },
  honeytable: { scene: "honeytable", width: 1280, height: 720, cycle: 1, frames: 1, subframes: 5, larger: 1, rays: 20, bits: 12 },
  meadow: { scene: "meadow", width: 1920, height: 1080, cycle: 1, frames: 1, subframes: 6, larger: 1, rays: 20, defocus: 3 },
  pantry: { scene: "pantry", width: 1920, height: 1080, cycle: 1, frames: 1, subframes: 6, larger: 1, rays: 20, defocus: 7 },
};
const truth: Record<string, Scene> = {
  veil: { scene: "beekeeper", width: 960, height: 540, cycle: 28, frames: 1, from: 8, subframes: 2, larger: 2, rays: 20 },
  gloves: { scene: "gloves", width: 640, height: 360, cycle: 24, frames: 4, subframes: 6, larger: 1, rays: 20 },
  smoker: { scene: "smoker", width: 640, height: 360, cycle: 24, frames: 3, subframes: 4, larger: 1, rays: 20 },
  wide: { scene: "wide", width: 640, height: 360, cycle: 28, frames: 1, from: 6, subframes: 1, larger: 3, rays: 20 },
  blue: { scene: "blue", width: 640, height: 360, cycle: 28, frames: 1, from: 8, subframes: 1, larger: 3, rays: 20 },
  honey: { scene: "honeytable", width: 640, height: 360, cycle: 1, frames: 1, subframes: 1, larger: 2, rays: 20 },
};
/** Share of the frame time that the shutter is open: 180°. */
const SHUTTER = 0.5;
/** What the scenes' Mode means. */
const MODE = { plate: 0, spilled: 1, passing: 2, free: 3, clean: 4 } as const;

const here = import.meta.dirname;
const [kind = "", name = "", first = "1"] = process.argv.slice(2);
const scene = (kind === "truth" ? truth : kind === "footage" || kind === "encode" ? footage : {})[name];
if (!scene) {
  console.error(`footage ${Object.keys(footage).join("|")}, or truth ${Object.keys(truth).join("|")}`);
  process.exit(2);
}
const work = path.join(here, ".render", `${kind === "truth" ? kind : "footage"}-${name}`);
mkdirSync(work, { recursive: true });

/** Sub-pixel offsets in −0.5…0.5 from the R2 low-discrepancy sequence (M. Roberts, 2018). */
const jitter = (s: number) => [((0.5 + s * 0.7548776662) % 1) - 0.5, ((0.5 + s * 0.5698402909) % 1) - 0.5];
const linear = Float32Array.from({ length: 65536 }, (_, i) => srgbToLinear(i / 65535));
const fileNumber = (f: number) => String(f + 1).padStart(4, "0");

/** One sub-frame in linear light, at the scene's size. */
async function renderSubframe(s: Scene, frame: number, sub: number, mode: number): Promise<Picture> {
  const [jx, jy] = jitter(sub) as [number, number];
  const clock = ((s.from ?? 0) + frame + (SHUTTER * (sub + 0.5)) / s.subframes) / s.cycle;
  const [width, height] = [s.width * s.larger, s.height * s.larger];
  const shot = path.join(work, "sub.png");
  const declared = { Mode: mode, Jx: jx * s.larger, Jy: jy * s.larger, RadCount: s.rays, W: width, H: height };
  execFileSync(
    "povray",
    [
      `+I${s.scene}.pov`,
      `+O${shot}`,
      `+W${width}`,
      `+H${height}`,
      "-D",
      "-A",
      "+FN16",
      "-GA",
      "-V",
      `+K${clock}`,
      ...Object.entries(declared).map(([k, v]) => `Declare=${k}=${v}`),
    ],
    { cwd: path.join(here, "scenes"), stdio: "ignore" },
  );
  const { data } = await sharp(readFileSync(shot)).toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
  rmSync(shot);
  const codes = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
  if (codes.length !== width * height * 3) throw new Error(`${shot}: expected 3 channels of ${width}×${height}`);
  const channel = (c: number) => Float32Array.from({ length: width * height }, (_, i) => linear[codes[i * 3 + c]!]!);
  return shrinkPicture({ width, height, r: channel(0), g: channel(1), b: channel(2) }, s.larger);
}

async function renderFrame(s: Scene, frame: number, mode: number): Promise<Float32Array[]> {
  const sum = Array.from({ length: 3 }, () => new Float32Array(s.width * s.height));
  for (let sub = 0; sub < s.subframes; sub++) {
    const p = await renderSubframe(s, frame, sub, mode);
    [p.r, p.g, p.b].forEach((c, k) => {
      for (let i = 0; i < c.length; i++) sum[k]![i]! += c[i]! / s.subframes;
    });
  }
  return s.defocus ? sum.map((c) => gaussianBlur(c, s.width, s.height, s.defocus!)) : sum;
}

/** Writes planes as a 16-bit PNG. @param code from a plane's value to 0…1 */
async function writePng(file: string, planes: readonly Float32Array[], code: (v: number) => number): Promise<void> {
  const channels = planes.length as 1 | 3;
  const n = planes[0]!.length;
  const out = new Uint16Array(n * channels);
  const unit = 2 ** (16 - (scene!.bits ?? 16));
  planes.forEach((p, k) => {
    for (let i = 0; i < n; i++)
      out[i * channels + k] = Math.min(65536 - unit, Math.max(0, unit * Math.round((65535 * code(p[i]!)) / unit)));
  });
  const png = await sharp(out, { raw: { width: scene!.width, height: scene!.height, channels } })
    .toColourspace(channels === 1 ? "grey16" : "rgb16")
    .png({ compressionLevel: 9, adaptiveFiltering: true })
    .toBuffer();
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(`${file}.part`, png);
  renameSync(`${file}.part`, file);
  console.log(path.relative(here, file));
}

const CLIP =
  "-c:v libx264 -preset slow -crf 15 -pix_fmt yuv420p -color_primaries bt709 -color_trc bt709 -colorspace bt709 -color_range tv -movflags +faststart";
if (kind === "encode")
  execFileSync("ffmpeg", [
    "-v",
    "error",
    "-y",
    "-framerate",
    "24",
    "-i",
    path.join(work, `${name}.%04d.png`),
    "-vf",
    "scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int",
    ...CLIP.split(" "),
    first,
  ]);
else if (kind === "footage")
  for (let f = Number(first) - 1; f < scene.frames; f++) {
    const target = path.join(work, `${name}.${fileNumber(f)}.png`);
    if (!existsSync(target)) await writePng(target, await renderFrame(scene, f, MODE.plate), linearToSrgb);
  }
else {
  const folder = path.join(here, "truth", name);
  const clean = path.join(folder, "clean.png");
  if (!existsSync(clean)) await writePng(clean, await renderFrame(scene, 0, MODE.clean), linearToSrgb);
  for (let f = 0; f < scene.frames; f++) {
    const at = (what: string) => path.join(folder, `${what}.${fileNumber(f)}.png`);
    for (const what of ["plate", "free", "spilled"] as const)
      if (!existsSync(at(what))) await writePng(at(what), await renderFrame(scene, f, MODE[what]), linearToSrgb);
    if (existsSync(at("coverage"))) continue;
    // Coverage from two backings, coverage = 1 − (white − black): Smith & Blinn, "Blue Screen Matting", SIGGRAPH 1996.
    // It does not depend on the light, so both are taken with none: black is then 0 everywhere and white free of noise.
    const passing = await renderFrame(scene, f, MODE.passing);
    const coverage = passing[0]!.map((_, i) => 1 - passing.reduce((sum, c) => sum + c[i]!, 0) / 3);
    await writePng(at("coverage"), [coverage], (v) => v);
  }
}
