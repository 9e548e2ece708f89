import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from "node:fs";

let serial = 0;

/** Writes a file beside its place and renames it there once it is whole, so that a killed process leaves no half file. */
export function writeAside(target: string, data: Uint8Array): void {
  const part = `${target}.${process.pid}-${serial++}.part`;
  try {
    const file = openSync(part, "w");
    try {
      for (let at = 0; at < data.length; ) at += writeSync(file, data, at);
      fsyncSync(file);
    } finally {
      closeSync(file);
    }
    renameSync(part, target);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
}
