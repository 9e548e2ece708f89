import sharp from "sharp";
import type { TruthFrame } from "../demo/truth-set";
import type { Rgb } from "../src/core/color/hue";
import { linearToSrgb } from "../src/core/color/srgb";
import type { Picture, Plane } from "../src/core/image/plane";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { cameraReading, record } from "../src/core/simulate/camera";
import { shoot } from "../src/core/simulate/shoot";
import { type Camera, makeCamera, makeStage, type StageScreen } from "../src/core/simulate/stage";

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

/** A plate as 8-bit sRGB codes, interleaved. */
export function rgbCodes({ width, height, r, g, b }: Picture): Buffer {
  const codes = Buffer.alloc(3 * width * height);
  for (let i = 0; i < r.length; i++)
    [r, g, b].forEach((c, k) => {
      codes[3 * i + k] = Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, c[i]!))));
    });
  return codes;
}

/** Such codes as a frame, and decoded. */
export function fromRgbCodes(codes: Buffer, width: number, height: number) {
  const planes = [0, 1, 2].map((k) => Uint16Array.from({ length: width * height }, (_, i) => codes[3 * i + k]!));
  const raw: RawFrame = { width, height, layout: { kind: "rgb", bits: 8, alpha: false }, planes };
  const reading = { transfer: "srgb", matrix: "bt709", range: "full", siting: "center" } as const;
  return { picture: decodeRawFrame(raw, reading), recorded: { raw, reading } };
}

/** A plate as a general-purpose library saves and opens it as a JPEG still: 8-bit RGB, whose chroma was 4:2:0. */
export async function asJpeg(light: Picture, quality = 92) {
  const { width, height } = light;
  const file = await sharp(rgbCodes(light), { raw: { width, height, channels: 3 } })
    .jpeg({ quality, chromaSubsampling: "4:2:0" })
    .toBuffer();
  return fromRgbCodes(await sharp(file).raw().toBuffer(), width, height);
}

/** Twelve bits, 4:4:4, no noise. */
export const NOISELESS = makeCamera({ bits: 12, shotNoise: 0, readNoise: 0 });

/** Screens of several hues, linear. */
export const SCREENS = {
  green: { r: 0.045, g: 0.36, b: 0.075 },
  lime: { r: 0.15, g: 0.36, b: 0.04 },
  teal: { r: 0.03, g: 0.34, b: 0.2 },
  blue: { r: 0.04, g: 0.08, b: 0.4 },
  violet: { r: 0.16, g: 0.05, b: 0.4 },
  magenta: { r: 0.4, g: 0.04, b: 0.2 },
};

/** A truth plate's subject before a screen of another colour: shot on the simulated stage. */
export function beforeScreen({ coverage, free }: TruthFrame, colour: Rgb, camera: Camera, screen: Partial<StageScreen> = {}) {
  const stage = makeStage({ distance: 3, screen: { colour, gradient: 0.5, ...screen } });
  const { plate: raw } = shoot({ coverage, colour: free }, stage, camera);
  const reading = cameraReading(camera);
  return { picture: decodeRawFrame(raw, reading), recorded: { raw, reading } };
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
