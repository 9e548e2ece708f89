import { around } from "../image/neighbours";
import type { Picture } from "../image/plane";

/** Colours of certain subject, worked out where they are asked for. */
export interface KnownColours {
  /** Valid at the pixels that were met. */
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  /** Works out the colour at a certain pixel, once. */
  readonly meet: (i: number) => void;
  /** Forgets what a pixel had a part in that is no longer certain. */
  readonly forget: (i: number) => void;
}

/** A colour and not its grain: the mean of the certain subject in the 3 × 3 pixels around each certain one. @param certain looked at as it is then */
export function knownColours(plate: Picture, certain: Uint8Array): KnownColours {
  const { width, height } = plate;
  const n = width * height;
  const met = new Uint8Array(n);
  const [R, G, B] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const meet = (j: number) => {
    if (met[j]) return;
    met[j] = 1;
    const x = j % width;
    let [r, g, b, count] = [0, 0, 0, 0];
    for (let row = Math.max(0, j - x - width); row <= j - x + width && row < n; row += width)
      for (let i = row + Math.max(0, x - 1); i <= row + Math.min(width - 1, x + 1); i++) {
        if (!certain[i]) continue;
        r += plate.r[i] as number;
        g += plate.g[i] as number;
        b += plate.b[i] as number;
        count++;
      }
    R[j] = r / count;
    G[j] = g / count;
    B[j] = b / count;
  };
  const forget = (j: number) => {
    for (const i of around(j, width, height)) met[i] = 0;
  };
  return { r: R, g: G, b: B, meet, forget };
}
