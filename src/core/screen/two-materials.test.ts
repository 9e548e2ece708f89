import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { random } from "../image/random";
import { type At, type Drawn, disc, drawPlate, even } from "../simulate/draw-plate";
import { certainScreen, synthesiseCleanPlate } from "./clean-plate";
import { fillMaterials } from "./fill-materials";

const [W, H] = [480, 270];
const PAPER = { r: 0.06, g: 0.36, b: 0.1 };
const PAINT = { r: 0.09, g: 0.27, b: 0.13 };
/** The seam at the top and how far it leans, px. */
const [SEAM, LEAN] = [190, 0.08];
const lit = (c: Rgb, x: number, y: number): Rgb => {
  const k = 0.85 + 0.25 * (x / W) - 0.1 * (y / H);
  return { r: k * c.r, g: k * c.g, b: k * c.b };
};
const bothMaterials: At<Rgb> = (x, y) => lit(x < SEAM + LEAN * y ? PAPER : PAINT, x, y);
const skin = even(0.56, 0.33, 0.24);
/** A head before the seam with forty dark strands around it, a pixel wide. */
const strands: Drawn = {
  covers: (x, y) => {
    const r = Math.hypot(x - 220, y - 120);
    const turn = (40 * Math.atan2(y - 120, x - 220)) / (2 * Math.PI);
    return r > 40 && r < 85 && (Math.abs(turn - Math.round(turn)) * 2 * Math.PI * r) / 40 < 0.5 ? 1 : 0;
  },
  colour: even(0.03, 0.02, 0.015),
};
const head: Drawn[] = [{ covers: disc(220, 120, 50), colour: skin }, strands];
const second = (screen: At<Rgb>, things: readonly Drawn[] = []) => {
  const { plate } = drawPlate(W, H, things, screen);
  return certainScreen(plate, plate, 1, "g").second;
};

describe("two materials of a screen", () => {
  it("are told by their colours, where each is", () => {
    const told = second(bothMaterials, head)!;
    for (const [x, y] of [
      [40, 40],
      [150, 240],
      [300, 30],
      [450, 200],
    ] as const)
      expect(told[y * W + x]).toBe(told[30 * W + 10]! ^ (x > SEAM ? 1 : 0));
  });
  it("and are one where lamps of two colours light it, where a wall lies in shade, and where cloth of near its hue or smoke is before it", () => {
    const lamps: At<Rgb> = (x, y) => {
      const w = Math.min(1, Math.max(0, x / W));
      return lit({ r: PAPER.r * (1.8 - 1.2 * w), g: PAPER.g, b: PAPER.b * (0.6 + 0.9 * w) }, x, y);
    };
    expect(second(lamps, head)).toBeNull();
    const inShade: At<Rgb> = (x, y) => lit(x < SEAM ? PAPER : { r: 0.3 * PAPER.r, g: 0.3 * PAPER.g, b: 0.3 * PAPER.b }, x, y);
    expect(second(inShade, head)).toBeNull();
    const cloth = { covers: (x: number, y: number) => (y > 150 && Math.abs(x - 240) < 90 ? 1 : 0), colour: even(0.09, 0.27, 0.13) };
    expect(second((x, y) => lit(PAPER, x, y), [cloth])).toBeNull();
    // Even smoke that ends sharply hangs down from the frame's top.
    const smoke = { covers: (x: number, y: number) => 0.2 * disc(300, -20, 150)(x, y), colour: even(0.4, 0.4, 0.42) };
    expect(second((x, y) => lit(PAPER, x, y), [smoke])).toBeNull();
  });
  it("meet in the clean plate along the seam that the plate shows, and behind strands each goes on as it is", () => {
    const next = random(4);
    for (const grain of [0, 0.004]) {
      const { plate, truth } = drawPlate(W, H, head, bothMaterials);
      const { plate: empty } = drawPlate(W, H, [], bothMaterials);
      for (const c of [plate.r, plate.g, plate.b]) for (let i = 0; i < c.length; i++) c[i]! += grain * (next() + next() - 1);
      const made = synthesiseCleanPlate(plate, "g");
      const off = (i: number) => Math.abs(made.r[i]! / made.g[i]! - empty.r[i]! / empty.g[i]!);
      const shown = Array.from(truth.data, (t, i) =>
        t < 0.6 && Math.hypot((i % W) - 220, Math.floor(i / W) - 120) > 53 ? off(i) : -1,
      ).filter((v) => v >= 0);
      // Their colours lie 0.167 apart.
      const wrong = shown.filter((v) => v > 0.04).length / shown.length;
      console.log(`grain ${grain}: ${(100 * wrong).toFixed(2)} % of what shows the screen is of the other material`);
      expect(wrong).toBeLessThan(0.002);
    }
  });
  it("are one again where only one of them is certain anywhere", () => {
    const { plate } = drawPlate(W, H, [], bothMaterials);
    const told = second(bothMaterials) as Uint8Array;
    const first = Float32Array.from(told, (s) => 1 - s);
    expect(fillMaterials(plate, plate, 1, first, told)).toBeNull();
    expect(fillMaterials(plate, plate, 1, first.fill(1), told)).not.toBeNull();
  });
});
