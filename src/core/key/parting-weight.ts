import type { Rgb } from "../color/hue";
import { boxDeviation } from "../image/box";
import type { Picture } from "../image/plane";
import { costsByWeight } from "../kernels/weights";
import { edgeWidths } from "../measure/edge-width";
import { excessPlane, otherChannels, screenPrimary, WEIGHT_RANGE, weightRange } from "../screen/primary";
import { excessOf } from "./colour-difference";

/** Step of the weights that are tried. */
const WEIGHT_STEP = 0.05;
/** Cost of a weight away from the mean of both channels, over the signal that is left: noise of one channel alone weighs more. */
const UNEVEN = 0.003;
/** Share of the cost within the usual range under which a weight beyond it is taken: mixtures ask for such weights too, and gain less. */
const BEYOND = 0.5;
/** Deviation of the excess over 5 × 5 px, as a share of the screen's, from which on a place is a mixture. */
const VARIES = 0.035;
/** Share of what is inside that must be no mixture for it to tell anything: of straws, or of a blurred tangle, next to nothing is. */
const SMOOTH = 0.02;
/** By how much mixtures must move the weight to count, where edges are narrower than the margin: dense hair does. */
const MOVED = 1.5 * WEIGHT_STEP;

/**
 * The channel weight whose plain difference leaves least open of what is subject and least over of what is screen. Where edges are blurred
 * wider than the margin around the screen, or hair is dense, mixtures are among the subject, and a warm one's would ask for a weight near 1: it is
 * chosen again without them.
 * @param plate a reduced copy, linear light @param screen the clean plate at its size @param colour the screen's
 * @param inside pixels that are subject for certain @param outside pixels that are screen for certain
 * @param margin how far both keep from the screen's outline, px
 * @returns null where hardly any of the subject is smooth: see {@link weightOfThinThings}
 */
export function partingWeight(
  plate: Picture,
  screen: Picture,
  colour: Rgb,
  inside: Uint32Array,
  outside: Uint32Array,
  margin: number,
): number | null {
  const first = bestWeight(plate, screen, colour, inside, outside);
  const { width, height } = plate;
  const primary = screenPrimary(colour);
  const excess = excessPlane(plate, primary, first);
  const behind = excessPlane(screen, primary, first);
  const matte = excess.map((v, i) => Math.min(1, Math.max(0, 1 - v / Math.max(1e-6, behind[i] as number))));
  const deviation = boxDeviation(excess, width, height, 2);
  const unmixed = inside.filter((i) => (deviation[i] as number) < VARIES * (behind[i] as number));
  if (unmixed.length < SMOOTH * inside.length) return null;
  const second = bestWeight(plate, screen, colour, unmixed, outside);
  if (Math.abs(second - first) > MOVED) return second;
  return edgeWidths({ width, height, data: matte }).median > margin ? second : first;
}

/** The weight that is best for these places, whatever is among them: see {@link partingWeight}. */
export function bestWeight(plate: Picture, screen: Picture, colour: Rgb, inside: Uint32Array, outside: Uint32Array): number {
  const primary = screenPrimary(colour);
  const costs = costsByWeight(
    plate,
    screen,
    [primary, ...otherChannels(primary)],
    [
      // What stands out as its own colour is carried in by the pull, and says nothing here.
      { places: inside, aim: 0, most: 0.04 },
      { places: outside, aim: 1, most: 1 },
    ],
  );
  const [usualLeast, usualMost] = weightRange(colour);
  let usual = { weight: 0.5, cost: Number.POSITIVE_INFINITY };
  let beyond = usual;
  const middling = excessOf(colour, primary, 0.5);
  for (let step = Math.round(WEIGHT_RANGE[0] / WEIGHT_STEP); step <= Math.round(WEIGHT_RANGE[1] / WEIGHT_STEP); step++) {
    const w = step * WEIGHT_STEP;
    const signal = excessOf(colour, primary, w) / middling;
    if (!(signal > 0.1)) continue;
    const [holes, residue] = costs(w) as [number, number];
    const cost = holes / Math.max(1, inside.length) + residue / Math.max(1, outside.length) + UNEVEN * ((2 * w - 1) / signal) ** 2;
    if (w < usualLeast - 1e-9 || w > usualMost + 1e-9) beyond = cost < beyond.cost ? { weight: w, cost } : beyond;
    else if (cost < usual.cost) usual = { weight: w, cost };
  }
  return (beyond.cost < BEYOND * usual.cost ? beyond : usual).weight;
}
