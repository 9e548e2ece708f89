import { execFileSync } from "node:child_process";
import type { Rgb } from "../src/core/color/hue";
import { linearToSrgb, srgbToLinear } from "../src/core/color/srgb";
import type { Picture, Plane } from "../src/core/image/plane";
import { colourDifference } from "../src/core/key/colour-difference";
import { matteLevels } from "../src/core/matte/levels";
import type { Primary } from "../src/core/screen/primary";
import { limitSpill } from "../src/core/spill/limit";

export interface Keyed {
  readonly matte: Plane;
  /** Straight, spill treated. */
  readonly foreground: Picture;
  readonly settings: string;
}

const meanSquare = (m: Float32Array, t: Float32Array) => m.reduce((s, v, i) => s + (v - t[i]!) ** 2, 0) / m.length;

/** The best constant colour difference that a grid search with the truth in hand can find. */
export function bestConstant(picture: Picture, screen: Rgb, primary: Primary, truth: Plane): Keyed {
  let best = { error: Number.POSITIVE_INFINITY, matte: truth, settings: "" };
  for (let w = 0; w <= 10; w++) {
    const pull = colourDifference(picture, { screen, primary, weight: w / 10 });
    for (const black of [0, 0.02, 0.05, 0.1, 0.15, 0.2, 0.3])
      for (const white of [0.5, 0.6, 0.7, 0.75, 0.8, 0.85, 0.9, 0.95, 1]) {
        const matte = matteLevels(pull, { black, white });
        const error = meanSquare(matte.data, truth.data);
        if (error < best.error) best = { error, matte, settings: `weight ${w / 10}, ${black}/${white}` };
      }
  }
  const { picture: treated } = limitSpill(picture, { primary, limit: "average", amount: 1 });
  return { matte: best.matte, foreground: { ...treated, a: best.matte.data }, settings: best.settings };
}

/** ffmpeg's general-purpose chroma and despill filters, grid-searched with the truth in hand. */
export function bestFfmpeg(picture: Picture, screen: Rgb, primary: Primary, truth: Plane): Keyed {
  const { width, height } = picture;
  const n = width * height;
  const code = (v: number) => Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, v))));
  const input = Buffer.alloc(n * 3);
  for (let i = 0; i < n; i++) {
    input[3 * i] = code(picture.r[i]!);
    input[3 * i + 1] = code(picture.g[i]!);
    input[3 * i + 2] = code(picture.b[i]!);
  }
  const hex = `0x${[screen.r, screen.g, screen.b].map((v) => code(v).toString(16).padStart(2, "0")).join("")}`;
  const run = (filter: string, channels: number) =>
    execFileSync(
      "ffmpeg",
      [
        "-v",
        "error",
        "-f",
        "rawvideo",
        "-pix_fmt",
        "rgb24",
        "-s",
        `${width}x${height}`,
        "-i",
        "pipe:0",
        "-vf",
        filter,
        "-pix_fmt",
        channels === 4 ? "rgba" : "rgb24",
        "-f",
        "rawvideo",
        "pipe:1",
      ],
      { input, maxBuffer: n * channels + 1024 },
    );
  let best = { error: Number.POSITIVE_INFINITY, matte: truth, settings: "" };
  for (const similarity of [0.03, 0.06, 0.1, 0.15, 0.2, 0.28])
    for (const blend of [0.02, 0.06, 0.12, 0.2, 0.3]) {
      const out = run(`format=yuva444p,chromakey=${hex}:${similarity}:${blend},format=rgba`, 4);
      const data = Float32Array.from({ length: n }, (_, i) => out[4 * i + 3]! / 255);
      const error = meanSquare(data, truth.data);
      if (error < best.error) best = { error, matte: { width, height, data }, settings: `similarity ${similarity}, blend ${blend}` };
    }
  const treated = primary === "r" ? input : run(`format=rgba,despill=type=${primary === "g" ? "green" : "blue"},format=rgb24`, 3);
  const channel = (c: number) => Float32Array.from({ length: n }, (_, i) => srgbToLinear(treated[3 * i + c]! / 255));
  return {
    matte: best.matte,
    foreground: { width, height, r: channel(0), g: channel(1), b: channel(2), a: best.matte.data },
    settings: best.settings,
  };
}
