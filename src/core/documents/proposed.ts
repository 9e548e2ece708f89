import { z } from "zod";
import { outlineSchema, placeSchema } from "../recipe/drawn-schema";

export const UNSOLVED_KINDS = ["passes-end", "lit-wall", "clipped", "near-screen", "half-open"] as const;

/**
 * Something that the key cannot solve: what stays half open inside the subject, mirrors or cloth, where the subject passes the screen's end, what is
 * lit beside the screen and may be room or set, and where the screen is clipped.
 */
export const notSolvedSchema = z.strictObject({
  kind: z.enum(UNSOLVED_KINDS),
  what: z.string().min(1).max(1000),
  /** Where, px of the plate. */
  place: placeSchema,
  /** Outline of a holdout that closes it, px of the plate, where one does. */
  outline: outlineSchema.optional(),
});
export type NotSolved = z.infer<typeof notSolvedSchema>;

/** Why a proposed key is as it is, and what it leaves. */
export const proposedSchema = z.strictObject({
  /** Why each value was chosen, a sentence each. */
  reasons: z.array(z.string().min(1).max(2000)).max(100),
  /** What the key cannot solve, and what would. */
  notSolved: z.array(notSolvedSchema).max(1000),
});
export type Proposed = z.infer<typeof proposedSchema>;
