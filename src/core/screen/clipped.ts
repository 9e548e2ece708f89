import { decodeWith, type Transfer } from "../color/transfer";
import type { Picture, Plane } from "../image/plane";
import type { RawFrame } from "../image/raw-frame";
import type { Primary } from "./primary";

/** Share of the light that a file's top code stands for, from which on a channel counts as clipped. */
const CLIPPED = 0.995;
/** Pull up to which some screen shows at a pixel, for certain. */
const SHOWS = 0.9;

/** Light from which on a channel of a frame counts as clipped: white in video, far beyond it in logarithmic curves; never in half float. */
export const clippedFrom = (transfer: Transfer, raw?: RawFrame): number =>
  raw?.layout.kind === "half" ? Number.POSITIVE_INFINITY : CLIPPED * decodeWith(transfer)(1);

/**
 * Where the screen, or what mixes with it, is clipped in its primary: how much screen lies there is lost with it. Highlights of solid subject are not.
 * @param from light from which on a channel is clipped
 * @returns marks, 1 there, and their share of the frame
 */
export function clippedScreen(
  plate: Picture,
  pull: Plane,
  primary: Primary,
  from: number,
): { readonly marks: Float32Array; readonly share: number } {
  const light = plate[primary];
  const marks = new Float32Array(light.length);
  let count = 0;
  for (let i = 0; i < marks.length; i++)
    if ((light[i] as number) >= from && (pull.data[i] as number) < SHOWS) {
      marks[i] = 1;
      count++;
    }
  return { marks, share: count / Math.max(1, marks.length) };
}
