import { describe, expect, it } from "vitest";
import { disc, drawPlate, even } from "../simulate/draw-plate";
import { partingWeight } from "./parting-weight";

const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
const [WIDTH, HEIGHT] = [320, 180];

/** A brown disc and a red arm whose cover climbs and falls over `blur` px, before an even screen; the weight that is chosen for them. */
function chosen(blur: number, margin = 4): number {
  const arm = (x: number, y: number) => (y > 20 && y < 160 ? Math.max(0, Math.min(1, (x - 20) / blur, (120 - x) / blur)) : 0);
  const { plate, truth } = drawPlate(
    WIDTH,
    HEIGHT,
    [
      { covers: disc(220, 90, 60), colour: even(0.3, 0.19, 0.12) },
      { covers: arm, colour: even(0.26, 0.05, 0.03) },
    ],
    () => SCREEN,
  );
  const { plate: screen } = drawPlate(WIDTH, HEIGHT, [], () => SCREEN);
  const places = (holds: (cover: number) => boolean) => Uint32Array.from([...truth.data.keys()].filter((i) => holds(truth.data[i]!)));
  return partingWeight(
    plate,
    screen,
    SCREEN,
    places((a) => a > 0.2),
    places((a) => a === 0),
    margin,
  );
}

describe("the weight that parts subject from screen", () => {
  it("is the same for a subject whose edges are blurred as for one whose edges are sharp", () => {
    expect(chosen(45)).toBe(chosen(1));
    // With its mixtures: what a margin that no edge exceeds leaves in.
    expect(chosen(45, Number.POSITIVE_INFINITY)).toBeGreaterThan(chosen(1) + 0.2);
  });
});
