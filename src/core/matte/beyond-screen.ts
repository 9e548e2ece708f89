import { distanceTo } from "../image/distance";
import { enlargeChannel } from "../image/fill-in";
import { lumaOf } from "../image/luma";
import { fillAround, type Picture, type Plane, type Region } from "../image/plane";
import { factorTo, shrinkPicture } from "../image/resample";
import { beyondScreen } from "../screen/areas";
import { reducedInside } from "../screen/bars";
import { screenMask } from "../screen/find";
import { screenLightOf } from "../screen/light";
import type { Primary } from "../screen/primary";

/** Longer side of the copy on which the screen's end is looked for, px; and how far its rim reaches in, in such px. */
const BEYOND_SIDE = 480;
const BEYOND_RIM = 2.5;

/**
 * Adds what lies beyond the screen to a garbage matte, rim included, and black bars to the pixel.
 * @param inside the picture without bars
 * @param held what holdouts hold, 0…1; of the size of `garbage`: it stays, beyond the screen too
 */
export function joinBeyond(garbage: Plane, plate: Picture, primary: Primary, inside: Region, held?: Plane): void {
  const factor = factorTo(BEYOND_SIDE, plate);
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const luma = lumaOf(small).data;
  const { mask } = screenMask(small, primary);
  const picture = reducedInside(inside, plate, small, factor);
  const { beyond } = beyondScreen(mask, luma, screenLightOf(luma, small[primary], mask), w, h, picture);
  // Bars have no rim.
  fillAround(beyond, w, picture, 0);
  if (beyond.includes(1)) {
    const grown = distanceTo(beyond, w, h).map((d) => (d <= BEYOND_RIM ? 1 : 0));
    const large = new Float32Array(garbage.data.length);
    enlargeChannel(grown, w, h, factor, plate.width, plate.height, large);
    for (let i = 0; i < large.length; i++)
      garbage.data[i] = Math.max(garbage.data[i] as number, (large[i] as number) * (1 - (held ? (held.data[i] as number) : 0)));
  }
  fillAround(garbage.data, garbage.width, inside, 1);
}
