import type { Picture, Plane } from "../image/plane";
import type { Primary } from "./primary";

/** Light from which on a channel counts as clipped. */
export const CLIPPED = 0.995;
/** Pull up to which some screen shows at a pixel, for certain. */
const SHOWS = 0.9;

/**
 * Where the screen, or what mixes with it, is clipped in its primary: how much screen lies there is lost with it. Highlights of solid subject are not.
 * @returns marks, 1 there, and their share of the frame
 */
export function clippedScreen(plate: Picture, pull: Plane, primary: Primary): { readonly marks: Float32Array; readonly share: number } {
  const light = plate[primary];
  const marks = new Float32Array(light.length);
  let count = 0;
  for (let i = 0; i < marks.length; i++)
    if ((light[i] as number) >= CLIPPED && (pull.data[i] as number) < SHOWS) {
      marks[i] = 1;
      count++;
    }
  return { marks, share: count / Math.max(1, marks.length) };
}
