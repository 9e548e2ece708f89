import { describe, expect, it } from "vitest";
import { numberAt, withPart } from "./path";
import { defaultRecipe } from "./schema";

describe("dotted paths", () => {
  const pass = defaultRecipe().passes[0]!;
  it("reads a number however deep it lies", () => {
    expect(numberAt(pass, "matte.white")).toBe(1);
    expect(numberAt(pass, "pull.unmix.reach")).toBe(48);
  });
  it("replaces one part of a copy, and shares what lies beside it", () => {
    const changed = withPart(pass, "pull.unmix.reach", 12);
    expect(changed.pull.unmix.reach).toBe(12);
    expect(pass.pull.unmix.reach).toBe(48);
    expect(changed.matte).toBe(pass.matte);
    expect(changed.pull.chroma).toBe(pass.pull.chroma);
    expect(withPart(pass, "role", "core").role).toBe("core");
  });
});
