import { onPlane } from "../kernels/planes";
import { type Allocate, fresh } from "./plane";

/**
 * Mean over the square of side 2·radius + 1 around each pixel, only over what lies in the frame. Running sums in double
 * precision, down the columns and then along each row: the cost does not grow with the radius.
 */
export function boxMean(source: Float32Array, width: number, height: number, radius: number, allocate: Allocate = fresh): Float32Array {
  const r = Math.min(radius, Math.max(width, height) - 1);
  const out = allocate(source.length);
  if (r < 1) {
    out.set(source);
    return out;
  }
  return onPlane("boxMean", source, out, 8 * width, width, height, r);
}

/** Standard deviation over a square of side 2·radius + 1 around each pixel, cut to the frame at its border. */
export function boxDeviation(source: Float32Array, width: number, height: number, radius: number): Float32Array {
  const mean = boxMean(source, width, height, radius);
  const square = boxMean(
    source.map((v) => v * v),
    width,
    height,
    radius,
  );
  return square.map((v, i) => Math.sqrt(Math.max(0, v - (mean[i] as number) ** 2)));
}
