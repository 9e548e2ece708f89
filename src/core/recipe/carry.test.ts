import { describe, expect, it } from "vitest";
import { carryRecipe } from "./carry";
import { defaultRecipe, parseRecipe, type Recipe } from "./schema";

const square = [
  { x: 0, y: 0 },
  { x: 9, y: 0 },
  { x: 9, y: 9 },
];
const shape = (name: string) => ({ id: name, name, points: square, out: "outside" as const, soft: 2 });
const make = (change: (r: Recipe) => void): Recipe => {
  const r = defaultRecipe();
  change(r);
  return parseRecipe(r);
};
const from = make((r) => {
  r.passes[0]!.matte.white = 0.8;
  r.screen.colour = { r: 0.1, g: 0.5, b: 0.1 };
  r.screen.boxes = [{ frame: 9, x: 1, y: 1, width: 5, height: 5 }];
  r.screen.from = "supplied";
  r.screen.cleanPlate = "a".repeat(64);
  r.bounds.garbage = [shape("one")] as Recipe["bounds"]["garbage"];
  r.plate.matrix = "bt601";
});
const to = make((r) => {
  r.bounds.garbage = [shape("two")] as Recipe["bounds"]["garbage"];
  r.plate.range = "full";
  r.scene.background = "b".repeat(64);
  r.dismissed = [{ kind: "holes", note: "glass" }];
});

describe("a recipe carried to another shot", () => {
  it("takes how the key is pulled, and leaves what belongs to the place", () => {
    const carried = parseRecipe(carryRecipe(from, to, null));
    expect(carried.passes).toEqual(from.passes);
    expect(carried.bounds.garbage.map((s) => s.name)).toEqual(["two"]);
    expect(carried.plate).toEqual({ range: "full" });
    expect(carried.scene.background).toBe("b".repeat(64));
    expect(carried.dismissed).toEqual(to.dismissed);
    expect(carried.screen.boxes).toEqual([]);
    expect(carried.screen.colour).toEqual(from.screen.colour);
  });

  it("does not take one shot's clean plate to another, and uses the colour sampled there", () => {
    const screen = { r: 0.05, g: 0.3, b: 0.06 };
    const carried = carryRecipe(from, to, screen);
    expect(carried.screen).toMatchObject({ from: "synthesised", cleanPlate: null, colour: screen });
  });

  it("lets a drawn region that moved here stand still there, where it was first", () => {
    const moved = square.map((p) => ({ x: p.x + 30, y: p.y }));
    const followed = make((r) => {
      const keys = [
        { frame: 3, points: moved },
        { frame: 9, points: square },
      ];
      const region = { kind: "drawn" as const, points: square, keys, smooth: true, soft: 4 };
      r.passes.push({ ...structuredClone(r.passes[0]!), id: "second", region });
    });
    const carried = parseRecipe(carryRecipe(followed, to, null));
    expect(carried.passes[1]?.region).toEqual({ kind: "drawn", points: moved, keys: [], smooth: true, soft: 4 });
    expect(carried.passes[0]).toEqual(followed.passes[0]);
  });

  it("shares nothing that could be changed by one for the other", () => {
    const carried = carryRecipe(from, to, null);
    carried.passes[0]!.matte.white = 0.1;
    expect(from.passes[0]!.matte.white).toBe(0.8);
  });
});
