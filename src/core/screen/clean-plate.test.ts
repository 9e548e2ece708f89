import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { lumaOf } from "../image/luma";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { decodeRawFrame } from "../image/raw-frame";
import { cameraReading } from "../simulate/camera";
import { type Element, shoot } from "../simulate/shoot";
import { makeCamera, makeStage } from "../simulate/stage";
import { suppliedCleanPlate, synthesiseCleanPlate } from "./clean-plate";
import { levelPlate } from "./level";
import { measureLight } from "./light";

/** A grey figure with a fan of thin dark strands on both sides. */
function strands(width = 480, height = 270): Element {
  const coverage = makePlane(width, height);
  const colour = makePicture(width, height);
  const put = (i: number, a: number, light: number) => {
    if (a <= coverage.data[i]!) return;
    coverage.data[i] = a;
    for (const c of [colour.r, colour.g, colour.b]) c[i] = a * light;
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const d = y < height / 2 ? Math.hypot(x - width / 2, y - height / 2) : Math.abs(x - width / 2);
      put(y * width + x, Math.min(1, Math.max(0, 60 - d + 0.5)), 0.25);
      const angle = Math.atan2(y - height / 2, x - width / 2);
      const r = Math.hypot(x - width / 2, y - height / 2);
      if (y < height / 2 && r < 100) put(y * width + x, 0.6 * Math.max(0, 1 - Math.abs(Math.sin(angle * 40)) * r * 0.035), 0.04);
    }
  return { coverage, colour };
}
const camera = makeCamera({ bits: 12, shotNoise: 0.0002, readNoise: 0.001 });
const stage = makeStage({
  distance: 4,
  screen: { gradient: 1.2, angle: 30, wrinkles: { stops: 0.06, count: 8 }, hotSpots: [{ x: 0.15, y: 0.4, radius: 0.1, stops: 0.5 }] },
});
const shot = shoot(strands(), stage, camera);
const plate = decodeRawFrame(shot.plate, cameraReading(camera));
const clean = decodeRawFrame(shot.clean, cameraReading(camera));

const stopsApart = (a: Picture, b: Picture, where: (i: number) => boolean) => {
  const off: number[] = [];
  for (let i = 0; i < a.r.length; i++)
    if (where(i))
      off.push(Math.abs(Math.log2(luminance({ r: a.r[i]!, g: a.g[i]!, b: a.b[i]! }) / luminance({ r: b.r[i]!, g: b.g[i]!, b: b.b[i]! }))));
  off.sort((p, q) => p - q);
  return (q: number) => off[Math.floor(q * (off.length - 1))]!;
};

describe("clean plate synthesis", () => {
  const made = synthesiseCleanPlate(plate, "g");
  const { coverage, screen } = shot.truth;
  it("follows gradient, creases and hot spot where the screen shows, within 0.02 stop at the median", () => {
    const off = stopsApart(made, screen, (i) => coverage.data[i] === 0);
    expect(off(0.5)).toBeLessThan(0.02);
    expect(off(0.95)).toBeLessThan(0.12);
  });
  it("is not darkened by strands: between them it stays the screen", () => {
    const off = stopsApart(made, screen, (i) => coverage.data[i]! > 0.02 && coverage.data[i]! < 0.7);
    expect(off(0.5)).toBeLessThan(0.06);
    expect(off(0.9)).toBeLessThan(0.15);
  });
  it("fills under the subject smoothly", () => expect(stopsApart(made, screen, (i) => coverage.data[i] === 1)(0.9)).toBeLessThan(0.25));
  it("follows the deep shade between a subject's boots, and goes back to the lit screen around it", () => {
    const [w, h] = [480, 270];
    const floor = makePicture(w, h);
    const paint = { r: 0.06, g: 0.48, b: 0.1 };
    // Of the lamps' light a share is left; what has bounced off the screen before has its colour twice.
    const lit = (direct: number, bounced: number) =>
      ({
        r: 0.5 * paint.r * (direct + bounced * paint.r),
        g: 0.5 * paint.g * (direct + bounced * paint.g),
        b: 0.5 * paint.b * (direct + bounced * paint.b),
      }) as const;
    for (let i = 0; i < w * h; i++) {
      const [x, y] = [i % w, Math.floor(i / w)];
      const boots = y > 170 && y < 240 && ((x > 160 && x < 220) || (x > 260 && x < 320));
      const robe = y > 40 && y <= 170 && x > 150 && x < 330;
      const between = y > 170 && y < 240 && x >= 220 && x <= 260;
      const direct = between ? Math.max(0, (y - 225) / 15) : 1;
      const c = robe ? { r: 0.5, g: 0.48, b: 0.4 } : boots ? { r: 0.12, g: 0.06, b: 0.03 } : lit(direct, 0.15);
      [floor.r[i], floor.g[i], floor.b[i]] = [c.r, c.g, c.b];
    }
    const around = synthesiseCleanPlate(floor, "g");
    const at = (x: number, y: number) => around.g[y * w + x] as number;
    // In the shade the plate shows a fifteenth of the light; there the clean plate does too.
    expect(lit(0, 0.15).g / lit(1, 0.15).g).toBeLessThan(0.07);
    for (const y of [185, 200, 215]) expect(at(240, y) / lit(0, 0.15).g).toBeCloseTo(1, 1);
    // Under the robe, beside the boots and on open floor it is the lit screen, within a tenth of a stop.
    for (const [x, y] of [
      [240, 150],
      [190, 120],
      [140, 200],
      [340, 200],
      [60, 60],
    ] as const)
      expect(Math.abs(Math.log2(at(x, y) / lit(1, 0.15).g))).toBeLessThan(0.1);
  });
  it("takes dark cloth of no colour for no shade of the screen, in the same place", () => {
    const [w, h] = [480, 270];
    const dark = makePicture(w, h);
    for (let i = 0; i < w * h; i++) {
      const [x, y] = [i % w, Math.floor(i / w)];
      const cloth = y > 170 && y < 240 && x >= 220 && x <= 260;
      // As black as cloth gets, in the screen's light.
      [dark.r[i], dark.g[i], dark.b[i]] = cloth ? [0.004, 0.007, 0.0045] : [0.03, 0.24, 0.05];
    }
    expect(Math.abs(Math.log2((synthesiseCleanPlate(dark, "g").g[205 * w + 240] as number) / 0.24))).toBeLessThan(0.1);
  });
  it("needs some screen", () => expect(() => synthesiseCleanPlate(makePicture(64, 36), "g")).toThrow(/No screen/));
});

describe("a supplied clean plate", () => {
  it("is brought to the plate's exposure, per channel", () => {
    const other = { ...clean, r: clean.r.map((v) => 0.7 * v), g: clean.g.map((v) => 0.8 * v), b: clean.b.map((v) => 0.9 * v) };
    const brought = suppliedCleanPlate(other, plate, "g");
    for (const c of ["r", "g", "b"] as const) {
      const ratio = brought[c].reduce((s, v, i) => s + v / Math.max(1e-4, clean[c][i]!), 0) / clean.r.length;
      expect(ratio).toBeGreaterThan(0.98);
      expect(ratio).toBeLessThan(1.02);
    }
  });
  it("must have the plate's size", () => expect(() => suppliedCleanPlate(makePicture(10, 10), plate, "g")).toThrow(/10×10/));
});

describe("levelled plate", () => {
  const target = { r: 0.03, g: 0.24, b: 0.05 };
  const { coverage, screen } = shot.truth;
  const levelled = levelPlate(shot.truth.light, coverage, screen, target, 1);
  it("has under 0.02 stop of unevenness where the screen shows, and leaves the subject alone", () => {
    const mask = Uint8Array.from(coverage.data, (a) => (a === 0 ? 1 : 0));
    expect(measureLight(lumaOf(shot.truth.light), mask).spread).toBeGreaterThan(0.7);
    expect(measureLight(lumaOf(levelled), mask).spread).toBeLessThan(0.02);
    for (let i = 0; i < coverage.data.length; i++) if (coverage.data[i] === 1) expect(levelled.g[i]).toBe(shot.truth.light.g[i]);
  });
  it("keeps mixed pixels the same mixture, before the even screen", () => {
    for (let i = 0; i < coverage.data.length; i += 7) {
      const a = coverage.data[i]!;
      const wanted = shot.truth.colour.g[i]! + shot.truth.spill.g[i]! + (1 - a) * target.g;
      expect(Math.abs(levelled.g[i]! - wanted)).toBeLessThan(1e-5);
    }
  });
  it("is mixed with the plate, and left alone by a mask", () => {
    const half = levelPlate(shot.truth.light, coverage, screen, target, 0.5);
    expect(half.g[0]).toBeCloseTo((shot.truth.light.g[0]! + levelled.g[0]!) / 2, 6);
    const all = { ...coverage, data: new Float32Array(coverage.data.length).fill(1) };
    expect(levelPlate(shot.truth.light, coverage, screen, target, 1, all).g).toEqual(shot.truth.light.g);
  });
});
