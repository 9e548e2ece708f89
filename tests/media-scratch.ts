import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll } from "vitest";
import { executable } from "../src/server/media/ffmpeg";

/** A folder for the files of one file of tests, gone when they are over. @returns the path of a name in it */
export function scratchFolder(prefix: string): (name: string) => string {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(path.join(os.tmpdir(), prefix));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  return (name) => path.join(folder, name);
}

/** Runs the general converter. @returns what it writes to its standard output */
export const ffmpeg = (args: string[], input?: Buffer): Buffer =>
  execFileSync(executable("ffmpeg"), ["-v", "error", "-y", ...args], { ...(input ? { input } : {}), maxBuffer: 1 << 28 });
