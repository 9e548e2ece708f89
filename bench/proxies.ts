import { readTruth, truthFrames, truthNames } from "../demo/truth-set";
import type { Plane } from "../src/core/image/plane";
import { colourDifference, excessOf } from "../src/core/key/colour-difference";
import { matteLevels } from "../src/core/matte/levels";
import { measureFigures, measureSpill } from "../src/core/measure/figures";
import { edgeFlicker, trueFlicker } from "../src/core/measure/flicker";
import { matteError } from "../src/core/measure/truth-error";
import { findScreen } from "../src/core/screen/find";
import { limitSpill } from "../src/core/spill/limit";
import { variantOf } from "./variants";

interface Pairs {
  readonly proxy: number[];
  readonly truth: number[];
  /** The true error that the figure stands for. */
  readonly stands: string;
}

/**
 * The figures shown on real shots beside the true errors they stand for, over the truth plates and a row of settings.
 * Ranks are compared, plate by plate put on one scale, since only the order of settings matters to who reads them.
 */
export async function proxies(): Promise<Record<string, Pairs>> {
  const out: Record<string, Pairs> = {
    holes: { proxy: [], truth: [], stands: "the true error in the core" },
    residue: { proxy: [], truth: [], stands: "the true error in the background" },
    "edge loss": { proxy: [], truth: [], stands: "the true loss of soft edge (cover pushed to 0 or 1 that is neither)" },
    spill: { proxy: [], truth: [], stands: "the true spill on the subject" },
    "edge flicker": { proxy: [], truth: [], stands: "the true flicker" },
  };
  const add = (figure: string, proxy: number[], truth: number[]) => {
    const scale = (v: number[]) => {
      const top = Math.max(...v);
      return v.map((x) => (top > 0 ? x / top : 0));
    };
    out[figure]!.proxy.push(...scale(proxy));
    out[figure]!.truth.push(...scale(truth));
  };
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
    const { removed } = limitSpill(picture, { primary, limit: "average", amount: 1 });
    spillProxy.push(measureSpill(removed, pull, excessOf(sample.colour, primary, 0.5)));
    const came = limitSpill(t.spilled, { primary, limit: "average", amount: 1 }).removed;
    const solid = { ...t.coverage, data: t.coverage.data.map((v) => (v > 0.99 ? 1 : 0)) };
    spillTruth.push(measureSpill(came, solid, excessOf(sample.colour, primary, 0.5)));
    if (truthFrames(name) > 1) {
      const u = await readTruth(name, 2);
      const second = colourDifference(variantOf(u.plate, "camera").picture, { screen: sample.colour, primary, weight: 0.5 });
      const flicker: [number[], number[]] = [[], []];
      for (const [black, white] of [
        [0, 1],
        [0.05, 0.95],
        [0.1, 0.8],
        [0.2, 0.7],
        [0.3, 0.6],
        [0.4, 0.55],
      ] as const) {
        const [a, b] = [matteLevels(pull, { black, white }), matteLevels(second, { black, white })];
        flicker[0].push(edgeFlicker(a, b));
        flicker[1].push(trueFlicker(a, b, t.coverage, u.coverage));
      }
      add("edge flicker", ...flicker);
    }
  }
  add("spill", spillProxy, spillTruth);
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
