import type { Picture } from "../image/plane";
import { changePlane } from "../kernels/planes";

/** Colours of certain subject. */
export interface KnownColours {
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  /** 1 where a colour must be worked out anew before it is looked at: {@link KnownColours.meet}. */
  readonly stale: Uint8Array;
  /** Works out the colour at a certain pixel anew. */
  readonly meet: (i: number) => void;
  /** What a pixel had a part in that is no longer certain is stale. */
  readonly forget: (i: number) => void;
}

/** A colour and not its grain: the mean of the certain subject in the 3 × 3 pixels around each certain one. @param certain looked at as it is then */
export function knownColours(plate: Picture, certain: Uint8Array): KnownColours {
  const { width, height } = plate;
  const n = width * height;
  const [R, G, B] = [plate.r.slice(), plate.g.slice(), plate.b.slice()];
  for (const c of [R, G, B]) changePlane("meanOfKnown", certain, c, 32 * (width + 16), width, height);
  const stale = new Uint8Array(n);
  const meet = (j: number) => {
    stale[j] = 0;
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
    const x = j % width;
    for (let row = Math.max(0, j - x - width); row <= j - x + width && row < n; row += width)
      stale.fill(1, row + Math.max(0, x - 1), row + Math.min(width, x + 2));
  };
  return { r: R, g: G, b: B, stale, meet, forget };
}
