import { z } from "zod";
import { MOST_KEYS } from "../matte/keys";
import { fraction, id, px, rgbSchema } from "./values-schema";

/** Corners or points of an outline or a line, px of the plate. */
export const outlineSchema = z.array(z.strictObject({ x: px, y: px })).max(500);

/** A place on the plate, px of it; it may reach over its border. */
export const placeSchema = z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() });

const inOrder = (keys: readonly { readonly frame: number }[]): boolean =>
  keys.every((k, i) => i === 0 || k.frame > (keys[i - 1] as { frame: number }).frame);
const KEYS_IN_ORDER = "keys must be in order of frames";

/** The outline on certain frames, in their order; it moves evenly between them. */
const outlineKeysSchema = z
  .array(z.strictObject({ frame: z.int().min(1), points: outlineSchema }))
  .max(MOST_KEYS)
  .default([]);
const asManyPoints = (s: { readonly points: unknown[]; readonly keys: readonly { readonly points: unknown[] }[] }): boolean =>
  s.keys.every((k) => k.points.length === s.points.length);
const AS_MANY_POINTS = "every key needs as many points as the outline";

/** Most drawn shapes of a shot. */
export const MOST_SHAPES = 64;

export const shapeSchema = z
  .strictObject({
    id,
    name: z.string().min(1).max(80),
    points: outlineSchema,
    keys: outlineKeysSchema,
    /** A garbage shape throws a side away; a holdout holds it in. */
    kind: z.enum(["garbage", "holdout"]).default("garbage"),
    /** A smooth curve through the points, or straight sides. */
    smooth: z.boolean().default(false),
    /** The side that is thrown away or held in. */
    out: z.enum(["outside", "inside"]),
    soft: z.number().min(0).max(400),
    /** Which side of the outline the soft edge falls on: −1 inside, 0 both, 1 outside. */
    lean: z.number().min(-1).max(1).default(0),
  })
  .refine(asManyPoints, AS_MANY_POINTS)
  .refine((s) => inOrder(s.keys), KEYS_IN_ORDER);

/**
 * Where a pass counts: everywhere, in what the passes before it left open, or inside a drawn outline (px of the plate), which moves from
 * key to key.
 */
export const regionSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("everything") }),
  z.strictObject({ kind: z.literal("left") }),
  z
    .strictObject({
      kind: z.literal("drawn"),
      points: outlineSchema.min(3),
      keys: outlineKeysSchema,
      smooth: z.boolean().default(true),
      soft: z.number().min(0).max(400).default(12),
    })
    .refine(asManyPoints, AS_MANY_POINTS)
    .refine((r) => inOrder(r.keys), KEYS_IN_ORDER),
]);

/** Growth, turn and shear of a stroke; none makes it vanish. */
const share = z.number().min(-100).max(100);
const strokeKeySchema = z.strictObject({
  frame: z.int().min(1),
  a: share,
  b: share,
  c: share,
  d: share,
  x: px,
  y: px,
});

/** A stroke of the paint layer, on frames first…last; no colour erases. Lengths in px of the plate. */
export const paintSchema = z
  .strictObject({
    id,
    first: z.int().min(1),
    last: z.int().min(1),
    points: outlineSchema.min(1),
    radius: z.number().min(0.5).max(1000),
    soft: fraction,
    strength: fraction,
    colour: rgbSchema.nullable(),
    /** Where the stroke as it was drawn lies on certain frames, in their order: x' = a·x + b·y + x0, y' = c·x + d·y + y0; it moves evenly between them. */
    keys: z.array(strokeKeySchema).max(MOST_KEYS).default([]),
  })
  .refine((p) => p.last >= p.first, "the last frame must not come before the first")
  .refine((p) => inOrder(p.keys), KEYS_IN_ORDER);

export type Shape = z.infer<typeof shapeSchema>;
