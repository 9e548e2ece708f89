import { type Picture, type Region, regionInFull } from "../image/plane";
import { factorTo, shrinkPicture } from "../image/resample";
import { type FoundScreen, findScreen } from "./find";
import type { Primary } from "./primary";
import { type ScreenSample, sampleScreen } from "./sample";

/** Longer side of the copy on which the screen is looked for, px. */
const COPY_SIDE = 480;

export interface LocatedScreen {
  /** What was found on the reduced copy, that copy, and by how much it is reduced. */
  readonly found: FoundScreen;
  readonly small: Picture;
  readonly factor: number;
  /** The cleanest screen near the subject, px of the plate, and its colour there. */
  readonly box: Region;
  readonly sample: ScreenSample;
}

/**
 * Finds the screen of a plate and samples its cleanest part.
 * @param asked the screen's primary, where somebody sampled it
 * @throws RangeError when no screen is found
 */
export function locateScreen(plate: Picture, asked?: Primary): LocatedScreen {
  const factor = factorTo(COPY_SIDE, plate);
  const small = shrinkPicture(plate, factor);
  const found = findScreen(small, asked);
  const box = regionInFull(found.box, factor);
  return { found, small, factor, box, sample: sampleScreen(plate, [box]) };
}
