/**
 * The BT.709 camera transfer function (OETF). Source: Recommendation ITU-R BT.709-6, item 1.2.
 * Code values are 0…1 nominal; values outside are carried on by odd symmetry.
 * The constants are the exact ones (BT.2020-2 gives them to this precision), so that both pieces meet.
 */
const ALPHA = 1.09929682680944;
const BETA = 0.018053968510807;

/** Code value to scene-linear light. */
export function bt709ToLinear(v: number): number {
  if (v < 0) return -bt709ToLinear(-v);
  return v < 4.5 * BETA ? v / 4.5 : ((v + ALPHA - 1) / ALPHA) ** (1 / 0.45);
}

/** Scene-linear light to code value. */
export function linearToBt709(v: number): number {
  if (v < 0) return -linearToBt709(-v);
  return v < BETA ? 4.5 * v : ALPHA * v ** 0.45 - (ALPHA - 1);
}
