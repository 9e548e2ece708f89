import { describe, expect, it } from "vitest";
import { random } from "./random";
import { middleOf, valueAt, valuesWhere } from "./rank";

describe("rank", () => {
  it.each([
    ["any values", () => random(5)],
    [
      "many alike",
      () =>
        (
          (next) => () =>
            Math.floor(4 * next())
        )(random(6)),
    ],
    ["all alike", () => () => 3],
    [
      "sorted already",
      () =>
        (
          (i) => () =>
            i++
        )(0),
    ],
    [
      "sorted backwards",
      () =>
        (
          (i) => () =>
            i--
        )(0),
    ],
  ] as const)("finds what a sort would put at each place: %s", (_, make) => {
    const next = make();
    const values = Float32Array.from({ length: 257 }, () => next());
    const sorted = values.slice().sort();
    for (let k = 0; k < values.length; k++) expect(valueAt(values.slice(), k)).toBe(sorted[k]);
  });
  it("takes the upper middle, and says when there is none", () => {
    expect(middleOf(Float32Array.of(4, 1, 3, 2), 0)).toBe(3);
    expect(middleOf(new Float32Array(0), null)).toBeNull();
    expect(() => valueAt(new Float32Array(2), 2)).toThrow(RangeError);
  });
  it("gathers values under a mask, every so many", () => {
    const values = Float32Array.of(1, 2, 3, 4, 5, 6);
    expect([...valuesWhere(values, [1, 0, 1, 1, 0, 1])]).toEqual([1, 3, 4, 6]);
    expect([...valuesWhere(values, [1, 0, 1, 1, 0, 1], 3)]).toEqual([1, 4]);
  });
});
