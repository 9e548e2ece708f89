import { onPlane } from "../kernels/planes";
import { cubic } from "./enlarged-line";
import { type Allocate, fresh, type Picture } from "./plane";

/** How much larger the red and the blue image are than the green one, as px of the plate at its corners; negative when smaller. */
export interface Fringes {
  readonly red: number;
  readonly blue: number;
}

/** Free parameter of the cubic that is read between pixels: of all, it is exact on parabolas. */
const KEYS = -0.5;

/** Pixels of a row that are read beyond its ends, which repeat: as in kernels/planes.ts. */
const BESIDE = 3;

/** For each place on a line whose image is larger by a share of its length, the weights of the four pixels that it is read from; and the first of these. */
function taps(length: number, larger: number): { weights: Float32Array; first: Float32Array } {
  const weights = new Float32Array(4 * length);
  const first = new Float32Array(length);
  const centre = (length - 1) / 2;
  for (let x = 0; x < length; x++) {
    // What lies outside is the line's end.
    const at = Math.min(length, Math.max(-1, x + larger * (x - centre)));
    const left = Math.floor(at) - 1;
    first[x] = left;
    for (let k = 0; k < 4; k++) weights[4 * x + k] = cubic(KEYS, at - left - k);
  }
  return { weights, first };
}

/** A plane whose image is larger by a share of the frame, brought to size about the frame's centre. */
function broughtToSize(plane: Float32Array, width: number, height: number, larger: number, allocate: Allocate): Float32Array {
  const [across, down] = [taps(width, larger), taps(height, larger)];
  const room = new Float32Array(6 * width + 5 * height + 2 * BESIDE + 3);
  room.set(across.weights);
  room.set(
    across.first.map((x) => x + BESIDE),
    4 * width,
  );
  room.set(down.weights, 5 * width);
  room.set(down.first, 5 * width + 4 * height);
  return onPlane("readBetween", plane, allocate(plane.length), room, width, height);
}

/**
 * The picture with its red and blue images brought to the green one's size: a lens draws each colour a little larger or smaller, which grows
 * from the frame's centre to its corners (lateral chromatic aberration). Read between pixels by cubic convolution.
 * Source: R. G. Keys, "Cubic Convolution Interpolation for Digital Image Processing", IEEE Trans. ASSP 29 (1981).
 * @param scale this picture's size over the plate's
 */
export function withoutFringes(picture: Picture, { red, blue }: Fringes, scale = 1, allocate: Allocate = fresh): Picture {
  const { width, height } = picture;
  const corner = cornerOf(width, height);
  const sized = (plane: Float32Array, px: number) =>
    px === 0 ? plane : broughtToSize(plane, width, height, (px * scale) / corner, allocate);
  return { ...picture, r: sized(picture.r, red), b: sized(picture.b, blue) };
}

/** Distance of a frame's corners from its centre, px. */
export const cornerOf = (width: number, height: number): number => Math.hypot(width - 1, height - 1) / 2;
