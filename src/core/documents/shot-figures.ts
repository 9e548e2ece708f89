import { z } from "zod";
import type { Size } from "../image/plane";
import { FINDING_KINDS } from "../measure/findings";
import { outlineSchema, placeSchema } from "../recipe/drawn-schema";
import type { ShotFrame } from "../recipe/judge";

const findingSchema = z.strictObject({
  kind: z.enum(FINDING_KINDS),
  severity: z.number(),
  figure: z.string(),
  what: z.string(),
  why: z.string(),
  remedy: z.string(),
  step: z.enum(["Bounds", "Pull", "Matte", "Spill", "Edge", "Scene"]),
  place: placeSchema.nullable(),
  draw: z.enum(["garbage", "holdout"]).optional(),
  hold: z.array(outlineSchema).optional(),
  changes: z
    .array(
      z.strictObject({
        path: z.string(),
        value: z.union([z.number(), z.string(), z.boolean()]),
        recipe: z.boolean().optional(),
      }),
    )
    .nullable(),
});

/** A frame's figures as they are kept; see ShotFrame. */
export const shotFrameSchema = z.strictObject({
  frame: z.int().min(1),
  holes: z.number(),
  residue: z.number(),
  edgeLoss: z.number(),
  clearance: z.number().nullable(),
  spill: z.number(),
  flicker: z.number().nullable(),
  findings: z.array(findingSchema),
});

/** Figures of a shot's frames under its saved recipe, and how far they are. */
export interface ShotFigures {
  /** The shot's revision that they belong to. */
  readonly revision: number;
  readonly state: "none" | "running" | "stopped" | "done" | "failed";
  readonly error: string | null;
  readonly total: number;
  readonly frames: readonly ShotFrame[];
}

/** Longer side of the largest frame that is measured as it is over a shot, px: what is larger would need more memory than a thread may take. */
const SHOT_SIDE = 2048;
/** By how much frames of a shot are reduced for measuring; 1 for the exact figures. @param plate its size, px */
export const shotReduce = ({ width, height }: Size): number => Math.ceil(Math.max(width, height) / SHOT_SIDE);
