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
/** The same without grey, for what it is called: a faded screen's channels are all high, and its hue is its primary's. */
const MIXED_WITHOUT_GREY = 0.25;

/**
 * How far the weight of a colour difference may go: beyond all on one other channel, and beyond all on the other. Leaves before a green screen, and
 * warm colours before one whose hue lies between two primaries, part best by what lifts the channel that both have in common.
 */
export const WEIGHT_RANGE = [-1, 2] as const;

/** How far the weight of a spill limit may go: from all on one other channel to all on the other; as far as a pull's for a screen whose hue lies between two primaries. */
export function weightRange(screen: Rgb): readonly [least: number, most: number] {
  return secondOf(screen) ? WEIGHT_RANGE : [0, 1];
}

/** The second channel of a screen whose hue lies between two primaries, or that is faded; null for one of a primary's own hue. */
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
  const [u, v] = otherChannels(primary);
  const grey = Math.min(screen[u], screen[v]);
  const isBetween = second !== null && screen[second] - grey > MIXED_WITHOUT_GREY * (screen[primary] - grey);
  return (isBetween && BETWEEN[primary + second]) || PRIMARY_NAME[primary];
}

/** Excess of the primary at every pixel, linear light: P − (w·U + (1−w)·V), with U and V the other channels in RGB order. */
export function excessPlane(picture: Picture, primary: Primary, weight: number): Float32Array {
  const [un, vn] = otherChannels(primary);
  const out = new Float32Array(picture.r.length);
  pointwise("weigh", [1, -weight, weight - 1], [picture[primary], picture[un], picture[vn]], [out]);
  return out;
}
