import { rmSync } from "node:fs";
import path from "node:path";
import type { Media } from "../../core/documents/media-info";
import { dataFolder } from "../files/folders";
import { footageOf, takeFile } from "../media/store";
import { getShot } from "../shots";
import type { CleanPlateTask } from "./clean-plate-file";
import { inThread } from "./threads";

/** Makes a clean plate from a whole shot, in a server thread, and brings it in. */
export async function cleanPlateOfShot(shotId: number): Promise<{ media: Media; seen: number }> {
  const { plate, recipe, name } = getShot(shotId);
  const target = path.join(dataFolder("incoming"), `clean-plate-${process.pid}-${Date.now()}.exr`);
  const task: CleanPlateTask = { plate: footageOf(plate.id), recipe, target };
  try {
    const seen = await inThread<number>(task, { name: "makeCleanPlate" });
    return { media: await takeFile(target, `${name} clean plate.exr`), seen };
  } finally {
    rmSync(target, { force: true });
  }
}
