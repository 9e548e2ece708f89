import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { findDrift, withoutDrift } from "./align";
import { suppliedCleanPlate } from "./clean-plate";

const [width, height] = [240, 135];
/** A creased screen with two markers, seen from a camera shifted by (sx, sy). */
function screenAt(sx: number, sy: number, light = 1, grain = 0, seed = 1, plain = false): Picture {
  const next = normal(random(seed));
  const p = makePicture(width, height);
  for (let i = 0; i < width * height; i++) {
    const x = (i % width) + sx;
    const y = Math.floor(i / width) + sy;
    const crease = plain ? 0 : 0.12 * Math.sin(x / 7 + 0.6 * Math.sin(y / 11)) + 0.08 * Math.sin(y / 5 - x / 23);
    const marker = !plain && (Math.hypot(x - 60, y - 40) < 4 || Math.hypot(x - 190, y - 90) < 4) ? 0.5 : 1;
    const l = light * (1 + crease) * marker;
    p.r[i] = 0.04 * l + grain * next();
    p.g[i] = 0.35 * l + grain * next();
    p.b[i] = 0.06 * l + grain * next();
  }
  return p;
}
const everywhere = new Uint8Array(width * height).fill(1);

describe("a clean plate's drift", () => {
  it.each([
    [1.37, -0.62],
    [-0.25, 0.4],
    [0, 2.6],
  ])("of %f, %f px is found to a twentieth of a pixel, whatever the exposure and grain", (dx, dy) => {
    const plate = screenAt(0, 0, 1, 0.002, 2);
    // What lies at x in the plate lies at x + dx in the clean plate.
    const clean = screenAt(-dx, -dy, 0.8, 0.002, 3);
    const drift = findDrift(clean, plate, everywhere)!;
    expect(drift.dx).toBeCloseTo(dx, 1);
    expect(drift.dy).toBeCloseTo(dy, 1);
    expect(Math.hypot(drift.dx - dx, drift.dy - dy)).toBeLessThan(0.05);
    // Moved back it lies over the plate.
    const back = withoutDrift(clean, drift);
    let [before, after] = [0, 0];
    for (let y = 8; y < height - 8; y++)
      for (let x = 8; x < width - 8; x++) {
        const i = y * width + x;
        before += Math.abs(clean.g[i]! / 0.8 - plate.g[i]!);
        after += Math.abs(back.g[i]! / 0.8 - plate.g[i]!);
      }
    // Grain is left; for the smallest drift it is most of it.
    expect(after).toBeLessThan(0.7 * before);
  });
  it("says nothing where the screen is plain, or lies too far", () => {
    expect(findDrift(screenAt(0, 0, 1, 0.002, 5, true), screenAt(0, 0, 1, 0.002, 6, true), everywhere)).toBeNull();
    expect(findDrift(screenAt(0, 0), screenAt(0, 0), new Uint8Array(width * height))).toBeNull();
  });
  it("is taken out of a supplied clean plate, together with its exposure", () => {
    const plate = screenAt(0, 0, 1, 0.001, 7);
    const brought = suppliedCleanPlate(screenAt(-1.4, 0.7, 0.7, 0.001, 8), plate, "g");
    let off = 0;
    for (let y = 8; y < height - 8; y++)
      for (let x = 8; x < width - 8; x++) off += Math.abs(brought.g[y * width + x]! - plate.g[y * width + x]!);
    expect(off / ((height - 16) * (width - 16))).toBeLessThan(0.004);
  });
});
