import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
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
  },
  (t) => [index("log_by_shot").on(t.shotId, t.id)],
);

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
