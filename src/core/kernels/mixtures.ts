import type { Picture } from "../image/plane";
import { kernels, memoryOf, places } from "./module";

/** Numbers that a step is told of a pixel and how it is looked at; `mixturesAlong` is told its rays after them. */
const TOLD = 12;

/**
 * A frame's known colours, one after the other in the kernels' memory, with room beside them where nothing is known.
 * @param known 1 where a colour is
 * @returns what has them laid, once there is memory; where a pixel's lies, as a number of colours from the first
 */
function roomForColours({ width, height, r, g, b }: Picture, known: Uint8Array, beside: number, take: (floats: number) => number) {
  const stride = width + 2 * beside;
  const [rowAt, knownAt, at] = [take(3 * width), take(width), take(4 * stride * (height + 2 * beside))];
  const placeOf = (x: number, y: number) => (y + beside) * stride + x + beside;
  const lay = (buffer: ArrayBuffer): Float32Array => {
    const laid = new Float32Array(buffer, at, 4 * stride * (height + 2 * beside));
    laid.fill(0, 0, 4 * placeOf(0, 0));
    laid.fill(0, 4 * placeOf(0, height));
    const [row, line] = [new Float32Array(buffer, rowAt, 3 * width), new Uint8Array(buffer, knownAt, width)];
    for (let y = 0; y < height; y++) {
      const [from, to] = [y * width, (y + 1) * width];
      row.set(r.subarray(from, to));
      row.set(g.subarray(from, to), width);
      row.set(b.subarray(from, to), 2 * width);
      line.set(known.subarray(from, to));
      kernels().layColours(rowAt, knownAt, at + 16 * placeOf(0, y), width);
      laid.fill(0, 4 * placeOf(width, y), 4 * placeOf(0, y + 1));
    }
    return laid;
  };
  return { at, stride, placeOf, lay };
}

/** Colours around a pixel that it may be a mixture of, in the kernels' memory; valid until another step uses the kernels on planes. */
export interface ColoursAround {
  /** What `mostBehind` of kernels/mixtures.ts is told. */
  readonly told: Float64Array;
  /** What it tells: for each direction, how much of the screen there is at the most. */
  readonly most: Float64Array;
  /** Looks around a pixel for what explains it. */
  readonly mostBehind: (x: number, y: number) => void;
  /** A colour that is no longer what it was, or known no longer. */
  readonly change: (x: number, y: number, known: boolean, r: number, g: number, b: number) => void;
}

/**
 * Lays a picture's known colours out to be looked at around pixels.
 * @param known 1 where a colour is
 * @param rays the same number of steps from a pixel for each direction, px
 */
export function coloursAround(
  picture: Picture,
  known: Uint8Array,
  rays: readonly (readonly { readonly x: number; readonly y: number }[])[],
): ColoursAround {
  // In pairs: the last of an odd number twice.
  const pairs = rays.map((ray) => (ray.length % 2 ? [...ray, ...ray.slice(-1)] : ray));
  const steps = pairs.flat();
  const { take, end } = places();
  const [toldAt, mostAt, awayAt] = [take(2 * TOLD), take(2 * rays.length), take(steps.length)];
  const beside = Math.max(...steps.map((s) => Math.max(Math.abs(s.x), Math.abs(s.y))));
  const { at, stride, placeOf, lay } = roomForColours(picture, known, beside, take);
  const buffer = memoryOf(end());
  const laid = lay(buffer);
  new Int32Array(buffer, awayAt, steps.length).set(steps.map((s) => 16 * (s.y * stride + s.x)));
  const { mostBehind } = kernels();
  const each = steps.length / rays.length;
  return {
    told: new Float64Array(buffer, toldAt, TOLD),
    most: new Float64Array(buffer, mostAt, rays.length),
    mostBehind: (x, y) => mostBehind(toldAt, at + 16 * placeOf(x, y), awayAt, mostAt, rays.length, each),
    change: (x, y, some, r, g, b) => {
      const from = 4 * placeOf(x, y);
      laid[from] = some ? r : 0;
      laid[from + 1] = some ? g : 0;
      laid[from + 2] = some ? b : 0;
      laid[from + 3] = some ? 1 : 0;
    },
  };
}

/** The subject met along rays, and a pixel's mixtures with it, in the kernels' memory; valid until another step uses the kernels on planes. */
export interface ColoursAlong {
  /** What `mixturesAlong` of kernels/mixtures.ts is told of a pixel and how it is looked at. */
  readonly told: Float64Array;
  /** Cover and error by each colour met, how far away it is, px, and 1 where the subject does not go on behind it. */
  readonly cover: Float64Array;
  readonly error: Float64Array;
  readonly far: Float64Array;
  readonly ends: Float64Array;
  /** Looks along the rays from a pixel. @returns how many colours were met */
  readonly mixturesAlong: (x: number, y: number) => number;
}

/**
 * Lays a picture's known colours out to be met along rays.
 * @param known 1 where a colour is
 * @param distance to the nearest of those, px
 * @param angles of the rays
 */
export function coloursAlong(picture: Picture, known: Uint8Array, distance: Float32Array, angles: readonly number[]): ColoursAlong {
  const { width, height } = picture;
  const rays = angles.length;
  const { take, end } = places();
  const [toldAt, metAt, distanceAt] = [take(2 * (TOLD + 2 * rays)), take(2 * 7 * rays), take(width * height)];
  const { at, lay } = roomForColours(picture, known, 0, take);
  const buffer = memoryOf(end());
  lay(buffer);
  new Float32Array(buffer, distanceAt, width * height).set(distance);
  const told = new Float64Array(buffer, toldAt, TOLD + 2 * rays);
  told.set(
    angles.flatMap((a) => [Math.cos(a), Math.sin(a)]),
    TOLD,
  );
  const row = (k: number) => new Float64Array(buffer, metAt + 8 * k * rays, rays);
  const { mixturesAlong } = kernels();
  return {
    ...{ told, cover: row(3), error: row(4), far: row(5), ends: row(6) },
    mixturesAlong: (x, y) => mixturesAlong(toldAt, distanceAt, at, metAt, x, y, width, height, rays),
  };
}
