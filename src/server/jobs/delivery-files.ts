import { existsSync } from "node:fs";
import path from "node:path";
import type { DeliverySettings } from "../../core/documents/delivery";
import { dataFolder } from "../files/folders";

const number4 = (n: number) => String(n).padStart(4, "0");

/** File of one delivered picture, for instance `foreground.0001.png`. */
export const outputName = (output: string, frame: number, format: string): string => `${output}.${number4(frame)}.${format}`;

export const deliveryFolder = (id: number): string => dataFolder("deliveries", String(id));

/** Where the render threads put one frame: the PNG itself, or the raw samples that the clip is made of. */
export const frameFile = (id: number, settings: DeliverySettings, frame: number): string =>
  settings.format === "png"
    ? path.join(deliveryFolder(id), outputName("foreground", frame, "png"))
    : path.join(dataFolder("deliveries", String(id), "frames"), `${number4(frame)}.rgba64le`);

export const movFile = (id: number): string => path.join(deliveryFolder(id), "foreground.mov");

/** Frames that are not there yet. Frames are renamed into place when whole, so what exists is finished. */
export function missingFrames(id: number, settings: DeliverySettings): number[] {
  const missing: number[] = [];
  for (let f = settings.firstFrame; f <= settings.lastFrame; f++) if (!existsSync(frameFile(id, settings, f))) missing.push(f);
  return missing;
}
