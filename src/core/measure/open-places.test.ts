import { describe, expect, it } from "vitest";
import { makePlane, type Plane } from "../image/plane";
import { random } from "../image/random";
import { rasterisePolygon } from "../matte/polygon";
import { openPlaces, placeAround } from "./open-places";

const [W, H] = [64, 48];
/** Solid, with a place 12 px across about 30, 20 that is made by what is given. */
function solidBut(level: (x: number, y: number) => number): Plane {
  const plane = makePlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    plane.data[i] = Math.abs(x - 30) <= 6 && Math.abs(y - 20) <= 6 ? level(x, y) : 1;
  }
  return plane;
}
/** Mean of 2 × 2. */
function half(plane: Plane): Plane {
  const small = makePlane(W / 2, H / 2);
  for (let i = 0; i < small.data.length; i++) {
    const at = 2 * (i % small.width) + 2 * Math.floor(i / small.width) * W;
    for (const j of [at, at + 1, at + W, at + W + 1]) small.data[i]! += (plane.data[j] as number) / 4;
  }
  return small;
}

describe("open places", () => {
  it("are where something solid stays evenly half open, as a mirror does", () => {
    const mirror = solidBut(() => 0.6);
    expect(openPlaces(mirror, mirror, 1)).toMatchObject([{ x: 30, y: 20, area: 169 }]);
    // Two pixels of what is solid are held with it, no more.
    const held = rasterisePolygon(openPlaces(mirror, mirror, 1)[0]!.outline, W, H).data;
    expect([20 * W + 24, 20 * W + 36, 14 * W + 30, 20 * W + 30].map((i) => held[i])).toEqual([1, 1, 1, 1]);
    expect([20 * W + 20, 20 * W + 40, 10 * W + 30, 30 * W + 30].map((i) => held[i])).toEqual([0, 0, 0, 0]);
    const [told] = openPlaces(half(mirror), mirror, 2);
    expect(Math.hypot(told!.x - 30, told!.y - 20)).toBeLessThan(2);
    expect(told!.area).toBeGreaterThan(150);
    const { x, y, width, height } = placeAround(told!);
    expect([x < 24, y < 14, x + width > 36, y + height > 26]).toEqual([true, true, true, true]);
  });
  it("are no mesh, though a small copy of it is as even", () => {
    const mesh = solidBut((x, y) => (x % 2 === 0 || y % 2 === 0 ? 0.75 : 0.15));
    expect(half(mesh).data[10 * (W / 2) + 15]).toBeCloseTo(0.6, 6);
    expect(openPlaces(half(mesh), mesh, 2)).toEqual([]);
  });
  it("are no gap, though motion blurred it until little of it is clear", () => {
    const gap = solidBut((x, y) => Math.min(1, 0.1 + Math.hypot(x - 30, y - 20) / 9));
    expect(openPlaces(gap, gap, 1)).toEqual([]);
  });
  it("are nothing that the pull has solid: what was looked through is strands, and no mirror", () => {
    const lookedThrough = solidBut(() => 0.85);
    const solid = solidBut(() => 1);
    expect(openPlaces(lookedThrough, solid, 1)).toEqual([]);
    expect(openPlaces(lookedThrough, lookedThrough, 1)).toHaveLength(1);
  });
  it("do not touch the frame's border, and are told largest first, three at the most", () => {
    const plane = makePlane(W, H);
    plane.data.fill(1);
    const next = random(5);
    const open = (x: number, y: number, side: number) => {
      for (let v = y; v < y + side; v++) for (let u = x; u < x + side; u++) plane.data[v * W + u] = 0.7 + 0.02 * next();
    };
    open(0, 10, 8);
    for (const [k, side] of [4, 6, 3, 5, 7].entries()) open(12 + 10 * k, 20, side);
    expect(openPlaces(plane, plane, 1).map((p) => p.area)).toEqual([49, 36, 25]);
  });
});
