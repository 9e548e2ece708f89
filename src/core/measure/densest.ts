import { boxMean } from "../image/box";
import type { Region } from "../image/plane";

/**
 * Where marks lie most densely: the square of the given side with the largest weight in it, in pixels of the full frame.
 * @param marks weight at each pixel, 0 and up @param scale this plane's size over the full frame's
 * @returns null when there are none
 */
export function densestPlace(marks: Float32Array, width: number, height: number, scale: number, side: number): Region | null {
  const radius = Math.max(1, Math.round(side / 2));
  const around = boxMean(marks, width, height, radius);
  let best = -1;
  let most = 0;
  for (let i = 0; i < around.length; i++)
    if ((around[i] as number) > most) {
      most = around[i] as number;
      best = i;
    }
  if (best < 0) return null;
  const [x, y] = [best % width, Math.floor(best / width)];
  const left = Math.max(0, x - radius);
  const top = Math.max(0, y - radius);
  const right = Math.min(width, x + radius + 1);
  const bottom = Math.min(height, y + radius + 1);
  return {
    x: Math.round(left / scale),
    y: Math.round(top / scale),
    width: Math.round((right - left) / scale),
    height: Math.round((bottom - top) / scale),
  };
}
