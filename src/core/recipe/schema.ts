import { z } from "zod";
import { logCurveSchema } from "../color/log";
import { PRIMARIES } from "../color/primaries";
import { TRANSFERS } from "../color/transfer";
import { MATRICES, RANGES } from "../color/ycbcr";
import { WRAP_BLENDS } from "../edge/light-wrap";
import { SITINGS } from "../image/raw-frame";
import { COMBINES } from "../matte/combine";
import { FINDING_KINDS } from "../measure/findings";
import { FITS } from "../scene/fit";
import { SPILL_LIMITS, SPILL_REPLACEMENTS } from "../spill/limit";
import { MOST_SHAPES, outlineSchema, paintSchema, regionSchema, shapeSchema } from "./drawn-schema";
import { fraction, id, px, rgbSchema } from "./values-schema";

const fringe = z.number().min(-10).max(10);
/** What a primary is compared with: from all on one other channel (0) to all on the other (1), and beyond. */
const channelWeight = z.number().min(-1).max(2);

export const boxSchema = z.strictObject({
  frame: z.int().min(1),
  x: px,
  y: px,
  width: z.number().min(1).max(100_000),
  height: z.number().min(1).max(100_000),
});

/** How the plate's codes are to be read; what is absent is as the file says. */
export const readingSchema = z.strictObject({
  primaries: z.enum(PRIMARIES).optional(),
  transfer: z.union([z.enum(TRANSFERS), logCurveSchema]).optional(),
  matrix: z.enum(MATRICES).optional(),
  range: z.enum(RANGES).optional(),
  siting: z.enum(SITINGS).optional(),
  /** Width of a pixel over its height. */
  pixelAspect: z.number().min(0.2).max(5).optional(),
});

export const ROLES = ["whole", "core", "body", "strands", "detail"] as const;

/** Most of the white point under which it may do nothing: from there on it still has a slope to climb. */
export const MOST_KNEE = 0.98;
export const PULL_METHODS = [
  "colour-difference",
  "subject-difference",
  "unmix",
  "chroma-distance",
  "colour-ranges",
  "clean-difference",
  "luminance",
] as const;
export const CLEAN_PLATES = ["none", "synthesised", "supplied"] as const;

/** Automatic bounds from the pull itself; lengths in pixels of the plate. */
export const autoBoundsSchema = z.strictObject({
  on: z.boolean().default(false),
  outLevel: fraction.default(0.06),
  grow: z.number().min(0).max(200).default(6),
  inLevel: fraction.default(0.8),
  shrink: z.number().min(0).max(200).default(6),
  soft: z.number().min(0).max(100).default(3),
  /** Islands and pinholes up to this area go, px². */
  specks: z.number().min(0).max(10_000).default(12),
  /** Islands alone go up to this area, px², and what is as large and hangs on the subject by its shadow: markers on the screen. */
  islands: z.number().min(0).max(100_000).default(0),
  /** Small islands that stay under this matte and stand alone go as well: what a recording that compresses leaves on the screen. */
  faint: fraction.default(0),
  /** Throws away what shows the screen itself at less light and hangs on no subject: folds, seams, stains. */
  shade: z.boolean().default(false),
  /** Places inside that are open by no more than this are closed where most around them is solid. */
  dips: fraction.default(0),
  /** Rims that mirror the screen are closed as far as they lie this near behind their outline, px. */
  glossy: z.number().min(0).max(200).default(0),
});

/** A range of hue (degrees), saturation and luma (sRGB codes, 0…1) that counts as screen, or is taken from what does. */
export const colourRangeSchema = z.strictObject({
  take: z.boolean(),
  hue: z.number().min(0).max(360),
  hueReach: z.number().min(0).max(180),
  saturation: z.tuple([fraction, fraction]),
  luma: z.tuple([fraction, fraction]),
});

const rising = (v: { inner: number; outer: number }) => v.outer > v.inner;
const RISING = "the outer bound must lie above the inner one";

/** How a matte is pulled; each method reads its own settings and leaves the others as they are. */
export const pullSchema = z.strictObject({
  method: z.enum(PULL_METHODS),
  /** Differences: what the screen primary is compared with, from all on one other channel (0) to all on the other (1), and beyond both. */
  weight: channelWeight,
  /** Unmix: how far subject colours are looked for, px of the plate; how much the matte follows the picture's edges; noise floor. */
  unmix: z
    .strictObject({
      reach: z.number().min(2).max(400).default(48),
      follow: fraction.default(0),
      floor: z.number().min(0).max(0.2).default(0),
      /** How far under white certain subject may waver; with 0 one and a half times the floor. */
      waver: z.number().min(0).max(0.2).default(0),
      /** How deep rims are looked through that pass for solid, px of the plate: for plates of little grain. */
      rims: z.number().min(0).max(20).default(0),
    })
    .prefault({}),
  /** Chroma distance: radii in CIELAB a*b*, and how much farther saturation may reach than hue. */
  chroma: z
    .strictObject({
      inner: z.number().min(0).max(150).default(12),
      outer: z.number().min(0.5).max(200).default(38),
      stretch: z.number().min(0.25).max(8).default(1.8),
    })
    .refine(rising, RISING)
    .prefault({}),
  /** Colour ranges, and the width of their shoulders as a share of the scale. */
  ranges: z.array(colourRangeSchema).max(24).default([]),
  softness: z.number().min(0).max(0.5).default(0.08),
  /** Difference from the clean plate, in standard deviations of its grain. */
  deviations: z
    .strictObject({ inner: z.number().min(0).max(200).default(6), outer: z.number().min(0.5).max(1000).default(40) })
    .refine(rising, RISING)
    .prefault({}),
  /** Luminance (sRGB codes) that is empty, and that is solid. */
  luminance: z
    .strictObject({ empty: fraction.default(0.05), solid: fraction.default(0.6) })
    .refine((v) => Math.abs(v.solid - v.empty) >= 0.001, "the two levels must differ")
    .prefault({}),
});

export const passSchema = z.strictObject({
  id,
  role: z.enum(ROLES),
  on: z.boolean().default(true),
  /** How it joins what the passes before it made; the first has nothing before it. */
  combine: z.enum(COMBINES).default("join"),
  softly: z.boolean().default(false),
  region: regionSchema.prefault({ kind: "everything" }),
  pull: pullSchema,
  matte: z
    .strictObject({
      black: z.number().min(0).max(0.98),
      white: z.number().min(0.02).max(1),
      /** Share of the white point under which it does nothing. */
      knee: z.number().min(0).max(MOST_KNEE).default(0),
      /** Over 1 lifts the greys between. */
      gamma: z.number().min(0.2).max(5).default(1),
      bounds: autoBoundsSchema.prefault({}),
      /** Edge position, px of the plate: positive grows, negative shrinks; and softness, σ in px. */
      shift: z.number().min(-20).max(20).default(0),
      soften: z.number().min(0).max(20).default(0),
      /** Softness of motion blur's wide greys alone, σ in px. */
      softenBlur: z.number().min(0).max(40).default(0),
    })
    .refine((m) => m.white >= m.black + 0.01, "the white point must lie at least 1 % above the black point"),
  spill: z.strictObject({
    limit: z.enum(SPILL_LIMITS),
    /** For the mixed limit: share of the first other channel, RGB order; beyond 0…1 for hues between two primaries. */
    mix: channelWeight.default(0.5),
    amount: fraction,
    /** What goes back in place of the light that is taken. */
    replace: z.enum(SPILL_REPLACEMENTS).default("nothing"),
    /** Degrees of hue, from the screen's towards warm and towards cool, that count as spill; 180 for all. */
    reachWarm: z.number().min(0).max(180).default(180),
    reachCool: z.number().min(0).max(180).default(180),
    /** How much of what each surface has of the screen's hue itself, told from its inside, is kept, 0…1. */
    protect: fraction.default(0),
    /** How far flat patches that spill treatment left grey take on the colour around them. */
    refill: fraction.default(0),
  }),
  edge: z.strictObject({
    /** How much of the known screen is taken out of mixed pixels. */
    screenOut: fraction,
    /** How far the colour that coarse chroma mixed across the edge is put right: of rims and mixed pixels alone, at their own luma. */
    chroma: fraction.default(0),
    /** How much of the nearest solid colour is carried out under the soft band. */
    carry: fraction.default(0),
    fringe: z
      .strictObject({
        strength: fraction.default(0),
        grow: z.number().min(0).max(100).default(8),
        soft: z.number().min(0).max(100).default(6),
      })
      .prefault({}),
  }),
});

/** The complete description of a key. One JSON document; `version` tells which shape it has. */
export const recipeSchema = z.strictObject({
  version: z.literal(1),
  plate: readingSchema,
  screen: z.strictObject({
    /** Where the colour was sampled, in pixels of the plate; empty when it was typed. */
    boxes: z.array(boxSchema).max(16),
    /** Strokes over the screen that count as well. */
    strokes: z
      .array(z.strictObject({ frame: z.int().min(1), points: outlineSchema.min(1), radius: z.number().min(1).max(1000) }))
      .max(16)
      .default([]),
    /** Screen colour in linear light, or null before the first sample. */
    colour: rgbSchema.nullable(),
    /** What the pull reads the screen from at every pixel: the one colour, a plate made from the screen's own pixels, or one supplied. */
    from: z.enum(CLEAN_PLATES).default("none"),
    /** Content hash of the supplied clean plate. */
    cleanPlate: z
      .string()
      .regex(/^[0-9a-f]{64}$/)
      .nullable()
      .default(null),
    /** How far the levelled plate is brought to the screen colour, 0…1. */
    level: fraction.default(1),
  }),
  /** What is done to the copy that the matte is made from; the picture keeps its own pixels. */
  prepare: z
    .strictObject({
      /** Chroma brought to full resolution along luma, for 4:2:0 and 4:2:2. */
      chroma: z.boolean().default(false),
      /** What a mosaic sensor leaves of false colour cleared along luma, where chroma is as fine as luma. */
      falseColour: z.boolean().default(false),
      /** Blur for the key only, σ in px of the plate. */
      blur: z.number().min(0).max(10).default(0),
      /** Grain that is smoothed away, as a share of full light, in luma and in colour. */
      denoiseLuma: z.number().min(0).max(0.1).default(0),
      denoiseChroma: z.number().min(0).max(0.1).default(0),
      /** Rounds of flattening and saturating the screen's range, and how far each goes. */
      flattenRounds: z.union([z.literal(0), z.literal(1), z.literal(2)]).default(0),
      flattenAmount: fraction.default(0.6),
      /** How much larger a lens draws red and blue than green, px of the plate at its corners: brought to one size for the matte. */
      fringes: z.strictObject({ red: fringe.default(0), blue: fringe.default(0) }).prefault({}),
      /** What the camera sharpened its luma by, undone for the matte: an unsharp mask's amount, and its σ in px of the plate. */
      sharpening: z
        .strictObject({ amount: z.number().min(0).max(1.5).default(0), radius: z.number().min(0.3).max(3).default(0.8) })
        .prefault({}),
      /** How far grain is averaged out with the neighbouring frames where the plate stands still. */
      overTime: fraction.default(0),
    })
    .prefault({}),
  bounds: z.strictObject({
    garbage: z.array(shapeSchema).max(MOST_SHAPES),
    /** Throws away what lies beyond the screen's end but for what a holdout holds, and black bars. */
    beyond: z.boolean().default(false),
  }),
  /** Pulls in the order in which they combine. */
  passes: z
    .array(passSchema)
    .min(1)
    .max(8)
    .refine((list) => new Set(list.map((p) => p.id)).size === list.length, "two passes have the same id"),
  /** What the neighbouring frames do to the joined matte. */
  time: z
    .strictObject({
      /** How far edges that stand still are steadied. */
      steady: fraction.default(0),
      /** Specks and pinholes up to this area that are on one frame only go, px² of the plate. */
      blinking: z.number().min(0).max(10_000).default(0),
    })
    .prefault({}),
  /** The paint layer: strokes that change colour only. */
  paint: z.array(paintSchema).max(500).default([]),
  /** Findings that were looked at and may stay, and why. */
  dismissed: z
    .array(z.strictObject({ kind: z.enum(FINDING_KINDS), note: z.string().max(200) }))
    .max(40)
    .default([]),
  scene: z.strictObject({
    /** Content hash of the background, or null for none. */
    background: z
      .string()
      .regex(/^[0-9a-f]{64}$/)
      .nullable(),
    /** Whether the background is read by the plate's curve and primaries, whatever its file says: as one camera recorded both. */
    asPlate: z.boolean().default(false),
    fit: z.enum(FITS),
    scale: z.number().min(0.05).max(20),
    x: px,
    y: px,
    /** Light of the background on the subject's rim; lengths in px of the plate. */
    wrap: z
      .strictObject({
        strength: fraction.default(0),
        reach: z.number().min(0.5).max(200).default(12),
        blur: z.number().min(1).max(400).default(70),
        blend: z.enum(WRAP_BLENDS).default("screen"),
        grow: z.number().min(0).max(20).default(1),
      })
      .prefault({}),
  }),
});

export type Recipe = z.infer<typeof recipeSchema>;
export type Pass = z.infer<typeof passSchema>;
export type PullSettings = z.infer<typeof pullSchema>;
export type SampleBox = z.infer<typeof boxSchema>;
export type ReadingOverride = z.infer<typeof readingSchema>;

/** The recipe of an untouched shot. */
export function defaultRecipe(): Recipe {
  return recipeSchema.parse({
    version: 1,
    plate: {},
    screen: { boxes: [], colour: null },
    bounds: { garbage: [] },
    passes: [
      {
        id: "main",
        role: "whole",
        pull: { method: "colour-difference", weight: 0.5 },
        matte: { black: 0, white: 1 },
        spill: { limit: "average", amount: 1 },
        edge: { screenOut: 1 },
      },
    ],
    scene: { background: null, fit: "fill", scale: 1, x: 0, y: 0 },
  });
}

/** Says in one line what is wrong with a document and where. */
export function explainIssues(error: z.ZodError): string {
  return error.issues
    .slice(0, 3)
    .map((i) => `${i.path.length ? i.path.join(".") : "the document"}: ${i.message}`)
    .join("; ");
}

/** @throws RangeError that says in one line what is wrong and where */
export function parseRecipe(document: unknown): Recipe {
  const result = recipeSchema.safeParse(document);
  if (!result.success) throw new RangeError(`This is not a valid recipe: ${explainIssues(result.error)}.`);
  return result.data;
}
