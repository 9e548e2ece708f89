import { and, asc, eq, isNotNull } from "drizzle-orm";
import { z } from "zod";
import { looksAtBackground } from "../../core/recipe/evaluate";
import { parseRecipe, type Recipe } from "../../core/recipe/schema";
import { database } from "../db/open";
import { log } from "../db/schema";
import { Complaint } from "../files/complaint";
import { footageOf } from "../media/store";
import { getShot } from "../shots";
import type { PictureTask } from "./render-thread";
import { inThread } from "./threads";

/** Width up to which pictures for sheets are made, px. */
const WIDTH = 960;

/** Which picture of a shot: of its recipe now, or of the first that was logged with a screen colour. */
export const pictureSchema = z.strictObject({
  what: z.enum(["plate", "matte", "composite"]),
  frame: z.coerce.number().int().min(1),
  of: z.enum(["now", "first"]).default("now"),
});

/** The recipe of the first logged change that had a key; null when none is kept. */
export function firstRecipe(shotId: number): Recipe | null {
  const rows = database()
    .select({ recipe: log.recipe })
    .from(log)
    .where(and(eq(log.shotId, shotId), isNotNull(log.recipe)))
    .orderBy(asc(log.id))
    .limit(50)
    .all();
  for (const row of rows) {
    const recipe = parseRecipe(row.recipe);
    if (recipe.screen.colour) return recipe;
  }
  return null;
}

/** One picture of a shot as JPEG, rendered in a server thread. */
export async function shotPicture(shotId: number, { what, frame, of }: z.infer<typeof pictureSchema>): Promise<Uint8Array<ArrayBuffer>> {
  const shot = getShot(shotId);
  const { info } = shot.plate;
  const recipe = of === "first" ? firstRecipe(shotId) : shot.recipe;
  if (!recipe || (what !== "plate" && !recipe.screen.colour))
    throw new Complaint(404, "There is no key to show yet.", "Sample the screen first.");
  if (frame > info.frames) throw new Complaint(404, `The plate has ${info.frames} frames.`, "Choose one of them.");
  const { cleanPlate, from } = recipe.screen;
  const { background } = recipe.scene;
  const task: PictureTask = {
    recipe,
    plate: footageOf(shot.plate.id),
    clean: from === "supplied" && cleanPlate ? footageOf(cleanPlate) : null,
    background: background && looksAtBackground(recipe, [what]) ? footageOf(background) : null,
    what,
    frame,
    reduce: Math.max(1, Math.ceil(info.width / WIDTH)),
  };
  return new Uint8Array(await inThread<Uint8Array>(task, { name: "renderPicture" }));
}
