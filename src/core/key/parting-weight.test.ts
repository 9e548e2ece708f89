import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import type { Picture } from "../image/plane";
import { type Drawn, disc, drawPlate, even } from "../simulate/draw-plate";
import { excessOf } from "./colour-difference";
import { bestWeight, partingWeight } from "./parting-weight";

const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
const [WIDTH, HEIGHT] = [320, 180];

type Chosen = [Picture, Picture, Rgb, Uint32Array, Uint32Array];
/** What a weight is chosen from: things before an even screen, all that they cover by a fifth and the screen clear of them. */
function before(things: readonly Drawn[]): Chosen {
  const { plate, truth } = drawPlate(WIDTH, HEIGHT, things, () => SCREEN);
  const { plate: screen } = drawPlate(WIDTH, HEIGHT, [], () => SCREEN);
  const places = (holds: (cover: number) => boolean) => Uint32Array.from([...truth.data.keys()].filter((i) => holds(truth.data[i]!)));
  return [plate, screen, SCREEN, places((a) => a > 0.2), places((a) => a === 0)];
}
const MARGIN = 4;
const brown = { covers: disc(220, 90, 60), colour: even(0.3, 0.19, 0.12) };
/** A brown disc and a red arm whose cover climbs and falls over `blur` px. */
const armOf = (blur: number) => {
  const arm = (x: number, y: number) => (y > 20 && y < 160 ? Math.max(0, Math.min(1, (x - 20) / blur, (120 - x) / blur)) : 0);
  return before([brown, { covers: arm, colour: even(0.26, 0.05, 0.03) }]);
};
/** The same disc with fair hair on it, sharp, as dense as its share of cover. */
const hairOf = (share: number) =>
  before([
    brown,
    {
      covers: (x, y) => (x > 20 && x < 150 && y > 20 && y < 160 && (x * 0.7 + 0.2 * Math.sin(y / 3)) % 2 < 2 * share ? 1 : 0),
      colour: even(0.5, 0.38, 0.2),
    },
  ]);

/** Where enough is smooth to tell. */
const told = (...[plate, screen, colour, inside, outside, margin]: [...Chosen, number]) =>
  partingWeight(plate, screen, colour, inside, outside, margin) as number;

describe("the weight that parts subject from screen", () => {
  it("is the same for a subject whose edges are blurred as for one whose edges are sharp", () => {
    const sharp = told(...armOf(1), MARGIN);
    expect(told(...armOf(45), MARGIN)).toBe(sharp);
    // With its mixtures.
    expect(bestWeight(...armOf(45))).toBeGreaterThan(sharp + 0.2);
  });
  it("is not moved by the mixtures of dense hair, however sharp its edges", () => {
    const bald = told(...before([brown]), MARGIN);
    // Beside a margin that no edge exceeds.
    expect(Math.abs(told(...hairOf(0.7), Number.POSITIVE_INFINITY) - bald)).toBeLessThan(0.06);
    expect(bestWeight(...hairOf(0.7))).toBeGreaterThan(bald + 0.15);
  });
  it("goes beyond the channels where subject and screen have the second in common: leaves before green are solid", () => {
    const leaf = { r: 0.12, g: 0.18, b: 0.036 };
    const leaves = before(
      [0.6, 1, 1.3].map((k, at) => ({ covers: disc(60 + 100 * at, 90, 40), colour: even(k * leaf.r, k * leaf.g, k * leaf.b) })),
    );
    const weight = told(...leaves, MARGIN);
    expect(weight).toBeGreaterThan(1.3);
    expect(weight).toBeLessThanOrEqual(2);
    const solid = (w: number) => 1 - excessOf(leaf, "g", w) / excessOf(SCREEN, "g", w);
    expect(solid(weight)).toBeGreaterThan(0.95);
    expect(solid(1)).toBeLessThan(0.85);
  });
});
