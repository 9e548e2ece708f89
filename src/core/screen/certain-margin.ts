import { labelComponents } from "../image/components";
import type { Picture } from "../image/plane";
import { ownLight } from "./own-light";
import type { Primary } from "./primary";

/** Own light of a pixel, as a share of its light, up to which it has the screen's colour; a twentieth of black mesh has half as much again. */
const OWN = 0.004;
/** By how much more where there is grain, as a share of its own median. */
const OWN_OF_GRAIN = 0.4;
/** How much brighter or darker than a pixel its neighbours may be, as a share of its light: creases and penumbras are slow, rims are not. */
const STEP = 0.08;

/**
 * Adds to certain screen the margin that it leads to: pixels near strands, mesh and rims of the subject that show the screen
 * all the same. Nothing but the light differs there from the screen filled in, and with none of the eight around it is the step
 * larger than a crease's. So the fill that goes on under the subject begins where the screen ends.
 * @param clean channels of the filled screen, r g b, at the copy's size
 * @param certain 1 where the plate shows nothing but screen; changed in place
 * @returns whether any was added
 */
export function addMargin(clean: readonly Float32Array[], small: Picture, primary: Primary, certain: Float32Array): boolean {
  const { width, height } = small;
  const { main, beyond, grain } = ownLight(clean, small, primary, certain);
  const most = OWN + OWN_OF_GRAIN * grain;
  const alike = new Uint8Array(width * height);
  for (let i = 0; i < alike.length; i++) alike[i] = Math.abs(beyond[i] as number) <= most * (main[i] as number) ? 1 : 0;
  const open = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (certain[i] || isCalm(alike, main, width, height, x, y)) open[i] = 1;
    }
  const { labels, areas } = labelComponents(open, width, height);
  const led = new Uint8Array(areas.length);
  for (let i = 0; i < open.length; i++) if (certain[i]) led[labels[i] as number] = 1;
  let added = false;
  for (let i = 0; i < open.length; i++)
    if (open[i] && !certain[i] && led[labels[i] as number]) {
      certain[i] = 1;
      added = true;
    }
  return added;
}

/** Whether a pixel and those around it have the screen's colour, and about its light. */
function isCalm(alike: Uint8Array, light: Float32Array, width: number, height: number, x: number, y: number): boolean {
  const own = light[y * width + x] as number;
  const step = STEP * own;
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const j = v * width + u;
      if (!alike[j] || Math.abs((light[j] as number) - own) > step) return false;
    }
  return true;
}
