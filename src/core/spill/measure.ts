import { distanceTo } from "../image/distance";
import { maskUnder } from "../image/mask";
import type { Picture, Plane } from "../image/plane";
import { otherChannels, type Primary } from "../screen/primary";
import { hueOffset, neutralLimit, type SpillLimit } from "./limit";

/** Amount and reach that the picture itself asks for. */
export interface SpillProposal {
  /** Share of the excess that is spill and not the subject's own, 0…1. */
  readonly amount: number;
  /** Degrees of hue from the screen primary's that the spill covers on either side. */
  readonly reachWarm: number;
  readonly reachCool: number;
  /** Mean excess at the rim and inside, as shares of light. */
  readonly rim: number;
  readonly inside: number;
}

/** Depth of the rim that catches most of the screen's light, and from where on the inside begins, as shares of the height. */
const RIM = 1 / 60;
const INSIDE = 1 / 20;
/** Matte over which a pixel is subject alone. */
const SOLID = 0.98;
const BIN = 5;
const BINS = 360 / BIN;
/** Share of the spill on one side that the reach must cover, and degrees added so that its shoulder lies beyond. */
const COVER = 0.97;
const MARGIN = 5;
/** Excess, as a share of light, under which there is nothing to tell. */
const LEAST = 0.002;

/**
 * Tells spill from the subject's own near-screen colours by where they lie: the screen's light falls off inwards from the rim, own colours do not.
 * The excess of the primary is gathered by hue at the rim and well inside; what the rim has more of is spill.
 * @param plate linear light, at reduced size @param matte its matte, of the same size
 * @returns null when the subject has no rim and inside to compare
 */
export function measureSpillReach(
  plate: Picture,
  matte: Plane,
  primary: Primary,
  limit: SpillLimit = "average",
  mix = 0.5,
): SpillProposal | null {
  const { width, height } = plate;
  const [un, vn] = otherChannels(primary);
  const [p, u, v] = [plate[primary], plate[un], plate[vn]];
  const depth = distanceTo(maskUnder(matte.data, SOLID), width, height);
  const rim = new Float64Array(BINS);
  const inside = new Float64Array(BINS);
  let [rimCount, insideCount] = [0, 0];
  for (let i = 0; i < depth.length; i++) {
    const d = (depth[i] as number) / height;
    const here = d >= 0.5 / height && d <= RIM ? rim : d >= INSIDE ? inside : null;
    if (!here) continue;
    if (here === rim) rimCount++;
    else insideCount++;
    const [P, U, V] = [p[i] as number, u[i] as number, v[i] as number];
    const over = P - neutralLimit(U, V, limit, mix);
    if (over <= 0) continue;
    const light = Math.max(1e-3, P + U + V);
    const bin = Math.floor((hueOffset(P, U, V) + 180) / BIN) % BINS;
    here[bin] = (here[bin] as number) + over / light;
  }
  if (rimCount < 50 || insideCount < 50) return null;
  const surplus = Float64Array.from(rim, (n, k) => Math.max(0, n / rimCount - (inside[k] as number) / insideCount));
  const total = (list: Float64Array) => list.reduce((a, b) => a + b, 0);
  const rimMean = total(rim) / rimCount;
  const insideMean = total(inside) / insideCount;
  const spill = total(surplus);
  const middle = BINS / 2;
  const reach = (side: 1 | -1) => {
    const bins = Array.from({ length: middle }, (_, k) => surplus[side > 0 ? middle + k : middle - 1 - k] as number);
    const all = bins.reduce((a, b) => a + b, 0);
    if (all < 0.02 * spill || all === 0) return 10;
    let last = 0;
    for (let sum = 0; last < bins.length && sum < COVER * all; last++) sum += bins[last] as number;
    return Math.min(180, last * BIN + MARGIN);
  };
  const nothing = rimMean < LEAST;
  return {
    amount: nothing ? 1 : Math.min(1, Math.max(0.3, Math.round(20 * (1 - insideMean / rimMean)) / 20)),
    reachWarm: nothing ? 180 : reach(1),
    reachCool: nothing ? 180 : reach(-1),
    rim: rimMean,
    inside: insideMean,
  };
}
