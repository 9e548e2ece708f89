import { converter } from "culori";
import { describe, expect, it } from "vitest";
import { bt709ToLinear, linearToBt709 } from "./bt709";
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

describe("every curve", () => {
  it.each(TRANSFERS)("%s comes back to where it started, below 0 and over 1 too", (t) => {
    for (const v of [-0.3, -0.01, 0, 0.002, 0.02, 0.18, 0.5, 1, 1.7]) expect(encodeWith(t)(decodeWith(t)(v))).toBeCloseTo(v, 9);
  });
  it.each(TRANSFERS)("%s is tabled within 1e-6", (t) => {
    const coarse = decodeTable(t, 10);
    expect(coarse).toHaveLength(1024);
    for (const code of [0, 1, 37, 512, 1023]) expect(coarse[code]).toBeCloseTo(decodeWith(t)(code / 1023), 6);
    const fine = fineDecodeTable(t);
    for (const v of [-0.2, 0, 0.1, 1, 1.4]) expect(fine[Math.round((v - FINE_LOW) / FINE_STEP)]).toBeCloseTo(decodeWith(t)(v), 3);
  });
  it("BT.709 and sRGB differ in the shadows", () => {
    expect(Math.abs(bt709ToLinear(0.3) - srgbToLinear(0.3))).toBeGreaterThan(0.01);
  });
});
