import type { Rgb } from "../color/hue";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";

/** A value at a place, px from the frame's top left corner. */
export type At<T> = (x: number, y: number) => T;

/** Something that stands before the screen. */
export interface Drawn {
  /** 0…1: how much of what lies behind it hides at a place. */
  readonly covers: At<number>;
  /** Its light there, scene-linear. */
  readonly colour: At<Rgb>;
}

/**
 * A plate whose coverage is known: things, the last on top, over a screen, each pixel the mean of 4 × 4 places.
 * @param screen light of the screen at a place, scene-linear
 */
export function drawPlate(
  width: number,
  height: number,
  things: readonly Drawn[],
  screen: At<Rgb>,
): { readonly plate: Picture; readonly truth: Plane } {
  const plate = makePicture(width, height);
  const truth = makePlane(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let k = 0; k < 16; k++) {
        const [u, v] = [x + ((k % 4) + 0.5) / 4, y + (Math.floor(k / 4) + 0.5) / 4];
        const behind = screen(u, v);
        let place = [behind.r, behind.g, behind.b, 0] as [number, number, number, number];
        for (const { covers, colour } of things) {
          const c = covers(u, v);
          if (c === 0) continue;
          const f = colour(u, v);
          const [pr, pg, pb, pa] = place;
          place = [c * f.r + (1 - c) * pr, c * f.g + (1 - c) * pg, c * f.b + (1 - c) * pb, c + (1 - c) * pa];
        }
        r += place[0];
        g += place[1];
        b += place[2];
        a += place[3];
      }
      plate.r[i] = r / 16;
      plate.g[i] = g / 16;
      plate.b[i] = b / 16;
      truth.data[i] = a / 16;
    }
  return { plate, truth };
}

/** A thing of one colour everywhere. */
export const even = (r: number, g: number, b: number) => (): Rgb => ({ r, g, b });
export const disc =
  (cx: number, cy: number, radius: number): At<number> =>
  (x, y) =>
    Math.hypot(x - cx, y - cy) <= radius ? 1 : 0;
export const box =
  (x0: number, y0: number, x1: number, y1: number): At<number> =>
  (x, y) =>
    x >= x0 && x < x1 && y >= y0 && y < y1 ? 1 : 0;
