import { DataUtils } from "three";
import { describe, expect, it } from "vitest";
import { floatToHalf, halfToFloat } from "./half";
import { rgbToHsv } from "./hue";

describe("half floats (IEEE 754-2008 binary16)", () => {
  it.each([
    [1, 0x3c00],
    [-2, 0xc000],
    [65504, 0x7bff],
    [2 ** -14, 0x0400],
    [2 ** -24, 0x0001],
    [1 / 3, 0x3555],
    [Number.POSITIVE_INFINITY, 0x7c00],
    [0, 0],
  ])("%d is %i", (value, bits) => {
    expect(floatToHalf(value)).toBe(bits);
    expect(halfToFloat(bits)).toBeCloseTo(value, 3);
  });
  it("reads every finite pattern as an independent library does, and writes it back", () => {
    for (let bits = 0; bits < 65536; bits++) {
      const value = halfToFloat(bits);
      if (!Number.isFinite(value)) continue;
      if (value !== DataUtils.fromHalfFloat(bits)) throw new Error(`pattern ${bits}`);
      if (floatToHalf(value) !== bits) throw new Error(`${bits} came back as ${floatToHalf(value)}`);
    }
  });
  it("overflows to infinity and keeps NaN", () => {
    expect(halfToFloat(floatToHalf(1e6))).toBe(Number.POSITIVE_INFINITY);
    expect(halfToFloat(floatToHalf(Number.NaN))).toBeNaN();
  });
});

describe("hexcone hue (Smith, SIGGRAPH 1978)", () => {
  it.each([
    [{ r: 1, g: 0, b: 0 }, 0],
    [{ r: 1, g: 1, b: 0 }, 60],
    [{ r: 0, g: 1, b: 0 }, 120],
    [{ r: 0, g: 0, b: 1 }, 240],
    [{ r: 1, g: 0, b: 0.5 }, 330],
  ])("%o has hue %d°", (c, hue) => expect(rgbToHsv(c).h).toBeCloseTo(hue, 9));
  it("greys have neither hue nor saturation", () => expect(rgbToHsv({ r: 0.4, g: 0.4, b: 0.4 })).toEqual({ h: 0, s: 0, v: 0.4 }));
});
