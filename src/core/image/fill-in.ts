import { changePlane, onPlane } from "../kernels/planes";
import { pointwise } from "../kernels/pointwise";
import { boxMean } from "./box";

/**
 * Fills what is not known smoothly from what is: push–pull over a pyramid. Each level averages the known pixels of the one
 * below; on the way back what is still missing takes the coarser level's value, bilinear.
 * Source: Gortler, Grzeszczuk, Szeliski & Cohen, "The Lumigraph", SIGGRAPH 1996 (3.4).
 * @param channels filled in place
 * @param weight 0…1 how certain each pixel is; 0 is to be filled. Not changed
 */
export function fillIn(channels: readonly Float32Array[], weight: Float32Array, width: number, height: number): void {
  for (const c of channels) changePlane("fillIn", weight, c, pyramidBytes(width, height), width, height);
}

/** Bytes of the levels over a plane and of their weight, with room past the end of each, and of a row. */
function pyramidBytes(width: number, height: number): number {
  let bytes = 4 * width + 64;
  for (let [w, h] = [width, height]; w > 1 || h > 1; ) {
    [w, h] = [(w + 1) >> 1, (h + 1) >> 1];
    bytes += 2 * (4 * w * h + 48);
  }
  return bytes;
}

/** Means of the known pixels in the square of `radius` around each known one, by weight, of each channel; 0 elsewhere. */
export function meansOfKnown(
  channels: readonly Float32Array[],
  weight: Float32Array,
  width: number,
  height: number,
  radius: number,
): Float32Array[] {
  const total = boxMean(weight, width, height, radius);
  const weighed = new Float32Array(weight.length);
  return channels.map((c) => {
    pointwise("product", [], [c, weight], [weighed]);
    const mean = boxMean(weighed, width, height, radius);
    pointwise("meanWhere", [], [mean, total, weight], [mean]);
    return mean;
  });
}

/** A reduced channel at full size, bilinear; centres of reduced pixels lie in the middle of the block they stand for. */
export function enlargeChannel(
  source: Float32Array,
  w: number,
  h: number,
  factor: number,
  width: number,
  height: number,
  out: Float32Array,
): void {
  onPlane("enlarge", source.subarray(0, w * h), out, 4 * (4 * width + 12) + 64, w, h, width, height, factor);
}
