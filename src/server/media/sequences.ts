import { existsSync, readdirSync } from "node:fs";
import path from "node:path";
import type { MediaInfo } from "../../core/documents/media-info";
import { Complaint } from "../files/complaint";
import { probeFile } from "./probe";

/** A numbered sequence: `name.%04d.png`. */
export const isPattern = (name: string): boolean => /%0?\d*d/.test(path.basename(name));

/** The file of one number. */
export function patternFile(pattern: string, number: number): string {
  const name = path
    .basename(pattern)
    .replace(/%(0?)(\d*)d/, (_, zero: string, width: string) => String(number).padStart(Number(width || 1), zero ? "0" : " "));
  return path.join(path.dirname(pattern), name);
}

/** Numbers present for a pattern, in order. */
export function patternNumbers(pattern: string): number[] {
  const folder = path.dirname(pattern);
  if (!existsSync(folder)) return [];
  const literal = (s: string) => s.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  const [head = "", tail = ""] = path.basename(pattern).split(/%0?\d*d/);
  const matcher = new RegExp(`^${literal(head)}(\\d+)${literal(tail)}$`);
  return readdirSync(folder)
    .map((name) => matcher.exec(name)?.[1])
    .filter((digits): digits is string => digits !== undefined)
    .map(Number)
    .filter((n) => existsSync(patternFile(pattern, n)))
    .sort((a, b) => a - b);
}

/** One frame's file; what is wrong with it is told with its name, as the pattern says nothing of that. */
async function probeFrame(file: string): Promise<MediaInfo> {
  try {
    return await probeFile(file);
  } catch (error) {
    throw error instanceof Complaint ? error.of(path.basename(file)) : error;
  }
}

/** @throws Complaint when frames are missing or differ in size */
export async function probeSequence(pattern: string): Promise<MediaInfo> {
  const numbers = patternNumbers(pattern);
  const first = numbers[0];
  const last = numbers.at(-1);
  if (first === undefined || last === undefined)
    throw new Complaint(
      404,
      "No file matches the sequence's pattern.",
      "Write it like name.%04d.png, with the number of digits in the names.",
    );
  const missing: number[] = [];
  const present = new Set(numbers);
  for (let n = first; n <= last && missing.length < 6; n++) if (!present.has(n)) missing.push(n);
  if (missing.length)
    throw new Complaint(
      422,
      `The sequence has gaps: number ${missing.slice(0, 5).join(", ")}${missing.length > 5 ? " and more" : ""} missing between ${first} and ${last}.`,
      "Copy the missing frames, or bring in the parts before and after as two plates.",
    );
  const info = await probeFrame(patternFile(pattern, first));
  if (info.kind !== "still") throw new Complaint(422, "The files of the sequence are not stills.", "Bring a clip in by its own name.");
  const end = await probeFrame(patternFile(pattern, last));
  if (end.width !== info.width || end.height !== info.height)
    throw new Complaint(
      422,
      `Frames differ in size: ${info.width}×${info.height} at ${first}, ${end.width}×${end.height} at ${last}.`,
      "Bring in frames of one size.",
    );
  return { ...info, kind: "sequence", frames: numbers.length, firstNumber: first, rate: { num: 24, den: 1 } };
}
