import { type Allocate, fresh, type Picture } from "./plane";

/** Quarter turns clockwise that stand a picture upright. */
export type Turn = 0 | 1 | 2 | 3;

/** Whether a turn lays a picture's width along its height. */
export const swapsSides = (turn: Turn | undefined): boolean => turn === 1 || turn === 3;

/** A channel of `w` × `h` px turned clockwise by quarters. */
export function turnChannel(channel: Float32Array, w: number, h: number, turn: Turn | undefined, allocate: Allocate = fresh): Float32Array {
  if (!turn) return channel;
  const [width, height] = swapsSides(turn) ? [h, w] : [w, h];
  // Where the first pixel of what is turned lies in what was recorded, and how far the next across and down lie from it.
  const [first, across, down] = turn === 1 ? [(h - 1) * w, -w, 1] : turn === 2 ? [h * w - 1, -1, -w] : [w - 1, w, -1];
  const out = allocate(channel.length);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) out[i] = channel[first + x * across + y * down] as number;
  return out;
}

/** A picture turned clockwise by quarters, its alpha too. */
export function turnPicture(picture: Picture, turn: Turn | undefined, allocate: Allocate = fresh): Picture {
  if (!turn) return picture;
  const { width: w, height: h, r, g, b, a } = picture;
  const [width, height] = swapsSides(turn) ? [h, w] : [w, h];
  const turned = (c: Float32Array) => turnChannel(c, w, h, turn, allocate);
  return { width, height, r: turned(r), g: turned(g), b: turned(b), ...(a ? { a: turned(a) } : {}) };
}
