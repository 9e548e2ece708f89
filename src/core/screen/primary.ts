import type { Rgb } from "../color/hue";
import type { Picture } from "../image/plane";
import { pointwise } from "../kernels/pointwise";

export const PRIMARIES = ["r", "g", "b"] as const;
/** The channel that the screen lights most. */
export type Primary = (typeof PRIMARIES)[number];

/** The screen primary of a screen colour: its largest channel. */
export const screenPrimary = (c: Rgb): Primary => (c.g >= c.r && c.g >= c.b ? "g" : c.b >= c.r ? "b" : "r");

/** Second channel of a screen colour, as a share of the first, over which its hue lies between two primaries: magenta, lime, violet. */
const MIXED = 0.3;

/**
 * How far the weight of a colour difference may go: from all on one other channel to all on the other; beyond both for a
 * screen whose hue lies between two primaries, where what lifts its second channel parts it better from warm colours.
 */
export function weightRange(screen: Rgb): readonly [least: number, most: number] {
  return secondOf(screen) ? [-1, 2] : [0, 1];
}

/** The second channel of a screen whose hue lies between two primaries; null for one of a primary's own hue. */
export function secondOf(screen: Rgb): Primary | null {
  const primary = screenPrimary(screen);
  const [u, v] = otherChannels(primary);
  const second = screen[u] >= screen[v] ? u : v;
  return screen[second] > MIXED * screen[primary] ? second : null;
}

/** The two channels that are not the primary, in RGB order. */
export const otherChannels = (p: Primary): readonly [Primary, Primary] => (p === "r" ? ["g", "b"] : p === "g" ? ["r", "b"] : ["r", "g"]);

export const PRIMARY_NAME: Record<Primary, string> = { r: "red", g: "green", b: "blue" };

/** Hues between a screen's primary and its second channel. */
const BETWEEN: Record<string, string> = { rg: "orange", rb: "magenta", gr: "lime", gb: "teal", br: "violet", bg: "azure" };

/** What a screen's hue is called: by its primary, or by the hue between two. */
export function screenName(screen: Rgb): string {
  const primary = screenPrimary(screen);
  const second = secondOf(screen);
  return (second && BETWEEN[primary + second]) ?? PRIMARY_NAME[primary];
}

/** Excess of the primary at every pixel, linear light: P − (w·U + (1−w)·V), with U and V the other channels in RGB order. */
export function excessPlane(picture: Picture, primary: Primary, weight: number): Float32Array {
  const [un, vn] = otherChannels(primary);
  const out = new Float32Array(picture.r.length);
  pointwise("weigh", [1, -weight, weight - 1], [picture[primary], picture[un], picture[vn]], [out]);
  return out;
}
