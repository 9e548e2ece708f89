import { describe, expect, it } from "vitest";
import { smoothOutline } from "./polygon";
import { type FiledShape, outlineOfPath, pathOf, shapesToSvg } from "./svg";

const square = [
  { x: 10, y: 20 },
  { x: 110, y: 20 },
  { x: 110, y: 120.5 },
  { x: 10, y: 120.5 },
];

describe("shapes as SVG", () => {
  it("come back as they were, straight and smooth", () => {
    expect(outlineOfPath(pathOf(square, false))).toEqual({ points: square, smooth: false });
    expect(outlineOfPath(pathOf(square, true))).toEqual({ points: square, smooth: true });
  });
  it("write the very curve that is drawn", () => {
    const [, c] = /^M [\d. ]+ C ([^C]+)/.exec(pathOf(square, true))!;
    const [x1, y1, x2, y2, x3, y3] = c!.match(/-?[\d.]+/g)!.map(Number) as [number, number, number, number, number, number];
    const [p] = square;
    const drawn = smoothOutline(square);
    // The middle of the first piece by de Casteljau lies on the drawn outline.
    const middle = { x: (p!.x + 3 * x1 + 3 * x2 + x3) / 8, y: (p!.y + 3 * y1 + 3 * y2 + y3) / 8 };
    const nearest = Math.min(...drawn.map((q) => Math.hypot(q.x - middle.x, q.y - middle.y)));
    expect(nearest).toBeLessThan(1.5);
    expect(Math.min(...drawn.map((q) => q.y))).toBeCloseTo(Math.min(middle.y, 20), 0);
  });
  it("read the examples of the SVG 1.1 recommendation, 8.3", () => {
    // triangle01 and quad01 there; a triangle with relative and implied lines.
    expect(outlineOfPath("M 100 100 L 300 100 L 200 300 z").points).toEqual([
      { x: 100, y: 100 },
      { x: 300, y: 100 },
      { x: 200, y: 300 },
    ]);
    expect(outlineOfPath("M200,300 Q400,50 600,300 T1000,300")).toEqual({
      points: [
        { x: 200, y: 300 },
        { x: 600, y: 300 },
        { x: 1000, y: 300 },
      ],
      smooth: true,
    });
    expect(outlineOfPath("m10-20 5.5.5 h-3 V0z").points).toEqual([
      { x: 10, y: -20 },
      { x: 15.5, y: -19.5 },
      { x: 12.5, y: -19.5 },
      { x: 12.5, y: 0 },
    ]);
  });
  it("refuse what is no outline, in words", () => {
    for (const bad of ["", "hello", "10 20 30", "M 0 0 L 5", "M 0 0 L 10 10 Z"]) expect(() => outlineOfPath(bad)).toThrow(RangeError);
  });
  it("hold a group for each shape and one for each key, and hostile names do no harm", () => {
    const shape: FiledShape = {
      id: "garbage-1",
      name: '"><script>alert(1)</script>',
      kind: "garbage",
      out: "outside",
      smooth: false,
      soft: 6,
      lean: -0.5,
      points: square,
      keys: [
        { frame: 1, points: square },
        { frame: 9, points: square.map((p) => ({ x: p.x + 5, y: p.y })) },
      ],
    };
    const svg = shapesToSvg([shape, { ...shape, id: "holdout-1", kind: "holdout", keys: [] }], 1280, 720);
    expect(svg.match(/<g id=/g)).toHaveLength(2);
    expect(svg.match(/data-frame="(\d+)"/g)).toEqual(['data-frame="1"', 'data-frame="9"']);
    expect(svg).toContain('viewBox="0 0 1280 720"');
    expect(svg).toContain('data-lean="-0.5"');
    expect(svg).not.toContain("<script");
  });
});
