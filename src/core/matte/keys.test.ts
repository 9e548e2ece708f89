import { describe, expect, it } from "vitest";
import { outlineAt, withKey } from "./keys";

const square = (x: number) => [
  { x, y: 0 },
  { x: x + 10, y: 0 },
  { x: x + 10, y: 10 },
];
const keyed = {
  points: square(0),
  keys: [
    { frame: 3, points: square(10) },
    { frame: 7, points: square(30) },
  ],
};

describe("keyed shapes", () => {
  it("move evenly between keys and rest outside them", () => {
    expect(outlineAt(keyed, 1)).toEqual(square(10));
    expect(outlineAt(keyed, 3)).toEqual(square(10));
    expect(outlineAt(keyed, 4)).toEqual(square(15));
    expect(outlineAt(keyed, 7)).toEqual(square(30));
    expect(outlineAt(keyed, 20)).toEqual(square(30));
  });
  it("without keys a shape stands where it was drawn", () => expect(outlineAt({ points: square(4), keys: [] }, 9)).toEqual(square(4)));
  it("a key takes the place of the one on its frame, and keys stay in order", () => {
    const keys = withKey(withKey(keyed.keys, { frame: 5, points: square(1) }), { frame: 3, points: square(2) });
    expect(keys.map((k) => k.frame)).toEqual([3, 5, 7]);
    expect(keys[0]!.points).toEqual(square(2));
  });
});
