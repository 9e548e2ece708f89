import type { MessagePort } from "node:worker_threads";
import type { DeliverySettings } from "../../core/documents/delivery";
import type { Picture, Plane } from "../../core/image/plane";
import type { ShotFrame } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import { fromThread } from "../files/complaint";
import { writeAside } from "../files/write-aside";
import { encodePicture, interleave16 } from "../media/encode";
import { jpegOfMatte, jpegOfPicture } from "../media/thumbnail";
import { type CleanPlateTask, writeCleanPlate } from "./clean-plate-file";
import { frameFile } from "./delivery-files";
import { type PullTask, writePulled } from "./pulled-files";
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

/** Runs in a server thread, as all that follows. */
export default (task: RenderTask): Promise<void> =>
  fromThread(async () => {
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
  });

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
export const renderPicture = ({ recipe, plate, clean, background, what, frame, reduce }: PictureTask): Promise<Uint8Array> =>
  fromThread(async () => {
    const e = await new Renderer(recipe, plate, background ?? undefined, clean ?? undefined).render(frame, [what], reduce);
    return what === "matte" ? await jpegOfMatte(e.matte as Plane) : await jpegOfPicture(e[what] as Picture);
  });

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
export const measureFrames = ({ recipe, plate, clean, background, frames, reduce, report }: MeasureTask): Promise<ShotFrame[]> =>
  fromThread(async () => {
    const rows: ShotFrame[] = [];
    for await (const row of new Renderer(recipe, plate, background ?? undefined, clean ?? undefined).measure(frames, reduce)) {
      rows.push(row);
      report.postMessage(row);
    }
    return rows;
  });

/** Makes a clean plate from a shot. @returns the share of the frame in which the screen was seen */
export const makeCleanPlate = (task: CleanPlateTask): Promise<number> => fromThread(() => writeCleanPlate(task));

/** Frames that the command pulls; each is told by its number when its files are there. */
export const pullFrames = ({ report, ...task }: PullTask & { readonly report: MessagePort }): Promise<void> =>
  fromThread(() => writePulled(task, (frame) => report.postMessage(frame)));
