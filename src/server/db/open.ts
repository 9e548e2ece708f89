import path from "node:path";
import Database from "better-sqlite3";
import { type BetterSQLite3Database, drizzle } from "drizzle-orm/better-sqlite3";
import { migrate } from "drizzle-orm/better-sqlite3/migrator";
import { Complaint } from "../files/complaint";
import { dataFolder, projectFolder } from "../files/folders";
import * as schema from "./schema";

export type Db = BetterSQLite3Database<typeof schema> & { $client: Database.Database };

/**
 * Opens (and brings up to date) a database file. WAL, foreign keys on.
 * @throws Complaint when the file is no whole database
 */
export function openDatabase(file: string): Db {
  try {
    return opened(file);
  } catch (error) {
    const { code } = error as { code?: string };
    if (code !== "SQLITE_NOTADB" && code !== "SQLITE_CORRUPT") throw error;
    throw new Complaint(
      500,
      `The database ${file} is damaged.`,
      "Put a copy of it back, or move it aside and start again: a new one is made, and media and deliveries beside it stay.",
    );
  }
}

function opened(file: string): Db {
  const client = new Database(file);
  client.pragma("journal_mode = WAL");
  client.pragma("synchronous = NORMAL");
  client.pragma("foreign_keys = ON");
  client.pragma("busy_timeout = 5000");
  const db = drizzle(client, { schema });
  migrate(db, { migrationsFolder: path.join(projectFolder, "src/server/db/migrations") });
  return db;
}

const shared = globalThis as { mellowSieveDb?: Db };

/** The server's one database. */
export function database(): Db {
  shared.mellowSieveDb ??= openDatabase(path.join(dataFolder(), "mellow-sieve.db"));
  return shared.mellowSieveDb;
}
