import { describe, expect, it } from "vitest";
import { MATRICES, RANGES, rgbToYcbcrCodes, ycbcrCodesToRgb } from "./ycbcr";

type Bars = readonly (readonly [string, readonly [number, number, number], readonly [number, number, number]])[];

/** 75 % bars, BT.709, 10 bit limited. Source: SMPTE RP 219-1:2014, table 1. */
const BARS_709_75_10: Bars = [
  ["grey", [0.75, 0.75, 0.75], [721, 512, 512]],
  ["yellow", [0.75, 0.75, 0], [674, 176, 543]],
  ["cyan", [0, 0.75, 0.75], [581, 589, 176]],
  ["green", [0, 0.75, 0], [534, 253, 207]],
  ["magenta", [0.75, 0, 0.75], [251, 771, 817]],
  ["red", [0.75, 0, 0], [204, 435, 848]],
  ["blue", [0, 0, 0.75], [111, 848, 481]],
];
/** 100 % bars, BT.709, 8 bit limited, from the factors of BT.709-6 item 3 (handbook values, from memory). */
const BARS_709_100_8: Bars = [
  ["white", [1, 1, 1], [235, 128, 128]],
  ["yellow", [1, 1, 0], [219, 16, 138]],
  ["cyan", [0, 1, 1], [188, 154, 16]],
  ["green", [0, 1, 0], [173, 42, 26]],
  ["magenta", [1, 0, 1], [78, 214, 230]],
  ["red", [1, 0, 0], [63, 102, 240]],
  ["blue", [0, 0, 1], [32, 240, 118]],
  ["black", [0, 0, 0], [16, 128, 128]],
];
/** 100 % bars, BT.601, 8 bit limited, from the factors of BT.601-7 item 2.5 (handbook values, from memory). */
const BARS_601_100_8: Bars = [
  ["white", [1, 1, 1], [235, 128, 128]],
  ["yellow", [1, 1, 0], [210, 16, 146]],
  ["cyan", [0, 1, 1], [170, 166, 16]],
  ["green", [0, 1, 0], [145, 54, 34]],
  ["magenta", [1, 0, 1], [106, 202, 222]],
  ["red", [1, 0, 0], [81, 90, 240]],
  ["blue", [0, 0, 1], [41, 240, 110]],
  ["black", [0, 0, 0], [16, 128, 128]],
];

describe("colour bars", () => {
  it.each(BARS_709_75_10)("BT.709 10 bit 75 %% %s", (_, rgb, codes) => expect(rgbToYcbcrCodes(rgb, "bt709", "limited", 10)).toEqual(codes));
  it.each(BARS_709_100_8)("BT.709 8 bit 100 %% %s", (_, rgb, codes) => expect(rgbToYcbcrCodes(rgb, "bt709", "limited", 8)).toEqual(codes));
  it.each(BARS_601_100_8)("BT.601 8 bit 100 %% %s", (_, rgb, codes) => expect(rgbToYcbcrCodes(rgb, "bt601", "limited", 8)).toEqual(codes));
  it.each(BARS_709_100_8)("decodes %s within half a code", (_, rgb, codes) => {
    ycbcrCodesToRgb(codes, "bt709", "limited", 8).forEach((v, i) => {
      expect(Math.abs(v - rgb[i]!)).toBeLessThan(1.2 / 219);
    });
  });
});

describe("round trip", () => {
  for (const matrix of MATRICES)
    for (const range of RANGES)
      for (const bits of [8, 10, 12])
        it(`${matrix} ${range} ${bits} bit stays within two codes`, () => {
          for (const rgb of [
            [0.2, 0.5, 0.7],
            [0.05, 0.6, 0.12],
            [0.9, 0.1, 0.4],
          ] as const) {
            const back = ycbcrCodesToRgb(rgbToYcbcrCodes(rgb, matrix, range, bits), matrix, range, bits);
            back.forEach((v, i) => {
              expect(Math.abs(v - rgb[i]!)).toBeLessThan(2 / (219 * 2 ** (bits - 8)));
            });
          }
        });
  it("full range black and white are the ends of the codes", () => {
    expect(rgbToYcbcrCodes([0, 0, 0], "bt709", "full", 8)).toEqual([0, 128, 128]);
    expect(rgbToYcbcrCodes([1, 1, 1], "bt709", "full", 10)).toEqual([1023, 512, 512]);
  });
});
