import { z } from "zod";
import { PRIMARIES } from "../color/primaries";
import { TRANSFERS } from "../color/transfer";
import { MATRICES, RANGES } from "../color/ycbcr";
import { SITINGS, SUBSAMPLINGS } from "../image/raw-frame";

const layoutSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("ycbcr"), subsampling: z.enum(SUBSAMPLINGS), bits: z.int().min(8).max(16), alpha: z.boolean() }),
  z.strictObject({ kind: z.literal("rgb"), bits: z.int().min(8).max(16), alpha: z.boolean() }),
  z.strictObject({ kind: z.literal("half"), alpha: z.boolean() }),
]);

/** What is known of a plate, clean plate or background from its file. */
export const mediaInfoSchema = z.strictObject({
  kind: z.enum(["still", "clip", "sequence"]),
  format: z.string(),
  codec: z.string(),
  /** Of the upright picture, px. */
  width: z.int().positive(),
  height: z.int().positive(),
  /** Quarter turns clockwise that stand the recorded frames upright, as phones ask for; none where they are. */
  turn: z.union([z.literal(1), z.literal(2), z.literal(3)]).optional(),
  frames: z.int().positive(),
  /** Number of the first frame in its file names, for sequences. */
  firstNumber: z.int().min(0),
  /** Frames per second as a fraction; null for stills. */
  rate: z.strictObject({ num: z.int().positive(), den: z.int().positive() }).nullable(),
  pixelFormat: z.string(),
  layout: layoutSchema,
  reading: z.strictObject({
    transfer: z.enum(TRANSFERS),
    matrix: z.enum(MATRICES),
    range: z.enum(RANGES),
    siting: z.enum(SITINGS),
    primaries: z.enum(PRIMARIES).optional(),
  }),
  /** Which of the readings the file states itself; the others are what such files usually mean. */
  stated: z.strictObject({
    transfer: z.boolean(),
    matrix: z.boolean(),
    range: z.boolean(),
    siting: z.boolean(),
    primaries: z.boolean().optional(),
  }),
  /** What the frames' own pixels say, which goes before what the file says: where chroma lies, and what RGB was recorded as. */
  told: z.strictObject({ siting: z.enum(SITINGS).optional(), chroma: z.enum(["4:2:2", "4:2:0"]).optional() }).optional(),
  pixelAspect: z.number().positive(),
  fieldOrder: z.string(),
  timecode: z.string().nullable(),
  audio: z.strictObject({ codec: z.string(), channels: z.int(), sampleRate: z.int() }).nullable(),
  /** Something the user should know, such as a file that ends early. */
  warning: z.string().nullable(),
});
export type MediaInfo = z.infer<typeof mediaInfoSchema>;

/** 4:2:0 and its kin. */
export function chromaFormat(info: MediaInfo): string {
  return info.layout.kind === "ycbcr" ? info.layout.subsampling.split("").join(":") : info.layout.kind === "half" ? "half float" : "RGB";
}

/** Whether colour is coarser than the picture, so that it can be rebuilt for the matte. */
export const hasCoarseChroma = (info: MediaInfo): boolean =>
  info.layout.kind === "ycbcr" ? info.layout.subsampling !== "444" : info.told?.chroma !== undefined;

/** A plate, clean plate or background that was brought in. */
export interface Media {
  /** Content hash (SHA-256, hex). */
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly info: MediaInfo;
}
