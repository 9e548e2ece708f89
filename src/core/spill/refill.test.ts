import { describe, expect, it } from "vitest";
import { luminance, rgbToHsv } from "../color/hue";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { limitSpill, unitLuminance } from "./limit";
import { measureSpillReach } from "./measure";
import { paintColour } from "./paint";
import { refillColour } from "./refill";

const [W, H] = [160, 120];
const NAMES = ["r", "g", "b"] as const;
const at = (p: Picture, x: number, y: number) => ({ r: p.r[y * W + x]!, g: p.g[y * W + x]!, b: p.b[y * W + x]! });

describe("refilling drained patches", () => {
  // Skin lit by a neutral key; in the patch green bounce and a cool light have left it grey-green.
  const skin = { r: 0.42, g: 0.27, b: 0.2 };
  const plate = makePicture(W, H);
  const inPatch = (x: number, y: number) => Math.hypot(x - 80, y - 60) < 12;
  for (let i = 0; i < W * H; i++) {
    const patch = inPatch(i % W, Math.floor(i / W));
    const c = patch ? { r: 0.25, g: 0.36, b: 0.24 } : skin;
    for (const n of NAMES) plate[n][i] = c[n];
  }
  const { picture, removed } = limitSpill(plate, { primary: "g", limit: "average", amount: 1, replace: "neutral" });
  const filled = refillColour(picture, removed, unitLuminance("g"), 1, 12);
  it("gives the patch the hue around it and keeps its luminance", () => {
    const saturation = (p: Picture) => rgbToHsv(at(p, 80, 60)).s;
    expect(saturation(picture)).toBeLessThan(0.1);
    expect(saturation(filled)).toBeGreaterThan(0.35);
    const hue = rgbToHsv(at(filled, 80, 60)).h;
    expect(Math.abs(hue - rgbToHsv(skin).h)).toBeLessThan(4);
    expect(luminance(at(filled, 80, 60))).toBeCloseTo(luminance(at(picture, 80, 60)), 5);
  });
  it("touches nothing that lost no light, and nothing at amount 0", () => {
    expect(at(filled, 20, 20)).toEqual(at(picture, 20, 20));
    expect(refillColour(picture, removed, unitLuminance("g"), 0, 12).r).toEqual(picture.r);
  });
  it("leaves grey things among grey ones grey", () => {
    const steel = makePicture(W, H);
    for (const n of NAMES) steel[n].fill(0.3);
    for (let y = 50; y < 70; y++) for (let x = 70; x < 90; x++) steel.g[y * W + x] = 0.42;
    const t = limitSpill(steel, { primary: "g", limit: "average", amount: 1, replace: "neutral" });
    const out = refillColour(t.picture, t.removed, unitLuminance("g"), 1, 12);
    expect(rgbToHsv(at(out, 80, 60)).s).toBeLessThan(0.01);
  });
});

describe("the paint layer", () => {
  const picture = makePicture(W, H);
  for (let i = 0; i < W * H; i++) {
    picture.r[i] = 0.2 + 0.001 * (i % W);
    picture.g[i] = 0.2;
    picture.b[i] = 0.2;
  }
  const stroke = {
    first: 2,
    last: 4,
    points: [
      { x: 40, y: 60 },
      { x: 100, y: 60 },
    ],
    radius: 10,
    soft: 0.5,
    strength: 0.6,
    colour: { r: 0.5, g: 0.3, b: 0.2 },
    keys: [],
  };
  it("changes colour only: each pixel keeps its luminance and takes on the hue by the strength", () => {
    const out = paintColour(picture, [stroke], 3, 1);
    for (const [x, y] of [
      [70, 60],
      [70, 66],
      [42, 55],
    ] as const)
      expect(luminance(at(out, x, y))).toBeCloseTo(luminance(at(picture, x, y)), 5);
    const [was, now] = [at(picture, 70, 60), at(out, 70, 60)];
    const y = luminance(was);
    const target = (y * 0.5) / luminance(stroke.colour);
    expect(now.r).toBeCloseTo(0.4 * was.r + 0.6 * target, 5);
    expect(at(out, 70, 75)).toEqual(at(picture, 70, 75));
    // Soft: less at the border than in the middle.
    expect(at(out, 70, 68).r - at(picture, 70, 68).r).toBeLessThan(0.5 * (now.r - was.r));
  });
  it("shows on its frames only", () => {
    expect(paintColour(picture, [stroke], 1, 1).r).toEqual(picture.r);
    expect(paintColour(picture, [stroke], 5, 1).r).toEqual(picture.r);
  });
  it("is rubbed out without touching the picture, and crossing itself covers no more", () => {
    const erase = { ...stroke, strength: 1, soft: 0, radius: 14, colour: null };
    const out = paintColour(picture, [stroke, erase], 3, 1);
    for (let i = 0; i < W * H; i++) expect(out.r[i]).toBeCloseTo(picture.r[i]!, 6);
    const there = { ...stroke, points: [...stroke.points, { x: 40, y: 60 }] };
    expect(paintColour(picture, [there], 3, 1).r).toEqual(paintColour(picture, [stroke], 3, 1).r);
  });
  it("lies at the same place at half size", () => {
    const half = makePicture(W / 2, H / 2);
    for (const n of NAMES) half[n].fill(0.2);
    const out = paintColour(half, [stroke], 3, 0.5);
    expect(out.r[30 * (W / 2) + 35]).toBeGreaterThan(0.22);
    expect(out.r[37 * (W / 2) + 35]).toBeCloseTo(0.2, 6);
  });
});

describe("amount and reach measured", () => {
  const plane = makePlane(W, H);
  const deep = (x: number, y: number) => Math.min(x, y, W - 1 - x, H - 1 - y) - 10;
  for (let i = 0; i < W * H; i++) plane.data[i] = deep(i % W, Math.floor(i / W)) >= 0 ? 1 : 0;
  /** A coat of one colour, with green light at its rim, and a badge inside it. */
  const dressed = (coat: { r: number; g: number; b: number }, bounce: number): Picture => {
    const p = makePicture(W, H);
    for (let i = 0; i < W * H; i++) {
      const d = deep(i % W, Math.floor(i / W));
      const rim = bounce * Math.exp(-Math.max(0, d) / 1.5);
      p.r[i] = coat.r * (1 + 0.1 * rim);
      p.g[i] = coat.g * (1 + 2 * rim);
      p.b[i] = coat.b * (1 + 0.2 * rim);
    }
    return p;
  };
  it("takes all of it from a coat with no green of its own", () => {
    const found = measureSpillReach(dressed({ r: 0.3, g: 0.25, b: 0.2 }, 0.8), plane, "g")!;
    expect(found.amount).toBe(1);
    expect(found.inside).toBeLessThan(0.005);
    expect(found.reachWarm).toBeGreaterThan(20);
    expect(found.reachWarm).toBeLessThan(80);
    expect(found.reachCool).toBeLessThan(40);
  });
  it("takes less where the coat itself is green, the more so the less light falls on its rim", () => {
    const own = { r: 0.2, g: 0.3, b: 0.18 };
    const strong = measureSpillReach(dressed(own, 1), plane, "g")!;
    const weak = measureSpillReach(dressed(own, 0.2), plane, "g")!;
    expect(strong.amount).toBeLessThan(1);
    expect(weak.amount).toBeLessThan(strong.amount);
  });
  it("says nothing of a subject without an inside", () => {
    expect(measureSpillReach(dressed({ r: 0.3, g: 0.3, b: 0.3 }, 1), makePlane(W, H), "g")).toBeNull();
  });
});
