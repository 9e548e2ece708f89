import { describe, expect, it } from "vitest";
import { rasterisePolygon } from "../matte/polygon";
import { outlineAround, outlinesOf } from "./outline";

const size = { width: 60, height: 40 };
const box = { x: 0, y: 0, ...size };
const at = (i: number) => [i % size.width, Math.floor(i / size.width)] as const;
const disc = (i: number) => Math.hypot(at(i)[0] - 30, at(i)[1] - 20) <= 11;
const covered = (points: readonly { x: number; y: number }[], factor = 1) =>
  rasterisePolygon(points, size.width * factor, size.height * factor).data;
const total = (data: Float32Array) => data.reduce((sum, v) => sum + v, 0);

describe("the outline of a place", () => {
  it("lies along it where nothing beside it may be held, with few corners", () => {
    const outline = outlineAround(disc, box, size, { may: () => false, within: 2 }, 1);
    expect(outline.length).toBeGreaterThan(7);
    expect(outline.length).toBeLessThan(40);
    const cover = covered(outline);
    for (let i = 0; i < cover.length; i++) {
      const r = Math.hypot(at(i)[0] - 30, at(i)[1] - 20);
      if (r < 10) expect(cover[i]).toBe(1);
      if (r > 13) expect(cover[i]).toBe(0);
    }
    const pixels = [...cover.keys()].filter(disc).length;
    expect(Math.abs(total(cover) - pixels)).toBeLessThan(0.03 * pixels);
  });
  it("is carried over what may be held beside it, and no further", () => {
    // Right of the disc's middle all may be held, left of it nothing.
    const outline = outlineAround(disc, box, size, { may: (i) => at(i)[0] >= 30, within: 3 }, 1);
    const cover = covered(outline);
    expect(cover[20 * size.width + 43]).toBe(1);
    expect(cover[20 * size.width + 46]).toBe(0);
    expect(cover[20 * size.width + 16]).toBe(0);
    expect(cover[20 * size.width + 21]).toBe(1);
  });
  it("is told in pixels of the full frame, and goes round what is enclosed", () => {
    const ring = (i: number) => disc(i) && Math.hypot(at(i)[0] - 30, at(i)[1] - 20) > 5;
    const cover = covered(outlineAround(ring, box, size, { may: () => false, within: 2 }, 3), 3);
    expect(cover[60 * 180 + 90]).toBe(1);
    expect(total(cover) / 9).toBeGreaterThan([...covered([]).keys()].filter(disc).length * 0.95);
  });
  it("is that of the largest part of an area in parts, and none of an area that is empty", () => {
    const parts = (i: number) => disc(i) || i === 3 * size.width + 3;
    expect(covered(outlineAround(parts, box, size, { may: () => false, within: 1 }, 1))[20 * size.width + 30]).toBe(1);
    expect(outlineAround(() => false, box, size, { may: () => true, within: 2 }, 1)).toEqual([]);
  });
  it("has no more corners than a hand can move, however ragged", () => {
    const ragged = (i: number) => at(i)[0] % 2 === 0 || at(i)[1] === 20;
    const outline = outlineAround(ragged, box, size, { may: () => false, within: 1 }, 1);
    expect(outline.length).toBeGreaterThan(2);
    expect(outline.length).toBeLessThanOrEqual(48);
  });
  it("is found for each of several areas, at the frame's border too", () => {
    const labels = new Int32Array(size.width * size.height);
    for (let y = 0; y < 10; y++) labels.fill(7, y * size.width, y * size.width + 12);
    for (let y = 20; y < 30; y++) labels.fill(2, y * size.width + 40, y * size.width + 50);
    const found = outlinesOf(
      [
        { label: 2, area: 100 },
        { label: 7, area: 120 },
      ],
      labels,
      size,
      { may: () => false, within: 2 },
      1,
    );
    expect(found.map((f) => f.area)).toEqual([100, 120]);
    expect(found[0]).not.toHaveProperty("label");
    const [second, first] = found.map((f) => covered(f.outline));
    expect([first![5 * size.width + 5], first![25 * size.width + 45]]).toEqual([1, 0]);
    expect([second![5 * size.width + 5], second![25 * size.width + 45]]).toEqual([0, 1]);
  });
});
