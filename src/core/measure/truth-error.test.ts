import { describe, expect, it } from "vitest";
import { makePicture, makePlane } from "../image/plane";
import { edgeWidths } from "./edge-width";
import { edgeFlicker, trueFlicker } from "./flicker";
import { compositeError, correlation, matteError, spillLeft } from "./truth-error";

const plane = (...v: number[]) => ({ width: v.length, height: 1, data: Float32Array.from(v) });

describe("errors against the truth", () => {
  it("are counted where they lie", () => {
    const e = matteError(plane(0.9, 0.1, 0.4, 1), plane(1, 0, 0.5, 1));
    expect(e.core).toBeCloseTo(0.05, 6);
    expect(e.background).toBeCloseTo(0.1, 6);
    expect(e.edge).toBeCloseTo(0.01, 6);
    expect(e.mse).toBeCloseTo((0.01 + 0.01 + 0.01) / 4, 6);
    expect(e.pixels).toEqual({ core: 2, background: 1, edge: 1 });
    expect(() => matteError(plane(1), plane(1, 1))).toThrow(/Sizes differ/);
  });
  it("a perfect composite has no colour error, and a grey one a known one", () => {
    const truth = makePlane(2, 1, 1);
    const colour = makePicture(2, 1);
    const behind = makePicture(2, 1);
    for (const c of ["r", "g", "b"] as const) colour[c].fill(0.18);
    expect(compositeError({ ...colour, a: truth.data }, truth, colour, behind)).toBe(0);
    const other = makePicture(2, 1);
    for (const c of ["r", "g", "b"] as const) other[c].fill(0.2);
    // L* of 0.18 and 0.20 by CIE 15: 49.496 and 51.837; ΔE00 of greys near L* 50 is ΔL* over a weight of about 1.
    expect(compositeError({ ...other, a: truth.data }, truth, colour, behind)).toBeCloseTo(2.34, 1);
  });
  it("spill left is a share of what came in", () => {
    const truth = makePlane(4, 1, 1);
    const free = makePicture(4, 1);
    const spilled = makePicture(4, 1);
    const half = makePicture(4, 1);
    spilled.g.fill(0.2);
    half.g.fill(0.05);
    expect(spillLeft(half, truth, spilled, free, "g")).toBeCloseTo(0.25, 6);
    expect(spillLeft(spilled, truth, spilled, free, "g")).toBe(1);
    expect(spillLeft(free, truth, spilled, free, "g")).toBe(0);
  });
  it("correlation of rows that rise together is 1, and −1 the other way", () => {
    expect(correlation([1, 2, 4], [2, 4, 8])).toBeCloseTo(1, 9);
    expect(correlation([1, 2, 4], [-1, -2, -4])).toBeCloseTo(-1, 9);
    expect(correlation([1, 2, 3, 4], [1, -1, 1, -1])).toBeCloseTo(-0.447, 3);
  });
});

describe("flicker", () => {
  const edge = (shift: number, wobble = 0) => {
    const m = makePlane(60, 40);
    for (let i = 0; i < m.data.length; i++) {
      const x = i % 60;
      m.data[i] = Math.min(
        1,
        Math.max(0, 0.5 + (x - 30 - shift) / 4 + (Math.abs(x - 30) < 2 ? wobble * ((Math.floor(i / 60) & 1) * 2 - 1) : 0)),
      );
    }
    return m;
  };
  it("is nothing when nothing changes, and the mean change in 1/1000 of a still edge that wavers", () => {
    expect(edgeFlicker(edge(0), edge(0))).toBe(0);
    const f = edgeFlicker(edge(0), edge(0, 0.05));
    expect(f).toBeGreaterThan(20);
    expect(f).toBeLessThan(60);
  });
  it("does not take a moving edge for flicker", () => expect(edgeFlicker(edge(0), edge(6))).toBeLessThan(10));
  it("true flicker counts only what differs from the truth's own movement", () => {
    expect(trueFlicker(edge(0), edge(6), edge(0), edge(6))).toBe(0);
    expect(trueFlicker(edge(0), edge(0, 0.05), edge(0), edge(0))).toBeGreaterThan(20);
  });
});

describe("edge widths", () => {
  it.each([3, 10, 25])("a ramp of %d px measures as long as it is", (length) => {
    const m = makePlane(120, 20);
    for (let i = 0; i < m.data.length; i++) m.data[i] = Math.min(1, Math.max(0, 0.5 + ((i % 120) - 60.3) / length));
    expect(edgeWidths(m).median).toBeCloseTo(length, 0);
  });
  it("passes over strands, which never become solid", () => {
    const m = makePlane(120, 20);
    for (let i = 0; i < m.data.length; i++) m.data[i] = i % 6 === 0 ? 0.5 : 0;
    expect(edgeWidths(m).count).toBe(0);
  });
});
