import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { makePicture, makePlane } from "../image/plane";
import { random } from "../image/random";
import { decodeRawFrame } from "../image/raw-frame";
import { type PlateReport, reportPlate } from "../screen/report";
import { quantiseBlocks } from "./block-transform";
import { addNoise, cameraReading, record } from "./camera";
import { defocus } from "./lens";
import { type Element, shoot } from "./shoot";
import { expose, translate } from "./shutter";
import { facingShare, outlineShare } from "./spill-share";
import { makeCamera, makeStage, type Stage } from "./stage";

/** A grey column with a rounded head: neutral, so that its coverage can be read back. */
function element(width = 480, height = 270, light = 0.25): Element {
  const coverage = makePlane(width, height);
  const colour = makePicture(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const r = 0.16 * width;
      const d = y < height * 0.5 ? Math.hypot(x + 0.5 - width / 2, y + 0.5 - height * 0.5) : Math.abs(x + 0.5 - width / 2);
      const a = Math.min(1, Math.max(0, r - d + 0.5));
      coverage.data[i] = a;
      for (const c of [colour.r, colour.g, colour.b]) c[i] = a * light;
    }
  return { coverage, colour };
}
const noiseless = makeCamera({ bits: 12 });
const report = (stage: Stage, camera = noiseless, e = element()): PlateReport => {
  const { plate } = shoot(e, stage, camera);
  const names = { "420": "4:2:0", "422": "4:2:2", "444": "4:4:4" } as const;
  return reportPlate(decodeRawFrame(plate, cameraReading(camera)), {
    transfer: camera.transfer,
    chromaFormat: names[camera.subsampling],
    pixelAspect: camera.pixelAspect,
    raw: plate,
  });
};

describe("spill by geometry (Howell, configuration factors B-3 and B-4)", () => {
  /** The factor by brute force: ∫ cos θ₁ cos θ₂ / (π r²) dA over the rectangle. */
  const integrate = (w: number, h: number, d: number, normal: "facing" | "side") => {
    const steps = 600;
    let sum = 0;
    for (let j = 0; j < steps; j++)
      for (let i = 0; i < steps; i++) {
        const x = ((i + 0.5) / steps - 0.5) * w;
        const y = ((j + 0.5) / steps - 0.5) * h;
        const r2 = x * x + y * y + d * d;
        const c1 = (normal === "facing" ? d : Math.max(0, y)) / Math.sqrt(r2);
        sum += (c1 * (d / Math.sqrt(r2)) * w * h) / (Math.PI * r2 * steps * steps);
      }
    return sum;
  };
  it.each([
    [4, 3, 2.5],
    [4, 3, 0.5],
    [2, 6, 5],
  ])("a screen of %d × %d at %d", (w, h, d) => {
    expect(facingShare(w, h, d)).toBeCloseTo(integrate(w, h, d, "facing"), 4);
    expect(outlineShare(w, h, d)).toBeCloseTo(integrate(w, h, d, "side"), 4);
  });
  it("falls with distance, and fills the hemisphere up close", () => {
    expect(facingShare(4, 3, 0.001)).toBeCloseTo(1, 3);
    expect(outlineShare(4, 3, 0.001)).toBeCloseTo(0.5, 2);
    expect(outlineShare(4, 3, 1)).toBeGreaterThan(2 * outlineShare(4, 3, 3));
  });
});

describe("lens and shutter", () => {
  it("moves by part pixels", () => {
    const line = Float32Array.from([0, 0, 1, 0, 0, 0]);
    expect([...translate(line, 6, 1, 1, 0)]).toEqual([0, 0, 0, 1, 0, 0]);
    expect([...translate(line, 6, 1, 0.25, 0)].map((v) => Math.round(v * 100) / 100)).toEqual([0, 0, 0.75, 0.25, 0, 0]);
  });
  it("spreads an edge over as many pixels as it moves", () => {
    const step = Float32Array.from({ length: 64 }, (_, x) => (x < 32 ? 0 : 1));
    const blurred = expose(step, 64, 1, 10, 0);
    expect(blurred.filter((v) => v > 0.02 && v < 0.98).length).toBeGreaterThanOrEqual(9);
    expect(blurred.filter((v) => v > 0.02 && v < 0.98).length).toBeLessThanOrEqual(12);
    expect(blurred.reduce((s, v) => s + v, 0)).toBeCloseTo(32, 0);
  });
  it("keeps light when it defocuses, and stays inside the disc", () => {
    const dot = new Float32Array(41 * 41);
    dot[20 * 41 + 20] = 1;
    const out = defocus(dot, 41, 41, 9);
    expect(out.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 5);
    expect(out[20 * 41 + 20 + 6]).toBe(0);
    expect(out[20 * 41 + 20]).toBeCloseTo(1 / (Math.PI * 4.5 ** 2), 3);
  });
});

describe("camera", () => {
  it("noise has the variance asked for", () => {
    const p = makePicture(300, 300);
    p.g.fill(0.4);
    const noisy = addNoise(p, makeCamera({ shotNoise: 0.0004, readNoise: 0.003, gain: 1, seed: 11 }));
    const sd = (c: Float32Array) => {
      const m = c.reduce((s, v) => s + v, 0) / c.length;
      return Math.sqrt(c.reduce((s, v) => s + (v - m) ** 2, 0) / c.length);
    };
    expect(sd(noisy.r)).toBeCloseTo(0.006, 4);
    expect(sd(noisy.g)).toBeCloseTo(Math.sqrt(0.4 * 0.0008 + 0.006 ** 2), 3);
  });
  it("is repeatable for a seed, and different for another", () => {
    const light = makePicture(32, 32);
    light.g.fill(0.3);
    const shot = (seed: number) => record(light, makeCamera({ shotNoise: 0.001, seed })).planes[0];
    expect(shot(5)).toEqual(shot(5));
    expect(shot(5)).not.toEqual(shot(6));
  });
  it("what it records reads back as the light it saw", () => {
    const light = makePicture(64, 48);
    for (let i = 0; i < 64 * 48; i++) {
      light.r[i] = 0.05 + (i % 64) / 80;
      light.g[i] = 0.6 - (i % 64) / 128;
      light.b[i] = 0.2;
    }
    for (const subsampling of ["444", "422", "420"] as const)
      for (const siting of ["left", "center", "topleft"] as const) {
        const camera = makeCamera({ bits: 10, subsampling, siting });
        const back = decodeRawFrame(record(light, camera), cameraReading(camera));
        for (let i = 64 * 10 + 8; i < 64 * 10 + 56; i++) {
          expect(Math.abs(back.r[i]! - light.r[i]!)).toBeLessThan(0.006);
          expect(Math.abs(back.g[i]! - light.g[i]!)).toBeLessThan(0.006);
        }
      }
  });
  it("block quantising keeps flat blocks and loses fine detail", () => {
    const flat = new Float32Array(256).fill(100);
    quantiseBlocks(flat, 16, 16, 8);
    for (const v of flat) expect(v).toBeCloseTo(100, 5);
    const fine = Float32Array.from({ length: 256 }, (_, i) => 100 + ((i + (i >> 4)) % 2 ? 1 : -1));
    quantiseBlocks(fine, 16, 16, 24);
    for (const v of fine) expect(Math.abs(v - 100)).toBeLessThan(0.5);
  });
});

describe("shoot", () => {
  it("the light is spill-free colour + spill + (1 − coverage) · screen, and noise-free codes hold it", () => {
    const stage = makeStage({ distance: 1, screen: { gradient: 1 } });
    const camera = makeCamera({ bits: 16 });
    const { plate, truth } = shoot(element(), stage, camera);
    const back = decodeRawFrame(plate, cameraReading(camera));
    let worst = 0;
    for (const c of ["r", "g", "b"] as const)
      for (let i = 0; i < back.r.length; i++) {
        const whole = truth.colour[c][i]! + truth.spill[c][i]! + (1 - truth.coverage.data[i]!) * truth.screen[c][i]!;
        worst = Math.max(worst, Math.abs(back[c][i]! - whole));
      }
    expect(worst).toBeLessThan(2e-4);
  });
  it("refuses an element with nothing solid in it", () => {
    const e = element();
    e.coverage.data.fill(0.5);
    expect(() => shoot(e, makeStage(), noiseless)).toThrow(/no solid part/);
  });
});

describe("each term of the stage is measured back by the report", () => {
  it.each([0.4, 0.8, 1.5])("a gradient of %d stops, within 0.05", (stops) => {
    const r = report(makeStage({ screen: { gradient: stops, angle: 20 } }));
    expect(r.evenness.gradient.stops).toBeGreaterThan(stops - 0.05);
    expect(r.evenness.gradient.stops).toBeLessThan(stops + 0.05);
    // As the picture stands, 16 wide and 9 high: the stage means a square.
    const asItStands = (Math.atan2(Math.sin(Math.PI / 9) / 9, Math.cos(Math.PI / 9) / 16) * 180) / Math.PI;
    expect(Math.abs(r.evenness.gradient.angle - asItStands)).toBeLessThan(6);
  });
  it.each([0.1, 0.25])("creases of ±%d stops, within a fifth", (stops) => {
    const { wrinkles } = report(makeStage({ screen: { wrinkles: { stops, count: 14 } } })).evenness;
    expect(Math.abs(wrinkles - stops)).toBeLessThan(0.2 * stops);
  });
  it("a hot spot: how much and where", () => {
    const { hotSpots } = report(makeStage({ screen: { hotSpots: [{ x: 0.2, y: 0.3, radius: 0.06, stops: 1 }] } })).evenness;
    expect(hotSpots).toHaveLength(1);
    expect(Math.abs(hotSpots[0]!.stops - 1)).toBeLessThan(0.15);
    expect(Math.hypot(hotSpots[0]!.x - 0.2 * 480, hotSpots[0]!.y - 0.3 * 270)).toBeLessThan(12);
  });
  it("a cast shadow is a dark patch", () => {
    const r = report(makeStage({ screen: { shadow: { x: 0.25, y: 0, blur: 0.01, stops: 0.9 } } }));
    expect(r.evenness.darkSpots.length).toBeGreaterThan(0);
    expect(Math.abs(r.evenness.darkSpots[0]!.stops + 0.9)).toBeLessThan(0.2);
    expect(r.findings.some((f) => /dark patch/.test(f.what))).toBe(true);
  });
  it.each([-2, -1, 0, 0.5])("a level of %d stops", (level) => {
    const r = report(makeStage({ distance: 6, screen: { level } }));
    expect(Math.abs(r.screen.under! + level)).toBeLessThan(0.08);
  });
  it("markers are counted and placed", () => {
    const at = [0.12, 0.3, 0.85].map((x) => ({ x, y: 0.25, size: 0.015, colour: { r: 0.7, g: 0.2, b: 0.04 } }));
    const r = report(makeStage({ screen: { markers: at } }));
    expect(r.markers).toHaveLength(3);
    for (const m of at)
      expect(r.markers.some((f) => Math.hypot(f.x + f.width / 2 - m.x * 480, f.y + f.height / 2 - m.y * 270) < 4)).toBe(true);
    expect(r.findings.find((f) => f.what === "Markers on the screen")).toMatchObject({ figure: "3" });
    // One alone may be a glint, or part of the subject: it is not called a marker.
    const one = report(makeStage({ screen: { markers: at.slice(0, 1) } })).findings.map((f) => f.what);
    expect(one).toContain("A small patch stands alone on the screen");
    expect(one).not.toContain("Markers on the screen");
  });
  it("where the screen ends, within 1 % of the width", () => {
    const r = report(makeStage({ screen: { endsAt: 0.83 } }));
    expect(Math.abs(r.screen.span[1] - 0.83)).toBeLessThan(0.01);
    expect(r.findings[0]!.what).toMatch(/ends inside the frame \(right/);
    expect(report(makeStage()).findings.some((f) => /ends inside/.test(f.what))).toBe(false);
  });
  it.each([0.004, 0.01])("noise of %d, within a tenth", (readNoise) => {
    const camera = makeCamera({ bits: 12, readNoise, transfer: "linear" });
    const r = report(makeStage(), camera);
    for (const c of ["r", "g", "b"] as const) expect(Math.abs(r.noise[c] / 100 - readNoise)).toBeLessThan(0.1 * readNoise);
  });
  it.each(["444", "422", "420"] as const)("true chroma of %s recorded as 4:4:4", (subsampling) => {
    const stage = makeStage();
    const light = shoot(element(), stage, noiseless).truth.light;
    const first = makeCamera({ bits: 10, subsampling, siting: "center", shotNoise: 0.0005 });
    const decoded = decodeRawFrame(record(light, first), cameraReading(first));
    const copy = record(decoded, makeCamera({ bits: 10, subsampling: "444" }));
    const r = reportPlate(decoded, { transfer: "bt709", chromaFormat: "4:4:4", pixelAspect: 1, raw: copy });
    expect(r.traces.trueChroma).toBe(subsampling.split("").join(":"));
  });
  it("block compression, and none without it", () => {
    const noisy = { bits: 8, shotNoise: 0.0008 } as const;
    expect(report(makeStage(), makeCamera({ ...noisy, blockStep: 24 })).traces.blocking).toBeGreaterThan(0.5);
    expect(report(makeStage(), makeCamera(noisy)).traces.blocking).toBeLessThan(0.15);
  });
  it("combing, and none in a progressive frame", () => {
    const stage = makeStage({ motion: { x: 24, y: 0 }, screen: { level: -2 } });
    expect(report(stage, makeCamera({ interlaced: true })).traces.combing).toBeGreaterThan(0.002);
    expect(report(stage, makeCamera()).traces.combing).toBeLessThan(0.0005);
  });
  it.each([12, 24])("motion blur of %d px, within a fifth", (length) => {
    const { edges } = report(makeStage({ distance: 12, motion: { x: 2 * length, y: 0 }, shutter: 180 }));
    expect(Math.abs(edges.widest - length)).toBeLessThan(0.2 * length);
  });
  it("non-square pixels squeeze the frame and are named", () => {
    const r = report(makeStage(), makeCamera({ pixelAspect: 1.333 }));
    expect(r.findings.some((f) => f.figure === "1.333")).toBe(true);
    const { plate } = shoot(element(), makeStage(), makeCamera({ pixelAspect: 1.333 }));
    expect(plate.width).toBe(360);
  });
  it("spill of a neutral subject, within a fifth", () => {
    for (const distance of [0.5, 1, 2]) {
      const stage = makeStage({ distance, screen: { level: 0 } });
      const { truth } = shoot(element(), stage, noiseless);
      // Truth: mean excess on the solid subject, relative to the screen's own.
      const k =
        (stage.screen.colour.g - 0.5 * (stage.screen.colour.r + stage.screen.colour.b)) *
        (luminance({ r: truth.screen.r[0]!, g: truth.screen.g[0]!, b: truth.screen.b[0]! }) / luminance(stage.screen.colour));
      let sum = 0;
      let count = 0;
      for (let i = 0; i < truth.coverage.data.length; i++)
        if (truth.coverage.data[i]! > 0.999) {
          sum += truth.spill.g[i]! - 0.5 * (truth.spill.r[i]! + truth.spill.b[i]!);
          count++;
        }
      const wanted = sum / count / k;
      const measured = report(stage).subject.spill;
      expect(Math.abs(measured - wanted), `at ${distance} m: ${measured} for ${wanted}`).toBeLessThan(0.25 * wanted);
    }
  });
});

describe("a grid of 104 stages drawn at random", () => {
  it("gradient, creases, level and noise are measured back together", () => {
    const next = random(2024);
    const e = element(320, 180);
    const off: Record<string, number[]> = { gradient: [], wrinkles: [], level: [], noise: [] };
    for (let k = 0; k < 104; k++) {
      const gradient = 1.6 * next();
      const wrinkles = 0.15 * next();
      const level = -1.5 + 2 * next();
      const readNoise = 0.002 + 0.006 * next();
      const stage = makeStage({
        distance: 5,
        screen: { gradient, angle: 360 * next() - 180, level, wrinkles: { stops: wrinkles, count: 8 + 5 * next() } },
      });
      const r = report(stage, makeCamera({ bits: 12, readNoise, transfer: "linear", seed: k + 1 }), e);
      off.gradient!.push(Math.abs(r.evenness.gradient.stops - gradient));
      off.wrinkles!.push(Math.abs(r.evenness.wrinkles - wrinkles));
      off.level!.push(Math.abs(r.screen.under! + level));
      off.noise!.push(Math.abs(r.noise.g / 100 - readNoise) / readNoise);
    }
    const at = (name: string, q: number) => off[name]!.sort((a, b) => a - b)[Math.floor(q * 103)]!;
    console.log(
      Object.keys(off)
        .map((n) => `${n}: median error ${at(n, 0.5).toFixed(4)}, 95 % under ${at(n, 0.95).toFixed(4)}`)
        .join("\n"),
    );
    expect(at("gradient", 0.95)).toBeLessThan(0.05);
    expect(at("wrinkles", 0.95)).toBeLessThan(0.04);
    expect(at("level", 0.95)).toBeLessThan(0.15);
    expect(at("noise", 0.95)).toBeLessThan(0.2);
  });
});
