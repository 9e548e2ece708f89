import { z } from "zod";
import { TRANSFERS } from "../color/transfer";
import { MATRICES, RANGES } from "../color/ycbcr";
import { SITINGS, SUBSAMPLINGS } from "../image/raw-frame";

const share = z.number().min(0).max(1);
const stops = z.number().min(-6).max(6);
const rgb = z.strictObject({ r: z.number().min(0).max(4), g: z.number().min(0).max(4), b: z.number().min(0).max(4) });

/** How a simulated screen is lit and what is wrong with it. Places and sizes are shares of the frame's width or height. */
export const screenSchema = z.strictObject({
  /** Paint, linear light; only its proportions count, the level sets how bright it is. */
  colour: rgb.default({ r: 0.045, g: 0.36, b: 0.075 }),
  /** Luminance against the subject's median, in stops; −1 is one stop under. */
  level: stops.default(-0.5),
  /** Change of light from one side of the frame to the other, in stops, along `angle` (0 to the right, 90 downwards, of a frame drawn as a square). */
  gradient: stops.default(0),
  angle: z.number().min(-180).max(180).default(0),
  hotSpots: z
    .array(z.strictObject({ x: share, y: share, radius: z.number().min(0.01).max(1), stops }))
    .max(8)
    .default([]),
  /** Root mean square of the creases' light, in stops, and how many lie across the frame. */
  wrinkles: z.strictObject({ stops: z.number().min(0).max(2), count: z.number().min(1).max(200) }).default({ stops: 0, count: 14 }),
  seams: z
    .array(z.strictObject({ x: share, width: z.number().min(0.0005).max(0.05), stops }))
    .max(8)
    .default([]),
  markers: z
    .array(z.strictObject({ x: share, y: share, size: z.number().min(0.002).max(0.1), colour: rgb }))
    .max(32)
    .default([]),
  /** The subject's shadow on the screen. */
  shadow: z
    .strictObject({
      x: z.number().min(-1).max(1),
      y: z.number().min(-1).max(1),
      blur: z.number().min(0).max(0.2),
      stops: z.number().min(0).max(6),
    })
    .nullable()
    .default(null),
  /** Where the screen ends, as a share of the width; 1 for beyond the frame. */
  endsAt: share.default(1),
});

export const stageSchema = z.strictObject({
  screen: screenSchema.prefault({}),
  /** Metres from subject to screen, and the screen's size: what the spill is computed from. */
  distance: z.number().min(0.1).max(50).default(2.5),
  screenWidth: z.number().min(0.5).max(50).default(4),
  screenHeight: z.number().min(0.5).max(50).default(3),
  /** Blur of the lens on the subject's edge and on the screen: diameter of the circle of confusion, in px. */
  defocus: z.strictObject({ subject: z.number().min(0).max(100), screen: z.number().min(0).max(100) }).default({ subject: 0, screen: 0 }),
  /** Movement of the subject from frame to frame, in px, and the shutter's angle in degrees. */
  motion: z.strictObject({ x: z.number().min(-500).max(500), y: z.number().min(-500).max(500) }).default({ x: 0, y: 0 }),
  shutter: z.number().min(0).max(360).default(180),
});

/** The camera: from scene-linear light to the codes of a file. */
export const cameraSchema = z.strictObject({
  /** Variance of the shot noise for a signal of 1, and deviation of the read noise; both linear, at gain 1. */
  shotNoise: z.number().min(0).max(0.1).default(0),
  readNoise: z.number().min(0).max(0.2).default(0),
  /** Gain in stops: each doubles the shot noise's variance and the read noise's deviation. */
  gain: z.number().min(-4).max(10).default(0),
  transfer: z.enum(TRANSFERS).default("bt709"),
  matrix: z.enum(MATRICES).default("bt709"),
  range: z.enum(RANGES).default("limited"),
  bits: z.union([z.literal(8), z.literal(10), z.literal(12), z.literal(16)]).default(10),
  subsampling: z.enum(SUBSAMPLINGS).default("444"),
  siting: z.enum(SITINGS).default("left"),
  /** Step of the block transform's quantiser, in 8-bit codes; 0 for none. */
  blockStep: z.number().min(0).max(80).default(0),
  interlaced: z.boolean().default(false),
  /** Width of a pixel over its height. */
  pixelAspect: z.number().min(0.5).max(2).default(1),
  seed: z.int().min(1).max(2147483646).default(1),
});

export type StageScreen = z.infer<typeof screenSchema>;
export type Stage = z.infer<typeof stageSchema>;
export type Camera = z.infer<typeof cameraSchema>;
export const makeStage = (part: z.input<typeof stageSchema> = {}): Stage => stageSchema.parse(part);
export const makeCamera = (part: z.input<typeof cameraSchema> = {}): Camera => cameraSchema.parse(part);
