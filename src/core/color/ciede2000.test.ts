import { converter, differenceCiede2000 } from "culori";
import { describe, expect, it } from "vitest";
import { random } from "../image/random";
import { ciede2000 } from "./ciede2000";
import { linearToLab } from "./lab";

/**
 * The 34 pairs of Sharma, Wu & Dalal (2005), table 1: L*a*b* of both samples and ΔE00 to four decimals.
 * Written from memory; an independent implementation from the registry (culori) gives the same values below.
 */
const PAIRS: readonly (readonly [number, number, number, number, number, number, number])[] = [
  [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
  [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
  [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
  [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
  [50, -1.1848, -84.8006, 50, 0, -82.7485, 1.0],
  [50, -0.9009, -85.5211, 50, 0, -82.7485, 1.0],
  [50, 0, 0, 50, -1, 2, 2.3669],
  [50, -1, 2, 50, 0, 0, 2.3669],
  [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.001, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
  [50, 2.49, -0.001, 50, -2.49, 0.0012, 7.2195],
  [50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.001, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461],
  [50, 2.5, 0, 50, 0, -2.5, 4.3065],
  [50, 2.5, 0, 73, 25, -18, 27.1492],
  [50, 2.5, 0, 61, -5, 29, 22.8977],
  [50, 2.5, 0, 56, -27, -3, 31.903],
  [50, 2.5, 0, 58, 24, 15, 19.4535],
  [50, 2.5, 0, 50, 3.1736, 0.5854, 1.0],
  [50, 2.5, 0, 50, 3.2972, 0, 1.0],
  [50, 2.5, 0, 50, 1.8634, 0.5757, 1.0],
  [50, 2.5, 0, 50, 3.2592, 0.335, 1.0],
  [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
  [61.2901, 3.7196, -5.3901, 61.4292, 2.248, -4.962, 1.8731],
  [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
  [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [36.4612, 47.858, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
  [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
  [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
  [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
  [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
];
const library = differenceCiede2000();

describe("CIEDE2000 (Sharma, Wu & Dalal 2005)", () => {
  it.each(PAIRS)("%d %d %d against %d %d %d is %d", (l1, a1, b1, l2, a2, b2, wanted) => {
    const p = { l: l1, a: a1, b: b1 };
    const q = { l: l2, a: a2, b: b2 };
    expect(ciede2000(p, q)).toBeCloseTo(wanted, 4);
    expect(ciede2000(q, p)).toBeCloseTo(wanted, 4);
    expect(library({ mode: "lab65", ...p }, { mode: "lab65", ...q })).toBeCloseTo(wanted, 4);
  });
  it("agrees with an independent library on 500 random pairs", () => {
    const next = random(3);
    const lab = () => ({ l: 100 * next(), a: 200 * next() - 100, b: 200 * next() - 100 });
    for (let i = 0; i < 500; i++) {
      const [p, q] = [lab(), lab()];
      expect(ciede2000(p, q)).toBeCloseTo(library({ mode: "lab65", ...p }, { mode: "lab65", ...q }), 6);
    }
  });
});

describe("L*a*b* of linear light (CIE 15:2004)", () => {
  const toLab65 = converter("lab65");
  it("has no colour in greys and L* 100 in white", () => {
    for (const v of [0, 0.001, 0.18, 1])
      expect(Math.hypot(linearToLab({ r: v, g: v, b: v }).a, linearToLab({ r: v, g: v, b: v }).b)).toBeLessThan(1e-9);
    expect(linearToLab({ r: 1, g: 1, b: 1 }).l).toBeCloseTo(100, 9);
  });
  it("agrees with an independent library, whose white has more digits", () => {
    const next = random(9);
    for (let i = 0; i < 200; i++) {
      const c = { r: next(), g: next(), b: next() };
      const mine = linearToLab(c);
      const other = toLab65({ mode: "lrgb", ...c });
      expect(mine.l).toBeCloseTo(other.l, 1);
      expect(mine.a).toBeCloseTo(other.a, 1);
      expect(mine.b).toBeCloseTo(other.b, 1);
    }
  });
});
