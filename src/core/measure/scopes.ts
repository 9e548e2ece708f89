import { LUMA } from "../color/ycbcr";
import type { Picture } from "../image/plane";

/** Counts on a grid, row-major, top row first. */
export interface Scope {
  readonly width: number;
  readonly height: number;
  readonly counts: Uint32Array;
}

/**
 * Waveform: for every column of the frame, how many pixels have which luma code. An evenly lit screen is one flat line.
 * @param encode from linear light to code value 0…1; codes over 1 count in the top row
 */
export function waveform(picture: Picture, encode: (v: number) => number, width = 256, height = 128): Scope {
  const counts = new Uint32Array(width * height);
  const { kr, kb } = LUMA.bt709;
  for (let i = 0; i < picture.r.length; i++) {
    const y = kr * encode(picture.r[i] as number) + (1 - kr - kb) * encode(picture.g[i] as number) + kb * encode(picture.b[i] as number);
    const column = Math.floor((((i % picture.width) + 0.5) / picture.width) * width);
    const row = Math.min(height - 1, Math.max(0, Math.floor((1 - y) * height)));
    counts[row * width + column]!++;
  }
  return { width, height, counts };
}

/** Vector plot of chroma: Cb to the right, Cr upwards, grey in the middle, −0.5…0.5 on both (BT.709). */
export function vectorPlot(picture: Picture, encode: (v: number) => number, size = 128): Scope {
  const counts = new Uint32Array(size * size);
  const { kr, kb } = LUMA.bt709;
  const place = (v: number) => Math.min(size - 1, Math.max(0, Math.floor((v + 0.5) * size)));
  for (let i = 0; i < picture.r.length; i++) {
    const [r, g, b] = [encode(picture.r[i] as number), encode(picture.g[i] as number), encode(picture.b[i] as number)];
    const y = kr * r + (1 - kr - kb) * g + kb * b;
    const cb = (b - y) / (2 * (1 - kb));
    const cr = (r - y) / (2 * (1 - kr));
    counts[(size - 1 - place(cr)) * size + place(cb)]!++;
  }
  return { width: size, height: size, counts };
}
