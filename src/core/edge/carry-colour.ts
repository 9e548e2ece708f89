import { fillIn } from "../image/fill-in";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";

/** Matte from which on a pixel's colour is the subject's own for certain. */
const OWN = 0.97;

/**
 * Carries the subject's true colour outwards under the soft band: where the matte is less than solid, colour from the
 * nearest solid pixels is mixed in, the more the clearer the pixel. Cures lines whose colour no unmixing finds.
 * @param amount 0…1
 */
export function carryColour(colour: Picture, matte: Plane, amount: number, allocate: Allocate = fresh): Picture {
  const { width, height } = colour;
  const weight = new Float32Array(matte.data.length);
  for (let i = 0; i < weight.length; i++) weight[i] = (matte.data[i] as number) >= OWN ? 1 : 0;
  const carried = [colour.r, colour.g, colour.b].map((c) => {
    const out = allocate(c.length);
    out.set(c);
    return out;
  }) as [Float32Array, Float32Array, Float32Array];
  fillIn(carried, weight, width, height);
  [colour.r, colour.g, colour.b].forEach((from, k) => {
    const out = carried[k] as Float32Array;
    for (let i = 0; i < out.length; i++) {
      if (weight[i] === 1) continue;
      const share = amount * (1 - (matte.data[i] as number));
      out[i] = (from[i] as number) + share * ((out[i] as number) - (from[i] as number));
    }
  });
  return { width, height, r: carried[0], g: carried[1], b: carried[2] };
}
