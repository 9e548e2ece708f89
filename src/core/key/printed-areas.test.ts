import { describe, expect, it } from "vitest";
import { labelComponents } from "../image/components";
import { maskOf, maskOver } from "../image/mask";
import { printedAreas } from "./printed-areas";

const [WIDTH, HEIGHT] = [80, 60];

/** How many of the pieces are prints: of what is half open in `cover`, those pixels that `smooth` keeps. */
function prints(at: (x: number, y: number) => number, smooth: (x: number, y: number) => boolean): number {
  const cover = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => at(i % WIDTH, Math.floor(i / WIDTH)));
  const maybe = maskOf(cover, (v, i) => v > 0.25 && v < 0.75 && smooth(i % WIDTH, Math.floor(i / WIDTH)));
  const screen = maskOf(cover, (v) => v < 0.1);
  const areas = labelComponents(maybe, WIDTH, HEIGHT);
  return printedAreas(areas, { solid: maskOver(cover, 0.75), cover, screen }, 2, WIDTH, HEIGHT).reduce((sum, p) => sum + p, 0);
}

describe("prints", () => {
  const dot = (x: number, y: number) => x >= 38 && x < 42 && y >= 28 && y < 31;
  it("are pieces that stand in what is solid", () => {
    expect(prints((x, y) => (dot(x, y) ? 0.4 : 1), dot)).toBe(1);
  });
  it("are no smooth places of a veil beside a hat, which goes on around them: streaks of its colour were drawn from there", () => {
    // The hat above, hair on the left; between them a fold of the veil, in which single strands are.
    const veil = (x: number, y: number) => (y < 28 || x < 37 ? 1 : 0.4 + 0.004 * (x - 38));
    expect(prints(veil, dot)).toBe(0);
  });
});
