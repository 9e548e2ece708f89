import { readTruth } from "../demo/truth-set";
import { VARIANTS, variantOf, CAMERA } from "../bench/variants";
import { findScreen } from "../src/core/screen/find";
import { matteError } from "../src/core/measure/truth-error";
import { bestConstant } from "../bench/baseline";
import { synthesiseCleanPlate } from "../src/core/screen/clean-plate";
import { subjectDifference, subjectExcess } from "../src/core/key/subject-difference";
import { colourDifference } from "../src/core/key/colour-difference";
import { decodeWithRebuiltChroma } from "../src/core/image/chroma-rebuild";
import { cameraReading } from "../src/core/simulate/camera";
for (const name of process.argv.slice(2)) {
  const t = await readTruth(name);
  for (const variant of VARIANTS) {
    const { picture, raw } = variantOf(t.plate, variant);
    const { sample, primary } = findScreen(picture);
    const show = (label: string, m: any) => { const e = matteError(m, t.coverage); console.log(name, variant, label.padEnd(26), "edge", e.edge.toExponential(3), "core", e.core.toFixed(5), "bg", e.background.toFixed(5), JSON.stringify(e.pixels)); };
    const b = bestConstant(picture, sample.colour, primary, t.coverage); show("best constant " + b.settings, b.matte);
    const weight = 0.5;
    show("cd constant", colourDifference(picture, { screen: sample.colour, primary, weight }));
    const clean = synthesiseCleanPlate(picture, primary);
    show("cd synth clean", subjectDifference(picture, { primary, weight, screen: clean }, null));
    show("cd true clean", subjectDifference(picture, { primary, weight, screen: t.clean }, null));
    for (const w of [0.3,0.5,0.7]) show("subject synth "+w, subjectDifference(picture, { primary, weight:w, screen: clean }, subjectExcess(picture, { primary, weight:w, screen: clean })));
    show("subject true clean", subjectDifference(picture, { primary, weight, screen: t.clean }, subjectExcess(picture, { primary, weight, screen: t.clean })));
    if (raw) {
      const re = decodeWithRebuiltChroma(raw, cameraReading(CAMERA));
      const c2 = synthesiseCleanPlate(re, primary);
      for (const w of [0.3,0.5,0.7]) show("rebuilt subject "+w, subjectDifference(re, { primary, weight:w, screen: c2 }, subjectExcess(re, { primary, weight:w, screen: c2 })));
    }
  }
}
