import { recordedBehindRgb } from "../image/chroma-behind-rgb";
import { lumaOf } from "../image/luma";
import { tellsMosaic, withoutFalseColour } from "../image/mosaic-colour";
import type { Picture } from "../image/plane";
import { decodeRawFrame } from "../image/raw-frame";
import { UNSHARPENED } from "../image/sharpening";
import { colourDifference, excessOf } from "../key/colour-difference";
import { describeFringes, tellFringes } from "../measure/fringes";
import { share } from "../measure/judged";
import { tellSharpening } from "../measure/sharpening";
import type { LocatedScreen } from "../screen/locate";
import { blockNoise, SMOOTHEST } from "../screen/noise";
import { excessPlane } from "../screen/primary";
import type { Recipe } from "./schema";
import type { PlateSource } from "./sources";

/** Grain of colour from which on it is worth taking off where every pixel has its own, and the most that a recipe holds. */
const LEAST_DENOISED = 0.003;
const MOST_DENOISED = 0.1;
/**
 * Grain of the screen's excess, as a share of it, from which on it comes off light too: high sensitivity, or a dim screen. How much of it, and at
 * most; and how much of that comes off coarse chroma: as much costs strands there, half leaves a fraction of the specks.
 */
const HEAVY_GRAIN = 0.05;
const OF_HEAVY = 0.5;
const MOST_OF_HEAVY = 0.1;
const COARSE_COLOUR = 0.5;

/** The most that a recipe holds of a fringe, px. */
const MOST_FRINGE = 10;

const toTwentieth = (v: number) => Math.round(20 * v) / 20;
const toTenThousandth = (v: number) => Math.round(10_000 * v) / 10_000;

/** How a plate is prepared for the matte, and why. */
export interface Preparation {
  /** Whether colour is coarser than the picture. */
  readonly subsampled: boolean;
  readonly prepare: Pick<Recipe["prepare"], "chroma" | "falseColour" | "denoiseLuma" | "denoiseChroma" | "fringes" | "sharpening">;
  readonly reasons: readonly string[];
}

/** Chroma rebuilt where it is coarse, false colour of a mosaic cleared; grain off colour where every pixel has its own, and off light too where it is heavy. */
export function proposePreparation(
  plate: Picture,
  { found, factor, sample }: LocatedScreen,
  recorded?: PlateSource["recorded"],
): Preparation {
  const { primary } = found;
  const reasons: string[] = [];
  const behind = recorded && recordedBehindRgb(recorded.raw, recorded.reading.transfer);
  const layout = (behind ?? recorded)?.raw.layout;
  const subsampled = layout?.kind === "ycbcr" && layout.subsampling !== "444";
  if (subsampled)
    reasons.push(
      `Chroma rebuilt along luma for the matte: ${behind ? "the file is RGB, but its colour was recorded" : "the file stores colour"} as ${layout.subsampling.split("").join(":")}.`,
    );
  const mosaic = recorded !== undefined && !subsampled && tellsMosaic(recorded.raw);
  if (mosaic)
    reasons.push(
      "False colour cleared along luma for the matte: the camera saw one colour at each pixel and interpolated the others, which shows beside edges and in fine patterns.",
    );
  const copy = mosaic ? decodeRawFrame(withoutFalseColour(recorded.raw), recorded.reading) : plate;
  const grainOf = (channel: Float32Array) => blockNoise(channel, found.mask, plate.width, plate.height, { quantile: SMOOTHEST, factor });
  const ofColourGrain = () => {
    const luma = lumaOf(copy).data;
    // What colour is denoised by: red and blue less luma.
    return Math.max(...[copy.r, copy.b].map((c) => grainOf(c.map((v, i) => v - (luma[i] as number)))));
  };
  const colourGrain = subsampled ? 0 : ofColourGrain();
  const grainOnScreen = grainOf(excessPlane(copy, primary, 0.5));
  const grainy = grainOnScreen / excessOf(sample.colour, primary, 0.5);
  const denoiseLuma =
    grainy < HEAVY_GRAIN
      ? 0
      : toTenThousandth(Math.min(MOST_OF_HEAVY, OF_HEAVY * blockNoise(copy[primary], found.mask, plate.width, plate.height, { factor })));
  const ofColour = colourGrain < LEAST_DENOISED ? 0 : toTenThousandth(Math.min(MOST_DENOISED, colourGrain));
  const denoiseChroma = Math.max(ofColour, toTenThousandth(COARSE_COLOUR * denoiseLuma));
  if (denoiseLuma > 0)
    reasons.push(
      `Grain taken off light and colour for the matte, up to ${denoiseLuma} of light: it reaches ${share(grainy)} of what parts the screen from grey, more than levels and bounds can take without a loss.`,
    );
  else if (denoiseChroma > 0)
    reasons.push(
      `Grain taken off colour for the matte, up to ${denoiseChroma} of light: colour was recorded for every pixel, with all of its grain.`,
    );
  const told = tellFringes(plate, primary, subsampled);
  const held = (px: number) => Math.min(MOST_FRINGE, Math.max(-MOST_FRINGE, px));
  const fringes = { red: held(told.red), blue: held(told.blue) };
  if (fringes.red !== 0 || fringes.blue !== 0)
    reasons.push(`Lens fringes: ${describeFringes(fringes)}, as the whole frame's edges tell; brought to one size for the matte.`);
  const { amount, overshoot } = recorded
    ? tellSharpening(recorded.raw, colourDifference(plate, { screen: sample.colour, primary, weight: 0.5 }))
    : { amount: 0, overshoot: 0 };
  const sharpening = { ...UNSHARPENED, amount: toTwentieth(amount) };
  if (amount > 0)
    reasons.push(
      `Sharpening undone for the matte, as far as the camera's unsharp mask of amount ${sharpening.amount} went: luma goes at least ${share(overshoot)} of its step beyond the screen beside sharp edges, where a lens leaves none.`,
    );
  return { subsampled, prepare: { chroma: subsampled, falseColour: mosaic, denoiseLuma, denoiseChroma, fringes, sharpening }, reasons };
}
