import { asc, eq } from "drizzle-orm";
import type { Media } from "../core/documents/media-info";
import { type Change, type ListedJob, type LogEntry, nameSchema, type Shot, type ShotView, viewSchema } from "../core/documents/shot";
import { defaultRecipe, parseRecipe, type Recipe, recipeSchema } from "../core/recipe/schema";
import { database } from "./db/open";
import { jobs, log, shots } from "./db/schema";
import { Complaint } from "./files/complaint";
import { getMedia } from "./media/store";
import { entryOf, lastProposed, listLog, listVersions } from "./records";

export function listJobs(): ListedJob[] {
  const db = database();
  const all = db.select().from(shots).orderBy(asc(shots.id)).all();
  return db
    .select()
    .from(jobs)
    .orderBy(asc(jobs.id))
    .all()
    .map((job) => ({
      id: job.id,
      name: job.name,
      shots: all
        .filter((s) => s.jobId === job.id)
        .map((s) => {
          const plate = getMedia(s.plateId);
          const recipe = recipeSchema.safeParse(s.recipe);
          return {
            id: s.id,
            name: s.name,
            plateId: s.plateId,
            plateName: plate.name,
            info: plate.info,
            touched: recipe.success && recipe.data.screen.colour !== null,
            updatedAt: s.updatedAt,
          };
        }),
    }));
}

export function createJob(name: string): number {
  return Number(
    database()
      .insert(jobs)
      .values({ name: nameSchema.parse(name), createdAt: Date.now() })
      .run().lastInsertRowid,
  );
}

export function createShot(
  jobId: number,
  name: string,
  plateId: string,
  recipe: Recipe = defaultRecipe(),
  view: Partial<ShotView> = {},
): number {
  const db = database();
  if (!db.select().from(jobs).where(eq(jobs.id, jobId)).get())
    throw new Complaint(404, "There is no such job.", "Choose a job from the list.");
  getMedia(plateId);
  const now = Date.now();
  return Number(
    db
      .insert(shots)
      .values({ jobId, name: nameSchema.parse(name), plateId, recipe, view: viewSchema.parse(view), createdAt: now, updatedAt: now })
      .run().lastInsertRowid,
  );
}

function shotRow(id: number) {
  const row = database().select().from(shots).where(eq(shots.id, id)).get();
  if (!row) throw new Complaint(404, "There is no such shot.", "Choose a shot from the list.");
  return row;
}

const publicMedia = ({ id, name, bytes, info }: Media): Media => ({ id, name, bytes, info });

export function getShot(id: number): Shot {
  const db = database();
  const row = shotRow(id);
  const job = db.select().from(jobs).where(eq(jobs.id, row.jobId)).get();
  const recipe = parseRecipe(row.recipe);
  return {
    id,
    name: row.name,
    job: { id: row.jobId, name: job?.name ?? "" },
    recipe,
    revision: row.revision,
    view: viewSchema.parse(row.view),
    plate: publicMedia(getMedia(row.plateId)),
    background: recipe.scene.background ? publicMedia(getMedia(recipe.scene.background)) : null,
    versions: listVersions(id),
    log: listLog(id),
    proposed: lastProposed(id),
  };
}

/** Saves a settled change and its log entry in one transaction. @returns the new revision and the entry as written */
export function saveChange(id: number, change: Change): { revision: number; entry: LogEntry | null } {
  return database().transaction((tx) => {
    const row = tx.select({ revision: shots.revision }).from(shots).where(eq(shots.id, id)).get();
    if (!row) throw new Complaint(404, "There is no such shot.", "Choose a shot from the list.");
    if (row.revision !== change.revision)
      throw new Complaint(
        409,
        "This shot was changed in another window meanwhile.",
        "Reload to see that state; your last change here was not saved over it.",
      );
    const background = change.recipe.scene.background;
    if (background) getMedia(background);
    if (change.recipe.screen.cleanPlate) getMedia(change.recipe.screen.cleanPlate);
    const revision = row.revision + 1;
    tx.update(shots).set({ recipe: change.recipe, revision, updatedAt: Date.now() }).where(eq(shots.id, id)).run();
    if (!change.entry) return { revision, entry: null };
    const entry = tx
      .insert(log)
      .values({ shotId: id, at: Date.now(), ...change.entry, recipe: change.recipe })
      .returning()
      .get();
    return { revision, entry: entryOf(entry) };
  });
}

export function saveView(id: number, view: ShotView): void {
  shotRow(id);
  database().update(shots).set({ view }).where(eq(shots.id, id)).run();
}
