import { desc, eq } from "drizzle-orm";
import type { z } from "zod";
import type { Carried, carrySchema, newSetupSchema, Setup } from "../core/documents/setup";
import { decodeRawFrame } from "../core/image/raw-frame";
import { carryRecipe } from "../core/recipe/carry";
import { plateReading } from "../core/recipe/reading";
import { parseRecipe } from "../core/recipe/schema";
import { locateScreen } from "../core/screen/locate";
import { database } from "./db/open";
import { setups } from "./db/schema";
import { asComplaint, Complaint } from "./files/complaint";
import { readerOf } from "./media/store";
import { getShot, saveChange } from "./shots";

/** The screen colour of a shot's frame in the middle. */
async function screenOf(shotId: number) {
  const { plate, recipe } = getShot(shotId);
  const raw = await readerOf(plate.id).frame(Math.ceil(plate.info.frames / 2));
  return locateScreen(decodeRawFrame(raw, plateReading(plate.info.reading, recipe))).sample.colour;
}

/** Carries a shot's recipe to other shots of the same job. Each is saved by itself, as one change that can be undone from its log. */
export async function carryToShots(shotId: number, { shots, resample }: z.infer<typeof carrySchema>): Promise<Carried[]> {
  const from = getShot(shotId);
  if (!from.recipe.screen.colour) throw new Complaint(422, "The shot has no key yet.", "Sample the screen first.");
  const results: Carried[] = [];
  for (const id of shots) {
    const to = getShot(id);
    try {
      if (to.job.id !== from.job.id || id === shotId) throw new Complaint(422, "It is not another shot of this job.", "Choose others.");
      const recipe = parseRecipe(carryRecipe(from.recipe, to.recipe, resample ? await screenOf(id) : null));
      const what = `Recipe carried from ${from.name}${resample ? ", screen sampled here" : ""}`.slice(0, 300);
      // Read again: sampling took a while.
      saveChange(id, {
        recipe,
        revision: getShot(id).revision,
        entry: { frame: to.view.frame, step: "Pull", what, before: null },
      });
      results.push({ shot: id, name: to.name, problem: null });
    } catch (error) {
      results.push({ shot: id, name: to.name, problem: asComplaint(error).message });
    }
  }
  return results;
}

const setupOf = (row: typeof setups.$inferSelect): Setup => ({
  id: row.id,
  name: row.name,
  recipe: parseRecipe(row.recipe),
  controls: (row.controls as string[]) ?? [],
  createdAt: row.createdAt,
});

export const listSetups = (): Setup[] => database().select().from(setups).orderBy(desc(setups.id)).all().map(setupOf);

export const keepSetup = (setup: z.infer<typeof newSetupSchema>): Setup =>
  setupOf(
    database()
      .insert(setups)
      .values({ ...setup, createdAt: Date.now() })
      .returning()
      .get(),
  );

export function removeSetup(id: number): void {
  if (!database().delete(setups).where(eq(setups.id, id)).run().changes)
    throw new Complaint(404, "There is no such set-up.", "Choose one from the list.");
}
