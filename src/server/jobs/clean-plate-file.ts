import type { Picture } from "../../core/image/plane";
import { decodeRawFrame } from "../../core/image/raw-frame";
import { plateReading } from "../../core/recipe/reading";
import type { Recipe } from "../../core/recipe/schema";
import { mergeCleanPlate } from "../../core/screen/clean-over-time";
import { screenPrimary } from "../../core/screen/primary";
import { Complaint } from "../files/complaint";
import { writeAside } from "../files/write-aside";
import { encodePicture } from "../media/encode";
import { FrameReader } from "../media/frames";
import type { Footage } from "./render";

/** Most frames that are merged, and most bytes of them at once. */
const MOST_FRAMES = 12;
const MOST_BYTES = 600 * 1024 * 1024;

/** What is needed to make a clean plate from a shot; the target is an EXR file. */
export interface CleanPlateTask {
  readonly plate: Footage;
  readonly recipe: Recipe;
  readonly target: string;
}

/** Frames spread evenly over a shot, its first and last among them. */
export function spreadFrames(frames: number, most: number): number[] {
  const count = Math.min(frames, most);
  return Array.from({ length: count }, (_, k) => 1 + Math.round((k * (frames - 1)) / Math.max(1, count - 1)));
}

/**
 * Merges the screen as the frames of a shot show it and writes it, scene-linear. The recipe tells the screen colour and how codes are read.
 * @returns the share of the frame in which the screen was seen, 0…1
 * @throws Complaint when the camera moves, or no screen is found
 */
export async function writeCleanPlate({ plate, recipe, target }: CleanPlateTask): Promise<number> {
  const { colour } = recipe.screen;
  if (!colour) throw new Complaint(422, "The shot has no screen colour yet.", "Sample the screen first.");
  const { width, height, frames } = plate.info;
  if (frames < 2)
    throw new Complaint(422, "A still has one frame only.", "Read the screen from its own pixels, or bring in a clean plate.");
  const most = Math.max(3, Math.min(MOST_FRAMES, Math.floor(MOST_BYTES / (width * height * 12))));
  const reader = new FrameReader(plate.file, plate.info, 64 * 1024 * 1024);
  const reading = plateReading(plate.info.reading, recipe);
  const pictures: Picture[] = [];
  for (const frame of spreadFrames(frames, most)) pictures.push(decodeRawFrame(await reader.frame(frame), reading));
  const merged = mergeCleanPlate(pictures, screenPrimary(colour));
  writeAside(target, await encodePicture(merged.picture, "exr"));
  return merged.seen;
}
