import { readTruth, type TruthFrame, truthFrames, truthNames } from "../demo/truth-set";
import type { Picture, Plane } from "../src/core/image/plane";
import { colourDifference, excessOf } from "../src/core/key/colour-difference";
import { subjectExcess } from "../src/core/key/subject-difference";
import { matteLevels } from "../src/core/matte/levels";
import { correlation, rankCorrelation } from "../src/core/measure/correlation";
import { measureFigures, measureSpill } from "../src/core/measure/figures";
import { edgeFlicker, trueFlicker, watched } from "../src/core/measure/flicker";
import { matteError } from "../src/core/measure/truth-error";
import { synthesiseCleanPlate } from "../src/core/screen/clean-plate";
import { findScreen } from "../src/core/screen/find";
import { otherChannels, type Primary } from "../src/core/screen/primary";
import { limitSpill } from "../src/core/spill/limit";
import { variantOf } from "./variants";

/** A figure beside the true error that it stands for: a row of settings for each plate. */
interface Pairs {
  readonly stands: string;
  readonly rows: { readonly figure: number[]; readonly truth: number[] }[];
}

/** How well a figure tells the true error. */
export interface Told {
  readonly stands: string;
  readonly cases: number;
  /** Rank correlation along one plate's settings, which is what one sees while moving a control: mean and least over the plates. */
  readonly rank: number;
  readonly leastRank: number;
  /** Correlation over all cases, each plate's row brought to a top of 1. */
  readonly pooled: number;
}

/** The figures shown on real shots against the true errors they stand for, over the truth plates and a row of settings. */
export async function proxies(): Promise<Record<string, Told>> {
  return Object.fromEntries(Object.entries(await gather()).map(([name, pairs]) => [name, tell(pairs)]));
}

function tell({ stands, rows }: Pairs): Told {
  const scaled = (pick: (r: Pairs["rows"][number]) => number[]) =>
    rows.flatMap((r) => {
      const top = Math.max(...pick(r));
      return pick(r).map((v) => (top > 0 ? v / top : 0));
    });
  // A plate on which the figure or the truth is nothing throughout says nothing.
  const ranked = rows.map((r) => rankCorrelation(r.figure, r.truth)).filter((v) => !Number.isNaN(v));
  return {
    stands,
    cases: rows.reduce((n, r) => n + r.figure.length, 0),
    rank: ranked.reduce((s, v) => s + v, 0) / ranked.length,
    leastRank: Math.min(...ranked),
    pooled: correlation(
      scaled((r) => r.figure),
      scaled((r) => r.truth),
    ),
  };
}

async function gather(): Promise<Record<string, Pairs>> {
  const pairs = (stands: string): Pairs => ({ stands, rows: [] });
  const out = {
    holes: pairs("the true error in the core"),
    residue: pairs("the true error in the background"),
    "edge loss": pairs("the true loss of soft edge (cover pushed to 0 or 1 that is neither)"),
    spill: pairs("the true spill on the subject, of one plate with none to twice its spill"),
    "spill, plate against plate": pairs("the true spill on the subject"),
    "edge flicker": pairs("the true flicker of still edges"),
  };
  const add = (name: keyof typeof out, figure: number[], truth: number[]) => out[name].rows.push({ figure, truth });
  const spillProxy: number[] = [];
  const spillTruth: number[] = [];
  for (const name of truthNames()) {
    const t = await readTruth(name);
    const { picture } = variantOf(t.plate, "camera");
    const { sample, primary } = findScreen(picture);
    const pull = colourDifference(picture, { screen: sample.colour, primary, weight: 0.5 });
    const rows = { holes: [[], []], residue: [[], []], loss: [[], []] } as Record<string, [number[], number[]]>;
    for (const white of [1, 0.95, 0.9, 0.8, 0.7, 0.6, 0.5]) {
      const matte = matteLevels(pull, { black: 0.02, white });
      const { figures } = measureFigures(pull, matte, undefined, 1);
      rows.holes![0].push(figures.holes);
      rows.holes![1].push(matteError(matte, t.coverage).core);
      rows.loss![0].push(figures.edgeLoss);
      rows.loss![1].push(trueLoss(matte, t.coverage));
    }
    for (const black of [0, 0.02, 0.05, 0.1, 0.15, 0.2, 0.3]) {
      const matte = matteLevels(pull, { black, white: 0.95 });
      const { figures } = measureFigures(pull, matte, undefined, 1);
      rows.residue![0].push(figures.residue);
      rows.residue![1].push(matteError(matte, t.coverage).background);
    }
    add("holes", ...rows.holes!);
    add("residue", ...rows.residue!);
    add("edge loss", ...rows.loss!);
    // The same plate with none, half … twice its spill: the screen's light on the subject is what differs.
    const spill: [number[], number[]] = [[], []];
    const own = excessOf(sample.colour, primary, 0.5);
    const solid = Uint8Array.from(t.coverage.data, (v) => (v > 0.99 ? 1 : 0));
    for (const share of [0, 0.5, 1, 1.5, 2]) {
      const spilled = mixedSpill(t, share);
      const shot = variantOf(over(spilled, t.coverage, t.clean), "camera").picture;
      const { removed } = limitSpill(shot, { primary, limit: "average", amount: 1 });
      const key = colourDifference(shot, { screen: sample.colour, primary, weight: 0.5 });
      const clean = synthesiseCleanPlate(shot, primary);
      const subject = subjectExcess(shot, { primary, weight: 0.5, screen: clean });
      spill[0].push(measureSpill(removed, measureFigures(key, key, undefined, 1).inside, own, subject?.nearScreen));
      spill[1].push(trueSpill(spilled, t.free, solid, primary) / own);
    }
    add("spill", ...spill);
    spillProxy.push(spill[0][2]!);
    spillTruth.push(spill[1][2]!);
    // A subject that holds still, recorded twice: what changes is grain; and the clips' first two frames.
    const pairs = [await second(t, name, 1), ...(truthFrames(name) > 1 ? [await second(t, name, 2)] : [])];
    for (const { next, coverage } of pairs) {
      const nextPull = colourDifference(next, { screen: sample.colour, primary, weight: 0.5 });
      const flicker: [number[], number[]] = [[], []];
      for (const [black, white] of [
        [0, 1],
        [0.05, 0.95],
        [0.1, 0.8],
        [0.2, 0.7],
        [0.3, 0.6],
        [0.4, 0.55],
      ] as const) {
        const [a, b] = [matteLevels(pull, { black, white }), matteLevels(nextPull, { black, white })];
        const figure = edgeFlicker(watched(a, picture), watched(b, next));
        if (figure === null) continue;
        flicker[0].push(figure);
        flicker[1].push(trueFlicker(a, b, t.coverage, coverage));
      }
      if (flicker[0].length > 2) add("edge flicker", ...flicker);
    }
  }
  add("spill, plate against plate", spillProxy, spillTruth);
  return out;
}

/** Share of the truly soft band that the matte holds at 0 or 1. */
function trueLoss(matte: Plane, truth: Plane): number {
  let [lost, soft] = [0, 0];
  for (let i = 0; i < matte.data.length; i++) {
    const t = truth.data[i]!;
    if (t < 0.05 || t > 0.95) continue;
    soft++;
    if (matte.data[i]! <= 0 || matte.data[i]! >= 1) lost++;
  }
  return soft ? lost / soft : 0;
}

/** The same frame recorded again with other grain, or a clip's next one. */
async function second(t: TruthFrame, name: string, frame: number): Promise<{ next: Picture; coverage: Plane }> {
  const u = frame === 1 ? t : await readTruth(name, frame);
  return { next: variantOf(u.plate, "camera", 77).picture, coverage: u.coverage };
}

/** The spilled subject with `share` of its spill, premultiplied. */
function mixedSpill({ free, spilled }: TruthFrame, share: number): Picture {
  const mixed = (c: "r" | "g" | "b") => free[c].map((v, i) => Math.max(0, v + share * (spilled[c][i]! - v)));
  return { width: free.width, height: free.height, r: mixed("r"), g: mixed("g"), b: mixed("b") };
}

/** A premultiplied subject before the screen. */
function over(subject: Picture, coverage: Plane, clean: Picture): Picture {
  const mixed = (c: "r" | "g" | "b") => subject[c].map((v, i) => v + (1 - coverage.data[i]!) * clean[c][i]!);
  return { width: subject.width, height: subject.height, r: mixed("r"), g: mixed("g"), b: mixed("b") };
}

/** Mean excess of the screen primary that the solid subject has over its spill-free self. */
function trueSpill(spilled: Picture, free: Picture, solid: Uint8Array, primary: Primary): number {
  const [u, v] = otherChannels(primary);
  const excess = (p: Picture, i: number) => p[primary][i]! - 0.5 * (p[u][i]! + p[v][i]!);
  let [sum, count] = [0, 0];
  for (let i = 0; i < solid.length; i++) {
    if (!solid[i]) continue;
    sum += Math.max(0, excess(spilled, i) - excess(free, i));
    count++;
  }
  return count ? sum / count : 0;
}
