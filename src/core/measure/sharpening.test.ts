import { describe, expect, it } from "vitest";
import { sharpened } from "../../../tests/support/sharpened";
import { scattered, throughLens } from "../../../tests/support/through-lens";
import { gaussianBlur } from "../image/blur";
import type { Picture } from "../image/plane";
import { decodeRawFrame, type RawFrame } from "../image/raw-frame";
import { colourDifference } from "../key/colour-difference";
import { cameraReading, record } from "../simulate/camera";
import { makeCamera } from "../simulate/stage";
import { tellSharpening } from "./sharpening";

const [width, height] = [480, 270];
const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
const CAMERA = makeCamera({ shotNoise: 0.0004, readNoise: 0.0015, bits: 8, subsampling: "420", siting: "left", seed: 3 });
const discs = (count = 24) => throughLens(width, height, scattered(width, height, count), SCREEN, { red: 0, blue: 0 }).plate;
const told = (raw: RawFrame) => {
  const picture = decodeRawFrame(raw, cameraReading(CAMERA));
  return tellSharpening(raw, colourDifference(picture, { screen: SCREEN, primary: "g", weight: 0.5 }));
};

describe("telling a camera's sharpening", () => {
  it("as far as it went, and none where there is none", () => {
    const raw = record(discs(), CAMERA);
    expect(told(raw)).toEqual({ amount: 0, overshoot: 0 });
    const [half, whole] = [told(sharpened(raw, 0.5)), told(sharpened(raw, 1))];
    expect(Math.abs(half.amount - 0.5)).toBeLessThan(0.2);
    expect(Math.abs(whole.amount - 1)).toBeLessThan(0.3);
    expect(whole.overshoot).toBeGreaterThan(1.5 * half.overshoot);
  });
  it("in a frame that is turned to stand upright", () => {
    const raw = sharpened(record(discs(), CAMERA), 1);
    const upright = told(raw);
    const turned = told({ ...raw, turn: 1 });
    expect(turned.amount).toBeCloseTo(upright.amount, 1);
  });
  it("not from a lens that blurs, however far, nor from half floats, nor from few edges", () => {
    const soft = (p: Picture, sigma: number): Picture => {
      const c = (v: Float32Array) => gaussianBlur(v, width, height, sigma);
      return { ...p, r: c(p.r), g: c(p.g), b: c(p.b) };
    };
    for (const sigma of [0.5, 1, 2]) expect(told(record(soft(discs(), sigma), CAMERA)).amount).toBe(0);
    const raw = sharpened(record(discs(), CAMERA), 1);
    const pull = { width, height, data: new Float32Array(width * height) };
    expect(tellSharpening({ ...raw, layout: { kind: "half", alpha: false } }, pull).amount).toBe(0);
    expect(tellSharpening(raw, pull).amount).toBe(0);
    expect(told(sharpened(record(discs(1), CAMERA), 1)).amount).toBe(0);
  });
});
