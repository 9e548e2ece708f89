import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import { blockNoise } from "../screen/noise";

/**
 * Own lack of a surface, as a share of the screen's excess, from which on what is far out is as warm; and from which on it may be: without grain any
 * lack tells, and so much more for each share of grain, up to a most.
 */
const LACKS_MUCH = 0.75;
const LACKS_GRAINY = 50;
const LACKS = 0.5;
/** How far from certain subject that begins: nearer, its own rim is as warm, and what it is carried to. Reduced px. */
const FROM = 4;
/** How far around what is seen to be warmer than grey things may be warm, reduced px; and the part of the lack by which it must be. */
const AROUND = 6;
const SEEN = 0.02;

/** Excess on a reduced copy: what the plate has, what certain subject has and is carried outwards, and the screen's. */
export interface Carried {
  readonly width: number;
  readonly height: number;
  readonly excess: Float32Array;
  readonly carried: Float32Array;
  readonly excessBehind: Float32Array;
  /** Distance to certain subject, px. */
  readonly away: Float32Array;
  /** 1 where clear screen is seen. */
  readonly clear: Uint8Array;
}

/**
 * How far what stands far from certain subject may be as warm as that: 0…1 a pixel. Nothing of smoke or of a pale veil lacks more of the screen's
 * primary than grey does; strands and moving hands do, and before a dim blue screen fair hair lacks three times what the screen has too much. A
 * mixture of such with the screen reads as solid there if its subject is taken for grey.
 * @returns null where nothing is
 */
export function warmFarOut({ width, height, excess, carried, excessBehind, away, clear }: Carried): Float32Array | null {
  const share = excess.map((e, i) => e / (excessBehind[i] as number));
  const from = Math.min(LACKS, LACKS_GRAINY * blockNoise(share, clear, width, height));
  const lacks = (i: number) => (-(carried[i] as number) / (excessBehind[i] as number) - from) / (LACKS_MUCH - from);
  const warm = maskOf(excess, (e, i) => (away[i] as number) > FROM && lacks(i) > 0 && e < SEEN * (carried[i] as number));
  if (!warm.includes(1)) return null;
  const toWarm = distanceTo(warm, width, height, AROUND + 1);
  return toWarm.map((d, i) => (d <= AROUND && (away[i] as number) > FROM ? Math.min(1, Math.max(0, lacks(i))) : 0));
}
