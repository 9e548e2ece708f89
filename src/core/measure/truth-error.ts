import { ciede2000 } from "../color/ciede2000";
import { linearToLab } from "../color/lab";
import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { maskOf, maskUnder } from "../image/mask";
import { linesOf, type Picture, type Plane } from "../image/plane";
import { otherChannels, type Primary } from "../screen/primary";
import { outlineMargin } from "./figures";

/** Coverage at or beyond these counts as certain background and certain subject of a truth plate. */
export const CERTAIN = 0.002;

/** Errors of a matte against exact coverage, by where they lie. */
export interface MatteError {
  /** Mean of 1 − matte where the truth is solid. */
  readonly core: number;
  /** The same inside the subject's outline by more than {@link outlineMargin}, as holes are counted: without its rim. */
  readonly inside: number;
  /** Mean matte where the truth is empty. */
  readonly background: number;
  /** Mean squared error in the band between. */
  readonly edge: number;
  /** Mean squared error over all pixels. */
  readonly mse: number;
  /** Pixels in each. */
  readonly pixels: { readonly core: number; readonly background: number; readonly edge: number };
}

const sameSize = (a: { width: number; height: number }, b: { width: number; height: number }) => {
  if (a.width !== b.width || a.height !== b.height)
    throw new RangeError(`Sizes differ: ${a.width}×${a.height} and ${b.width}×${b.height}.`);
};

/** @throws RangeError when sizes differ */
export function matteError(matte: Plane, truth: Plane): MatteError {
  sameSize(matte, truth);
  let [core, background, edge, all] = [0, 0, 0, 0];
  let [cores, backgrounds, edges] = [0, 0, 0];
  let [inside, insides] = [0, 0];
  const margin = outlineMargin(linesOf(matte));
  const toOutside = distanceTo(maskUnder(truth.data, 0.5), matte.width, matte.height, margin + 1);
  for (let i = 0; i < matte.data.length; i++) {
    const m = matte.data[i] as number;
    const t = truth.data[i] as number;
    all += (m - t) ** 2;
    if (t >= 1 - CERTAIN) {
      core += 1 - m;
      cores++;
      if ((toOutside[i] as number) > margin) {
        inside += 1 - m;
        insides++;
      }
    } else if (t <= CERTAIN) {
      background += m;
      backgrounds++;
    } else {
      edge += (m - t) ** 2;
      edges++;
    }
  }
  return {
    core: core / Math.max(1, cores),
    inside: inside / Math.max(1, insides),
    background: background / Math.max(1, backgrounds),
    edge: edge / Math.max(1, edges),
    mse: all / matte.data.length,
    pixels: { core: cores, background: backgrounds, edge: edges },
  };
}

/**
 * Mean CIEDE2000 over the subject between a composite and the true spill-free one, both over `behind`.
 * @param foreground straight colour with alpha, linear
 * @param colour true spill-free colour, premultiplied, linear
 * @param where counted where this is over half; over all of the subject (coverage over 2 %) without it
 */
export function compositeError(foreground: Picture, truth: Plane, colour: Picture, behind: Picture, where?: Plane): number {
  sameSize(foreground, truth);
  const a = foreground.a;
  if (!a) throw new RangeError("The foreground has no alpha.");
  let sum = 0;
  let count = 0;
  for (let i = 0; i < a.length; i++) {
    const t = truth.data[i] as number;
    if (where ? (where.data[i] as number) <= 0.5 : t <= 0.02) continue;
    const m = a[i] as number;
    const mine = (c: "r" | "g" | "b") => Math.min(1, Math.max(0, m * (foreground[c][i] as number) + (1 - m) * (behind[c][i] as number)));
    const wanted = (c: "r" | "g" | "b") => Math.min(1, Math.max(0, (colour[c][i] as number) + (1 - t) * (behind[c][i] as number)));
    sum += ciede2000(
      linearToLab({ r: mine("r"), g: mine("g"), b: mine("b") }),
      linearToLab({ r: wanted("r"), g: wanted("g"), b: wanted("b") }),
    );
    count++;
  }
  return count ? sum / count : 0;
}

/** Half side of the square over which spill is averaged, as a share of the frame's lines: light falls smoothly, grain does not. */
const SPILL_SQUARE = 1 / 120;

/** What counts as spill: all light of the screen, or what of it shows, over the neutral limit (the mean of the two other channels). */
export type SpillCounted = "all" | "shown";

/**
 * Spill left on the subject, as a share of what came in: mean excess of the screen primary over the truth's, of the
 * result's colour and of the plate's. Averaged over small squares of the subject before what is under the truth counts as none,
 * or grain of either sign would count as spill on both sides.
 * @param result straight colour of the subject, linear
 * @param spilled true colour with spill, premultiplied, linear; `free` the same without
 * @param counted with "shown" excess counts from the neutral limit on, or from the surface's own where that is more: green light on warm wood, which
 * stays warm, is no spill then, as in the figure that the bench shows
 */
export function spillLeft(
  result: Picture,
  truth: Plane,
  spilled: Picture,
  free: Picture,
  primary: Primary,
  counted: SpillCounted = "all",
): number {
  sameSize(result, truth);
  const { width, height } = truth;
  const [u, v] = otherChannels(primary);
  const excess = (p: Picture, i: number, k: number) => ((p[primary][i] as number) - 0.5 * ((p[u][i] as number) + (p[v][i] as number))) * k;
  const subject = maskOf(truth.data, (t) => t >= 0.5);
  const least = counted === "shown" ? 0 : Number.NEGATIVE_INFINITY;
  const overTruth = (p: Picture, premultiplied: boolean) =>
    Float32Array.from(subject, (s, i) => {
      const k = 1 / (truth.data[i] as number);
      return s ? excess(p, i, premultiplied ? k : 1) - Math.max(least, excess(free, i, k)) : 0;
    });
  const radius = Math.round(SPILL_SQUARE * linesOf(truth));
  const around = (values: Float32Array) => boxMean(values, width, height, radius);
  const share = around(Float32Array.from(subject));
  const total = (values: Float32Array) =>
    around(values).reduce((sum, e, i) => (subject[i] ? sum + Math.max(0, e / (share[i] as number)) : sum), 0);
  const came = total(overTruth(spilled, true));
  return came > 0 ? total(overTruth(result, false)) / came : 0;
}
