import { describe, expect, it } from "vitest";
import { shapesMatte } from "../matte/polygon";
import { MOST_SHAPES } from "./drawn-schema";
import { holdoutAlong, holdUnsolved, newShape } from "./new-shape";
import { defaultRecipe, recipeSchema } from "./schema";

const square = [
  { x: 10, y: 10 },
  { x: 30, y: 10 },
  { x: 30, y: 30 },
  { x: 10, y: 30 },
];

describe("shapes as they are drawn", () => {
  it("take the first free number of their kind", () => {
    const one = newShape(square, "garbage", []);
    const two = newShape(square, "garbage", [one]);
    expect([one.name, two.name, newShape(square, "holdout", [one, two]).name]).toEqual(["Garbage 1", "Garbage 2", "Holdout 1"]);
    // The first was removed: the next is counted, and then the number that is taken is passed over.
    expect(newShape(square, "garbage", [two]).id).toBe("garbage-3");
  });
  it("hold what was not solved close along its outline, and nothing else", () => {
    const place = { x: 0, y: 0, width: 9, height: 9 };
    const told = [
      { kind: "clipped", what: "no outline", place },
      { kind: "half-open", what: "a mirror", place, outline: square },
      { kind: "half-open", what: "too small", place, outline: square.slice(0, 2) },
    ] as const;
    const recipe = defaultRecipe();
    const held = holdUnsolved(recipe, told as never);
    expect(recipeSchema.parse(held)).toEqual(held);
    expect(held.bounds.garbage.map((s) => [s.id, s.kind])).toEqual([["holdout-1", "holdout"]]);
    expect(recipe.bounds.garbage).toEqual([]);
    const inside = shapesMatte(held.bounds.garbage, 40, 40, 1);
    expect([20 * 40 + 20, 20 * 40 + 11, 20 * 40 + 8, 20 * 40 + 33].map((i) => inside.data[i])).toEqual([1, 1, 0, 0]);
  });
  it("stop at the most shapes that a shot holds", () => {
    const recipe = defaultRecipe();
    for (let k = 0; k < MOST_SHAPES; k++) recipe.bounds.garbage.push(holdoutAlong(square, recipe.bounds.garbage));
    const told = [{ kind: "half-open", what: "one more", place: { x: 0, y: 0, width: 1, height: 1 }, outline: square }] as never;
    expect(holdUnsolved(recipe, told).bounds.garbage).toHaveLength(MOST_SHAPES);
  });
});
