import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { matteError } from "../measure/truth-error";
import { proposeRecipe } from "./auto";
import { evaluate } from "./evaluate";

const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
type At<T> = (x: number, y: number) => T;

/** A plate of known coverage: things, the last on top, over a screen that gets lighter to the right; 4 × 4 places to a pixel. */
function plateOf(width: number, height: number, things: readonly { covers: At<number>; colour: At<Rgb> }[], screen: At<number> = () => 1) {
  const plate = makePicture(width, height);
  const truth = makePlane(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      for (let k = 0; k < 16; k++) {
        const [u, v] = [x + ((k % 4) + 0.5) / 4, y + (Math.floor(k / 4) + 0.5) / 4];
        const light = (0.85 + (0.3 * u) / width) * screen(u, v);
        let [r, g, b, a] = [light * SCREEN.r, light * SCREEN.g, light * SCREEN.b, 0];
        for (const { covers, colour } of things) {
          const c = covers(u, v);
          if (c === 0) continue;
          const f = colour(u, v);
          [r, g, b, a] = [c * f.r + (1 - c) * r, c * f.g + (1 - c) * g, c * f.b + (1 - c) * b, c + (1 - c) * a];
        }
        plate.r[i]! += r / 16;
        plate.g[i]! += g / 16;
        plate.b[i]! += b / 16;
        truth.data[i]! += a / 16;
      }
    }
  return { plate, truth };
}
const disc = (cx: number, cy: number, radius: number) => (x: number, y: number) => (Math.hypot(x - cx, y - cy) <= radius ? 1 : 0);
const even = (r: number, g: number, b: number) => () => ({ r, g, b });
const skin = even(0.56, 0.33, 0.24);

function proposed(plate: Picture): { matte: Plane; recipe: ReturnType<typeof proposeRecipe>["recipe"] } {
  const { recipe } = proposeRecipe(plate, 1);
  return { recipe, matte: evaluate(recipe, { plate: { key: "drawn", picture: plate } }, { reduce: 1, outputs: ["matte"] }).matte as Plane };
}

describe("a proposal", () => {
  it("keeps dark clothes that leave the frame at its sides and its foot", () => {
    // A close-up: shoulders wider than the frame, the jacket from brown to nearly black in the corner.
    const [w, h] = [240, 400];
    const shoulders = (x: number, y: number) => (y > 260 + ((x - 120) / 24) ** 2 ? 1 : 0);
    const jacket = (x: number, y: number) => {
      const k = Math.max(0.01, 0.3 - 0.0012 * (x + y - 260));
      return { r: k, g: 0.55 * k, b: 0.5 * k };
    };
    const { plate, truth } = plateOf(w, h, [
      { covers: shoulders, colour: jacket },
      { covers: disc(120, 160, 70), colour: skin },
    ]);
    const { matte, recipe } = proposed(plate);
    expect(recipe.bounds.beyond).toBe(false);
    const error = matteError(matte, truth);
    expect(error.core).toBeLessThan(0.001);
    expect(error.background).toBeLessThan(0.001);
  });

  it("drops a set of markers of the screen's own colour, and keeps a fly", () => {
    const [w, h] = [480, 270];
    const marker = (x: number, y: number) => (Math.abs((x % 96) - 48) < 3 && Math.abs((y % 90) - 30) < 3 ? 0.35 : 1);
    const { plate, truth } = plateOf(
      w,
      h,
      [
        { covers: disc(200, 170, 60), colour: skin },
        { covers: disc(380, 75, 6), colour: even(0.2, 0.12, 0.03) },
      ],
      marker,
    );
    const { matte } = proposed(plate);
    expect(matteError(matte, truth).background).toBeLessThan(0.0005);
    expect(matte.data[75 * w + 380]).toBeGreaterThan(0.99);
  });

  it("leaves what moved past as open as it was, also along its sharp end", () => {
    // An arm 54 px wide that moved 24 px while the shutter was open: cover climbs and falls along x, and ends at a line.
    const [w, h] = [640, 360];
    const passed = (x: number) => Math.max(0, Math.min(1, (x - 60) / 24, (138 - x) / 24));
    const arm = (x: number, y: number) => (y > 90 && y < 290 ? passed(x) : 0);
    const { plate, truth } = plateOf(w, h, [
      { covers: disc(420, 200, 110), colour: skin },
      { covers: arm, colour: even(0.26, 0.05, 0.03) },
    ]);
    const { matte } = proposed(plate);
    const error = matteError(matte, truth);
    expect(error.edge).toBeLessThan(0.0012);
    expect(error.core).toBeLessThan(0.001);
  });

  it("looks for subject colours in the same part of the frame at every size from 440 lines on", () => {
    const reachAt = (h: number) => {
      const { plate } = plateOf((h * 4) / 3, h, [{ covers: disc(h * 0.6, h * 0.6, h * 0.3), colour: skin }]);
      return proposeRecipe(plate, 1).recipe.passes[0]!.pull.unmix.reach;
    };
    expect(reachAt(240)).toBe(48);
    expect(reachAt(900) / 900).toBeCloseTo(reachAt(600) / 600, 3);
  });
});
