import { existsSync, mkdirSync, readFileSync, realpathSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { Complaint } from "./complaint";

/** The project's own folder: the nearest one upwards that holds its package.json. */
export const projectFolder = ((): string => {
  let folder = import.meta.dirname;
  for (;;) {
    const file = path.join(folder, "package.json");
    if (existsSync(file) && JSON.parse(readFileSync(file, "utf8")).name === "mellow-sieve") return folder;
    const up = path.dirname(folder);
    if (up === folder) return process.cwd();
    folder = up;
  }
})();

/** Where database, media and deliveries lie: MELLOW_SIEVE_DATA, or `data` in the project. Made when missing. */
export function dataFolder(...inside: string[]): string {
  const folder = path.join(path.resolve(process.env.MELLOW_SIEVE_DATA || path.join(projectFolder, "data")), ...inside);
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    // What lies in the way is told; full disks and rights are told as everywhere.
    const { code } = error as NodeJS.ErrnoException;
    if (code === "EEXIST" || code === "ENOTDIR" || code === "ENOENT")
      throw new Complaint(500, `The data folder ${folder} cannot be made.`, "Set MELLOW_SIEVE_DATA to a folder that can be written.");
    throw error;
  }
  return folder;
}

/** Folders that media may be brought in from by path: MELLOW_SIEVE_FOLDERS (separated as in PATH), or the home folder's Footage and the demo's. */
export function permittedFolders(): string[] {
  const named = process.env.MELLOW_SIEVE_FOLDERS?.split(path.delimiter).filter(Boolean);
  const folders = named ?? [path.join(os.homedir(), "Footage"), path.join(projectFolder, "demo", "footage")];
  return folders.filter((f) => existsSync(f)).map((f) => realpathSync(f));
}

/**
 * The real path behind what a user typed, links followed.
 * @throws Complaint when it is missing or leads out of the permitted folders
 */
export function permittedPath(typed: string): string {
  const allowed = permittedFolders();
  const hint = allowed.length ? `Permitted: ${allowed.join(", ")}.` : "No folder is permitted yet: set MELLOW_SIEVE_FOLDERS.";
  if (typed.includes("\0")) throw new Complaint(400, "The path holds a zero byte.", hint);
  let real: string;
  try {
    real = realpathSync(path.resolve(typed));
  } catch {
    // Whether a file outside exists is nobody's business, so both cases read alike.
    throw new Complaint(404, `There is no readable file at that path inside a permitted folder.`, hint);
  }
  if (!allowed.some((f) => real === f || real.startsWith(f + path.sep)))
    throw new Complaint(404, `There is no readable file at that path inside a permitted folder.`, hint);
  return real;
}
