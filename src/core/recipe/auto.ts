import { distanceTo } from "../image/distance";
import type { Picture } from "../image/plane";
import { shrinkPicture } from "../image/resample";
import { colourDifference } from "../key/colour-difference";
import { findScreen } from "../screen/find";
import { PRIMARY_NAME } from "../screen/primary";
import { sampleScreen } from "../screen/sample";
import { defaultRecipe, type Pass, type Recipe } from "./schema";

export interface Proposal {
  readonly recipe: Recipe;
  /** Why each value was chosen, a sentence each. */
  readonly reasons: readonly string[];
}

const WEIGHTS = Array.from({ length: 21 }, (_, i) => i / 20);
/** What levels may do at the most; beyond that a holdout is called for. */
const BLACK_MOST = 0.3;
const WHITE_LEAST = 0.6;

const percentile = (values: Float32Array, q: number): number => {
  if (values.length === 0) return 0;
  const sorted = values.slice().sort();
  return sorted[Math.round(q * (sorted.length - 1))] as number;
};
const percent = (v: number) => `${(100 * v).toFixed(1)} %`;

/**
 * Proposes a complete recipe from the plate alone: screen colour from its cleanest area, the channel weight that parts
 * certain subject from certain screen best, levels from the histogram of both.
 * @param frame the number of the frame that `plate` shows
 * @throws RangeError when no screen is found
 */
export function proposeRecipe(plate: Picture, frame: number, base: Recipe = defaultRecipe()): Proposal {
  const factor = Math.max(1, Math.round(plate.width / 640));
  const small = shrinkPicture(plate, factor);
  const found = findScreen(small);
  const box = { x: found.box.x * factor, y: found.box.y * factor, width: found.box.width * factor, height: found.box.height * factor };
  const sample = sampleScreen(plate, [box]);
  const n = small.width * small.height;

  // Certain subject: well away from anything that looks like screen. Certain screen: well inside it.
  const margin = Math.max(3, small.height / 90);
  const toScreen = distanceTo(found.mask, small.width, small.height);
  const toOther = distanceTo(
    found.mask.map((v) => 1 - v),
    small.width,
    small.height,
  );
  const pick = (certain: (i: number) => boolean) => {
    const index: number[] = [];
    for (let i = 0; i < n; i++) if (certain(i)) index.push(i);
    return index;
  };
  const subject = pick((i) => (toScreen[i] as number) > margin);
  const screen = pick((i) => (toOther[i] as number) > margin);

  let weight = 0.5;
  let bestCost = Number.POSITIVE_INFINITY;
  for (const w of WEIGHTS) {
    const { data } = colourDifference(small, { screen: sample.colour, primary: found.primary, weight: w });
    let holes = 0;
    let residue = 0;
    for (const i of subject) holes += (1 - (data[i] as number)) ** 2;
    for (const i of screen) residue += (data[i] as number) ** 2;
    const cost = holes / Math.max(1, subject.length) + residue / Math.max(1, screen.length) + 0.002 * (w - 0.5) ** 2;
    if (cost < bestCost) {
      bestCost = cost;
      weight = w;
    }
  }

  // Levels are read at full size, where the grain is.
  const { data } = colourDifference(plate, { screen: sample.colour, primary: found.primary, weight });
  const at = (i: number) => {
    const x = (i % small.width) * factor;
    const y = Math.floor(i / small.width) * factor;
    return data[Math.min(plate.height - 1, y) * plate.width + Math.min(plate.width - 1, x)] as number;
  };
  const onScreen = Float32Array.from(screen, at);
  const onSubject = Float32Array.from(subject, at);
  const screenTop = percentile(onScreen, 0.995);
  const subjectLow = percentile(onSubject, 0.02);
  const black = Math.min(BLACK_MOST, Math.round(1000 * (screenTop + 0.005)) / 1000);
  const white = Math.min(1, Math.max(WHITE_LEAST, black + 0.2, Math.round(1000 * (subjectLow - 0.005)) / 1000));

  const pass: Pass = {
    ...(base.passes[0] as Pass),
    pull: { method: "colour-difference", weight },
    matte: { black, white },
    spill: { limit: "average", amount: 1 },
    edge: { screenOut: 1 },
  };
  const reasons = [
    `Screen: ${PRIMARY_NAME[found.primary]}, averaged over the most even ${box.width}×${box.height} px near the subject; ${percent(found.share)} of the frame is screen.`,
    `Weight ${percent(weight)}: of 21 tried, it parts certain subject from certain screen best.`,
    `Black point ${percent(black)}: 99.5 % of the certain screen lies below ${percent(screenTop)}.${screenTop > BLACK_MOST ? " Held back there: a garbage matte close to the subject costs less edge." : ""}`,
    `White point ${percent(white)}: 98 % of the certain subject lies above ${percent(subjectLow)}.${subjectLow < WHITE_LEAST ? " Held back there: draw a holdout over what stays open." : ""}`,
    "Spill: the screen primary is limited to the mean of the other two channels, on all of the subject.",
  ];
  const recipe: Recipe = {
    ...base,
    screen: { boxes: [{ frame, ...box }], colour: sample.colour },
    passes: [pass],
  };
  return { recipe, reasons };
}
