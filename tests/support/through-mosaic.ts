import { inverse, Matrix } from "ml-matrix";
import { linearToSrgb } from "../../src/core/color/srgb";
import { gaussianBlur } from "../../src/core/image/blur";
import { normal } from "../../src/core/image/normal";
import type { Picture } from "../../src/core/image/plane";
import { random } from "../../src/core/image/random";
import type { ColourReading, RawFrame } from "../../src/core/image/raw-frame";

/** σ of the lens before the sensor, px. */
const LENS = 0.55;
/** A plane as a lens draws it that is as sharp as a mosaic is fine. */
export const throughSharpLens = (plane: Float32Array, width: number, height: number): Float32Array =>
  gaussianBlur(plane, width, height, LENS);

/** A picture as 8-bit sRGB codes, each pixel with all of its colour. */
export const codesOf = ({ width, height, r, g, b }: Picture): RawFrame => ({
  width,
  height,
  layout: { kind: "rgb", bits: 8, alpha: false },
  planes: [r, g, b].map((plane) => Uint16Array.from(plane, (v) => Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, v)))))),
});

/** How far the interpolation looks, px. */
const R = 2;
/** Weights in eighths, row by row. Green where red or blue was seen. */
const GREEN = [0, 0, -1, 0, 0, 0, 0, 2, 0, 0, -1, 2, 4, 2, -1, 0, 0, 2, 0, 0, 0, 0, -1, 0, 0];
/** Red or blue at green, from neighbours in the row; turned, from those in the column. */
const IN_ROW = [0, 0, 0.5, 0, 0, 0, -1, 0, -1, 0, -1, 4, 5, 4, -1, 0, -1, 0, -1, 0, 0, 0, 0.5, 0, 0];
const IN_COLUMN = IN_ROW.map((_, k) => IN_ROW[5 * (k % 5) + Math.floor(k / 5)] as number);
/** Red at blue, and the other way. */
const ACROSS = [0, 0, -1.5, 0, 0, 0, 2, 0, 2, 0, -1.5, 0, 6, 0, -1.5, 0, 2, 0, 2, 0, 0, 0, -1.5, 0, 0];

/**
 * What a camera makes BT.709 of its sensor's three colours by, which see much of each other's light: rows of one in sum. And the way back. Common
 * practice; the numbers are usual ones, from memory.
 */
const TO_BT709 = new Matrix([
  [1.65, -0.52, -0.13],
  [-0.22, 1.48, -0.26],
  [0.01, -0.42, 1.41],
]);
const TO_SENSOR = inverse(TO_BT709);
const turned = (by: Matrix, planes: readonly Float32Array[]) =>
  [0, 1, 2].map((row) => planes[0]!.map((_, i) => planes.reduce((sum, p, k) => sum + by.get(row, k) * p[i]!, 0))) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];

/**
 * A picture as a camera with a sharp lens and one colour at each pixel makes it: red and blue at every fourth, green at every second, with shot noise, the rest
 * interpolated; 8-bit sRGB.
 * Sources: the mosaic of B. E. Bayer, US Patent 3,971,065 (1976); the interpolation of Malvar, He & Cutler, "High-Quality Linear Interpolation for
 * Demosaicing of Bayer-Patterned Color Images", ICASSP 2004, fig. 2.
 * @param noise variance for each unit of light
 */
export function throughMosaic({ width, height, r, g, b }: Picture, noise: number): { raw: RawFrame; reading: ColourReading } {
  const [red, green, blue] = turned(
    TO_SENSOR,
    [r, g, b].map((plane) => throughSharpLens(plane, width, height)),
  );
  const light = { r: red, g: green, b: blue };
  const next = normal(random(7));
  const seenAt = (x: number, y: number) => (y % 2 === 0 ? (x % 2 === 0 ? "r" : "g") : x % 2 === 0 ? "g" : "b");
  const mosaic = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const v = Math.max(0, light[seenAt(x, y)][y * width + x] as number);
      mosaic[y * width + x] = v + Math.sqrt(noise * v) * next();
    }
  // Mirrored at the border, so that colours keep their places.
  const within = (k: number, most: number) => (k < 0 ? -k : k > most ? 2 * most - k : k);
  const interpolated = (weights: readonly number[], x: number, y: number) => {
    let sum = 0;
    for (let j = -R; j <= R; j++)
      for (let i = -R; i <= R; i++)
        sum += (weights[5 * (j + R) + i + R] as number) * (mosaic[within(y + j, height - 1) * width + within(x + i, width - 1)] as number);
    return sum / 8;
  };
  const sensor = [0, 1, 2].map(() => new Float32Array(width * height));
  (["r", "g", "b"] as const).forEach((c, k) => {
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const seen = seenAt(x, y);
        const inRow = c === "r" ? y % 2 === 0 : y % 2 === 1;
        const weights = c === "g" ? GREEN : seen === "g" ? (inRow ? IN_ROW : IN_COLUMN) : ACROSS;
        const v = seen === c ? (mosaic[y * width + x] as number) : interpolated(weights, x, y);
        sensor[k]![y * width + x] = v;
      }
  });
  const [outR, outG, outB] = turned(TO_BT709, sensor);
  return {
    raw: codesOf({ width, height, r: outR, g: outG, b: outB }),
    reading: { transfer: "srgb", matrix: "bt709", range: "full", siting: "left" },
  };
}
