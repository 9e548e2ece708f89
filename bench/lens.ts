/**
 * What a lens's coloured fringes and a camera's sharpening cost, and how much of it undoing them wins back: the truth plates as the camera records
 * them, with red drawn 1 px larger and blue 1 px smaller than green at the corners, and with luma sharpened by an unsharp mask of amount 1.
 * Run: npm run bench:lens [NAME…]
 */
import { readTruth, truthNames } from "../demo/truth-set";
import { withoutFringes } from "../src/core/image/fringes";
import type { Picture } from "../src/core/image/plane";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import type { Recipe } from "../src/core/recipe/schema";
import { cameraReading, record } from "../src/core/simulate/camera";
import { sharpened } from "../tests/support/sharpened";
import { CAMERA } from "./variants";

const only = process.argv.slice(2);
const reading = cameraReading(CAMERA);
const LEFT: Partial<Recipe["prepare"]> = { fringes: { red: 0, blue: 0 }, sharpening: { amount: 0, radius: 0.8 } };

console.log("squared edge error / core error; told: px of red and blue, amount of sharpening");
for (const name of truthNames().filter((n) => only.length === 0 || only.includes(n))) {
  const { plate, coverage } = await readTruth(name);
  const fringed: Picture = withoutFringes(plate, { red: -1, blue: 1 });
  const shots: Record<string, RawFrame> = {
    camera: record(plate, CAMERA),
    fringes: record(fringed, CAMERA),
    sharpened: sharpened(record(plate, CAMERA), 1),
    both: sharpened(record(fringed, CAMERA), 1),
  };
  for (const [shot, raw] of Object.entries(shots)) {
    const recorded = { raw, reading };
    const picture = decodeRawFrame(raw, reading);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const error = (prepare: Partial<Recipe["prepare"]>) => {
      const shown = { ...recipe, prepare: { ...recipe.prepare, ...prepare } };
      const { matte } = evaluate(shown, { plate: { key: `${name} ${shot}`, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
      const { edge, core } = matteError(matte!, coverage);
      return `${edge.toFixed(5)} / ${core.toFixed(5)}`;
    };
    const { fringes, sharpening } = recipe.prepare;
    console.log(
      `${name.padEnd(7)} ${shot.padEnd(9)} left ${error(LEFT)}  undone ${error({})}  told ${fringes.red.toFixed(2)} ${fringes.blue.toFixed(2)} ${sharpening.amount.toFixed(2)}`,
    );
  }
}
