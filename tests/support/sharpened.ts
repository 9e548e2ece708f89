import { gaussianBlur } from "../../src/core/image/blur";
import type { RawFrame } from "../../src/core/image/raw-frame";

/** A Y′CbCr frame whose camera sharpened its luma by an unsharp mask. */
export function sharpened(raw: RawFrame, amount: number, radius = 0.8): RawFrame {
  const [luma, ...chroma] = raw.planes as readonly [Uint16Array, ...Uint16Array[]];
  const soft = gaussianBlur(Float32Array.from(luma), raw.width, raw.height, radius);
  const most = raw.layout.kind === "half" ? 0 : 2 ** raw.layout.bits - 1;
  const sharp = luma.map((y, i) => Math.min(most, Math.max(0, Math.round(y + amount * (y - (soft[i] as number))))));
  return { ...raw, planes: [sharp, ...chroma] };
}
