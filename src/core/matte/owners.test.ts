import { describe, expect, it } from "vitest";
import { ownersOf } from "./owners";

describe("owners of a combined matte", () => {
  const matte = Float32Array.of(1, 1, 1, 0, 0.4);

  it("gives everything that stands to the first pass when it is alone, and nothing to empty places", () => {
    expect([...ownersOf([], matte)]).toEqual([1, 1, 1, 0, 1]);
  });

  it("gives a pixel to the pass with the greater share, the earlier one at an even split", () => {
    expect([...ownersOf([Float32Array.of(0.2, 0.5, 0.8, 1, 1)], matte)]).toEqual([1, 1, 2, 0, 2]);
  });

  it("lets a later pass take from all before it alike", () => {
    // Cover after three passes: first .28, second .42, third .30; then .1, .1, .8.
    const second = Float32Array.of(0.6, 0.5);
    const third = Float32Array.of(0.3, 0.8);
    expect([...ownersOf([second, third], Float32Array.of(1, 1))]).toEqual([2, 3]);
  });
});
