import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn } from "../image/fill-in";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { shrinkPicture } from "../image/resample";
import { screenMask } from "./find";
import type { Primary } from "./primary";

/** Width of the reduced copy that a clean plate is synthesised on, px: fine enough for creases, coarse enough for grain to average out. */
const WIDTH = 480;
/** Rim of the screen area that the subject may have contaminated, in reduced px. */
const RIM = 2.5;
const CHANNELS = ["r", "g", "b"] as const;

/**
 * A clean plate from the plate's own screen pixels: they are kept (averaged over a few pixels, so that grain goes and
 * gradients, creases and cast shadows stay), rims that the subject may have touched are dropped, and what lies under the
 * subject is filled in smoothly from around it.
 * @returns the screen as it would look without the subject, at the plate's size, scene-linear
 * @throws RangeError when no screen of that primary is found
 */
export function synthesiseCleanPlate(plate: Picture, primary: Primary, allocate: Allocate = fresh): Picture {
  const { width, height } = plate;
  const factor = Math.max(1, Math.round(width / WIDTH));
  const small = shrinkPicture(plate, factor);
  const n = small.width * small.height;
  const mask = screenMask(small, primary).mask;
  const toOther = distanceTo(
    mask.map((v) => 1 - v),
    small.width,
    small.height,
  );
  const weight = new Float32Array(n);
  let known = 0;
  for (let i = 0; i < n; i++)
    if ((toOther[i] as number) > RIM) {
      weight[i] = 1;
      known++;
    }
  // Where the screen shows only in slivers its rims must do.
  if (known < 0.005 * n) for (let i = 0; i < n; i++) weight[i] = mask[i] as number;
  if (weight.every((v) => v === 0)) throw new RangeError("No screen was found to make a clean plate from. Sample the screen, or supply one.");
  const channels = CHANNELS.map((c) => meanOfKnown(small[c], weight, small.width, small.height));
  fillIn(channels, weight, small.width, small.height);
  const out = { width, height, r: allocate(width * height), g: allocate(width * height), b: allocate(width * height) };
  channels.forEach((c, k) => {
    enlargeChannel(c, small.width, small.height, factor, width, height, out[CHANNELS[k] as "r"]);
  });
  return out;
}

/** Mean of the known pixels in 3 × 3 around each known one. */
function meanOfKnown(source: Float32Array, weight: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(source.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (weight[i] === 0) continue;
      let [sum, total] = [0, 0];
      for (let dy = y > 0 ? -1 : 0; dy <= (y < height - 1 ? 1 : 0); dy++)
        for (let dx = x > 0 ? -1 : 0; dx <= (x < width - 1 ? 1 : 0); dx++) {
          const k = weight[i + dy * width + dx] as number;
          sum += k * (source[i + dy * width + dx] as number);
          total += k;
        }
      out[i] = sum / total;
    }
  return out;
}
