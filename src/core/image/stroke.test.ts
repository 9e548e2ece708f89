import { describe, expect, it } from "vitest";
import { thinned, underStroke } from "./stroke";

const pixels = (points: { x: number; y: number }[], radius: number, width = 100, height = 60) => {
  const found: { i: number; d: number }[] = [];
  underStroke({ points, radius }, width, height, (i, d) => found.push({ i, d }));
  return found;
};

describe("pixels under a stroke", () => {
  it("cover its area, a bar with round ends, each once", () => {
    const found = pixels(
      [
        { x: 20, y: 30 },
        { x: 80, y: 30 },
      ],
      10,
    );
    expect(new Set(found.map((f) => f.i)).size).toBe(found.length);
    expect(found.length / (60 * 20 + Math.PI * 100)).toBeCloseTo(1, 1);
    expect(Math.max(...found.map((f) => f.d))).toBeLessThan(10);
  });
  it("tell their distance from the middle: that of a bent stroke's nearest piece", () => {
    const bent = [
      { x: 20, y: 10 },
      { x: 50, y: 10 },
      { x: 50, y: 50 },
    ];
    const at = new Map(pixels(bent, 8).map((f) => [f.i, f.d]));
    // Pixel (44, 20): its middle is 5.5 px left of the upright piece and 10.5 px under the level one.
    expect(at.get(20 * 100 + 44)).toBeCloseTo(5.5, 5);
    expect(at.has(30 * 100 + 30)).toBe(false);
  });
  it("are those inside the frame, and none of a stroke beside it", () => {
    expect(pixels([{ x: 0, y: 0 }], 10).length / ((Math.PI * 100) / 4)).toBeCloseTo(1, 1);
    expect(pixels([{ x: -50, y: 20 }], 10)).toEqual([]);
    expect(pixels([], 10)).toEqual([]);
  });
});

describe("thinning a hand's line", () => {
  const line = Array.from({ length: 3000 }, (_, i) => ({ x: i / 10, y: 5 }));
  it("keeps points that far apart, and both ends", () => {
    const kept = thinned(line, 4);
    expect(kept[0]).toEqual(line[0]);
    expect(kept[kept.length - 1]).toEqual(line[line.length - 1]);
    for (let i = 1; i < kept.length - 1; i++) expect(kept[i]!.x - kept[i - 1]!.x).toBeGreaterThanOrEqual(4 - 1e-9);
  });
  it("never keeps more than 500", () => expect(thinned(line, 0).length).toBeLessThanOrEqual(500));
  it("keeps a single touch", () => expect(thinned([{ x: 3, y: 4 }], 2).length).toBeGreaterThan(0));
});
