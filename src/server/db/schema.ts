import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { DELIVERY_STATES } from "../../core/documents/delivery";

/** Times are milliseconds since 1970, UTC. JSON columns hold documents that are parsed with zod when read. */

export const media = sqliteTable("media", {
  /** Content hash (SHA-256, hex). */
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  bytes: integer("bytes").notNull(),
  /** Path under the media folder; a pattern with %0Nd for a sequence. */
  file: text("file").notNull(),
  info: text("info", { mode: "json" }).notNull(),
  createdAt: integer("created_at").notNull(),
});

export const jobs = sqliteTable("jobs", {
  id: integer("id").primaryKey({ autoIncrement: true }),
  name: text("name").notNull(),
  createdAt: integer("created_at").notNull(),
});

export const shots = sqliteTable(
  "shots",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    jobId: integer("job_id")
      .notNull()
      .references(() => jobs.id, { onDelete: "cascade" }),
    name: text("name").notNull(),
    plateId: text("plate_id")
      .notNull()
      .references(() => media.id),
    recipe: text("recipe", { mode: "json" }).notNull(),
    /** Counts up with every saved change, so that two windows cannot overwrite each other unseen. */
    revision: integer("revision").notNull().default(0),
    /** Chosen frame, view, ground, zoom: what a reload restores. */
    view: text("view", { mode: "json" }).notNull(),
    createdAt: integer("created_at").notNull(),
    updatedAt: integer("updated_at").notNull(),
  },
  (t) => [index("shots_by_job").on(t.jobId)],
);

export const versions = sqliteTable(
  "versions",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    shotId: integer("shot_id")
      .notNull()
      .references(() => shots.id, { onDelete: "cascade" }),
    number: integer("number").notNull(),
    name: text("name").notNull(),
    recipe: text("recipe", { mode: "json" }).notNull(),
    figures: text("figures", { mode: "json" }),
    frame: integer("frame").notNull(),
    createdAt: integer("created_at").notNull(),
  },
  (t) => [uniqueIndex("version_number").on(t.shotId, t.number)],
);

export const log = sqliteTable(
  "log",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    shotId: integer("shot_id")
      .notNull()
      .references(() => shots.id, { onDelete: "cascade" }),
    at: integer("at").notNull(),
    frame: integer("frame").notNull(),
    step: text("step").notNull(),
    what: text("what").notNull(),
    /** Figures before and after; null where none could be measured. */
    before: text("before", { mode: "json" }),
    after: text("after", { mode: "json" }),
    /** The recipe as it was after the change, so that any point can be gone back to; null for a note by hand. */
    recipe: text("recipe", { mode: "json" }),
    /** A small picture of the composite after the change, as a data address. */
    thumb: text("thumb"),
    /** Why a proposed key is as it is, and what it leaves; null for what was set by hand. */
    proposed: text("proposed", { mode: "json" }),
  },
  (t) => [index("log_by_shot").on(t.shotId, t.id)],
);

/** Figures of every frame under a recipe, as far as they were measured. */
export const frameFigures = sqliteTable(
  "frame_figures",
  {
    shotId: integer("shot_id")
      .notNull()
      .references(() => shots.id, { onDelete: "cascade" }),
    /** Hash of what the figures depend on in the recipe. */
    recipe: text("recipe").notNull(),
    frame: integer("frame").notNull(),
    figures: text("figures", { mode: "json" }).notNull(),
    createdAt: integer("created_at").notNull(),
  },
  (t) => [primaryKey({ columns: [t.shotId, t.recipe, t.frame] })],
);

/** Recipes kept under a name, with the controls that are set when they are used. */
export const setups = sqliteTable("setups", {
  id: integer("id").primaryKey({ autoIncrement: true }),
  name: text("name").notNull(),
  recipe: text("recipe", { mode: "json" }).notNull(),
  /** Dotted paths of the controls it shows. */
  controls: text("controls", { mode: "json" }).notNull(),
  createdAt: integer("created_at").notNull(),
});

export const deliveries = sqliteTable(
  "deliveries",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    shotId: integer("shot_id")
      .notNull()
      .references(() => shots.id, { onDelete: "cascade" }),
    recipe: text("recipe", { mode: "json" }).notNull(),
    settings: text("settings", { mode: "json" }).notNull(),
    state: text("state", { enum: DELIVERY_STATES }).notNull(),
    doneFrames: integer("done_frames").notNull().default(0),
    totalFrames: integer("total_frames").notNull(),
    /** How often a restart of the server took it up again. */
    resumed: integer("resumed").notNull().default(0),
    error: text("error"),
    createdAt: integer("created_at").notNull(),
    startedAt: integer("started_at"),
    finishedAt: integer("finished_at"),
  },
  (t) => [index("deliveries_by_shot").on(t.shotId, t.id)],
);
