import { type Allocate, fresh, type Picture } from "./plane";

/** Quarter turns clockwise that stand a picture upright. */
export type Turn = 0 | 1 | 2 | 3;

/** Whether a turn lays a picture's width along its height. */
export const swapsSides = (turn: Turn | undefined): boolean => turn === 1 || turn === 3;

/** A picture turned clockwise by quarters, its alpha too. */
export function turnPicture(picture: Picture, turn: Turn | undefined, allocate: Allocate = fresh): Picture {
  if (!turn) return picture;
  const { width: w, height: h, r, g, b, a } = picture;
  const [width, height] = swapsSides(turn) ? [h, w] : [w, h];
  // Where the first pixel of the turned picture lies in the one as recorded, and how far the next across and down lie from it.
  const [first, across, down] = turn === 1 ? [(h - 1) * w, -w, 1] : turn === 2 ? [h * w - 1, -1, -w] : [w - 1, w, -1];
  const turned = (c: Float32Array): Float32Array => {
    const out = allocate(c.length);
    for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) out[i] = c[first + x * across + y * down] as number;
    return out;
  };
  return { width, height, r: turned(r), g: turned(g), b: turned(b), ...(a ? { a: turned(a) } : {}) };
}
