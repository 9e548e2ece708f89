import { Matrix, solve } from "ml-matrix";

/**
 * The coefficients with which a sum of terms comes nearest to values, by weighted least squares on the normal equations. They are solved by
 * singular values: where the places tell only some of the terms, the others stay small.
 * @param terms how many
 * @param count places
 * @param at writes the terms at a place and returns what it counts for, 0 for not at all
 * @param value what the sum should be there
 */
export function leastSquares(
  terms: number,
  count: number,
  at: (place: number, out: Float64Array) => number,
  value: ArrayLike<number>,
): number[] {
  const normal = new Float64Array(terms * terms);
  const right = new Float64Array(terms);
  const t = new Float64Array(terms);
  for (let p = 0; p < count; p++) {
    const weight = at(p, t);
    if (weight === 0) continue;
    for (let i = 0; i < terms; i++) {
      const w = weight * (t[i] as number);
      for (let j = 0; j < terms; j++) normal[i * terms + j]! += w * (t[j] as number);
      right[i]! += w * (value[p] as number);
    }
  }
  return solve(Matrix.from1DArray(terms, terms, normal), Matrix.columnVector(right), true).to1DArray();
}
