import { describe, expect, it } from "vitest";
import { makePlane } from "../core/image/plane";
import { displayOwners } from "./display";
import { ownerPattern } from "./owner-pattern";
import { STRETCH, stretchLevel } from "./stretch";

describe("a stretched matte", () => {
  it("keeps 0, ½ and 1, and the order of all levels, whatever the gains", () => {
    for (const stretch of [STRETCH, { black: 40, white: 1, gamma: 1 }, { black: 2, white: 64, gamma: 2.5 }]) {
      expect(stretchLevel(0, stretch)).toBe(0);
      expect(stretchLevel(1, stretch)).toBe(1);
      expect(stretchLevel(0.5, stretch)).toBeCloseTo(0.5 ** (1 / stretch.gamma), 12);
      for (let i = 1; i <= 100; i++) expect(stretchLevel(i / 100, stretch)).toBeGreaterThanOrEqual(stretchLevel((i - 1) / 100, stretch));
    }
  });

  it("multiplies what is near black by its gain, and what is near white by the other, apart from each other", () => {
    const stretch = { black: 10, white: 3, gamma: 1 };
    expect(stretchLevel(1e-5, stretch) / 1e-5).toBeCloseTo(10, 1);
    expect((1 - stretchLevel(1 - 1e-5, stretch)) / 1e-5).toBeCloseTo(3, 1);
  });
});

describe("patterns of owners", () => {
  const drawn = (k: number) => Array.from({ length: 64 }, (_, i) => ownerPattern(k, i % 8, Math.floor(i / 8)));

  it("differ for all eight passes, repeat over the frame also left of and above it, and leave the first plain", () => {
    const all = [1, 2, 3, 4, 5, 6, 7, 8].map(drawn);
    expect(new Set(all.map(String)).size).toBe(8);
    expect(all[0]).not.toContain(true);
    for (let k = 2; k <= 8; k++) expect(ownerPattern(k, -3, -5)).toBe(ownerPattern(k, 5, 3));
  });

  it("mark the matte of the pass that owns it, in the same place however the frame is cut", () => {
    const matte = makePlane(16, 16);
    matte.data.fill(1);
    const owners = { ...matte, data: matte.data.map(() => 2) };
    const whole = displayOwners(matte, owners, 0, 0);
    const moved = displayOwners(matte, owners, 4, 3);
    const at = (p: Uint8ClampedArray, x: number, y: number) => p[4 * (y * 16 + x)];
    expect(new Set(whole.filter((_, i) => i % 4 === 0))).toEqual(new Set([255, 115]));
    for (let y = 0; y < 12; y++) for (let x = 0; x < 12; x++) expect(at(moved, x, y)).toBe(at(whole, x + 4, y + 3));
    expect(displayOwners(matte, { ...matte, data: matte.data.map(() => 1) }, 0, 0)).not.toContain(115);
  });
});
