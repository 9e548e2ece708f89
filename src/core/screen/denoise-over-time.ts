import type { Picture } from "../image/plane";

/** A neighbouring frame of the same size, and where the plate stayed the same between it and the frame that is worked on. */
export interface FrameNearby {
  readonly picture: Picture;
  readonly still: Uint8Array;
}

/**
 * Takes grain off a copy for the matte by averaging it with its neighbouring frames where the plate stands still: n frames leave 1/√n of
 * it, and no edge is softened. Moving places keep their own pixels.
 * @param amount 0…1
 */
export function denoiseOverTime(picture: Picture, nearby: readonly FrameNearby[], amount: number): Picture {
  const { width, height } = picture;
  const channel = (c: "r" | "g" | "b") => {
    const own = picture[c];
    const out = new Float32Array(own.length);
    for (let i = 0; i < out.length; i++) {
      const v = own[i] as number;
      let sum = 0;
      let total = 1;
      for (const { picture: other, still } of nearby)
        if (still[i]) {
          sum += (other[c][i] as number) - v;
          total++;
        }
      out[i] = v + (amount * sum) / total;
    }
    return out;
  };
  return { width, height, r: channel("r"), g: channel("g"), b: channel("b") };
}
