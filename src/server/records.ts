import { and, desc, eq, isNotNull, max, sql } from "drizzle-orm";
import { proposedSchema } from "../core/documents/proposed";
import {
  type Completed,
  figuresSchema,
  type Keep,
  type LastProposed,
  type LogEntry,
  type Note,
  type Version,
  type VersionChange,
} from "../core/documents/shot";
import { parseRecipe, type Recipe } from "../core/recipe/schema";
import { database } from "./db/open";
import { log, shots, versions } from "./db/schema";
import { Complaint } from "./files/complaint";

const versionOf = (v: typeof versions.$inferSelect): Version => ({
  id: v.id,
  number: v.number,
  name: v.name,
  recipe: parseRecipe(v.recipe),
  figures: figuresSchema.nullable().parse(v.figures),
  frame: v.frame,
  createdAt: v.createdAt,
});
/** A row of the log as it is shown. */
export const entryOf = (e: typeof log.$inferSelect): LogEntry => ({
  id: e.id,
  at: e.at,
  frame: e.frame,
  step: e.step,
  what: e.what,
  before: figuresSchema.nullable().parse(e.before),
  after: figuresSchema.nullable().parse(e.after),
  restorable: e.recipe !== null,
  picture: e.thumb !== null,
  proposed: proposedSchema.nullable().parse(e.proposed),
});

function mustExist(shotId: number): void {
  if (!database().select({ id: shots.id }).from(shots).where(eq(shots.id, shotId)).get())
    throw new Complaint(404, "There is no such shot.", "Choose a shot from the list.");
}

export const listVersions = (shotId: number): Version[] =>
  database().select().from(versions).where(eq(versions.shotId, shotId)).orderBy(desc(versions.number)).all().map(versionOf);

/** Most log entries that are read at once. */
const MOST = 200;

/**
 * The newest entries, newest first.
 * @param search words that must be in what was done or at which step; all entries without
 */
export function listLog(shotId: number, search = "", most = MOST): LogEntry[] {
  const words = search.trim().split(/\s+/).filter(Boolean).slice(0, 8);
  const holds = words.map((w) => sql`instr(lower(${log.step} || ' ' || ${log.what}), ${w.toLowerCase()}) > 0`);
  return database()
    .select()
    .from(log)
    .where(and(eq(log.shotId, shotId), ...holds))
    .orderBy(desc(log.id))
    .limit(most)
    .all()
    .map(entryOf);
}

/** The last proposal that was taken for a shot. */
export function lastProposed(shotId: number): LastProposed | null {
  const row = database()
    .select()
    .from(log)
    .where(and(eq(log.shotId, shotId), isNotNull(log.proposed)))
    .orderBy(desc(log.id))
    .get();
  return row ? { frame: row.frame, ...proposedSchema.parse(row.proposed) } : null;
}

function entryRow(shotId: number, entryId: number) {
  const row = database()
    .select()
    .from(log)
    .where(and(eq(log.id, entryId), eq(log.shotId, shotId)))
    .get();
  if (!row) throw new Complaint(404, "There is no such log entry.", "Reload the page.");
  return row;
}

/** The recipe as it was after an entry. */
export function recipeOfEntry(shotId: number, entryId: number): Recipe {
  const { recipe } = entryRow(shotId, entryId);
  if (!recipe) throw new Complaint(404, "This entry has no recipe of its own: it is a note.", "Choose the change before it.");
  return parseRecipe(recipe);
}

/** The small picture of an entry, as JPEG or PNG. */
export function pictureOfEntry(shotId: number, entryId: number): { type: string; bytes: Uint8Array<ArrayBuffer> } {
  const found = /^data:(image\/(?:jpeg|png|webp));base64,(.*)$/.exec(entryRow(shotId, entryId).thumb ?? "");
  if (!found) throw new Complaint(404, "This entry has no picture.", "Choose another.");
  return { type: found[1] as string, bytes: new Uint8Array(Buffer.from(found[2] as string, "base64")) };
}

/** Writes a note by hand into the log. */
export function addNote(shotId: number, { frame, text }: Note): LogEntry {
  mustExist(shotId);
  return entryOf(database().insert(log).values({ shotId, at: Date.now(), frame, step: "Note", what: text }).returning().get());
}

/** Adds what is made once a change has settled: the figures after it, its small picture. */
export function completeEntry(shotId: number, entryId: number, what: Completed): LogEntry {
  const row = database()
    .update(log)
    .set(what)
    .where(and(eq(log.id, entryId), eq(log.shotId, shotId)))
    .returning()
    .get();
  if (!row) throw new Complaint(404, "There is no such log entry.", "Reload the page.");
  return entryOf(row);
}

export function keepVersion(shotId: number, keep: Keep): Version {
  mustExist(shotId);
  return database().transaction((tx) => {
    const last =
      tx
        .select({ n: max(versions.number) })
        .from(versions)
        .where(eq(versions.shotId, shotId))
        .get()?.n ?? 0;
    return versionOf(
      tx
        .insert(versions)
        .values({ shotId, number: last + 1, createdAt: Date.now(), ...keep })
        .returning()
        .get(),
    );
  });
}

export function changeVersion(shotId: number, versionId: number, change: VersionChange): Version {
  const row = database()
    .update(versions)
    .set(change)
    .where(and(eq(versions.id, versionId), eq(versions.shotId, shotId)))
    .returning()
    .get();
  if (!row) throw new Complaint(404, "There is no such version.", "Choose one from the list.");
  return versionOf(row);
}
