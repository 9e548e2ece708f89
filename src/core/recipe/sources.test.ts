import { describe, expect, it } from "vitest";
import { shrinkChannel } from "../image/resample";
import { disc, drawPlate, even } from "../simulate/draw-plate";
import { proposeRecipe } from "./auto";
import { evaluate } from "./evaluate";

describe("what is at hand of a plate at full size", () => {
  const things = [
    { covers: disc(70, 60, 34), colour: even(0.2, 0.34, 0.16) },
    { covers: disc(230, 80, 50), colour: even(0.5, 0.3, 0.2) },
  ];
  const picture = drawPlate(320, 180, things, () => ({ r: 0.06, g: 0.42, b: 0.09 })).plate;
  const { recipe } = proposeRecipe(picture, 1);
  const plate = { key: "drawn", picture };

  it("is taken of the subject's own colour when the frame is asked for at half size", () => {
    const full = evaluate(recipe, { plate }, { reduce: 1, outputs: ["subject"] }).subject!;
    const ask = { reduce: 2, outputs: ["subject", "nearScreen"] } as const;
    const anew = evaluate(recipe, { plate }, ask);
    const knowing = evaluate(recipe, { plate: { ...plate, subject: full } }, ask);
    expect(knowing.subject!.excess).toEqual(shrinkChannel(full.excess, 320, 180, 2));
    expect(knowing.nearScreen!.data).toEqual(shrinkChannel(full.nearScreen, 320, 180, 2));
    expect(anew.subject!.excess).not.toEqual(knowing.subject!.excess);
    expect(Math.max(...full.nearScreen)).toBe(1);
  });
});
