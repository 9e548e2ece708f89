import { type Allocate, fresh, type Plane } from "../image/plane";

/** How a pass joins what came before it: it adds, takes away, keeps only what both have, or takes the place. */
export const COMBINES = ["join", "cut", "within", "replace"] as const;
export type Combine = (typeof COMBINES)[number];

export interface Combination {
  readonly how: Combine;
  /** Overlapping greys build up (products) instead of the larger or smaller one winning. Replacing knows no difference. */
  readonly softly: boolean;
}

/** The level that both make together, where the pass counts fully. */
function level(a: number, m: number, { how, softly }: Combination): number {
  switch (how) {
    case "join":
      return softly ? 1 - (1 - a) * (1 - m) : Math.max(a, m);
    case "cut":
      return softly ? a * (1 - m) : Math.min(a, 1 - m);
    case "within":
      return softly ? a * m : Math.min(a, m);
    case "replace":
      return m;
  }
}

/**
 * Combines a pass with what came before it.
 * @param region how far the pass counts at each pixel, 0…1; everywhere without it
 * @returns the matte, and `share`: how much of a pixel's cover is the pass's own, 0…1, for its colour
 */
export function combineMattes(
  before: Plane,
  pass: Plane,
  combination: Combination,
  region?: Float32Array,
  allocate: Allocate = fresh,
): { matte: Plane; share: Float32Array } {
  const { width, height } = before;
  if (pass.width !== width || pass.height !== height)
    throw new RangeError(`Sizes differ: ${width}×${height} and ${pass.width}×${pass.height}.`);
  const data = allocate(before.data.length);
  const share = allocate(before.data.length);
  const { how } = combination;
  for (let i = 0; i < data.length; i++) {
    const a = before.data[i] as number;
    const r = region ? (region[i] as number) : 1;
    const out = a + r * (level(a, pass.data[i] as number, combination) - a);
    data[i] = out;
    share[i] = how === "replace" ? r : how === "join" && out > a ? (out - a) / out : 0;
  }
  return { matte: { width, height, data }, share };
}
