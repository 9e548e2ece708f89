import type { Rgb } from "../color/hue";
import type { Picture } from "../image/plane";

export const PRIMARIES = ["r", "g", "b"] as const;
/** The channel that the screen lights most. */
export type Primary = (typeof PRIMARIES)[number];

/** The screen primary of a screen colour: its largest channel. */
export const screenPrimary = (c: Rgb): Primary => (c.g >= c.r && c.g >= c.b ? "g" : c.b >= c.r ? "b" : "r");

/** The two channels that are not the primary, in RGB order. */
export const otherChannels = (p: Primary): readonly [Primary, Primary] => (p === "r" ? ["g", "b"] : p === "g" ? ["r", "b"] : ["r", "g"]);

export const PRIMARY_NAME: Record<Primary, string> = { r: "red", g: "green", b: "blue" };

/** Excess of the primary at every pixel, linear light: P − (w·U + (1−w)·V), with U and V the other channels in RGB order. */
export function excessPlane(picture: Picture, primary: Primary, weight: number): Float32Array {
  const [un, vn] = otherChannels(primary);
  const [P, U, V] = [picture[primary], picture[un], picture[vn]];
  const rest = 1 - weight;
  const out = new Float32Array(P.length);
  for (let i = 0; i < out.length; i++) out[i] = (P[i] as number) - weight * (U[i] as number) - rest * (V[i] as number);
  return out;
}
