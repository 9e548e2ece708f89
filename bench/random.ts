/**
 * The proposal on plates drawn at random, that no threshold was set by: portraits, or people standing on a floor
 * before a screen; in each recording. Squared edge error against the best constant colour
 * difference that a grid search with the truth in hand finds; "!!" marks what falls behind the bars.
 * Run: npm run bench:random FIRST-LAST [pixels,camera,JPEG,H.264 [portrait|standing]]
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import type { Picture } from "../src/core/image/plane";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { findScreen } from "../src/core/screen/find";
import { addNoise, cameraReading, record } from "../src/core/simulate/camera";
import { bestConstant } from "./baseline";
import { drawPortrait } from "./scenes/portrait";
import { drawStanding } from "./scenes/standing";
import { asJpeg, CAMERA, fromRgbCodes, rgbCodes } from "./variants";

const SCENES: Record<string, typeof drawPortrait> = { portrait: drawPortrait, standing: drawStanding };

type Recorded = { readonly picture: Picture; readonly recorded: { raw: RawFrame; reading: ReturnType<typeof cameraReading> } };
/** Grain, through H.264 at a high rate, turned into RGB by a general converter. */
function throughH264(light: Picture, number: number): Recorded {
  const { width, height } = light;
  const folder = mkdtempSync(path.join(os.tmpdir(), "sieve-random-"));
  const clip = path.join(folder, "clip.mp4");
  const pixels = ["-f", "rawvideo", "-pix_fmt", "rgb24"];
  const coded = [
    "-vf",
    "scale=out_color_matrix=bt709:out_range=tv",
    "-c:v",
    "libx264",
    "-crf",
    "18",
    "-pix_fmt",
    "yuv420p",
    "-colorspace",
    "bt709",
  ];
  try {
    const input = rgbCodes(addNoise(light, { ...CAMERA, seed: number }));
    execFileSync("ffmpeg", ["-v", "error", ...pixels, "-s", `${width}x${height}`, "-i", "pipe:0", ...coded, clip], { input });
    return fromRgbCodes(execFileSync("ffmpeg", ["-v", "error", "-i", clip, ...pixels, "pipe:1"], { maxBuffer: 1e8 }), width, height);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
const RECORDINGS: Record<string, (light: Picture, number: number) => Recorded | Promise<Recorded>> = {
  pixels: (light) => fromRgbCodes(rgbCodes(light), light.width, light.height),
  camera: (light, number) => {
    const camera = { ...CAMERA, seed: number };
    const recorded = { raw: record(light, camera), reading: cameraReading(camera) };
    return { picture: decodeRawFrame(recorded.raw, recorded.reading), recorded };
  },
  JPEG: (light) => asJpeg(light, 90),
  "H.264": throughH264,
};

const [first = 1, last = 10] = (process.argv[2] ?? "").split("-").filter(Boolean).map(Number);
const names = process.argv[3]?.split(",") ?? Object.keys(RECORDINGS);
const draw = SCENES[process.argv[4] ?? "portrait"];
if (!draw) throw new RangeError(`There is no scene "${process.argv[4]}": take ${Object.keys(SCENES).join(" or ")}.`);
for (let number = first; number <= last; number++) {
  const { plate, truth, told } = draw(number);
  console.log(`${number}: ${told}`);
  for (const name of names) {
    const make = RECORDINGS[name];
    if (!make) throw new RangeError(`There is no recording "${name}": take ${Object.keys(RECORDINGS).join(", ")}.`);
    const { picture, recorded } = await make(plate, number);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const { matte } = evaluate(recipe, { plate: { key: `${number}/${name}`, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(matte!, truth);
    const { sample, primary } = findScreen(picture);
    const ratio = error.edge / matteError(bestConstant(picture, sample.colour, primary, truth).matte, truth).edge;
    const behind = ratio > (name === "pixels" ? 0.1 : 0.5) || error.core > 0.001 || error.background > 0.003;
    console.log(
      `  ${behind ? "!!" : "  "} ${name.padEnd(6)} edge ${error.edge.toExponential(2)} (${ratio.toFixed(3)} of the best constant's)  core ${error.core.toFixed(5)} (inside ${error.inside.toFixed(5)})  background ${error.background.toFixed(5)}`,
    );
  }
}
