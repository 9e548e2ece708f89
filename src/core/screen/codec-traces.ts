import { chromaBehindRgb } from "../image/chroma-behind-rgb";
import { tellsMosaic } from "../image/mosaic-colour";
import { planeSizes, type RawFrame } from "../image/raw-frame";

/** What recording left in a frame's own samples, before anything is decoded. */
export interface CodecTraces {
  /** Chroma resolution that the samples really hold, which may be less than the file's; null for RGB whose colour is as fine as the picture. */
  readonly trueChroma: "4:4:4" | "4:2:2" | "4:2:0" | null;
  /** Whether colour that is as fine as the picture was interpolated from a sensor's mosaic, and has its false colour. */
  readonly mosaic: boolean;
  /** Mean step across the borders of 8 × 8 blocks over the mean step elsewhere, minus 1: 0 without block compression. */
  readonly blocking: number;
  /** Share of pixels whose lines comb: neighbouring lines differ and every second agrees. */
  readonly combing: number;
}

/** Of a frame whose own samples are not known, and of half floats. */
export const NO_TRACES: CodecTraces = { trueChroma: null, mosaic: false, blocking: 0, combing: 0 };

interface Channel {
  readonly data: Uint16Array;
  readonly width: number;
  readonly height: number;
}

/** Mean step, in codes, under which a channel is too flat to tell; and the ratio of steps that gives an enlarged one away. */
const SAMPLES_VARY = 0.05;
const ENLARGED = 0.72;

/**
 * Whether a channel was enlarged by two along an axis: then every second sample is the mean of its neighbours (or one of
 * them), while samples that were recorded lie off that line by far more.
 */
function enlarged({ data, width, height }: Channel, vertical: boolean): boolean {
  const step = vertical ? width : 1;
  const length = vertical ? height : width;
  const lines = vertical ? width : height;
  // Deviation of even and of odd samples from the mean of their neighbours; and steps inside and between pairs.
  const off = [0, 0];
  const pair = [0, 0];
  for (let l = 0; l < lines; l++) {
    const base = vertical ? l : l * width;
    for (let k = 2; k < length - 2; k++) {
      const i = base + k * step;
      const here = data[i] as number;
      const [before, after] = [data[i - step] as number, data[i + step] as number];
      off[k & 1]! += Math.abs(here - (before + after) / 2);
      pair[k & 1]! += Math.abs(here - before);
    }
  }
  // Where nothing varies nothing can be told.
  const least = (SAMPLES_VARY * lines * length) / 2;
  const ratio = ([p, q]: number[]) =>
    Math.max(p as number, q as number) < least ? 1 : Math.min(p as number, q as number) / Math.max(p as number, q as number);
  return ratio(off) < ENLARGED || ratio(pair) < ENLARGED;
}

function trueChroma(raw: RawFrame): CodecTraces["trueChroma"] {
  if (raw.layout.kind !== "ycbcr") return chromaBehindRgb(raw);
  if (raw.layout.subsampling === "420") return "4:2:0";
  const size = planeSizes(raw.width, raw.height, raw.layout)[1] as { width: number; height: number };
  const both = [1, 2].map((k) => ({ data: raw.planes[k] as Uint16Array, ...size }));
  const half = both.every((c) => enlarged(c, true));
  if (raw.layout.subsampling === "422") return half ? "4:2:0" : "4:2:2";
  return both.every((c) => enlarged(c, false)) ? (half ? "4:2:0" : "4:2:2") : "4:4:4";
}

/** Lines that are looked at, about: block borders run through the whole frame. */
const LINES = 360;

function blocking({ data, width, height }: Channel): number {
  const steps = (vertical: boolean) => {
    const sums = new Float64Array(8);
    const counts = new Float64Array(8);
    const d = vertical ? width : 1;
    const apart = Math.max(1, Math.floor((vertical ? width : height) / LINES));
    for (let y = vertical ? 2 : 0; y < (vertical ? height - 1 : height); y += vertical ? 1 : apart)
      for (let x = vertical ? 0 : 2; x < (vertical ? width : width - 1); x += vertical ? apart : 1) {
        const i = y * width + x;
        // The step itself, less what the slope on both sides explains.
        const inner = Math.abs((data[i] as number) - (data[i - d] as number));
        const slope =
          0.5 * (Math.abs((data[i - d] as number) - (data[i - 2 * d] as number)) + Math.abs((data[i + d] as number) - (data[i] as number)));
        const phase = (vertical ? y : x) & 7;
        sums[phase]! += inner - slope > 0 ? Math.min(inner - slope, 12) : 0;
        counts[phase]!++;
      }
    return sums.map((s, k) => s / Math.max(1, counts[k] as number));
  };
  const [across, down] = [steps(false), steps(true)];
  const rest = (s: Float64Array) => [...s].slice(1).sort((p, q) => p - q)[3] as number;
  const border = (across[0] as number) + (down[0] as number);
  const others = rest(across) + rest(down);
  return others > 1e-9 ? Math.max(0, border / others - 1) : border > 0.05 ? 1 : 0;
}

/** Step between lines that counts as combing, in shares of the code range. */
const COMB = 0.04;

/** Pixels where three steps in a row turn sign, across lines or along them. */
function zigzag({ data, width, height }: Channel, bound: number, step: number, x1: number, y1: number): number {
  let count = 0;
  for (let y = y1; y < height - 2 * y1; y++)
    for (let x = x1; x < width - 2 * x1; x++) {
      const i = y * width + x;
      const a = data[i - step] as number;
      const b = data[i] as number;
      const c = data[i + step] as number;
      const d = data[i + 2 * step] as number;
      if ((b - a > bound && b - c > bound && d - c > bound) || (a - b > bound && c - b > bound && c - d > bound)) count++;
    }
  return count;
}

/** Fine detail turns sign along lines as well as across them; two fields do so across lines only. */
function combing(channel: Channel, bits: number): number {
  const bound = COMB * 2 ** bits;
  const across = zigzag(channel, bound, channel.width, 0, 1);
  const along = zigzag(channel, bound, 1, 1, 0);
  return Math.max(0, across - 2 * along) / (channel.width * channel.height);
}

/** Reads the traces of recording off a frame's own samples. Half-float frames have none. */
export function measureCodecTraces(raw: RawFrame): CodecTraces {
  if (raw.layout.kind === "half") return NO_TRACES;
  // In RGB files green stands in for luma.
  const luma: Channel = { data: raw.planes[raw.layout.kind === "rgb" ? 1 : 0] as Uint16Array, width: raw.width, height: raw.height };
  const chroma = trueChroma(raw);
  const mosaic = (chroma === null || chroma === "4:4:4") && tellsMosaic(raw);
  return { trueChroma: chroma, mosaic, blocking: blocking(luma), combing: combing(luma, raw.layout.bits) };
}
