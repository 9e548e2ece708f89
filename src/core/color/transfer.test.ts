import Color from "colorjs.io";
import { converter } from "culori";
import { describe, expect, it } from "vitest";
import { bt709ToLinear, linearToBt709 } from "./bt709";
import { hlgToLinear, pqToLinear } from "./bt2100";
import { ACESCCT, FILM_DENSITY, type LogCurve, linearToLog, logCurveSchema, logToLinear, stepAtCut } from "./log";
import { primariesOf, toBt709 } from "./primaries";
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

describe("logarithmic curves", () => {
  it("ACEScct gives the values of Academy S-2016-001, from memory, and above its cut those of an independent library's ACEScc", () => {
    expect(linearToLog(ACESCCT, 0.18)).toBeCloseTo(0.4135884, 6);
    expect(linearToLog(ACESCCT, 0)).toBeCloseTo(0.0729055, 6);
    expect(linearToLog(ACESCCT, 0.0078125)).toBeCloseTo(0.1552511, 6);
    for (const v of [0.2, 0.35, 0.5, 0.7, 0.9]) {
      const other = new Color("acescc", [v, v, v]).to("acescg").coords[0] as number;
      expect(logToLinear(ACESCCT, v) / other).toBeCloseTo(1, 4);
    }
  });
  it("film density has black at code 95, white at 685 and a grey card of 18 % near code 470 (Kennel 1995, from memory)", () => {
    const code = (x: number) => 1023 * linearToLog(FILM_DENSITY, x);
    expect(code(0)).toBeCloseTo(95, 6);
    expect(code(1)).toBeCloseTo(685, 6);
    expect(Math.abs(code(0.18) - 470)).toBeLessThan(15);
    // A stop is 0.3 of log exposure, times gamma 0.6 in codes of 0.002: 90 of them.
    expect(code(8) - code(4)).toBeCloseTo(90, 0);
  });
  it("a curve by its published numbers meets the codes its maker states, from memory: black at 95, grey at 420, 90 % white at 598 of 1023", () => {
    const curve: LogCurve = {
      slope: 261.5 / 1023,
      gain: 1 / 0.19,
      offset: 0.01 / 0.19,
      base: 420 / 1023,
      cut: 0.01125,
      linearSlope: (171.2102946929 - 95) / 0.01125 / 1023,
      linearBase: 95 / 1023,
    };
    expect(logCurveSchema.safeParse(curve).success).toBe(true);
    for (const [light, code] of [
      [0, 95],
      [0.18, 420],
      [0.9, 598],
    ] as const)
      expect(Math.round(1023 * encodeWith(curve)(light))).toBe(code);
    expect(stepAtCut(curve)).toBeLessThan(1e-6);
    expect(stepAtCut({ ...curve, linearBase: 0.1 })).toBeGreaterThan(0.005);
    expect(decodeTable(curve, 10)[420]).toBeCloseTo(0.18, 4);
    expect(decodeTable({ ...curve, gain: 1 }, 10)[420]).not.toBeCloseTo(0.18, 2);
  });
  it("a curve with no logarithm at its cut is refused", () => {
    expect(logCurveSchema.safeParse({ ...ACESCCT, cut: -0.01 }).error?.issues[0]?.message).toMatch(/no logarithm/);
    expect(logCurveSchema.safeParse({ ...ACESCCT, slope: 0 }).success).toBe(false);
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
  it("of ACES, whose white is not D65, agree with another independent library, and AP0 with the Academy's own matrix to AP1", () => {
    for (const light of [
      [0.2, 0.7, 0.3],
      [0.9, 0.1, 0.4],
      [0, 1, 0],
    ] as const) {
      const theirs = new Color("acescg", [...light] as [number, number, number]).to("srgb-linear").coords;
      turned(toBt709("ap1")!, light).forEach((v, k) => {
        expect(v).toBeCloseTo(theirs[k] as number, 3);
      });
    }
    // S-2014-004, annex, from memory.
    const toAp1 = [
      [1.4514393161, -0.2365107469, -0.2149285693],
      [-0.0765537734, 1.1762296998, -0.0996759264],
      [0.0083161484, -0.0060324498, 0.9977163014],
    ];
    const light = [0.3, 0.6, 0.2];
    const viaAp1 = turned(toBt709("ap1")!, toAp1.map((row) => row.reduce((s, v, k) => s + v * light[k]!, 0)) as [number, number, number]);
    turned(toBt709("ap0")!, light).forEach((v, k) => {
      expect(v).toBeCloseTo(viaAp1[k]!, 5);
    });
  });
  it("are told by their chromaticities, as files write them", () => {
    expect(primariesOf([0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329])).toBe("bt709");
    expect(primariesOf([0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.3217, 0.3377])).toBe("ap1");
    expect(primariesOf([0.68, 0.32, 0.265, 0.69, 0.15, 0.06, 0.314, 0.351])).toBeUndefined();
    expect(primariesOf([0.64, 0.33])).toBeUndefined();
  });
  it("of BT.709 stay, and white is white from all", () => {
    expect(toBt709("bt709")).toBeNull();
    for (const p of ["p3", "bt2020", "ap1", "ap0"] as const) for (const v of turned(toBt709(p)!, [1, 1, 1])) expect(v).toBeCloseTo(1, 9);
  });
});

describe("every curve", () => {
  it.each(TRANSFERS)("%s comes back to where it started, below 0 and over 1 too", (t) => {
    for (const v of [-0.3, -0.01, 0, 0.002, 0.02, 0.18, 0.5, 1, 1.7]) expect(encodeWith(t)(decodeWith(t)(v))).toBeCloseTo(v, 9);
  });
  it.each(TRANSFERS)("%s is tabled within 1e-6", (t) => {
    // Highlights of high dynamic range and of logarithms reach far beyond white: of them it is a share.
    const unit = (light: number) => (["hlg", "pq", "acescct", "film-density"].includes(t) ? Math.max(1, light) : 1);
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
