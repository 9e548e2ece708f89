import { describe, expect, it } from "vitest";
import { gaussianBlur } from "../image/blur";
import { makePlane } from "../image/plane";
import { wideBlur } from "../image/wide-blur";
import { holdIn, matteLevels } from "./levels";
import { type DrawnShape, rasterisePolygon, shapesMatte, smoothOutline } from "./polygon";

const sum = (v: Float32Array) => v.reduce((s, x) => s + x, 0);

describe("smooth shapes", () => {
  const circle = (n: number, r: number) =>
    Array.from({ length: n }, (_, k) => ({ x: 100 + r * Math.cos((2 * Math.PI * k) / n), y: 90 + r * Math.sin((2 * Math.PI * k) / n) }));
  it("go through every point", () => {
    const points = circle(6, 50);
    const outline = smoothOutline(points);
    for (const p of points) expect(Math.min(...outline.map((q) => Math.hypot(p.x - q.x, p.y - q.y)))).toBeLessThan(1e-9);
  });
  it("cover the analytic area within 1/1000: sixteen points on a circle", () => {
    const { data } = rasterisePolygon(smoothOutline(circle(16, 60.5)), 200, 180);
    // The spline itself lies a little inside the circle.
    expect(Math.abs(sum(data) / (Math.PI * 60.5 ** 2) - 1)).toBeLessThan(0.001);
  });
  it("cover the curve's own area within 1/1000, by Green's theorem over its exact pieces", () => {
    const points = [
      { x: 30, y: 20 },
      { x: 150, y: 35 },
      { x: 170, y: 140 },
      { x: 90, y: 110 },
      { x: 20, y: 150 },
    ];
    // Σ ∮ ½ (x dy − y dx) of each cubic piece, by Gauss–Legendre quadrature with three nodes, exact for degree five.
    const nodes = [
      [0.5 - Math.sqrt(0.15), 5 / 18],
      [0.5, 8 / 18],
      [0.5 + Math.sqrt(0.15), 5 / 18],
    ] as const;
    let area = 0;
    for (let k = 0; k < points.length; k++) {
      const [a, b, c, d] = [-1, 0, 1, 2].map((o) => points[(k + o + points.length) % points.length]!) as [
        { x: number; y: number },
        { x: number; y: number },
        { x: number; y: number },
        { x: number; y: number },
      ];
      for (const [t, w] of nodes) {
        const at = (p: "x" | "y") =>
          b[p] + 0.5 * t * (c[p] - a[p] + t * (2 * a[p] - 5 * b[p] + 4 * c[p] - d[p] + t * (3 * (b[p] - c[p]) + d[p] - a[p])));
        const slope = (p: "x" | "y") =>
          0.5 * (c[p] - a[p] + 2 * t * (2 * a[p] - 5 * b[p] + 4 * c[p] - d[p]) + 3 * t * t * (3 * (b[p] - c[p]) + d[p] - a[p]));
        area += 0.5 * w * (at("x") * slope("y") - at("y") * slope("x"));
      }
    }
    const { data } = rasterisePolygon(smoothOutline(points), 200, 180);
    expect(sum(data) / Math.abs(area)).toBeCloseTo(1, 3);
  });
});

describe("a holdout", () => {
  const square = [
    { x: 10, y: 10 },
    { x: 30, y: 10 },
    { x: 30, y: 30 },
    { x: 10, y: 30 },
  ];
  const shape: DrawnShape = { points: square, smooth: false, kind: "holdout", out: "inside", soft: 0 };
  it("holds its inside solid and leaves the rest of the matte", () => {
    const matte = makePlane(40, 40, 0.3);
    const { data } = holdIn(matte, shapesMatte([shape], 40, 40, 1));
    expect(data[20 * 40 + 20]).toBe(1);
    expect(data[5 * 40 + 5]).toBeCloseTo(0.3, 6);
  });
  it("two of them join", () => {
    const other = { ...shape, points: square.map((p) => ({ x: p.x + 5, y: p.y + 5 })) };
    expect(sum(shapesMatte([shape, other], 40, 40, 1).data)).toBeCloseTo(400 + 400 - 225, 3);
  });
});

describe("a soft outline", () => {
  it.each([4, 20, 31])("of %d px is the blur of the whole frame", (soft) => {
    const [width, height] = [300, 200];
    const points = [
      { x: -20, y: 30 },
      { x: 180.5, y: 12 },
      { x: 260, y: 150 },
      { x: 90, y: 215 },
      { x: 40, y: 120 },
    ];
    const { data } = shapesMatte([{ points, smooth: false, kind: "garbage", out: "inside", soft }], width, height, 1);
    const whole = wideBlur(rasterisePolygon(points, width, height).data, width, height, soft / 5.152);
    // Three box means of a part end elsewhere than those of the frame, by less than their own tolerance.
    const tolerance = soft / 5.152 < 6 ? 1e-5 : 0.005;
    for (let i = 0; i < data.length; i++) expect(Math.abs(data[i]! - whole[i]!)).toBeLessThan(tolerance);
  });
});

describe("gamma of the matte", () => {
  const m = { width: 3, height: 1, data: Float32Array.of(0.1, 0.5, 0.9) };
  it("lifts or lowers the greys between and leaves both ends", () => {
    const lift = matteLevels(m, { black: 0.1, white: 0.9, gamma: 2 }).data;
    [0, Math.SQRT1_2, 1].forEach((v, i) => {
      expect(lift[i]).toBeCloseTo(v, 3);
    });
    expect(matteLevels(m, { black: 0.1, white: 0.9, gamma: 0.5 }).data[1]).toBeCloseTo(0.25, 6);
  });
});

describe("wide blur", () => {
  it.each([6, 10, 23.5, 40])("of σ %f px stays within 3 % of the Gaussian", (sigma) => {
    const [width, height] = [401, 301];
    const v = new Float32Array(width * height);
    for (let i = 0; i < v.length; i++) v[i] = i % width > 150 && i % width < 260 && i / width > 100 && i / width < 190 ? 1 : 0;
    const [ours, exact] = [wideBlur(v, width, height, sigma), gaussianBlur(v, width, height, sigma)];
    let most = 0;
    // Border squares count what lies inside; the Gaussian repeats the edge. The middle is compared.
    for (let y = 60; y < 240; y++)
      for (let x = 60; x < 340; x++) most = Math.max(most, Math.abs(ours[y * width + x]! - exact[y * width + x]!));
    expect(most).toBeLessThan(0.03);
  });
  it("keeps the border as solid as its surroundings", () => {
    const v = new Float32Array(100 * 60).fill(1);
    for (const x of wideBlur(v, 100, 60, 20)) expect(Math.abs(x - 1)).toBeLessThan(1e-5);
  });
});
