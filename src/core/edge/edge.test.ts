import { describe, expect, it } from "vitest";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { straightOverOpaque } from "../scene/over";
import { carryColour } from "./carry-colour";
import { edgeColour } from "./edge-colour";
import { type LightWrap, lightWrap, wrapMask } from "./light-wrap";
import { strandFringe } from "./strand-fringe";

const [width, height] = [120, 80];
/** A disc of radius 30 in the middle, its edge `soft` px wide. */
const disc = (soft: number): Plane => {
  const m = makePlane(width, height);
  for (let i = 0; i < m.data.length; i++)
    m.data[i] = Math.min(1, Math.max(0, 0.5 + (30 - Math.hypot((i % width) - 60, Math.floor(i / width) - 40)) / soft));
  return m;
};
const flat = (r: number, g: number, b: number): Picture => {
  const p = makePicture(width, height);
  p.r.fill(r);
  p.g.fill(g);
  p.b.fill(b);
  return p;
};
const at = (x: number, y: number) => y * width + x;
const WRAP: LightWrap = { strength: 0.5, reach: 10, blur: 20, blend: "add", grow: 0 };

describe("light wrap", () => {
  const matte = disc(2);
  it("lies inside the edge, fades inwards, and is nothing in the middle and outside", () => {
    const mask = wrapMask(matte, WRAP);
    expect(mask[at(60, 40)]).toBeLessThan(1e-3);
    expect(mask[at(5, 5)]).toBe(0);
    const inwards = [88, 84, 80, 76].map((x) => mask[at(x, 40)]!);
    for (let k = 1; k < inwards.length; k++) expect(inwards[k]).toBeLessThan(inwards[k - 1]!);
    expect(inwards[0]).toBeGreaterThan(0.3);
    expect(Math.max(...mask)).toBeLessThan(0.75);
  });
  it("reaches farther in with a larger reach", () => {
    const near = wrapMask(matte, { ...WRAP, reach: 4 })[at(80, 40)]!;
    expect(wrapMask(matte, { ...WRAP, reach: 20 })[at(80, 40)]!).toBeGreaterThan(near + 0.1);
  });
  it("adds, screens and lays over by the known formulas", () => {
    const [subject, behind] = [flat(0.2, 0.3, 0.4), flat(0.6, 0.5, 0.1)];
    const mask = wrapMask(matte, WRAP);
    const composite = straightOverOpaque(subject, matte.data, behind);
    const i = at(86, 40);
    const k = WRAP.strength * mask[i]!;
    const wrapped = (blend: LightWrap["blend"]) => lightWrap(composite, matte, behind, { ...WRAP, blend }).r[i]!;
    const here = composite.r[i]!;
    expect(wrapped("add")).toBeCloseTo(here + k * 0.6, 5);
    expect(wrapped("normal")).toBeCloseTo(here + k * (0.6 - here), 5);
    expect(wrapped("screen")).toBeCloseTo(1 - (1 - here) * (1 - k * 0.6), 5);
  });
  it("touches nothing outside the subject and lifts no light above 1 by screening", () => {
    const behind = flat(2, 2, 2);
    const composite = straightOverOpaque(flat(0.9, 0.9, 0.9), matte.data, behind);
    const out = lightWrap(composite, matte, behind, { ...WRAP, blend: "screen", strength: 1 });
    expect(out.g[at(3, 3)]).toBe(composite.g[at(3, 3)]);
    expect(out.g[at(86, 40)]).toBeLessThanOrEqual(1);
  });
  it("growing first takes the light off the outermost rim, where a dark line would show", () => {
    const i = at(89, 40);
    expect(wrapMask(matte, { ...WRAP, grow: 3 })[i]!).toBeLessThan(wrapMask(matte, WRAP)[i]!);
  });
});

describe("strand fringe", () => {
  it("adds beneath the pull, only around it, as gently as asked; the subject itself stays", () => {
    const matte = disc(2);
    const m = strandFringe(matte, { strength: 0.2, grow: 8, soft: 3 });
    expect(m.data[at(60, 40)]).toBe(1);
    expect(m.data[at(95, 40)]).toBeGreaterThan(0.1);
    expect(m.data[at(95, 40)]).toBeLessThanOrEqual(0.2);
    expect(m.data[at(117, 40)]).toBeLessThan(0.002);
    expect(matte.data.every((v, i) => m.data[i]! >= v - 1e-6)).toBe(true);
  });
});

describe("edge colour", () => {
  const matte = disc(12);
  const F = { r: 0.5, g: 0.33, b: 0.22 };
  const B = { r: 0.04, g: 0.35, b: 0.06 };
  const plate = makePicture(width, height);
  for (let i = 0; i < matte.data.length; i++)
    for (const c of ["r", "g", "b"] as const) plate[c][i] = matte.data[i]! * F[c] + (1 - matte.data[i]!) * B[c];
  const spill = { primary: "g", limit: "average", amount: 1, replace: "neutral" } as const;
  it("with the screen out, no line is left over any ground: every mixed pixel is the subject's colour in its share", () => {
    const front = edgeColour(plate, plate, matte, B, 1, spill);
    for (const ground of [0, 1, 0.18]) {
      const over = straightOverOpaque(front, matte.data, flat(ground, ground, ground));
      for (let i = 0; i < matte.data.length; i++) {
        const m = matte.data[i]!;
        // Under 1 % a colour says nothing.
        if (m > 0.01)
          for (const c of ["r", "g", "b"] as const) expect(Math.abs(over[c][i]! - (m * F[c] + (1 - m) * ground))).toBeLessThan(2e-4);
      }
    }
  });
  it("carries the solid colour out where nothing can be unmixed", () => {
    // A rim that is neither subject nor screen: a dark line.
    const lined = { ...plate, r: plate.r.slice(), g: plate.g.slice(), b: plate.b.slice() };
    for (let i = 0; i < matte.data.length; i++)
      if (matte.data[i]! > 0.2 && matte.data[i]! < 0.8) lined.r[i] = lined.g[i] = lined.b[i] = 0.02;
    const off = (p: Picture) => {
      let sum = 0;
      for (let i = 0; i < matte.data.length; i++) if (matte.data[i]! > 0.2 && matte.data[i]! < 0.5) sum += Math.abs(p.r[i]! - F.r);
      return sum;
    };
    expect(off(carryColour(lined, matte, 1))).toBeLessThan(0.5 * off(lined));
    // Nothing of it touches what is solid.
    const carried = carryColour(lined, matte, 1);
    matte.data.forEach((m, i) => {
      if (m >= 0.97) expect(carried.r[i]).toBe(lined.r[i]);
    });
  });
});
