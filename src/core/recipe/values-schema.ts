import { z } from "zod";

/** z.number() already refuses NaN and infinities; these ranges, and those of the recipe, are what the controls offer and what evaluate accepts. */
export const fraction = z.number().min(0).max(1);
export const px = z.number().min(-100_000).max(100_000);
export const id = z.string().regex(/^[a-z0-9-]{1,40}$/, "an id of small letters, digits and dashes");

export const rgbSchema = z.strictObject({
  r: z.number().min(-10).max(1000),
  g: z.number().min(-10).max(1000),
  b: z.number().min(-10).max(1000),
});
