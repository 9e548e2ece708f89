/**
 * Renders the demo's plates from their scene files with POV-Ray (Debian package `povray`).
 * Not part of set-up: the results are committed. Run: npx tsx demo/render.ts SCENE [MODE]
 *
 * Every frame is the linear average of sub-frames spread over the shutter, each with its own sub-pixel offset:
 * that is what gives anti-aliasing, motion blur and noise-free soft lights. Interrupted work goes on where it was.
 */
import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import sharp from "sharp";
import { linearToSrgb, srgbToLinear } from "../src/core/color/srgb";
import { gaussianBlur } from "../src/core/image/blur";

interface Scene {
  width: number;
  height: number;
  frames: number;
  subframes: number;
  /** Rays gathered for one radiosity sample. */
  rays: number;
  /** Gaussian blur of the finished frame in linear light, σ in pixels: a background behind the focus. */
  defocus?: number;
}
const scenes: Record<string, Scene> = {
  beekeeper: { width: 1280, height: 720, frames: 28, subframes: 6, rays: 25 },
  honeytable: { width: 1280, height: 720, frames: 1, subframes: 5, rays: 20 },
  meadow: { width: 1920, height: 1080, frames: 1, subframes: 6, rays: 20, defocus: 3 },
  pantry: { width: 1920, height: 1080, frames: 1, subframes: 6, rays: 20, defocus: 7 },
};
/** Share of the frame time that the shutter is open: 180°. */
const SHUTTER = 0.5;

const here = import.meta.dirname;
const [name = "", mode = "0"] = process.argv.slice(2);
const scene = scenes[name];
if (!scene) {
  console.error(`Name a scene: ${Object.keys(scenes).join(", ")}`);
  process.exit(2);
}
const work = path.join(here, ".render", `${name}-${mode}`);
mkdirSync(work, { recursive: true });

/** Sub-pixel offsets in −0.5…0.5 from the R2 low-discrepancy sequence (M. Roberts, 2018). */
const jitter = (s: number) => [((0.5 + s * 0.7548776662) % 1) - 0.5, ((0.5 + s * 0.5698402909) % 1) - 0.5];

function soften(interleaved: Float64Array, sigma: number): void {
  for (let c = 0; c < 3; c++) {
    const channel = Float32Array.from({ length: interleaved.length / 3 }, (_, i) => interleaved[i * 3 + c]!);
    gaussianBlur(channel, scene!.width, scene!.height, sigma).forEach((v, i) => {
      interleaved[i * 3 + c] = v;
    });
  }
}

const linear = Float32Array.from({ length: 65536 }, (_, i) => srgbToLinear(i / 65535));
for (let f = 0; f < scene.frames; f++) {
  const target = path.join(work, `${name}.${String(f + 1).padStart(4, "0")}.png`);
  if (existsSync(target)) continue;
  const sum = new Float64Array(scene.width * scene.height * 3);
  for (let s = 0; s < scene.subframes; s++) {
    const [jx, jy] = jitter(s) as [number, number];
    const clock = (f + (SHUTTER * (s + 0.5)) / scene.subframes) / scene.frames;
    const shot = path.join(work, "sub.png");
    execFileSync(
      "povray",
      [
        `+I${name}.pov`,
        `+O${shot}`,
        `+W${scene.width}`,
        `+H${scene.height}`,
        "-D",
        "-A",
        "+FN16",
        "-GA",
        "-V",
        `+K${clock}`,
        `Declare=Mode=${mode}`,
        `Declare=Jx=${jx}`,
        `Declare=Jy=${jy}`,
        `Declare=RadCount=${scene.rays}`,
      ],
      { cwd: path.join(here, "scenes"), stdio: "ignore" },
    );
    const { data } = await sharp(readFileSync(shot)).toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
    const codes = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
    if (codes.length !== sum.length) throw new Error(`${shot}: expected 3 channels of ${scene.width}×${scene.height}`);
    for (let i = 0; i < sum.length; i++) sum[i]! += linear[codes[i]!]!;
    rmSync(shot);
  }
  if (scene.defocus) soften(sum, scene.defocus);
  const out = Uint16Array.from(sum, (v) => Math.min(65535, Math.round(65535 * linearToSrgb(v / scene.subframes))));
  const png = await sharp(out, { raw: { width: scene.width, height: scene.height, channels: 3 } })
    .toColourspace("rgb16")
    .png({ compressionLevel: 9 })
    .toBuffer();
  writeFileSync(`${target}.part`, png);
  renameSync(`${target}.part`, target);
  console.log(`${name} frame ${f + 1} of ${scene.frames}`);
}
