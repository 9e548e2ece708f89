import type { TruthFrame } from "../demo/truth-set";
import type { Picture, Plane } from "../src/core/image/plane";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { cameraReading, record } from "../src/core/simulate/camera";
import { makeCamera } from "../src/core/simulate/stage";

/** The camera of the camera plates: 8-bit 4:2:0 with sensor noise and mild block compression. */
export const CAMERA = makeCamera({
  shotNoise: 0.0004,
  readNoise: 0.0015,
  bits: 8,
  subsampling: "420",
  siting: "left",
  blockStep: 4,
  seed: 12,
});

export const VARIANTS = ["clean", "camera"] as const;
export type Variant = (typeof VARIANTS)[number];

/** A truth plate as a method gets to see it: noise-free light, or what a camera recorded of it. */
export function variantOf(light: Picture, variant: Variant, seed = CAMERA.seed): { picture: Picture; raw?: RawFrame } {
  if (variant === "clean") return { picture: light };
  const raw = record(light, { ...CAMERA, seed });
  return { picture: decodeRawFrame(raw, cameraReading(CAMERA)), raw };
}

/** A background unlike any screen: warm at the left, cool at the right, darker downwards. Linear. */
export function testBackground(width: number, height: number): Picture {
  const make = (left: number, right: number) =>
    Float32Array.from({ length: width * height }, (_, i) => {
      const u = (i % width) / width;
      const v = Math.floor(i / width) / height;
      return (left + (right - left) * u) * (1 - 0.6 * v);
    });
  return { width, height, r: make(0.6, 0.12), g: make(0.28, 0.2), b: make(0.16, 0.5) };
}

/** The part of the solid subject whose own, spill-free colour is the screen's: sage cloth before green. 1 there. */
export function nearScreenCloth({ coverage, free }: TruthFrame): Plane {
  const green = (i: number) => (free.g[i]! > 0.04 ? (free.g[i]! - 0.5 * (free.r[i]! + free.b[i]!)) / free.g[i]! : 0);
  return { ...coverage, data: coverage.data.map((c, i) => (c >= 0.998 && green(i) > 0.18 ? 1 : 0)) };
}
