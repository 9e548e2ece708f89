import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import type { Picture } from "../image/plane";
import { drawPlate } from "../simulate/draw-plate";
import { excessOf } from "./colour-difference";
import { bestWeight, partingWeight } from "./parting-weight";
import { weightOfThinThings } from "./thin-weight";

const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
const [WIDTH, HEIGHT] = [480, 270];
/** Ripe and pale; both are warm, so that at equal weights they pass for part of the screen. */
const RIPE = { r: 0.5, g: 0.38, b: 0.14 };
const PALE = { r: 0.62, g: 0.52, b: 0.26 };

/** Straws that cross, every other one pale; the frame and the coverage out of focus by twice a box of such a radius. */
function straws(radius: number) {
  const wide = 6;
  const at = (x: number, y: number, lean: number) => (((x + lean * y) % 24) + 24) % 24 < wide;
  const covers = (x: number, y: number) => (y > 60 && (at(x, y, 0.5) || at(x, y, -0.4)) ? 1 : 0);
  const colour = (x: number, y: number) => (at(x, y, 0.5) ? RIPE : PALE);
  const { plate, truth } = drawPlate(WIDTH, HEIGHT, [{ covers, colour }], () => SCREEN);
  const { plate: screen } = drawPlate(WIDTH, HEIGHT, [], () => SCREEN);
  const soft = (c: Float32Array) => (radius > 0 ? boxMean(boxMean(c, WIDTH, HEIGHT, radius), WIDTH, HEIGHT, radius) : c);
  const [light, cover] = [{ ...plate, r: soft(plate.r), g: soft(plate.g), b: soft(plate.b) }, soft(truth.data)];
  const places = (holds: (a: number) => boolean) => Uint32Array.from([...cover.keys()].filter((i) => holds(cover[i]!)));
  return { light, screen, outside: places((a) => a === 0), inside: places((a) => a > 0.2) };
}
const solid = (colour: Rgb, w: number) => 1 - excessOf(colour, "g", w) / excessOf(SCREEN, "g", w);
const weightOf = (light: Picture, screen: Picture, outside: Uint32Array) => weightOfThinThings(light, screen, SCREEN, outside, () => false);

describe("the weight of what is nowhere wider than its own edges", () => {
  it("leaves straws of either hue solid, which equal weights leave half open", () => {
    const { light, screen, outside } = straws(0);
    const weight = weightOf(light, screen, outside);
    expect(solid(PALE, 0.5)).toBeLessThan(0.75);
    for (const colour of [RIPE, PALE]) expect(solid(colour, weight)).toBeGreaterThan(0.95);
    expect(weight).toBeLessThan(0.9);
  });
  it("is told out of focus too, where all mixtures together ask for too much", () => {
    const { light, screen, outside, inside } = straws(3);
    expect(partingWeight(light, screen, SCREEN, inside, outside, 4)).toBeNull();
    const weight = weightOf(light, screen, outside);
    expect(solid(RIPE, weight)).toBeGreaterThan(0.9);
    expect(weight).toBeLessThanOrEqual(bestWeight(light, screen, SCREEN, inside, outside) - 0.1);
  });
  it("is not told by what lies beyond the screen", () => {
    const { light, screen, outside } = straws(0);
    const weight = weightOf(light, screen, outside);
    // A wall that asks for another weight.
    const isBeyond = (i: number) => i % WIDTH > 400;
    for (let i = 0; i < light.r.length; i++) if (isBeyond(i)) [light.r[i], light.g[i], light.b[i]] = [0.1 + (i % 7) / 90, 0.12, 0.3];
    expect(Math.abs(weightOf(light, screen, outside) - weight)).toBeGreaterThan(0.1);
    const clear = outside.filter((i) => !isBeyond(i));
    expect(Math.abs(weightOfThinThings(light, screen, SCREEN, clear, isBeyond) - weight)).toBeLessThan(0.06);
  });
  it("has nothing to go by where nothing stands before the screen", () => {
    const { screen, outside } = straws(0);
    expect(weightOf(screen, screen, outside)).toBe(0.5);
  });
});
