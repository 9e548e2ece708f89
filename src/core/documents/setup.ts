import { z } from "zod";
import { type Recipe, recipeSchema } from "../recipe/schema";
import { nameSchema } from "./shot";

/** A recipe kept under a name, with the few controls that matter in its use. */
export interface Setup {
  readonly id: number;
  readonly name: string;
  readonly recipe: Recipe;
  /** Dotted paths of the controls it shows. */
  readonly controls: readonly string[];
  readonly createdAt: number;
}

export const newSetupSchema = z.strictObject({
  name: nameSchema,
  recipe: recipeSchema,
  controls: z.array(z.string().regex(/^[a-zA-Z.]{1,60}$/, "a path of letters and dots")).max(40),
});

/** A recipe carried to other shots of the job; the screen is sampled there anew, or its colour goes along. */
export const carrySchema = z.strictObject({ shots: z.array(z.int().min(1)).min(1).max(200), resample: z.boolean() });

/** What became of a recipe on one shot. */
export interface Carried {
  readonly shot: number;
  readonly name: string;
  /** What stood in the way; null when it was carried. */
  readonly problem: string | null;
}
