import { describe, expect, it } from "vitest";
import { linearToSrgb } from "../core/color/srgb";
import { makePicture, makePlane } from "../core/image/plane";
import { displayMatte, displayNoise, displayPicture, displayStops, STOP_STEPS, stopCode } from "./display";
import { STRETCH } from "./stretch";

describe("display", () => {
  it("codes linear light as sRGB within half a code, and clips", () => {
    const p = makePicture(256, 1);
    for (let i = 0; i < 256; i++) p.r[i] = i / 255;
    p.g.fill(2);
    p.b.fill(-1);
    const out = displayPicture(p);
    for (let i = 0; i < 256; i++) {
      expect(Math.abs(out[4 * i]! - 255 * linearToSrgb(i / 255))).toBeLessThan(0.6);
      expect([out[4 * i + 1], out[4 * i + 2], out[4 * i + 3]]).toEqual([255, 0, 255]);
    }
  });
  it("a stretched matte shows faint grey, and keeps 0 and 1 apart from it", () => {
    const m = makePlane(4, 1);
    m.data.set([0, 0.004, 0.996, 1]);
    const out = displayMatte(m, STRETCH);
    expect([out[0], out[12]]).toEqual([0, 255]);
    expect(out[4]).toBeGreaterThan(1);
    expect(out[8]).toBeLessThan(254);
    expect(displayMatte(m)[4]).toBe(1);
  });
  it("evenness goes by steps of grey: darker under, lighter over, hatched where there is no screen", () => {
    const screen = { r: 0.03, g: 0.24, b: 0.05 };
    const p = makePicture(4, 1);
    [0.6, 1, 2 ** 0.4].forEach((k, i) => {
      p.r[i] = screen.r * k;
      p.g[i] = screen.g * k;
      p.b[i] = screen.b * k;
    });
    p.r[3] = 0.3;
    p.g[3] = 0.3;
    p.b[3] = 0.3;
    const out = displayStops(p, screen);
    const middle = STOP_STEPS.findIndex((s) => s > 0);
    expect(out[4]).toBe(stopCode(middle));
    expect(out[0]).toBe(stopCode(1));
    expect(out[8]).toBe(stopCode(STOP_STEPS.indexOf(0.25) + 1));
    expect(out[12]).toBeLessThan(stopCode(0));
    for (let i = 0; i < 16; i += 4) expect(new Set(out.slice(i, i + 3)).size).toBe(1);
  });
  it("noise is mid grey where there is none", () => {
    const p = makePicture(8, 8);
    for (const c of [p.r, p.g, p.b]) c.fill(0.2);
    expect(new Set(displayNoise(p).filter((_, i) => i % 4 !== 3))).toEqual(new Set([128]));
    p.g[36] = 0.22;
    expect(displayNoise(p)[4 * 36]).toBeGreaterThan(150);
  });
});
