import { boxMean } from "./box";
import { lumaAtChroma } from "./chroma-footprint";
import { planeSizes, type RawFrame } from "./raw-frame";

/** Window in which colour is taken to follow luma, radius in chroma samples. */
const RADIUS = 2;
/** Variances of luma and of chroma in it, in 8-bit codes squared, under which there is only grain; share of the latter that luma must explain for the window to count. */
const FLAT = 6;
const PLAIN = 30;
const STRAIGHT = 0.9;
/** Windows that must count; and by how much those for `left` must outnumber the others for it, or at most may for `center`, as a share of all. */
const ENOUGH = 200;
const LEFT = 0.35;
const CENTER = 0.2;

/**
 * Where the chroma samples of a 4:2:0 or 4:2:2 frame lie along rows, told from the frame: where two surfaces meet, colour is
 * a straight line of luma (He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35, 2013), and follows it most closely where
 * both are taken from the same place. Luma blurred alike is taken from even columns and from odd ones: samples on even
 * columns follow the first, samples half-way between follow both alike. Many files do not say, and converters write
 * one and mean the other; half a pixel of chroma is lost on thin strands.
 * @returns undefined when the frame has too few edges to tell
 */
export function tellSiting(raw: RawFrame): "left" | "center" | undefined {
  const { width, height, layout } = raw;
  if (layout.kind !== "ycbcr" || layout.subsampling === "444") return undefined;
  const { width: cw, height: ch } = planeSizes(width, height, layout)[1] as { width: number; height: number };
  const unit = 2 ** (layout.bits - 8);
  const mean = (v: Float32Array) => boxMean(v, cw, ch, RADIUS);
  const variance = (v: Float32Array, m: Float32Array) => mean(v.map((x) => x * x)).map((x, i) => x - (m[i] as number) ** 2);
  const chroma = [1, 2].map((k) => {
    const codes = Float32Array.from(raw.planes[k] as Uint16Array, (v) => v / unit);
    const m = mean(codes);
    return { codes, mean: m, variance: variance(codes, m) };
  });
  /** How much of chroma's variance luma explains that is blurred about the columns `shift` right of the even ones. */
  const explained = (shift: 0 | 1) => {
    const low = lumaAtChroma(raw, "left", shift).map((v) => v / unit);
    const meanY = mean(low);
    const varies = variance(low, meanY);
    const out = new Float32Array(cw * ch);
    for (const c of chroma) {
      const products = mean(c.codes.map((v, i) => v * (low[i] as number)));
      for (let i = 0; i < out.length; i++)
        if ((varies[i] as number) >= FLAT)
          out[i] =
            (out[i] as number) + ((products[i] as number) - (meanY[i] as number) * (c.mean[i] as number)) ** 2 / (varies[i] as number);
    }
    return out;
  };
  const [even, odd] = [explained(0), explained(1)];
  let [votes, windows] = [0, 0];
  for (let i = 0; i < even.length; i++) {
    const all = chroma.reduce((s, c) => s + (c.variance[i] as number), 0);
    if (all < PLAIN || Math.max(even[i] as number, odd[i] as number) < STRAIGHT * all) continue;
    windows++;
    votes += Math.sign((even[i] as number) - (odd[i] as number));
  }
  if (windows < ENOUGH) return undefined;
  const share = votes / windows;
  return share >= LEFT ? "left" : share <= CENTER ? "center" : undefined;
}
