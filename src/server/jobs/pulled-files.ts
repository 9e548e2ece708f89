import path from "node:path";
import type { Picture } from "../../core/image/plane";
import type { Evaluation, OutputName } from "../../core/recipe/evaluate";
import type { Recipe } from "../../core/recipe/schema";
import { Complaint } from "../files/complaint";
import { writeAside } from "../files/write-aside";
import { encodeMatte, encodePicture, type StillOutput } from "../media/encode";
import { outputName } from "./delivery-files";
import { type Footage, Renderer } from "./render";

/** What the command can write of a frame. */
export const EMITS = ["matte", "foreground", "composite", "levelled", "cleanplate"] as const;
export type Emit = (typeof EMITS)[number];

const OUTPUT_OF: Record<Emit, OutputName> = {
  matte: "matte",
  foreground: "foreground",
  composite: "composite",
  levelled: "levelled",
  cleanplate: "cleanPlate",
};

/** Some frames that are pulled into files of one folder. */
export interface PullTask {
  readonly recipe: Recipe;
  readonly plate: Footage;
  readonly clean: Footage | null;
  readonly background: Footage | null;
  readonly emits: readonly Emit[];
  readonly format: StillOutput;
  readonly folder: string;
  readonly frames: readonly number[];
}

export const pulledFile = ({ folder, format }: Pick<PullTask, "folder" | "format">, emit: Emit, frame: number): string =>
  path.join(folder, outputName(emit, frame, format));

async function encodeEmit(emit: Emit, rendered: Evaluation, format: StillOutput): Promise<Uint8Array> {
  const output = rendered[OUTPUT_OF[emit] as "matte"];
  if (!output)
    throw new Complaint(
      422,
      "This recipe makes no clean plate: it pulls against one screen colour.",
      "Leave it out of --emit, or set screen.from to synthesised.",
    );
  return emit === "matte" ? encodeMatte(output, format) : encodePicture(output as unknown as Picture, format);
}

/**
 * Renders frames and writes each into place when it is whole.
 * @param done called after each frame
 * @throws Complaint when a frame cannot be read, the recipe makes no such output, or the folder cannot be written
 */
export async function writePulled(task: PullTask, done: (frame: number) => void): Promise<void> {
  const renderer = new Renderer(task.recipe, task.plate, task.background ?? undefined, task.clean ?? undefined);
  const outputs = task.emits.map((e) => OUTPUT_OF[e]);
  for (const frame of task.frames) {
    const rendered = await renderer.render(frame, outputs);
    for (const emit of task.emits) writeAside(pulledFile(task, emit, frame), await encodeEmit(emit, rendered, task.format));
    done(frame);
  }
}
