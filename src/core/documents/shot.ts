import { z } from "zod";
import { type Recipe, recipeSchema } from "../recipe/schema";
import type { Media, MediaInfo } from "./media-info";
import { type Proposed, proposedSchema } from "./proposed";

export const nameSchema = z.string().trim().min(1, "a name is needed").max(120);

/** Figures as the log keeps them; units as in core/measure/figures. */
export const figuresSchema = z.strictObject({
  holes: z.number(),
  residue: z.number(),
  edgeLoss: z.number(),
  clearance: z.number().nullable(),
  spill: z.number(),
});
export type LoggedFigures = z.infer<typeof figuresSchema>;

/** What the bench shows; restored by a reload. */
export const viewSchema = z.strictObject({
  frame: z.int().min(1).default(1),
  step: z.string().max(20).default("Plate"),
  view: z.string().max(20).default("composite"),
  ground: z.string().max(20).default("scene"),
  /** Screen pixels for a frame pixel; 0 fits the frame in the viewer. */
  zoom: z.number().min(0).max(64).default(0),
  centerX: z.number().default(0),
  centerY: z.number().default(0),
  /** Gain at black and at white, and gamma, of the stretched matte. */
  stretch: z
    .strictObject({
      black: z.number().min(1).max(64).default(8),
      white: z.number().min(1).max(64).default(8),
      gamma: z.number().min(0.2).max(5).default(1),
    })
    .prefault({}),
  /** Pixels shown as square whatever their aspect. */
  square: z.boolean().default(false),
  /** The set-up in use: its controls stand above those of every step. */
  setup: z
    .strictObject({ name: z.string().max(120), controls: z.array(z.string().max(60)).max(40) })
    .nullable()
    .default(null),
  /** Probes that stay, in px of the plate. */
  probes: z
    .array(z.strictObject({ x: z.number(), y: z.number() }))
    .max(12)
    .default([]),
});
export type ShotView = z.infer<typeof viewSchema>;

export interface Version {
  readonly id: number;
  readonly number: number;
  readonly name: string;
  readonly recipe: Recipe;
  readonly figures: LoggedFigures | null;
  readonly frame: number;
  /** Milliseconds since 1970, UTC. */
  readonly createdAt: number;
}

export interface LogEntry {
  readonly id: number;
  readonly at: number;
  readonly frame: number;
  readonly step: string;
  readonly what: string;
  readonly before: LoggedFigures | null;
  readonly after: LoggedFigures | null;
  /** Whether the recipe after it was kept, and whether it has a small picture. */
  readonly restorable: boolean;
  readonly picture: boolean;
  /** Why a proposed key is as it is, and what it leaves; null for what was set by hand. */
  readonly proposed: Proposed | null;
}

export interface Shot {
  readonly id: number;
  readonly name: string;
  readonly job: { readonly id: number; readonly name: string };
  readonly recipe: Recipe;
  readonly revision: number;
  readonly view: ShotView;
  readonly plate: Media;
  readonly background: Media | null;
  readonly versions: readonly Version[];
  readonly log: readonly LogEntry[];
  /** The last proposal that was taken. */
  readonly proposed: LastProposed | null;
}

/** A proposal that was taken: on which frame it was measured. */
export interface LastProposed extends Proposed {
  readonly frame: number;
}

export interface ListedShot {
  readonly id: number;
  readonly name: string;
  readonly plateId: string;
  readonly plateName: string;
  readonly info: MediaInfo;
  /** Whether a screen was sampled yet. */
  readonly touched: boolean;
  readonly updatedAt: number;
}
export interface ListedJob {
  readonly id: number;
  readonly name: string;
  readonly shots: readonly ListedShot[];
}

/** A settled change of the recipe, with its line for the log. */
export const changeSchema = z.strictObject({
  recipe: recipeSchema,
  revision: z.int().min(0),
  entry: z
    .strictObject({
      frame: z.int().min(1),
      step: z.string().min(1).max(20),
      what: z.string().min(1).max(300),
      before: figuresSchema.nullable(),
      proposed: proposedSchema.optional(),
    })
    .nullable(),
});
export type Change = z.infer<typeof changeSchema>;

/** What an entry gets once its change has settled: the figures after it, its small picture as a data address. */
export const completedSchema = z.union([
  z.strictObject({ after: figuresSchema }),
  z.strictObject({
    thumb: z
      .string()
      .max(60_000)
      .regex(/^data:image\/(jpeg|png|webp);base64,[A-Za-z0-9+/=]+$/, "a small picture as a data address"),
  }),
]);
export type Completed = z.infer<typeof completedSchema>;

/** A note by hand. */
export const noteSchema = z.strictObject({ frame: z.int().min(1), text: z.string().trim().min(1, "a note needs words").max(2000) });
export type Note = z.infer<typeof noteSchema>;

export const keepSchema = z.strictObject({
  name: nameSchema,
  recipe: recipeSchema,
  figures: figuresSchema.nullable(),
  frame: z.int().min(1),
});
export type Keep = z.infer<typeof keepSchema>;

/** What a version may get later: another name, or its figures when they are measured. */
export const versionChangeSchema = z.union([z.strictObject({ name: nameSchema }), z.strictObject({ figures: figuresSchema })]);
export type VersionChange = z.infer<typeof versionChangeSchema>;
