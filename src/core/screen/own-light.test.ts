import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { makePicture } from "../image/plane";
import { ownLight } from "./own-light";

/** What one pixel of a colour has of its own before an even screen. */
function ownOf(colour: Rgb, screen: Rgb): number {
  const p = makePicture(32, 32);
  for (const c of ["r", "g", "b"] as const) p[c].fill(screen[c]);
  for (const c of ["r", "g", "b"] as const) p[c][500] = colour[c];
  const clean = [screen.r, screen.g, screen.b].map((v) => new Float32Array(32 * 32).fill(v));
  return ownLight(clean, p, screen.g > screen.r ? "g" : "r", new Float32Array(32 * 32).fill(1)).beyond[500] as number;
}

const GREEN = { r: 0.045, g: 0.36, b: 0.075 };
const MAGENTA = { r: 0.4, g: 0.04, b: 0.2 };

describe("own light", () => {
  it.each([
    ["green", GREEN],
    ["magenta", MAGENTA],
  ])("a %s screen has none at any light", (_, screen) => {
    for (const k of [0.05, 0.3, 1, 1.5]) expect(ownOf({ r: k * screen.r, g: k * screen.g, b: k * screen.b }, screen)).toBeCloseTo(0, 6);
  });
  it("grey has all of it that the screen's primary does not explain", () =>
    expect(ownOf({ r: 0.1, g: 0.1, b: 0.1 }, GREEN)).toBeCloseTo(0.2 - (0.1 / 0.36) * 0.12, 6));
  it("wood before magenta has its own in green, though both channels together hold no more than the screen", () => {
    const wood = { r: 0.05, g: 0.0214, b: 0.0059 };
    expect(wood.g + wood.b).toBeLessThan((wood.r / MAGENTA.r) * (MAGENTA.g + MAGENTA.b));
    expect(ownOf(wood, MAGENTA)).toBeCloseTo(2 * (wood.g - (wood.r / MAGENTA.r) * MAGENTA.g), 6);
  });
});
