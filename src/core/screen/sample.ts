import type { Rgb } from "../color/hue";
import { clipRegion, type Picture, type Region } from "../image/plane";
import { type BrushStroke, underStroke } from "../image/stroke";

/** What a robust average over one or several boxes of screen found. Linear light. */
export interface ScreenSample {
  readonly colour: Rgb;
  /** Pixels looked at, and how many of them were set aside as not being screen. */
  readonly pixels: number;
  readonly rejected: number;
  /** Standard deviation of each channel among the pixels kept. */
  readonly noise: Rgb;
}

const median = (values: Float32Array): number => {
  const sorted = values.slice().sort();
  const n = sorted.length;
  return n % 2 ? (sorted[(n - 1) / 2] as number) : ((sorted[n / 2 - 1] as number) + (sorted[n / 2] as number)) / 2;
};

/** 1.4826 × median absolute deviation estimates a normal distribution's standard deviation. */
const MAD_TO_SIGMA = 1.4826;

/**
 * Robust average over boxes and strokes: the mean of the pixels that lie within 3 σ of the median in every channel, σ taken from the
 * median absolute deviation. A marker, a wrinkle's shadow or a strand crossing the box does not move it.
 * @throws RangeError when neither meets the picture
 */
export function sampleScreen(picture: Picture, boxes: readonly Region[], strokes: readonly BrushStroke[] = []): ScreenSample {
  const index: number[] = [];
  for (const stroke of strokes) underStroke(stroke, picture.width, picture.height, (i) => index.push(i));
  for (const box of boxes) {
    const r = clipRegion(box, picture.width, picture.height);
    for (let y = r.y; y < r.y + r.height; y++) for (let x = r.x; x < r.x + r.width; x++) index.push(y * picture.width + x);
  }
  if (index.length === 0) throw new RangeError("The sample lies outside the picture; draw it on the screen.");
  // Half a million pixels pin the median well enough; beyond that every nth is taken.
  const stride = Math.ceil(index.length / 500_000);
  const taken = stride > 1 ? index.filter((_, i) => i % stride === 0) : index;
  const channels = [picture.r, picture.g, picture.b].map((c) => Float32Array.from(taken, (i) => c[i] as number));
  const limits = channels.map((values) => {
    const middle = median(values);
    const sigma = MAD_TO_SIGMA * median(values.map((v) => Math.abs(v - middle)));
    return { middle, reach: Math.max(3 * sigma, 1e-6) };
  });
  const sum = [0, 0, 0];
  const square = [0, 0, 0];
  let kept = 0;
  for (let i = 0; i < taken.length; i++) {
    if (
      channels.some(
        (c, k) => Math.abs((c[i] as number) - (limits[k] as { middle: number }).middle) > (limits[k] as { reach: number }).reach,
      )
    )
      continue;
    kept++;
    channels.forEach((c, k) => {
      const d = (c[i] as number) - (limits[k] as { middle: number }).middle;
      sum[k] = (sum[k] as number) + d;
      square[k] = (square[k] as number) + d * d;
    });
  }
  const mean = sum.map((s, k) => (limits[k] as { middle: number }).middle + (kept ? s / kept : 0));
  const sd = square.map((q, k) => Math.sqrt(Math.max(0, kept ? q / kept - ((sum[k] as number) / kept) ** 2 : 0)));
  const rgb = (v: number[]): Rgb => ({ r: v[0] as number, g: v[1] as number, b: v[2] as number });
  return { colour: rgb(mean), pixels: taken.length, rejected: taken.length - kept, noise: rgb(sd) };
}
