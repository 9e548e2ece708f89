import { describe, expect, it } from "vitest";
import { ACESCCT } from "../color/log";
import type { ColourReading } from "../image/raw-frame";
import { backgroundReading, cleanReading, plateReading, readingKey } from "./reading";
import { defaultRecipe } from "./schema";

const video: ColourReading = { transfer: "bt709", matrix: "bt709", range: "limited", siting: "left" };
const recipe = { ...defaultRecipe(), plate: { transfer: ACESCCT, primaries: "ap1", siting: "center" } as const };

describe("how footage is read", () => {
  it("the plate by the recipe, where it says something", () => {
    expect(plateReading(video, recipe)).toEqual({ ...video, transfer: ACESCCT, primaries: "ap1", siting: "center" });
    expect(plateReading(video, defaultRecipe())).toEqual(video);
  });
  it("a clean plate of the same camera as the plate, with chroma where its own pixels have it; others as their files say", () => {
    const clean = { ...video, siting: "topleft" } as const;
    expect(cleanReading(clean, video, recipe)).toEqual({ ...clean, transfer: ACESCCT, primaries: "ap1" });
    const made: ColourReading = { transfer: "linear", matrix: "bt709", range: "full", siting: "center" };
    expect(cleanReading(made, video, recipe)).toEqual(made);
  });
  it("a background as its file says, or by the plate's curve and primaries; matrix, range and place of chroma are its own", () => {
    const back = { ...video, matrix: "bt601", range: "full" } as const;
    expect(backgroundReading(back, video, recipe)).toEqual(back);
    const same = { ...recipe, scene: { ...recipe.scene, asPlate: true } };
    expect(backgroundReading(back, video, same)).toEqual({ ...back, transfer: ACESCCT, primaries: "ap1" });
  });
  it("has a key that tells curves by their numbers apart", () => {
    const keys = [ACESCCT, { ...ACESCCT, base: 0.5 }, "acescct" as const].map((transfer) => readingKey({ ...video, transfer }));
    expect(new Set(keys).size).toBe(3);
  });
});
