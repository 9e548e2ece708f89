import type { MessagePort } from "node:worker_threads";
import type { DeliverySettings } from "../../core/documents/delivery";
import type { Picture, Plane } from "../../core/image/plane";
import type { ShotFrame } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import { asComplaint } from "../files/complaint";
import { writeAside } from "../files/write-aside";
import { encodePicture, interleave16 } from "../media/encode";
import { jpegOfMatte, jpegOfPicture } from "../media/thumbnail";
import { type CleanPlateTask, writeCleanPlate } from "./clean-plate-file";
import { frameFile } from "./delivery-files";
import { type Footage, Renderer } from "./render";

/** What a render thread is given: some frames of one delivery. */
export interface RenderTask {
  readonly deliveryId: number;
  readonly recipe: Recipe;
  readonly plate: Footage;
  readonly clean: Footage | null;
  readonly background: Footage | null;
  readonly settings: DeliverySettings;
  readonly frames: readonly number[];
}

/** Runs in a server thread. Errors cross threads as plain ones that keep what to do about them. */
export default async function renderFrames(task: RenderTask): Promise<void> {
  try {
    const renderer = new Renderer(task.recipe, task.plate, task.background ?? undefined, task.clean ?? undefined);
    for (const frame of task.frames) {
      const { foreground } = await renderer.render(frame, ["foreground"]);
      const picture = foreground as Picture;
      const target = frameFile(task.deliveryId, task.settings, frame);
      if (task.settings.format === "png") writeAside(target, await encodePicture(picture, "png", task.settings.alpha));
      else {
        const codes = interleave16(picture, task.settings.alpha, "bt709");
        writeAside(target, new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
      }
    }
  } catch (error) {
    throw new Error(asComplaint(error).message, { cause: error });
  }
}

/** One reduced picture for a sheet. */
export interface PictureTask {
  readonly recipe: Recipe;
  readonly plate: Footage;
  readonly clean: Footage | null;
  readonly background: Footage | null;
  readonly what: "plate" | "matte" | "composite";
  readonly frame: number;
  readonly reduce: number;
}

/** A picture as JPEG, sRGB-coded; a matte as its linear coverage. */
export async function renderPicture({ recipe, plate, clean, background, what, frame, reduce }: PictureTask): Promise<Uint8Array> {
  try {
    const e = await new Renderer(recipe, plate, background ?? undefined, clean ?? undefined).render(frame, [what], reduce);
    return what === "matte" ? await jpegOfMatte(e.matte as Plane) : await jpegOfPicture(e[what] as Picture);
  } catch (error) {
    throw new Error(asComplaint(error).message, { cause: error });
  }
}

/** Frames of a shot that are to be measured. */
export interface MeasureTask {
  readonly recipe: Recipe;
  readonly plate: Footage;
  readonly clean: Footage | null;
  readonly background: Footage | null;
  readonly frames: readonly number[];
  readonly reduce: number;
  /** Where each frame is told as soon as it is measured. */
  readonly report: MessagePort;
}

/** Figures and findings of some frames, all of them at the end. */
export async function measureFrames({ recipe, plate, clean, background, frames, reduce, report }: MeasureTask): Promise<ShotFrame[]> {
  try {
    const rows: ShotFrame[] = [];
    for await (const row of new Renderer(recipe, plate, background ?? undefined, clean ?? undefined).measure(frames, reduce)) {
      rows.push(row);
      report.postMessage(row);
    }
    return rows;
  } catch (error) {
    throw new Error(asComplaint(error).message, { cause: error });
  }
}

/** Makes a clean plate from a shot. What cannot be done is told in words, since errors lose their kind between threads. */
export const makeCleanPlate = (
  task: CleanPlateTask,
): Promise<{ seen: number } | { error: { status: number; what: string; remedy: string } }> =>
  writeCleanPlate(task).then(
    (seen) => ({ seen }),
    (error) => {
      const { status, what, remedy } = asComplaint(error);
      return { error: { status, what, remedy } };
    },
  );
