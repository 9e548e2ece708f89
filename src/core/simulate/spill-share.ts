/** View factor from a small patch to a rectangle a × b parallel to it at distance c, one corner straight in front. */
const cornerFactor = (a: number, b: number, c: number): number => {
  const A = a / c;
  const B = b / c;
  const p = Math.sqrt(1 + A * A);
  const q = Math.sqrt(1 + B * B);
  return ((A / p) * Math.atan(B / p) + (B / q) * Math.atan(A / q)) / (2 * Math.PI);
};

/**
 * Share of the hemisphere over a patch that faces the screen which the screen fills, weighted by the cosine: how much of
 * the screen's own light such a patch receives, 0…1.
 * Source: J. R. Howell, "A Catalog of Radiation Heat Transfer Configuration Factors", B-3, four times (centre of the screen).
 * @param distance subject to screen; any unit, the same for all three
 */
export const facingShare = (width: number, height: number, distance: number): number => 4 * cornerFactor(width / 2, height / 2, distance);

/**
 * The same for a patch at right angles to the screen (the subject's outline, seen from the camera): it sees half of the
 * screen, at grazing angles.
 * Source: the same catalog, B-4 (patch and rectangle at right angles), for both halves of the width on one side.
 */
export function outlineShare(width: number, height: number, distance: number): number {
  // Rectangle from the patch's own plane upwards by h, a wide, at distance c; the patch's normal runs along h.
  const a = width / 2;
  const h = height / 2;
  const c = distance;
  const quarter = (Math.atan(a / c) - (c / Math.hypot(c, h)) * Math.atan(a / Math.hypot(c, h))) / (2 * Math.PI);
  return 2 * quarter;
}
