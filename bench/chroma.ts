/**
 * What coarse chroma costs, and how much of it rebuilding wins back: the truth plates as the camera records
 * them in 4:2:0, keyed with and without the rebuild, against the same camera in 4:4:4. Run: npm run bench:chroma
 */
import { readTruth, truthNames } from "../demo/truth-set";
import { decodeRawFrame } from "../src/core/image/raw-frame";
import { matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { cameraReading, record } from "../src/core/simulate/camera";
import { CAMERA } from "./variants";

console.log("squared edge error / core error; won back: of what 4:2:0 adds to each, the share that rebuilding takes away again");
for (const name of truthNames()) {
  const t = await readTruth(name);
  const pull = (subsampling: "420" | "444", rebuild: boolean) => {
    const camera = { ...CAMERA, subsampling };
    const raw = record(t.plate, camera);
    const reading = cameraReading(camera);
    const picture = decodeRawFrame(raw, reading);
    const recorded = { raw, reading };
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    if (!rebuild) recipe.prepare.chroma = false;
    const key = `${name} ${subsampling} ${rebuild}`;
    const { matte } = evaluate(recipe, { plate: { key, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    return matteError(matte!, t.coverage);
  };
  const [full, rebuilt, plain] = [pull("444", true), pull("420", true), pull("420", false)];
  const wonBack = (what: "edge" | "core") => `${((100 * (plain[what] - rebuilt[what])) / (plain[what] - full[what])).toFixed(0)} %`;
  const show = (e: { edge: number; core: number }) => `${e.edge.toFixed(5)} / ${e.core.toFixed(5)}`;
  console.log(
    `${name.padEnd(7)} 4:4:4 ${show(full)}  4:2:0 ${show(plain)}  rebuilt ${show(rebuilt)}  won back ${wonBack("edge")} / ${wonBack("core")}`,
  );
}
