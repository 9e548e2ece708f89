import { describe, expect, it } from "vitest";
import { correlation, deviationOf, rankCorrelation } from "./correlation";

describe("how two rows of figures go together", () => {
  it("correlation of rows that rise together is 1, and −1 the other way", () => {
    expect(correlation([1, 2, 4], [2, 4, 8])).toBeCloseTo(1, 9);
    expect(correlation([1, 2, 4], [-1, -2, -4])).toBeCloseTo(-1, 9);
    expect(correlation([1, 2, 3, 4], [1, -1, 1, -1])).toBeCloseTo(-0.447, 3);
  });
  it("rank correlation sees only the order, and lets equal values share a rank", () => {
    expect(rankCorrelation([1, 2, 3, 4], [1, 10, 100, 1000])).toBeCloseTo(1, 9);
    // Ranks 0, 1.5, 1.5, 3 against 0, 1, 2, 3: 4.5 / √(4.5 · 5).
    expect(rankCorrelation([1, 2, 2, 5], [1, 2, 3, 4])).toBeCloseTo(Math.sqrt(0.9), 9);
    expect(rankCorrelation([1, 1, 1], [1, 2, 3])).toBeNaN();
  });
  it("deviation is that of the values themselves, in whatever array", () => {
    expect(deviationOf([2, 4, 4, 4, 5, 5, 7, 9])).toBe(2);
    expect(deviationOf(Float32Array.of(3, 3, 3))).toBe(0);
    expect(correlation(Float32Array.of(1, 2, 4), Float32Array.of(3, 2, 0))).toBeCloseTo(-1, 9);
  });
});
