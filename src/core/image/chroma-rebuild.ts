import { type BackToRecorded, backToRecorded, onRows, rowRoom } from "../kernels/rows";
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
  const room = rowRoom(width, 4, cw, [low, ...planes.flatMap(({ c, steep }) => [c, steep])], null);
  const [luma, base, rise, to] = room.rowsAt as [number, number, number, number];
  const up = (plane: number, row: number, y: number) => chromaRow(room, plane, row, cw, ch, y, layout.subsampling, reading.siting);
  for (let y = 0; y < height; y++) {
    room.Y.set(Y.subarray(y * width, (y + 1) * width));
    up(0, 0, y);
    planes.forEach(({ fine }, k) => {
      up(1 + 2 * k, 1, y);
      up(2 + 2 * k, 2, y);
      onRows("alongLuma", room.YAt, base, rise, luma, to, width);
      fine.set(room.rows[3] as Float32Array, y * width);
    });
  }
  const back: BackToRecorded = {
    rows: footprint.rows,
    cositedAcross: footprint.across === COSITED,
    cositedDown: footprint.down === COSITED,
    rounds: ROUNDS,
    grain: GRAIN * code,
    even: EVEN * code,
    spare: ROOM,
  };
  for (const { c, fine } of planes) backToRecorded(fine, width, height, c, cw, ch, back);
  const picture = decodeRows(raw, reading, 0, [], ({ rows }, y) =>
    planes.forEach(({ fine }, k) => {
      (rows[k] as Float32Array).set(fine.subarray(y * width, (y + 1) * width));
    }),
  );
  return layout.alpha ? { ...picture, a: decodeAlpha(raw) } : picture;
}
