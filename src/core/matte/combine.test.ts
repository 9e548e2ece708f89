import { describe, expect, it } from "vitest";
import { combineMattes } from "./combine";

const plane = (...v: number[]) => ({ width: v.length, height: 1, data: Float32Array.from(v) });
const A = plane(0, 0.4, 0.8, 1);
const M = plane(0.5, 0.5, 0.5, 0.5);
const close = (got: Float32Array, want: number[]) =>
  want.forEach((v, i) => {
    expect(got[i]).toBeCloseTo(v, 6);
  });

describe("combining passes", () => {
  it.each([
    ["join", false, [0.5, 0.5, 0.8, 1]],
    ["join", true, [0.5, 0.7, 0.9, 1]],
    ["cut", false, [0, 0.4, 0.5, 0.5]],
    ["cut", true, [0, 0.2, 0.4, 0.5]],
    ["within", false, [0, 0.4, 0.5, 0.5]],
    ["within", true, [0, 0.2, 0.4, 0.5]],
    ["replace", false, [0.5, 0.5, 0.5, 0.5]],
  ] as const)("%s, softly %s", (how, softly, want) => close(combineMattes(A, M, { how, softly }).matte.data, [...want]));
  it("within a region only, and by half where the region is half", () => {
    const { matte, share } = combineMattes(A, M, { how: "replace", softly: false }, Float32Array.of(0, 0.5, 1, 0));
    close(matte.data, [0, 0.45, 0.5, 1]);
    close(share, [0, 0.5, 1, 0]);
  });
  it("a joined pass owns the cover it brought, others own none of the colour", () => {
    close(combineMattes(A, M, { how: "join", softly: false }).share, [1, 0.2, 0, 0]);
    close(combineMattes(A, M, { how: "cut", softly: true }).share, [0, 0, 0, 0]);
  });
  it("refuses other sizes", () => expect(() => combineMattes(A, plane(1), { how: "join", softly: false })).toThrow(/Sizes differ/));
});
