import { converter } from "culori";
import { describe, expect, it } from "vitest";
import { bt709ToLinear, linearToBt709 } from "./bt709";
import { hlgToLinear, pqToLinear } from "./bt2100";
import { toBt709 } from "./primaries";
import { linearToSrgb, srgbToLinear } from "./srgb";
import { decodeTable, decodeWith, encodeWith, FINE_LOW, FINE_STEP, fineDecodeTable, TRANSFERS } from "./transfer";

describe("sRGB curve (IEC 61966-2-1:1999)", () => {
  it("meets the standard's break point", () => {
    expect(srgbToLinear(0.04045)).toBeCloseTo(0.0031308, 6);
    expect(linearToSrgb(0.0031308)).toBeCloseTo(0.04045, 6);
  });
  it("agrees with an independent colour library at every 8-bit code", () => {
    const toLinear = converter("lrgb");
    for (let code = 0; code < 256; code++) {
      const other = toLinear({ mode: "rgb", r: code / 255, g: 0, b: 0 });
      expect(srgbToLinear(code / 255)).toBeCloseTo(other.r, 9);
    }
  });
});

describe("BT.709 curve (ITU-R BT.709-6, item 1.2)", () => {
  it("gives the recommendation's values", () => {
    expect(linearToBt709(0.018)).toBeCloseTo(0.081, 3);
    expect(linearToBt709(0.009)).toBeCloseTo(4.5 * 0.009, 9);
    expect(linearToBt709(1)).toBeCloseTo(1, 9);
    // 1.099 × 0.18^0.45 − 0.099, the printed constants: 18 % grey at 40.9 %.
    expect(linearToBt709(0.18)).toBeCloseTo(1.099 * 0.18 ** 0.45 - 0.099, 3);
  });
  it("has no step where its pieces meet", () => {
    expect(linearToBt709(0.018053968)).toBeCloseTo(linearToBt709(0.01805397), 7);
  });
});

describe("curves of high dynamic range (ITU-R BT.2100-2), reference white at 1", () => {
  it.each([
    // Report ITU-R BT.2408-7, tables 1 and 2: signals in percent, rounded there, from memory. 203, 100, 1 000 and 10 000 cd/m²; a grey card of 18 %.
    ["pq", 1, 58],
    ["pq", 100 / 203, 51],
    ["pq", 1000 / 203, 75],
    ["pq", 10_000 / 203, 100],
    ["hlg", 1, 75],
    ["hlg", 0.18, 38],
  ] as const)("%s at %d is %d %%", (curve, light, percent) => {
    expect(Math.abs(100 * encodeWith(curve)(light) - percent)).toBeLessThan(0.5);
  });
  it("HLG's pieces meet at half the signal, a twelfth of the light", () => {
    expect(hlgToLinear(0.5) / hlgToLinear(1)).toBeCloseTo(1 / 12, 6);
    expect(hlgToLinear(0.5 + 1e-9)).toBeCloseTo(hlgToLinear(0.5), 7);
  });
  it("PQ goes on beyond its top code without a step or a kink", () => {
    const slope = (a: number, b: number) => (pqToLinear(b) - pqToLinear(a)) / (b - a);
    expect(slope(1, 1.0001) / slope(0.9999, 1)).toBeCloseTo(1, 2);
  });
});

describe("primaries", () => {
  const turned = (m: NonNullable<ReturnType<typeof toBt709>>, v: readonly number[]) =>
    m.map((row) => row[0] * v[0]! + row[1] * v[1]! + row[2] * v[2]!);
  it("of BT.2020 come to BT.709 by the matrix of Recommendation ITU-R BT.2087-0, printed with four digits, from memory", () => {
    const printed = [
      [1.6605, -0.5876, -0.0728],
      [-0.1246, 1.1329, -0.0083],
      [-0.0182, -0.1006, 1.1187],
    ];
    toBt709("bt2020")!.forEach((row, i) => {
      row.forEach((v, j) => {
        expect(v).toBeCloseTo(printed[i]![j]!, 3);
      });
    });
  });
  it.each([
    ["p3", "p3", srgbToLinear],
    ["bt2020", "rec2020", bt709ToLinear],
  ] as const)("of %s agree with an independent colour library", (name, mode, decode) => {
    const other = converter("lrgb");
    for (const [r, g, b] of [
      [0.2, 0.7, 0.3],
      [0.9, 0.1, 0.4],
      [0, 1, 0],
      [0.5, 0.5, 0.5],
    ] as const) {
      const theirs = other({ mode, r, g, b });
      const ours = turned(toBt709(name)!, [r, g, b].map(decode));
      [theirs.r, theirs.g, theirs.b].forEach((v, k) => {
        expect(ours[k]).toBeCloseTo(v, 3);
      });
    }
  });
  it("of BT.709 stay, and white is white from all", () => {
    expect(toBt709("bt709")).toBeNull();
    for (const p of ["p3", "bt2020"] as const) for (const v of turned(toBt709(p)!, [1, 1, 1])) expect(v).toBeCloseTo(1, 9);
  });
});

describe("every curve", () => {
  it.each(TRANSFERS)("%s comes back to where it started, below 0 and over 1 too", (t) => {
    for (const v of [-0.3, -0.01, 0, 0.002, 0.02, 0.18, 0.5, 1, 1.7]) expect(encodeWith(t)(decodeWith(t)(v))).toBeCloseTo(v, 9);
  });
  it.each(TRANSFERS)("%s is tabled within 1e-6", (t) => {
    // Highlights of high dynamic range reach fifty times white: of them it is a share.
    const unit = (light: number) => (t === "hlg" || t === "pq" ? Math.max(1, light) : 1);
    const coarse = decodeTable(t, 10);
    expect(coarse).toHaveLength(1024);
    for (const code of [0, 1, 37, 512, 1023]) {
      const light = decodeWith(t)(code / 1023);
      expect(coarse[code]! / unit(light)).toBeCloseTo(light / unit(light), 6);
    }
    const fine = fineDecodeTable(t);
    for (const v of [-0.2, 0, 0.1, 1, 1.4]) {
      const light = decodeWith(t)(v);
      expect(fine[Math.round((v - FINE_LOW) / FINE_STEP)]! / unit(light)).toBeCloseTo(light / unit(light), 3);
    }
  });
  it("BT.709 and sRGB differ in the shadows", () => {
    expect(Math.abs(bt709ToLinear(0.3) - srgbToLinear(0.3))).toBeGreaterThan(0.01);
  });
});
