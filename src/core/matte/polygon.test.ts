import { describe, expect, it } from "vitest";
import { makePlane } from "../image/plane";
import { matteLevels } from "./levels";
import { type Point, rasterisePolygon, shapesMatte } from "./polygon";

const area = (data: Float32Array) => data.reduce((a, b) => a + b, 0);
/** Signed area of a polygon: the surveyor's formula. */
const shoelace = (p: readonly Point[]) =>
  Math.abs(p.reduce((s, a, i) => s + a.x * p[(i + 1) % p.length]!.y - p[(i + 1) % p.length]!.x * a.y, 0)) / 2;

describe("rasterisePolygon", () => {
  it.each([
    [
      "triangle",
      [
        { x: 3.2, y: 4.1 },
        { x: 27.9, y: 11.3 },
        { x: 9.4, y: 29.7 },
      ],
    ],
    [
      "pentagon",
      [
        { x: 16, y: 2.5 },
        { x: 30.2, y: 12 },
        { x: 25, y: 29.1 },
        { x: 7, y: 29.1 },
        { x: 1.7, y: 12 },
      ],
    ],
    [
      "dented",
      [
        { x: 2, y: 2 },
        { x: 30, y: 2 },
        { x: 30, y: 30 },
        { x: 16, y: 11.5 },
        { x: 2, y: 30 },
      ],
    ],
  ])("covers the area of a %s within 1/1000", (_, points) => {
    const { data } = rasterisePolygon(points, 32, 32);
    expect(Math.abs(area(data) / shoelace(points) - 1)).toBeLessThan(1e-3);
    for (const v of data) expect(v).toBeLessThanOrEqual(1);
  });
  it("is exact for a box between pixels, in either direction of drawing", () => {
    const box = [
      { x: 1.25, y: 1.5 },
      { x: 2.75, y: 1.5 },
      { x: 2.75, y: 3 },
      { x: 1.25, y: 3 },
    ];
    const want = [0, 0, 0, 0, 0, 0.375, 0.375, 0, 0, 0.75, 0.75, 0, 0, 0, 0, 0];
    for (const points of [box, [...box].reverse()])
      rasterisePolygon(points, 4, 4).data.forEach((v, i) => {
        expect(v).toBeCloseTo(want[i]!, 6);
      });
  });
  it("cuts what lies outside the frame", () => {
    expect(
      area(
        rasterisePolygon(
          [
            { x: -50, y: -50 },
            { x: 60, y: -50 },
            { x: 60, y: 60 },
            { x: -50, y: 60 },
          ],
          8,
          8,
        ).data,
      ),
    ).toBe(64);
    expect(
      area(
        rasterisePolygon(
          [
            { x: 1, y: 1 },
            { x: 3, y: 3 },
          ],
          8,
          8,
        ).data,
      ),
    ).toBe(0);
  });
});

describe("shapesMatte", () => {
  const shape = { kind: "garbage", smooth: false } as const;
  const half = [
    { x: 0, y: 0 },
    { x: 20, y: 0 },
    { x: 20, y: 40 },
    { x: 0, y: 40 },
  ];
  it("throws away outside, or inside", () => {
    const outside = shapesMatte([{ ...shape, points: half, out: "outside", soft: 0 }], 40, 40, 1).data;
    const inside = shapesMatte([{ ...shape, points: half, out: "inside", soft: 0 }], 40, 40, 1).data;
    expect([outside[5], outside[35], inside[5], inside[35]]).toEqual([0, 1, 1, 0]);
  });
  it("is turned inside out alike, whatever levels ran before it", () => {
    const drawn = () => [...shapesMatte([{ ...shape, points: half, out: "outside", soft: 12 }], 40, 40, 1).data];
    matteLevels(makePlane(4, 4), { black: 0, white: 1 });
    const before = drawn();
    matteLevels(makePlane(4, 4), { black: 0, white: 0.3, knee: 0.9 });
    expect(drawn()).toEqual(before);
  });
  it("keeps the frame's border solid under a soft edge", () => {
    const m = shapesMatte([{ ...shape, points: half, out: "outside", soft: 12 }], 40, 40, 1).data;
    // Left, top and bottom borders belong to the shape; only its right side is soft.
    for (const i of [0, 5, 39 * 40, 39 * 40 + 5]) expect(m[i]).toBeCloseTo(0, 5);
    expect(m[20 * 40 + 20]).toBeGreaterThan(0.4);
    expect(m[20 * 40 + 20]).toBeLessThan(0.7);
    expect(m[20 * 40 + 13]).toBeLessThan(0.02);
    expect(m[20 * 40 + 27]).toBeGreaterThan(0.98);
  });
  it("means the same at half the size", () => {
    const full = shapesMatte([{ ...shape, points: half, out: "outside", soft: 8 }], 40, 40, 1).data;
    const small = shapesMatte([{ ...shape, points: half, out: "outside", soft: 8 }], 20, 20, 0.5).data;
    for (const x of [4, 8, 11, 16]) expect(small[10 * 20 + x]).toBeCloseTo((full[20 * 40 + 2 * x]! + full[20 * 40 + 2 * x + 1]!) / 2, 1);
  });
});

describe("which side the soft edge falls on", () => {
  const box = [
    { x: 30, y: -10 },
    { x: 70, y: -10 },
    { x: 70, y: 60 },
    { x: 30, y: 60 },
  ];
  const row = (lean: number) =>
    shapesMatte([{ points: box, smooth: false, kind: "holdout", out: "inside", soft: 12, lean }], 100, 50, 1).data.slice(
      25 * 100,
      26 * 100,
    );
  it("is half and half without a lean", () => {
    expect((row(0)[29]! + row(0)[30]!) / 2).toBeCloseTo(0.5, 2);
  });
  it("lies outside: the shape itself stays whole, and half cover is half a width out", () => {
    const r = row(1);
    expect(r[30]).toBeGreaterThan(0.98);
    expect(r[50]).toBeCloseTo(1, 5);
    expect((r[23]! + r[24]!) / 2).toBeCloseTo(0.5, 1);
    expect(r[17]).toBeLessThan(0.01);
  });
  it("lies inside: nothing is held beyond the outline", () => {
    const r = row(-1);
    expect(r[29]).toBeLessThan(0.02);
    expect((r[35]! + r[36]!) / 2).toBeCloseTo(0.5, 1);
  });
  it("leaves the frame's border solid", () => {
    const whole = shapesMatte([{ points: box, smooth: false, kind: "holdout", out: "inside", soft: 12, lean: -1 }], 100, 50, 1);
    expect(whole.data[50]).toBeCloseTo(1, 5);
  });
});
