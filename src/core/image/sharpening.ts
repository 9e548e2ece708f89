import { LUMA } from "../color/ycbcr";
import { pointwise } from "../kernels/pointwise";
import { gaussianBlur } from "./blur";
import type { RawFrame } from "./raw-frame";

/** An unsharp mask: `amount` times what a blur of σ `radius` px takes away from luma is added to it. */
export interface Sharpening {
  readonly amount: number;
  readonly radius: number;
}

/** What most frames are. The radius is the usual one. */
export const UNSHARPENED: Sharpening = { amount: 0, radius: 0.8 };

/** Rounds in which it is undone: what is left of the finest detail is under 1 % for amounts up to 1. */
const ROUNDS = 7;

/**
 * A frame as it was before its camera sharpened it: the luma that, sharpened so, is the frame's. s = y + a · (y − blur(y)) is solved for y by
 * y ← (s + a · blur(y)) / (1 + a), which comes nearer with every round, as no blur makes anything larger. In codes, as cameras do it; chroma,
 * and what of R′G′B′ is not luma, stays. Frames of half floats are not from a camera's sharpening and stay as they are.
 * Source: fixed-point iteration of P. H. van Cittert, Zeitschrift für Physik 69 (1931), for a filter that is known.
 */
export function withoutSharpening(raw: RawFrame, { amount, radius }: Sharpening): RawFrame {
  if (amount === 0 || raw.layout.kind === "half") return raw;
  const { width, height } = raw;
  const sharp = lumaCodes(raw);
  let soft = sharp;
  for (let round = 0; round < ROUNDS; round++) {
    const next = gaussianBlur(soft, width, height, radius);
    pointwise("weigh", [1 / (1 + amount), amount / (1 + amount), 0], [sharp, next, 0], [next]);
    soft = next;
  }
  const most = 2 ** raw.layout.bits - 1;
  const luma = raw.layout.kind === "ycbcr" ? 1 : 3;
  const planes = raw.planes.map((plane, k) => {
    if (k >= luma) return plane;
    const out = new Uint16Array(plane.length);
    for (let i = 0; i < out.length; i++)
      out[i] = Math.min(most, Math.max(0, Math.round((plane[i] as number) + (soft[i] as number) - (sharp[i] as number))));
    return out;
  });
  return { ...raw, planes };
}

/** Luma of a frame of codes, in codes. */
export function lumaCodes(raw: RawFrame): Float32Array {
  const [first, g, b] = raw.planes as readonly [Uint16Array, Uint16Array, Uint16Array];
  if (raw.layout.kind === "ycbcr") return new Float32Array(first);
  const { kr, kb } = LUMA.bt709;
  const out = new Float32Array(first.length);
  for (let i = 0; i < out.length; i++) out[i] = kr * (first[i] as number) + (1 - kr - kb) * (g[i] as number) + kb * (b[i] as number);
  return out;
}
