import { type Allocate, fresh, type Plane } from "../image/plane";
import { pointwise } from "../kernels/pointwise";

export interface Levels {
  /** The matte level mapped to 0, 0…1. */
  readonly black: number;
  /** The matte level mapped to 1, 0…1, above black. */
  readonly white: number;
  /** Share of the white point, 0…1, under which it does nothing: soft edges stay, what is nearly solid becomes so. 0 without it. */
  readonly knee?: number;
  /** Over 1 lifts the greys between, under 1 lowers them; 1 without it. */
  readonly gamma?: number;
}

/**
 * ((m − black) / (white − black)) ^ (1 / gamma), clipped to 0…1. With a knee two straight lines: as if white were 1 up to
 * the knee, and steeper from there to the white point. @throws RangeError unless white is above black
 */
export function matteLevels(matte: Plane, { black, white, knee = 0, gamma = 1 }: Levels, allocate: Allocate = fresh): Plane {
  if (!(white > black)) throw new RangeError("The white point must lie above the black point.");
  const data = allocate(matte.data.length);
  const bend = Math.max(black, knee * white);
  const gentle = 1 / (1 - black);
  const steep = (1 - (bend - black) * gentle) / (white - bend);
  pointwise("levels", [black, gentle, white - 1 / steep, steep], [matte.data], [data]);
  if (gamma !== 1) for (let i = 0; i < data.length; i++) data[i] = (data[i] as number) ** (1 / gamma);
  return { width: matte.width, height: matte.height, data };
}

/** matte × (1 − garbage). */
export function holdOut(matte: Plane, garbage: Plane, allocate: Allocate = fresh): Plane {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, 0, garbage.data], [data]);
  return { width: matte.width, height: matte.height, data };
}

/** matte + (1 − matte) × held: what a drawn holdout holds is solid. */
export function holdIn(matte: Plane, held: Plane, allocate: Allocate = fresh): Plane {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, held.data, 0], [data]);
  return { width: matte.width, height: matte.height, data };
}
