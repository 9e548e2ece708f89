import { describe, expect, it } from "vitest";
import { leastSquares } from "./least-squares";

describe("least squares", () => {
  const line = (xs: readonly number[]) => (p: number, out: Float64Array) => {
    out[0] = 1;
    out[1] = xs[p]!;
    return 1;
  };
  it("is what Anscombe's quartet is known for: 3.00 + 0.500 x, of his first two sets alike", () => {
    // F. J. Anscombe, "Graphs in Statistical Analysis", The American Statistician 27 (1973); his values are from memory.
    const xs = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5];
    const first = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68];
    const second = [9.14, 8.14, 8.74, 8.77, 9.26, 8.1, 6.13, 3.1, 9.13, 7.26, 4.74];
    for (const ys of [first, second]) {
      const [a, b] = leastSquares(2, xs.length, line(xs), ys) as [number, number];
      expect(a).toBeCloseTo(3, 2);
      expect(b).toBeCloseTo(0.5, 3);
    }
  });
  it("lets places count as they weigh", () => {
    const constant = (p: number, out: Float64Array) => {
      out[0] = 1;
      return [1, 3, 0][p]!;
    };
    const [a] = leastSquares(1, 3, constant, [2, 6, 1000]) as [number];
    expect(a).toBeCloseTo(5, 9);
  });
  it("keeps small what the places do not tell", () => {
    const [a, b] = leastSquares(2, 3, line([0, 0, 0]), [4, 5, 6]) as [number, number];
    expect(a).toBeCloseTo(5, 9);
    expect(b).toBeCloseTo(0, 9);
  });
});
