import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { normal } from "../image/normal";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { chromaDistance } from "../key/chroma-distance";
import { denoise } from "./denoise";
import { flattenRange } from "./flatten";

const [width, height] = [160, 90];
const SCREEN = { r: 0.04, g: 0.35, b: 0.06 };
const SKIN = { r: 0.5, g: 0.33, b: 0.22 };
const left = (i: number) => i % width < 80;

/** Screen at the left with a gradient, skin at the right, a sharp border between, with grain. */
const plateOf = (grain: number, gradient = 0): Picture => {
  const next = normal(random(2));
  const p = makePicture(width, height);
  for (let i = 0; i < width * height; i++) {
    const light = left(i) ? 1 + gradient * ((i % width) / 80 - 0.5) : 1;
    for (const c of ["r", "g", "b"] as const) p[c][i] = (left(i) ? SCREEN : SKIN)[c] * light + grain * next();
  }
  return p;
};
const deviation = (v: Float32Array, where: (i: number) => boolean) => {
  const kept = v.filter((_, i) => where(i));
  const mean = kept.reduce((s, x) => s + x, 0) / kept.length;
  return Math.sqrt(kept.reduce((s, x) => s + (x - mean) ** 2, 0) / kept.length);
};

describe("denoise for the matte", () => {
  const noisy = plateOf(0.01);
  const middle = (i: number) => i % width > 10 && i % width < 70;
  it("takes most of the grain away, more of it in colour than in luma", () => {
    const calm = denoise(noisy, { luma: 0.01, chroma: 0.01 });
    expect(deviation(calm.g, middle)).toBeLessThan(0.45 * deviation(noisy.g, middle));
    const colour = (p: Picture) => p.g.map((g, i) => g - luminance({ r: p.r[i]!, g, b: p.b[i]! }));
    const left = deviation(colour(calm), middle) / deviation(colour(noisy), middle);
    expect(left).toBeLessThan(0.4);
  });
  it("leaves an edge where it is: the step over one pixel stays", () => {
    const clean = plateOf(0);
    const calm = denoise(noisy, { luma: 0.01, chroma: 0.01 });
    const step = (p: Picture) => {
      let sum = 0;
      for (let y = 0; y < height; y++) sum += p.r[y * width + 80]! - p.r[y * width + 79]!;
      return sum / height;
    };
    expect(step(calm)).toBeGreaterThan(0.85 * step(clean));
  });
  it("does nothing when nothing is asked", () => {
    const same = denoise(noisy, { luma: 0, chroma: 0 });
    for (let i = 0; i < noisy.g.length; i++) expect(Math.abs(same.g[i]! - noisy.g[i]!)).toBeLessThan(1e-6);
  });
});

describe("flattening the screen's range", () => {
  const plate = plateOf(0.003, 0.8);
  it("lowers the screen's contrast with each round, and makes it more saturated", () => {
    const rounds = ([0, 1, 2] as const).map((n) => flattenRange(plate, SCREEN, { rounds: n, amount: 0.6 }));
    const spread = rounds.map((p) => deviation(p.g, (i) => i % width < 75));
    expect(spread[1]).toBeLessThan(0.5 * spread[0]!);
    expect(spread[2]).toBeLessThan(0.5 * spread[1]!);
    const saturation = (p: Picture) => p.g[20 * width + 40]! / p.r[20 * width + 40]!;
    expect(saturation(rounds[1]!)).toBeGreaterThan(1.2 * saturation(plate));
  });
  it("leaves everything else alone", () => {
    const flat = flattenRange(plate, SCREEN, { rounds: 2, amount: 1 });
    const away = chromaDistance(plate, { screen: SCREEN, inner: 14, outer: 30, stretch: 2 });
    for (let i = 0; i < flat.r.length; i++) if (away.data[i] === 1) expect(flat.r[i]).toBe(plate.r[i]);
    expect([...flat.g].filter((_, i) => !left(i))).toEqual([...plate.g].filter((_, i) => !left(i)));
  });
});
