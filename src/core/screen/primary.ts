import type { Rgb } from "../color/hue";

export const PRIMARIES = ["r", "g", "b"] as const;
/** The channel that the screen lights most. */
export type Primary = (typeof PRIMARIES)[number];

/** The screen primary of a screen colour: its largest channel. */
export const screenPrimary = (c: Rgb): Primary => (c.g >= c.r && c.g >= c.b ? "g" : c.b >= c.r ? "b" : "r");

/** The two channels that are not the primary, in RGB order. */
export const otherChannels = (p: Primary): readonly [Primary, Primary] => (p === "r" ? ["g", "b"] : p === "g" ? ["r", "b"] : ["r", "g"]);

export const PRIMARY_NAME: Record<Primary, string> = { r: "red", g: "green", b: "blue" };
