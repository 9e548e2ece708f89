import { labelComponents } from "../image/components";
import type { Plane } from "../image/plane";

/**
 * Errors of a matte against a known truth.
 * Source: Rhemann, Rother, Wang, Gelautz, Kohli & Rott, "A Perceptually Motivated Online Benchmark for Image Matting", CVPR 2009.
 */
export interface Score {
  /** Sum of absolute differences, in whole-pixel units. */
  readonly sad: number;
  /** Mean squared error. */
  readonly mse: number;
  /** Gradient error: squared difference of Gaussian-derivative magnitudes (σ = 1.4), summed. */
  readonly gradient: number;
  /** Connectivity error (θ = 0.15, p = 1), summed. */
  readonly connectivity: number;
  /** Pixels counted. */
  readonly pixels: number;
}

/** @param region where to count (values over 0.5); all pixels without it */
export function scoreMatte(matte: Plane, truth: Plane, region?: Plane): Score {
  for (const other of region ? [truth, region] : [truth])
    if (other.width !== matte.width || other.height !== matte.height)
      throw new RangeError(`Sizes differ: matte ${matte.width}×${matte.height}, other ${other.width}×${other.height}.`);
  const { width, height } = matte;
  const counted = (i: number) => !region || (region.data[i] as number) > 0.5;
  const gm = gradientMagnitude(matte);
  const gt = gradientMagnitude(truth);
  const { matte: cm, truth: ct } = connectivity(matte.data, truth.data, width, height);
  let [sad, square, gradient, connected, pixels] = [0, 0, 0, 0, 0];
  for (let i = 0; i < matte.data.length; i++) {
    if (!counted(i)) continue;
    const d = (matte.data[i] as number) - (truth.data[i] as number);
    sad += Math.abs(d);
    square += d * d;
    gradient += ((gm[i] as number) - (gt[i] as number)) ** 2;
    connected += Math.abs((cm[i] as number) - (ct[i] as number));
    pixels++;
  }
  return { sad, mse: pixels ? square / pixels : 0, gradient, connectivity: connected, pixels };
}

const SIGMA = 1.4;

/** Magnitude of the first-order Gaussian derivatives; edge pixels repeat. */
export function gradientMagnitude({ width, height, data }: Plane): Float32Array {
  const radius = Math.ceil(3 * SIGMA);
  const offsets = Array.from({ length: 2 * radius + 1 }, (_, i) => i - radius);
  const g = offsets.map((x) => Math.exp(-(x * x) / (2 * SIGMA * SIGMA)) / (SIGMA * Math.sqrt(2 * Math.PI)));
  const d = offsets.map((x, i) => (-x * (g[i] as number)) / (SIGMA * SIGMA));
  // Normalised to unit energy in two dimensions, as the paper's authors do.
  const energy = Math.sqrt(d.reduce((s, v) => s + v * v, 0) * g.reduce((s, v) => s + v * v, 0));
  const clampX = (x: number) => Math.min(width - 1, Math.max(0, x));
  const clampY = (y: number) => Math.min(height - 1, Math.max(0, y));
  const pass = (along: number[], across: number[]) => {
    const mid = new Float32Array(data.length);
    const out = new Float32Array(data.length);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let s = 0;
        for (let k = 0; k < along.length; k++) s += (data[y * width + clampX(x + (offsets[k] as number))] as number) * (along[k] as number);
        mid[y * width + x] = s;
      }
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let s = 0;
        for (let k = 0; k < across.length; k++)
          s += (mid[clampY(y + (offsets[k] as number)) * width + x] as number) * (across[k] as number);
        out[y * width + x] = s / energy;
      }
    return out;
  };
  const dx = pass(d, g);
  const dy = pass(g, d);
  return dx.map((v, i) => Math.hypot(v, dy[i] as number));
}

const STEP = 0.1;
const THETA = 0.15;

/** The degree of connectedness of every pixel to the largest area that is opaque in both mattes. */
function connectivity(matte: Float32Array, truth: Float32Array, width: number, height: number) {
  const n = matte.length;
  const level = new Float32Array(n).fill(-1);
  const steps = Math.round(1 / STEP);
  for (let s = 1; s <= steps; s++) {
    const t = s * STEP - 1e-6;
    const mask = new Uint8Array(n);
    for (let i = 0; i < n; i++) mask[i] = (matte[i] as number) >= t && (truth[i] as number) >= t ? 1 : 0;
    const { labels, areas } = labelComponents(mask, width, height);
    let largest = 0;
    for (let k = 1; k < areas.length; k++) if (largest === 0 || (areas[k] as number) > (areas[largest] as number)) largest = k;
    for (let i = 0; i < n; i++) if ((level[i] as number) < 0 && (largest === 0 || labels[i] !== largest)) level[i] = (s - 1) * STEP;
  }
  const degree = (a: number, l: number) => {
    const d = a - (l < 0 ? 1 : l);
    return 1 - (d >= THETA ? d : 0);
  };
  return {
    matte: matte.map((a, i) => degree(a, level[i] as number)),
    truth: truth.map((a, i) => degree(a, level[i] as number)),
  };
}
