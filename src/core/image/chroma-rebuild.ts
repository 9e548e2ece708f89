import { boxMean } from "./box";
import type { Picture } from "./plane";
import {
  type ColourReading,
  chromaRow,
  decodeAlpha,
  decodeRawFrame,
  decodeRows,
  planeSizes,
  type RawFrame,
  type Siting,
} from "./raw-frame";

/** Window in which colour is taken to follow luma in a straight line: radius in chroma samples. */
const RADIUS = 2;
/** Variance of luma, in 8-bit codes squared, under which it counts as grain. */
const FLAT = 6;
/** Most codes of colour that one code of luma may bring. */
const STEEPEST = 1.5;
/** Rounds in which what was rebuilt is brought back to what was recorded. More win nothing and sharpen grain. */
const ROUNDS = 3;
/** Difference from what was recorded, in 8-bit codes, that grain and rounding account for. */
const GRAIN = 1;
/** How far detail may go beyond the samples around it, as a share of their range. */
const ROOM = 0.1;
/** Range of chroma around a sample, in 8-bit codes, under which there is no edge to rebuild. */
const EVEN = 4;

/** Weights of the luma-sized samples that one chroma sample stands for, along a line: 1-2-1 co-sited, 1-1 centred. */
interface Taps {
  /** Offset of the first. */
  readonly from: number;
  readonly weights: readonly number[];
}
const COSITED: Taps = { from: -1, weights: [0.25, 0.5, 0.25] };
const CENTRED: Taps = { from: 0, weights: [0.5, 0.5] };
const ONE: Taps = { from: 0, weights: [1] };

/** Where chroma samples lie on luma's, and what they stand for. */
interface Footprint {
  readonly across: Taps;
  readonly down: Taps;
  /** Luma rows for one chroma row. */
  readonly rows: 1 | 2;
}

function footprintOf(subsampling: string, siting: Siting): Footprint {
  const tall = subsampling === "420";
  return {
    across: siting === "center" ? CENTRED : COSITED,
    down: !tall ? ONE : siting === "topleft" ? COSITED : CENTRED,
    rows: tall ? 2 : 1,
  };
}

/** A luma-sized plane as the chroma sample at x, y would record it. */
function recordedAt(full: Float32Array, width: number, height: number, x: number, y: number, { across, down, rows }: Footprint): number {
  let sum = 0;
  for (let k = 0; k < down.weights.length; k++) {
    const row = Math.min(height - 1, Math.max(0, rows * y + down.from + k)) * width;
    let line = 0;
    for (let l = 0; l < across.weights.length; l++)
      line += (across.weights[l] as number) * (full[row + Math.min(width - 1, Math.max(0, 2 * x + across.from + l))] as number);
    sum += (down.weights[k] as number) * line;
  }
  return sum;
}

/** Luma at the resolution and places of chroma. */
function lumaAtChroma(Y: Uint16Array, width: number, height: number, cw: number, ch: number, footprint: Footprint): Float32Array {
  const { across, down, rows } = footprint;
  const out = new Float32Array(cw * ch);
  const line = new Float32Array(width);
  for (let y = 0; y < ch; y++) {
    line.fill(0);
    for (let k = 0; k < down.weights.length; k++) {
      const row = Math.min(height - 1, Math.max(0, rows * y + down.from + k)) * width;
      const w = down.weights[k] as number;
      for (let x = 0; x < width; x++) line[x] = (line[x] as number) + w * (Y[row + x] as number);
    }
    const at = y * cw;
    for (let l = 0; l < across.weights.length; l++) {
      const w = across.weights[l] as number;
      const from = across.from + l;
      for (let x = 0; x < cw; x++) {
        const q = 2 * x + from;
        out[at + x] = (out[at + x] as number) + w * (line[q < 0 ? 0 : q < width ? q : width - 1] as number);
      }
    }
  }
  return out;
}

/** Least and most of a plane in 3 × 3 around every sample. */
function rangeAround(plane: Float32Array, w: number, h: number): { least: Float32Array; most: Float32Array } {
  const along = (source: Float32Array, other: Float32Array, step: number, most: boolean) => {
    for (let y = 0, i = 0; y < h; y++)
      for (let x = 0; x < w; x++, i++) {
        const here = source[i] as number;
        const a = (step === 1 ? x > 0 : y > 0) ? (source[i - step] as number) : here;
        const b = (step === 1 ? x < w - 1 : y < h - 1) ? (source[i + step] as number) : here;
        other[i] = most ? (a > b ? (a > here ? a : here) : b > here ? b : here) : a < b ? (a < here ? a : here) : b < here ? b : here;
      }
  };
  const across = new Float32Array(plane.length);
  const [least, most] = [new Float32Array(plane.length), new Float32Array(plane.length)];
  along(plane, across, 1, false);
  along(across, least, w, false);
  along(plane, across, 1, true);
  along(across, most, w, true);
  return { least, most };
}

/**
 * Decodes a 4:2:0 or 4:2:2 frame with its chroma brought to full resolution.
 * First along luma: in every small window colour is a straight line of luma, so that the detail luma has beyond chroma's
 * resolution moves colour along that line. Then, where colour has an edge, it is brought back to what was recorded: what
 * the rebuilt chroma would be recorded as must be what was, and none may go far beyond the samples around it, which
 * sharpens edges that luma does not show. For the matte: the picture keeps its own pixels. Other frames decode as always.
 * Sources: the local linear model of He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), used for upsampling;
 * back-projection, Irani & Peleg, "Improving Resolution by Image Registration", CVGIP 53 (1991).
 */
export function decodeWithRebuiltChroma(raw: RawFrame, reading: ColourReading): Picture {
  const { width, height, layout } = raw;
  if (layout.kind !== "ycbcr" || layout.subsampling === "444") return decodeRawFrame(raw, reading);
  const { width: cw, height: ch } = planeSizes(width, height, layout)[1] as { width: number; height: number };
  const Y = raw.planes[0] as Uint16Array;
  const footprint = footprintOf(layout.subsampling, reading.siting);
  const n = cw * ch;
  const low = lumaAtChroma(Y, width, height, cw, ch, footprint);
  const mean = (c: Float32Array) => boxMean(c, cw, ch, RADIUS);
  const meanY = mean(low);
  const variance = new Float32Array(n);
  for (let i = 0; i < n; i++) variance[i] = (low[i] as number) ** 2;
  variance.set(mean(variance));
  const code = 2 ** (layout.bits - 8);
  for (let i = 0; i < n; i++) variance[i] = Math.max(0, (variance[i] as number) - (meanY[i] as number) ** 2) + FLAT * code * code;

  /** A chroma plane, and how steeply it follows luma. */
  const follow = (k: 1 | 2) => {
    const c = new Float32Array(raw.planes[k] as Uint16Array);
    const meanC = mean(c);
    const product = new Float32Array(n);
    for (let i = 0; i < n; i++) product[i] = (c[i] as number) * (low[i] as number);
    const slope = mean(product);
    for (let i = 0; i < n; i++) {
      const a = ((slope[i] as number) - (meanY[i] as number) * (meanC[i] as number)) / (variance[i] as number);
      slope[i] = a > STEEPEST ? STEEPEST : a < -STEEPEST ? -STEEPEST : a;
    }
    return { c, steep: mean(slope), fine: new Float32Array(width * height) };
  };
  const planes = [follow(1), follow(2)] as const;
  const line = () => new Float32Array(width);
  const [base, rise, luma, blend] = [line(), line(), line(), new Float32Array(cw)];
  for (let y = 0; y < height; y++) {
    chromaRow(luma, blend, low, cw, ch, y, layout, reading.siting);
    for (const { c, steep, fine } of planes) {
      chromaRow(base, blend, c, cw, ch, y, layout, reading.siting);
      chromaRow(rise, blend, steep, cw, ch, y, layout, reading.siting);
      alongLuma(fine, y * width, base, rise, luma, Y);
    }
  }
  const [fineB, fineR] = planes.map(({ c, fine }) => {
    backToRecorded(fine, width, height, c, cw, ch, footprint, code);
    return fine;
  }) as [Float32Array, Float32Array];
  const row = (fine: Float32Array, y: number) => fine.subarray(y * width, (y + 1) * width);
  const picture = decodeRows(raw, reading, (y) => [row(fineB, y), row(fineR, y)]);
  return layout.alpha ? { ...picture, a: decodeAlpha(raw) } : picture;
}

/** One row of chroma moved along luma. */
function alongLuma(fine: Float32Array, at: number, base: Float32Array, rise: Float32Array, luma: Float32Array, Y: Uint16Array): void {
  for (let x = 0, i = at; x < base.length; x++, i++)
    fine[i] = (base[x] as number) + (rise[x] as number) * ((Y[i] as number) - (luma[x] as number));
}

/** Brings rebuilt chroma back to what was recorded, where the samples around one differ. Changes `fine` in place. */
function backToRecorded(
  fine: Float32Array,
  width: number,
  height: number,
  recorded: Float32Array,
  cw: number,
  ch: number,
  footprint: Footprint,
  code: number,
): void {
  const { least, most } = rangeAround(recorded, cw, ch);
  const cells: number[] = [];
  for (let i = 0; i < least.length; i++) {
    const range = (most[i] as number) - (least[i] as number);
    if (range <= EVEN * code) continue;
    cells.push(i);
    least[i]! -= ROOM * range;
    most[i]! += ROOM * range;
  }
  const grain = GRAIN * code;
  const missing = new Float32Array(cw * ch);
  for (let round = 0; round < ROUNDS; round++) {
    for (const i of cells) {
      const x = i % cw;
      const d = (recorded[i] as number) - recordedAt(fine, width, height, x, (i - x) / cw, footprint);
      missing[i] = d > grain ? d - grain : d < -grain ? d + grain : 0;
    }
    for (const i of cells) {
      const cx = i % cw;
      const cy = (i - cx) / cw;
      for (let y = footprint.rows * cy; y < Math.min(height, footprint.rows * (cy + 1)); y++)
        for (let x = 2 * cx; x < Math.min(width, 2 * cx + 2); x++) {
          const at = y * width + x;
          const v = (fine[at] as number) + between(missing, cw, ch, x, y, footprint);
          fine[at] = v < (least[i] as number) ? (least[i] as number) : v > (most[i] as number) ? (most[i] as number) : v;
        }
    }
  }
}

/** A chroma-sized plane at one luma sample, bilinear. */
function between(plane: Float32Array, cw: number, ch: number, x: number, y: number, { across, down, rows }: Footprint): number {
  const cx = Math.max(0, across === CENTRED ? (x - 0.5) / 2 : x / 2);
  const cy = Math.max(0, rows === 1 ? y : down === CENTRED ? (y - 0.5) / 2 : y / 2);
  const x0 = Math.floor(cx);
  const y0 = Math.floor(cy);
  const x1 = Math.min(cw - 1, x0 + 1);
  const y1 = Math.min(ch - 1, y0 + 1);
  const [fx, fy] = [cx - x0, cy - y0];
  const upper = (1 - fx) * (plane[y0 * cw + x0] as number) + fx * (plane[y0 * cw + x1] as number);
  const lower = (1 - fx) * (plane[y1 * cw + x0] as number) + fx * (plane[y1 * cw + x1] as number);
  return (1 - fy) * upper + fy * lower;
}
