import { describe, expect, it } from "vitest";
import { type Disc, scattered, throughLens } from "../../../tests/support/through-lens";
import { normal } from "../image/normal";
import type { Picture } from "../image/plane";
import { random } from "../image/random";
import { decodeRawFrame } from "../image/raw-frame";
import { cameraReading, record } from "../simulate/camera";
import { makeCamera } from "../simulate/stage";
import { describeFringes, tellFringes } from "./fringes";

const [width, height] = [640, 360];
const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
const BLUE = { r: 0.03, g: 0.07, b: 0.36 };
const shot = (red: number, blue: number, discs = scattered(width, height), screen = SCREEN) =>
  throughLens(width, height, discs, screen, { red, blue }).plate;
const NONE = { red: 0, blue: 0 };
/** A screen's light on the rim of one large disc, which is all there is to see. */
const WIDE = 2 * width;
const LARGE: Disc = { x: width, y: height, radius: 300, colour: { r: 0.5, g: 0.75, b: 0.4 } };
function litAtRim(red: number, blue: number): Picture {
  const { plate } = throughLens(WIDE, 2 * height, [LARGE], SCREEN, { red, blue });
  const g = plate.g.map((v, i) => {
    const under = LARGE.radius - Math.hypot((i % WIDE) - LARGE.x, Math.floor(i / WIDE) - LARGE.y);
    return under > 0.5 ? v + 0.4 * Math.exp(-under / 3) : v;
  });
  return { ...plate, g };
}

describe("telling a lens's fringes", () => {
  it.each([
    [1.4, -0.9],
    [-0.6, 1.1],
    [2.5, -2.5],
  ])("of red %f and blue %f px", (red, blue) => {
    const told = tellFringes(shot(red, blue), "g", false);
    expect(Math.abs(told.red - red)).toBeLessThan(0.12);
    expect(Math.abs(told.blue - blue)).toBeLessThan(0.12);
  });
  it("through a camera that records 4:2:0 with grain, and none where there are none", () => {
    const camera = makeCamera({ shotNoise: 0.0004, readNoise: 0.0015, bits: 8, subsampling: "420", siting: "left", seed: 3 });
    const seen = (p: Picture) => decodeRawFrame(record(p, camera), cameraReading(camera));
    const told = tellFringes(seen(shot(1.4, -0.9)), "g", true);
    expect(Math.abs(told.red - 1.4)).toBeLessThan(0.35);
    expect(Math.abs(told.blue + 0.9)).toBeLessThan(0.35);
    expect(tellFringes(seen(shot(0, 0)), "g", true)).toEqual(NONE);
    expect(tellFringes(shot(0, 0), "g", false)).toEqual(NONE);
  });
  it("not from a screen's light on a rim, green on its inner side alone; and past that", () => {
    const lit = (red: number, blue: number) => tellFringes(litAtRim(red, blue), "g", false);
    expect(lit(0, 0)).toEqual(NONE);
    // How far the two others lie apart is told past it.
    const { red, blue } = lit(1.4, -1.4);
    expect(Math.abs((red - blue) / 2 - 1.4)).toBeLessThan(0.25);
  });
  it("before a blue screen by red, and blue where it lies across from red", () => {
    const told = (red: number, blue: number) => tellFringes(shot(red, blue, scattered(width, height), BLUE), "b", false);
    const both = told(1.4, -1.2);
    expect(Math.abs(both.red - 1.4)).toBeLessThan(0.12);
    expect(Math.abs(both.blue + 1.2)).toBeLessThan(0.12);
    // A blue that is drawn larger too is what a rim lit by the screen looks like.
    const alike = told(1.4, 1.4);
    expect(Math.abs(alike.red - 1.4)).toBeLessThan(0.12);
    expect(alike.blue).toBe(0);
    expect(told(0, -1.2)).toEqual(NONE);
  });
  it("not from chroma that is put half a pixel aside, which shifts all of the frame alike", () => {
    // All that there is to see lies right of the middle, where to lie aside and to be larger look the same.
    const right = scattered(width, height).map((d) => ({ ...d, x: 0.5 * (width + d.x) }));
    const aside = (c: Float32Array, by: number) => c.map((v, i) => (i % width === 0 ? v : 0.5 * (v + (c[i - by] as number))));
    const told = (red: number, blue: number) => {
      const plate = shot(red, blue, right);
      return tellFringes({ ...plate, r: aside(plate.r, 1), b: aside(plate.b, -1) }, "g", false);
    };
    expect(told(0, 0)).toEqual(NONE);
    expect(Math.abs(told(1.4, -1.4).red - 1.4)).toBeLessThan(0.2);
  });
  it("not from a plate without edges, nor from the straight edges of black bars", () => {
    const next = normal(random(4));
    const grain = (c: Float32Array) => c.map((v) => v + 0.003 * next());
    const plain = shot(0, 0, []);
    expect(tellFringes({ ...plain, r: grain(plain.r), g: grain(plain.g), b: grain(plain.b) }, "g", false)).toEqual(NONE);
    const plate = shot(1.4, -0.9);
    const barred = (c: Float32Array) => c.map((v, i) => (i < 40 * width || i >= 320 * width ? 0 : v));
    const told = tellFringes({ ...plate, r: barred(plate.r), g: barred(plate.g), b: barred(plate.b) }, "g", false);
    expect(Math.abs(told.red - 1.4)).toBeLessThan(0.2);
    expect(Math.abs(told.blue + 0.9)).toBeLessThan(0.2);
  });
  it("says them in words", () => {
    expect(describeFringes({ red: 1.1, blue: 0 })).toBe("red is drawn 1.10 px larger than green at the corners");
    expect(describeFringes({ red: -0.8, blue: 1 })).toBe("red is drawn 0.80 px smaller and blue 1.00 px larger than green at the corners");
    expect(describeFringes({ red: 0, blue: 1 })).toBe("blue is drawn 1.00 px larger than green at the corners");
  });
});
