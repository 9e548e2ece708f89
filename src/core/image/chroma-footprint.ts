import { planeSizes, type RawFrame, type Siting } from "./raw-frame";

/** Weights of the luma-sized samples that one chroma sample stands for, along a line: 1-2-1 co-sited, 1-1 centred. */
interface Taps {
  /** Offset of the first. */
  readonly from: number;
  readonly weights: readonly number[];
}
export const COSITED: Taps = { from: -1, weights: [0.25, 0.5, 0.25] };
export const CENTRED: Taps = { from: 0, weights: [0.5, 0.5] };
const ONE: Taps = { from: 0, weights: [1] };

/** Where chroma samples lie on luma's, and what they stand for. */
export interface Footprint {
  readonly across: Taps;
  readonly down: Taps;
  /** Luma rows for one chroma row. */
  readonly rows: 1 | 2;
}

/** @param subsampling 420 or 422 */
export function footprintOf(subsampling: string, siting: Siting): Footprint {
  const tall = subsampling === "420";
  return {
    across: siting === "center" ? CENTRED : COSITED,
    down: !tall ? ONE : siting === "topleft" ? COSITED : CENTRED,
    rows: tall ? 2 : 1,
  };
}

/**
 * Luma of a 4:2:0 or 4:2:2 frame at the resolution and places of its chroma, codes.
 * @param shift columns that it is taken further right
 */
export function lumaAtChroma(raw: RawFrame, siting: Siting, shift = 0): Float32Array {
  const { width, height, layout } = raw;
  const Y = raw.planes[0] as Uint16Array;
  const { width: cw, height: ch } = planeSizes(width, height, layout)[1] as { width: number; height: number };
  const { across, down, rows } = footprintOf(layout.kind === "ycbcr" ? layout.subsampling : "444", siting);
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
      const from = across.from + l + shift;
      for (let x = 0; x < cw; x++) {
        const q = 2 * x + from;
        out[at + x] = (out[at + x] as number) + w * (line[q < 0 ? 0 : q < width ? q : width - 1] as number);
      }
    }
  }
  return out;
}
