import type { Picture } from "../image/plane";
import { kernels, memoryOf, places } from "./module";

/** How rims take the colour of what lies around them; the values, and what they mean, stand in src/core/edge/rim-chroma.ts. */
export interface RimReach {
  readonly amount: number;
  /** Distances from screen, px: up to where a rim goes in full, from where it is left alone; from where a pixel's colour counts, and where wholly. */
  readonly mixed: number;
  readonly clear: number;
  readonly pure: number;
  readonly purest: number;
  /** Matte up to which there is nothing to do, and from which a pixel takes the colour around it. */
  readonly empty: number;
  readonly solid: number;
  /** Difference of luma at which nothing counts; weight that halves what is done. */
  readonly unlike: number;
  readonly doubt: number;
  /** Weights by distance down and across, an odd number of them. */
  readonly places: Float32Array;
}

/** Floats beside a row. */
const BESIDE = 8;
/** Luma, distance from screen, and the rebuilt colour. */
const LINES = 5;
const NAMES = ["r", "g", "b"] as const;

/**
 * Changes `out`, a copy of the plate, in place.
 * @param toScreen distance from the nearest pixel that holds screen, px
 */
export function onRims(out: Picture, fine: Picture, matte: Float32Array, toScreen: Float32Array, told: RimReach): void {
  const { width, height } = out;
  const { take, end } = places();
  const count = told.places.length;
  const reach = count >> 1;
  const row = () => take(width + 2 * BESIDE) + 4 * BESIDE;
  const slots = Array.from({ length: count }, () => Array.from({ length: LINES }, row));
  const matteAt = row();
  const colourAt = NAMES.map(row) as [number, number, number];
  const numbers = [
    told.amount,
    told.clear,
    1 / (told.clear - told.mixed),
    told.pure,
    1 / (told.purest - told.pure),
    told.empty,
    told.solid,
    1 / told.unlike ** 2,
    told.doubt,
    ...told.places,
  ];
  const toldAt = take(numbers.length);
  const buffer = memoryOf(end());
  new Float32Array(buffer, toldAt, numbers.length).set(numbers);
  const view = (at: number) => new Float32Array(buffer, at, width);
  // What lies beside the frame is nowhere near clear.
  for (const at of slots.flat()) new Float32Array(buffer, at - 4 * BESIDE, width + 2 * BESIDE).fill(0);
  const window = slots.map((lines) => lines.map(view));
  const [matteRow, colour] = [view(matteAt), colourAt.map(view)];
  const rowOf = (plane: Float32Array, y: number) => plane.subarray(y * width, (y + 1) * width);
  const place = (y: number) => ((y % count) + count) % count;
  const held = new Int32Array(count).fill(-2 - reach);
  /** Lays a row where the window wants it. Rows below it are not changed yet: its luma is the plate's. */
  const lay = (y: number) => {
    const k = place(y);
    if (held[k] === y) return;
    held[k] = y;
    const [, far, ...rgb] = window[k] as [Float32Array, Float32Array, Float32Array, Float32Array, Float32Array];
    if (y < 0 || y >= height) {
      far.fill(0);
      return;
    }
    const [lumaAt, , ...rgbAt] = slots[k] as [number, number, number, number, number];
    NAMES.forEach((c, n) => {
      (rgb[n] as Float32Array).set(rowOf(out[c], y));
    });
    kernels().lumaOfLight(...rgbAt, lumaAt, width);
    NAMES.forEach((c, n) => {
      (rgb[n] as Float32Array).set(rowOf(fine[c], y));
    });
    far.set(rowOf(toScreen, y));
  };
  for (let y = -reach; y < reach; y++) lay(y);
  const [first, second] = slots as [number[], number[]];
  const [window0, stride, line] = [
    first[0] as number,
    (second[0] as number) - (first[0] as number),
    (first[1] as number) - (first[0] as number),
  ];
  for (let y = 0; y < height; y++) {
    lay(y + reach);
    matteRow.set(rowOf(matte, y));
    NAMES.forEach((c, n) => {
      (colour[n] as Float32Array).set(rowOf(out[c], y));
    });
    kernels().rimRow(window0, stride, line, count, place(y - reach), toldAt, matteAt, ...colourAt, width);
    NAMES.forEach((c, n) => {
      out[c].set(colour[n] as Float32Array, y * width);
    });
  }
}
