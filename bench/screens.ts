/**
 * The proposal before screens of other hues: the same subject (the veil's truth) shot by the simulated stage before green, lime, teal, blue and
 * magenta, without noise and as the camera records it; edge error against the green screen's. Run: npm run bench:screens
 */
import { readTruth } from "../demo/truth-set";
import { compositeError, matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { beforeScreen, CAMERA, NOISELESS, SCREENS, testBackground } from "./variants";

const t = await readTruth("veil");
const { width, height } = t.coverage;
const behind = testBackground(width, height);
for (const [variant, camera] of [
  ["clean", NOISELESS],
  ["camera", CAMERA],
] as const) {
  let green = Number.NaN;
  for (const [name, colour] of Object.entries(SCREENS)) {
    const { picture, recorded } = beforeScreen(t, colour, camera);
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
