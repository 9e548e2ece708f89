import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { isShade, missingLight, screenInShade, thinShade } from "./shade";

const [W, H] = [80, 40];
const screen = { r: 0.045, g: 0.36, b: 0.075 };
/** The screen, and from x = 30 to 50 what `change` makes of it. */
const plateOf = (change: (c: typeof screen) => typeof screen, noise = 0): Picture => {
  const p = makePicture(W, H);
  const next = normal(random(3));
  for (let i = 0; i < W * H; i++) {
    const c = i % W >= 30 && i % W < 50 ? change(screen) : screen;
    for (const k of ["r", "g", "b"] as const) p[k][i] = c[k] + noise * next();
  }
  return p;
};
const mixed = (thing: typeof screen, a: number) => (c: typeof screen) => ({
  r: (1 - a) * c.r + a * thing.r,
  g: (1 - a) * c.g + a * thing.g,
  b: (1 - a) * c.b + a * thing.b,
});
/** Share of the middle of the band that is told to be shade. */
const share = (p: Picture, against: Picture | typeof screen = screen) => {
  const shade = screenInShade(p, against, "g");
  let sum = 0;
  for (let y = 0; y < H; y++) for (let x = 35; x < 45; x++) sum += shade[y * W + x]!;
  return sum / (10 * H);
};

describe("screen in shade", () => {
  it.each([0.9, 0.6, 0.25])("is told at %s of its light, with grain as without", (k) => {
    const shaded = (noise: number) => plateOf((c) => ({ r: k * c.r, g: k * c.g, b: k * c.b }), noise);
    expect(share(shaded(0))).toBe(1);
    expect(share(shaded(0.004))).toBeGreaterThan(0.85);
  });
  it("is not what adds light of its own: smoke, brown hair, cloth of the screen's hue, even black cloth", () => {
    for (const [thing, a] of [
      [{ r: 0.4, g: 0.4, b: 0.4 }, 0.1],
      [{ r: 0.05, g: 0.03, b: 0.02 }, 0.6],
      [{ r: 0.1, g: 0.15, b: 0.09 }, 1],
      [{ r: 0.02, g: 0.02, b: 0.02 }, 0.8],
    ] as const)
      expect(share(plateOf(mixed(thing, a)))).toBe(0);
  });
  it("is not what is all but black, nor the screen at its own light; against a clean plate as against one colour", () => {
    expect(share(plateOf((c) => ({ r: 0.05 * c.r, g: 0.05 * c.g, b: 0.05 * c.b })))).toBe(0);
    expect(share(plateOf((c) => c))).toBe(0);
    const clean = plateOf((c) => c);
    expect(
      share(
        plateOf((c) => ({ r: c.r / 2, g: c.g / 2, b: c.b / 2 })),
        clean,
      ),
    ).toBe(1);
  });
});

describe("thin shade", () => {
  /** A line of one pixel at x = 40 in grain. */
  const lineOf = (change: (c: typeof screen) => typeof screen) => {
    const p = plateOf((c) => c, 0.006);
    for (let i = 40; i < W * H; i += W) {
      const c = change({ r: p.r[i]!, g: p.g[i]!, b: p.b[i]! });
      for (const k of ["r", "g", "b"] as const) p[k][i] = c[k];
    }
    return p;
  };
  const judged = (p: Picture) => {
    const maybe = thinShade(p, screen, "g");
    const missing = missingLight(p, screen, "g");
    let [lack, own, count] = [0, 0, 0];
    for (let i = 40; i < W * H; i += W) {
      lack += missing.lack(i);
      own += missing.own(i);
      count += maybe[i]!;
    }
    return { share: count / H, lack: lack / H, own: own / H, whole: isShade(lack, own) };
  };
  it("is a seam's line of one pixel, pixel by pixel and as a whole", () => {
    const { share, lack, own, whole } = judged(lineOf((c) => ({ r: c.r / 2, g: c.g / 2, b: c.b / 2 })));
    expect(share).toBeGreaterThan(0.8);
    expect(lack).toBeCloseTo(screen.g / 2, 2);
    expect(Math.abs(own)).toBeLessThan(0.004);
    expect(whole).toBe(true);
  });
  it.each([
    ["black hair", { r: 0.03, g: 0.022, b: 0.016 }],
    ["black thread", { r: 0.02, g: 0.02, b: 0.02 }],
    ["straw", { r: 0.4, g: 0.3, b: 0.1 }],
  ])("is no line of %s as a whole", (_, thing) => {
    const { own, whole } = judged(lineOf(mixed(thing, 0.6)));
    // Of the other two channels, 0.6 of the thing's, and of the screen's what its own light is short of.
    expect(own).toBeCloseTo(0.6 * (thing.r + thing.b - (thing.g / screen.g) * (screen.r + screen.b)), 2);
    expect(whole).toBe(false);
  });
});
