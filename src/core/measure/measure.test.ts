import { describe, expect, it } from "vitest";
import { makePlane, type Plane } from "../image/plane";
import { measureFigures, measureSpill, outlineMargin, subjectOutline } from "./figures";
import { gradientMagnitude, scoreMatte } from "./score";

/** A solid disk with a one-pixel soft rim. */
function disk(size: number, radius: number): Plane {
  const m = makePlane(size, size);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) m.data[y * size + x] = Math.min(1, Math.max(0, radius - Math.hypot(x - size / 2, y - size / 2) + 0.5));
  return m;
}
const copy = (m: Plane): Plane => ({ ...m, data: m.data.slice() });
function fill(m: Plane, x0: number, y0: number, w: number, h: number, v: number): Plane {
  const out = copy(m);
  for (let y = y0; y < y0 + h; y++) for (let x = x0; x < x0 + w; x++) out.data[y * m.width + x] = v;
  return out;
}

describe("figures", () => {
  const clean = disk(120, 40);
  it("counts nothing on a clean matte", () =>
    expect(measureFigures(clean, clean, undefined, 1).figures).toMatchObject({ holes: 0, residue: 0, edgeLoss: 0, clearance: null }));
  it("counts a hole in the core pixel by pixel", () => {
    const holed = fill(clean, 55, 50, 6, 5, 0.7);
    const { figures, marks } = measureFigures(holed, holed, undefined, 1);
    expect(figures.holes).toBe(30);
    expect(marks[52 * 120 + 57]).toBe(1);
  });
  it("counts a hole that levels left open, and not one that they closed", () => {
    const pull = fill(clean, 55, 50, 6, 5, 0.7);
    expect(measureFigures(pull, clean, undefined, 1).figures.holes).toBe(0);
  });
  it("counts residue outside, unless a garbage matte has it", () => {
    const dirty = fill(clean, 2, 2, 7, 3, 0.2);
    expect(measureFigures(dirty, dirty, undefined, 1).figures.residue).toBe(21);
    const garbage = fill(makePlane(120, 120), 0, 0, 120, 10, 1);
    expect(measureFigures(dirty, dirty, garbage, 1).figures.residue).toBe(0);
  });
  it("does not take a large clear gap for a hole", () => {
    const gap = fill(clean, 50, 45, 20, 30, 0.01);
    expect(measureFigures(gap, gap, undefined, 1).figures.holes).toBe(0);
    expect(subjectOutline(gap, 1)[60 * 120 + 60]).toBe(0);
    // The same area half open is a hole.
    expect(subjectOutline(fill(clean, 50, 45, 20, 30, 0.2), 1)[60 * 120 + 60]).toBe(1);
  });
  it("nor one whose rim is soft, as between leaves: its mean is far from clear", () => {
    const soft = copy(clean);
    for (let y = 40; y < 80; y++)
      for (let x = 40; x < 80; x++) soft.data[y * 120 + x] = Math.min(1, Math.max(0, 0.2 * (Math.hypot(x - 60, y - 60) - 12)));
    const inside = [...soft.data].filter((v, i) => v < 0.5 && Math.hypot((i % 120) - 60, Math.floor(i / 120) - 60) < 20);
    expect(inside.reduce((sum, v) => sum + v, 0) / inside.length).toBeGreaterThan(0.05);
    expect(subjectOutline(soft, 1)[60 * 120 + 60]).toBe(0);
    // A mirror in which the screen is seen in part stays a hole.
    const mirror = fill(fill(clean, 45, 45, 30, 30, 0.2), 50, 50, 20, 20, 0.01);
    expect(subjectOutline(mirror, 1)[60 * 120 + 60]).toBe(1);
  });
  it("tells how much of the soft band was pushed to its ends", () => {
    const soft = makePlane(100, 4);
    for (let y = 0; y < 4; y++) for (let x = 0; x < 100; x++) soft.data[y * 100 + x] = (x + 0.5) / 100;
    const pushed = { ...soft, data: soft.data.map((v) => Math.min(1, Math.max(0, (v - 0.25) / 0.5))) };
    expect(measureFigures(soft, pushed, undefined, 1).figures.edgeLoss).toBeCloseTo(34 / 84, 6);
  });
  it("measures the way from the garbage matte to the subject", () => {
    const garbage = fill(makePlane(120, 120), 0, 0, 10, 120, 1);
    expect(measureFigures(clean, clean, garbage, 1).figures.clearance).toBe(60 - 40 - 9);
    // A faint strand that hangs on the subject is nearer; a speck that stands alone is none of it.
    const strand = fill(clean, 15, 60, 30, 1, 0.1);
    expect(measureFigures(strand, strand, garbage, 1).figures.clearance).toBe(15 - 9);
    const speck = fill(clean, 15, 60, 3, 1, 0.1);
    expect(measureFigures(speck, speck, garbage, 1).figures.clearance).toBe(60 - 40 - 9);
  });
  it("gives full-size pixels at any scale", () => {
    const holed = fill(disk(60, 20), 28, 26, 3, 3, 0.5);
    expect(measureFigures(holed, holed, undefined, 0.5).figures.holes).toBe(36);
    expect(outlineMargin(1080)).toBe(3);
  });
  it("relates spill to the screen's own excess", () => {
    expect(measureSpill(Float32Array.of(0.1, 0, 0.1, 0), Uint8Array.of(1, 1, 1, 1), 0.5)).toBeCloseTo(0.1, 6);
    expect(measureSpill(Float32Array.of(0.1, 0, 0.1, 0), Uint8Array.of(1, 1, 0, 0), 0.5, Float32Array.of(0, 1, 0, 0))).toBeCloseTo(0.2, 6);
    expect(measureSpill(Float32Array.of(1), Uint8Array.of(0), 0.5)).toBe(0);
  });
});

describe("score (Rhemann et al., CVPR 2009)", () => {
  const truth = disk(48, 15);
  it("is 0 on the truth", () =>
    expect(scoreMatte(truth, truth)).toEqual({ sad: 0, mse: 0, gradient: 0, connectivity: 0, pixels: 48 * 48 }));
  it("gives SAD and MSE of a constant offset by hand", () => {
    const a = makePlane(10, 10, 0.5);
    const b = makePlane(10, 10, 0.3);
    const s = scoreMatte(a, b);
    expect(s.sad).toBeCloseTo(100 * 0.2, 4);
    expect(s.mse).toBeCloseTo(0.04, 6);
    expect(s.gradient).toBeCloseTo(0, 8);
  });
  it("counts only where the region says", () => {
    const off = fill(truth, 0, 0, 10, 10, 1);
    expect(scoreMatte(off, truth, fill(makePlane(48, 48), 0, 0, 48, 5, 1)).sad).toBeCloseTo(50, 4);
  });
  it("punishes a loose island by connectivity as much as its opacity", () => {
    const island = fill(truth, 2, 2, 4, 4, 1);
    expect(scoreMatte(island, truth).connectivity).toBeCloseTo(16, 4);
    // Grey within θ = 0.15 of its connected level is forgiven.
    expect(scoreMatte(fill(truth, 24, 24, 2, 2, 0.95), truth).connectivity).toBeCloseTo(0, 6);
  });
  it("the gradient of a ramp is the same everywhere, and its error grows with blur", () => {
    const ramp = makePlane(40, 40);
    for (let i = 0; i < 1600; i++) ramp.data[i] = (i % 40) / 40;
    const g = gradientMagnitude(ramp);
    expect(g[20 * 40 + 20]).toBeCloseTo(g[10 * 40 + 15]!, 6);
    expect(g[20 * 40 + 20]).toBeGreaterThan(0);
    const soft = (k: number): Plane => ({
      ...truth,
      data: truth.data.map((_, i) => Math.min(1, Math.max(0, (15 - Math.hypot((i % 48) - 24, Math.floor(i / 48) - 24)) / k + 0.5))),
    });
    expect(scoreMatte(soft(6), truth).gradient).toBeGreaterThan(scoreMatte(soft(3), truth).gradient);
  });
  it("refuses mattes of different sizes", () => expect(() => scoreMatte(makePlane(4, 4), makePlane(5, 4))).toThrow(/Sizes differ/));
});

describe("holes and weaves", () => {
  /** A solid block with a mesh window in it, 2 px threads every 6 px. */
  const woven = () => {
    const m = makePlane(240, 160);
    for (let y = 20; y < 140; y++)
      for (let x = 20; x < 220; x++) {
        const mesh = x > 60 && x < 140 && y > 50 && y < 120;
        m.data[y * 240 + x] = mesh && x % 6 > 1 && y % 6 > 1 ? 0.15 : mesh ? 0.8 : 1;
      }
    return m;
  };
  it("does not count the gaps of a mesh as holes, and still counts a hole beside it", () => {
    const mesh = woven();
    expect(measureFigures(mesh, mesh, undefined, 1).figures.holes).toBeLessThan(60);
    const holed = fill(mesh, 180, 80, 12, 10, 0.3);
    expect(measureFigures(holed, holed, undefined, 1).figures.holes - measureFigures(mesh, mesh, undefined, 1).figures.holes).toBe(120);
  });
});
