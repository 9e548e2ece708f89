import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { random } from "../image/random";
import { edgeWidths } from "./edge-width";
import { edgeFlicker, trueFlicker, watched } from "./flicker";
import { compositeError, matteError, spillLeft } from "./truth-error";

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
  it("inside the outline leave its rim out", () => {
    const [truth, matte] = [makePlane(20, 20), makePlane(20, 20)];
    for (let y = 0; y < 20; y++)
      for (let x = 8; x < 20; x++) {
        truth.data[y * 20 + x] = 1;
        // A weak rim of one pixel, and one weak place well inside.
        matte.data[y * 20 + x] = x === 8 ? 0.5 : x === 15 && y === 10 ? 0 : 1;
      }
    const e = matteError(matte, truth);
    expect(e.core).toBeCloseTo((20 * 0.5 + 1) / 240, 6);
    expect(e.inside).toBeCloseTo(1 / 220, 6);
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
  it("count spill that shows from the neutral limit on, or from a surface's own colour", () => {
    const flat = (g: number): Picture => {
      const p = makePicture(4, 4);
      p.r.fill(0.6);
      p.g.fill(g);
      p.b.fill(0.2);
      return p;
    };
    const truth = makePlane(4, 4, 1);
    // Warm wood under its limit of 0.4: spill that leaves it there does not show; what goes beyond does.
    expect(spillLeft(flat(0.38), truth, flat(0.38), flat(0.3), "g", "all")).toBe(1);
    expect(spillLeft(flat(0.38), truth, flat(0.38), flat(0.3), "g", "shown")).toBe(0);
    expect(spillLeft(flat(0.42), truth, flat(0.5), flat(0.3), "g", "shown")).toBeCloseTo(0.2, 5);
    // Sage is over the limit by itself.
    expect(spillLeft(flat(0.52), truth, flat(0.6), flat(0.5), "g", "shown")).toBeCloseTo(0.2, 5);
  });
});

describe("flicker", () => {
  const [width, height] = [60, 40];
  /** A vertical edge at 30 + shift px, 4 px wide, whose middle wavers from row to row. */
  const edge = (shift: number, wobble = 0) => {
    const m = makePlane(width, height);
    for (let i = 0; i < m.data.length; i++) {
      const x = i % width;
      m.data[i] = Math.min(
        1,
        Math.max(0, 0.5 + (x - 30 - shift) / 4 + (Math.abs(x - 30) < 2 ? wobble * ((Math.floor(i / width) & 1) * 2 - 1) : 0)),
      );
    }
    return m;
  };
  /** A plate of that matte: grey 0.3 before green 0.2, with grain. */
  const plateOf = (matte: Plane, grain = 0, seed = 1) => {
    const next = normal(random(seed));
    const at = (own: number, screen: number) => matte.data.map((m) => Math.max(0, screen + m * (own - screen) + grain * next()));
    return { width, height, r: at(0.3, 0.02), g: at(0.3, 0.2), b: at(0.3, 0.03) };
  };
  const still = plateOf(edge(0));
  const shot = watched;
  it("is nothing when nothing changes, and the mean change in 1/1000 of a still edge that wavers", () => {
    expect(edgeFlicker(shot(edge(0), still), shot(edge(0), still))).toBe(0);
    const f = edgeFlicker(shot(edge(0), still), shot(edge(0, 0.05), still));
    expect(f).toBeGreaterThan(20);
    expect(f).toBeLessThan(60);
  });
  it("counts the same in a plate with grain", () => {
    const f = edgeFlicker(shot(edge(0), plateOf(edge(0), 0.01, 2)), shot(edge(0, 0.05), plateOf(edge(0), 0.01, 3)));
    expect(f).toBeGreaterThan(20);
    expect(f).toBeLessThan(60);
  });
  it("does not take a moving edge for flicker, and says nothing without a still one", () =>
    expect(edgeFlicker(shot(edge(0), still), shot(edge(6), plateOf(edge(6))))).toBeNull());
  it("does not take a swaying mesh for flicker, whose local mean stays", () => {
    const mesh = (phase: number) => {
      const m = edge(0);
      for (let i = 0; i < m.data.length; i++) if (i % width > 36) m.data[i] = 0.5 + 0.4 * Math.sin(((i % width) + phase) * 1.5);
      return m;
    };
    const [a, b] = [mesh(0), mesh(1)];
    const f = edgeFlicker(shot(a, plateOf(a, 0.004, 4)), shot(b, plateOf(b, 0.004, 5)));
    expect(f === null || f < 10).toBe(true);
  });
  it("true flicker is the error's change where the truth held still, and nothing where it moved", () => {
    expect(trueFlicker(edge(0), edge(0), edge(0), edge(0))).toBe(0);
    expect(trueFlicker(edge(0), edge(0, 0.05), edge(0), edge(0))).toBeGreaterThan(20);
    expect(trueFlicker(edge(0), edge(6), edge(0), edge(6))).toBeNaN();
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
