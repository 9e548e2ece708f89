/**
 * The proposal before screens of other hues: the same subject (the veil's truth) shot by the simulated stage before green, lime, teal, blue and
 * magenta, without noise and as the camera records it; edge error against the green screen's. Run: npm run bench:screens
 */
import { readTruth } from "../demo/truth-set";
import { decodeRawFrame } from "../src/core/image/raw-frame";
import { compositeError, matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { cameraReading } from "../src/core/simulate/camera";
import { shoot } from "../src/core/simulate/shoot";
import { makeCamera, makeStage } from "../src/core/simulate/stage";
import { CAMERA, testBackground } from "./variants";

const SCREENS = {
  green: { r: 0.045, g: 0.36, b: 0.075 },
  lime: { r: 0.15, g: 0.36, b: 0.04 },
  teal: { r: 0.03, g: 0.34, b: 0.2 },
  blue: { r: 0.04, g: 0.08, b: 0.4 },
  violet: { r: 0.16, g: 0.05, b: 0.4 },
  magenta: { r: 0.4, g: 0.04, b: 0.2 },
};
const t = await readTruth("veil");
const { width, height } = t.coverage;
const element = { coverage: t.coverage, colour: t.free };
const behind = testBackground(width, height);
for (const [variant, camera] of [
  ["clean", makeCamera({ bits: 12, shotNoise: 0, readNoise: 0 })],
  ["camera", CAMERA],
] as const) {
  let green = Number.NaN;
  for (const [name, colour] of Object.entries(SCREENS)) {
    const shot = shoot(element, makeStage({ distance: 3, screen: { colour, gradient: 0.5 } }), camera);
    const reading = cameraReading(camera);
    const picture = decodeRawFrame(shot.plate, reading);
    const recorded = { raw: shot.plate, reading };
    try {
      const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
      const e = evaluate(
        recipe,
        { plate: { key: `${name}/${variant}`, picture, recorded } },
        { reduce: 1, outputs: ["matte", "foreground"] },
      );
      const error = matteError(e.matte!, t.coverage);
      if (name === "green") green = error.edge;
      console.log(
        `${variant.padEnd(6)} ${name.padEnd(8)} edge ${error.edge.toExponential(2)} (${(error.edge / green).toFixed(2)} of green's)  core ${error.core.toFixed(5)}  background ${error.background.toFixed(5)}  ΔE00 ${compositeError(e.foreground!, t.coverage, t.free, behind).toFixed(2)}`,
      );
    } catch (error) {
      console.log(`${variant.padEnd(6)} ${name.padEnd(8)} ${(error as Error).message}`);
    }
  }
}
