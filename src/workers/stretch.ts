/** How a matte's ends are spread for looking at it: gain at black and at white, 1 for none; gamma over 1 lifts all greys. */
export interface Stretch {
  readonly black: number;
  readonly white: number;
  readonly gamma: number;
}

/** How a stretched matte is shown where nothing else is said. */
export const STRETCH: Stretch = { black: 8, white: 8, gamma: 1 };

/** A stretched level. Near black the distance from 0 is multiplied, near white the distance from 1; the middle stays in order. */
export function stretchLevel(v: number, { black, white, gamma }: Stretch): number {
  const s = v < 0.5 ? 0.5 * (1 - (1 - 2 * v) ** black) : 0.5 + 0.5 * (2 * v - 1) ** white;
  return gamma === 1 ? s : s ** (1 / gamma);
}
