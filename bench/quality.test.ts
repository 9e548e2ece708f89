import path from "node:path";
import { describe, expect, it } from "vitest";
import { readTruth } from "../demo/truth-set";
import type { NotSolved } from "../src/core/documents/proposed";
import { boxMean } from "../src/core/image/box";
import { distanceTo } from "../src/core/image/distance";
import { lumaOf } from "../src/core/image/luma";
import { maskOver, maskUnder } from "../src/core/image/mask";
import { cropChannel, fillAround, type Plane } from "../src/core/image/plane";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { turnChannel } from "../src/core/image/turn";
import { compositeError, matteError, spillLeft } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { judgeFrame } from "../src/core/recipe/judge";
import { holdUnsolved } from "../src/core/recipe/new-shape";
import type { Recipe } from "../src/core/recipe/schema";
import type { PlateSource } from "../src/core/recipe/sources";
import { StepCache } from "../src/core/recipe/step-cache";
import { measureLight } from "../src/core/screen/light";
import { cameraReading, record } from "../src/core/simulate/camera";
import { shoot } from "../src/core/simulate/shoot";
import { makeCamera, makeStage } from "../src/core/simulate/stage";
import { FrameReader } from "../src/server/media/frames";
import { probeFile } from "../src/server/media/probe";
import { scattered, throughLens } from "../tests/support/through-lens";
import { asJpeg, beforeScreen, CAMERA, NOISELESS, nearScreenCloth, SCREENS, testBackground, type Variant, variantOf } from "./variants";

/** The part of the quality bench that CI runs: bounds a little over the last result, so that a change for the worse fails. */
describe("auto on truth plates", () => {
  it.each([
    ["veil", "clean", { edge: 0.0005, core: 0.0007, background: 0.0003, deltaE: 1.2 }],
    // The rim: solid subject within 2 px of the edge, whose colour coarse chroma mixes with the screen's (6.7 before blue as recorded).
    // What is nearly solid is solid: the outermost pixels, which coarse chroma opens, for a little soft edge.
    ["veil", "camera", { edge: 0.0105, core: 0.001, background: 0.001, deltaE: 2, rim: 3.2 }],
    // Wood with motion blur, hair of many shades: a tenth of the best constant difference's error, 0.0155 and 0.0158.
    ["gloves", "clean", { edge: 0.0006, core: 0.0001, background: 0.0003, deltaE: 1.1 }],
    ["blue", "clean", { edge: 0.0015, core: 0.0005, background: 0.0003, deltaE: 1.2 }],
    ["blue", "camera", { edge: 0.024, core: 0.0009, background: 0.0014, deltaE: 2.3, rim: 3.3 }],
    // Thin smoke is no grain; shade, markers and lamps beside the screen are no subject.
    // Brass that mirrors the screen at its rims is closed; the lid's face, which mirrors it within solid brass, is told of.
    ["smoker", "clean", { edge: 0.00025, core: 0.0018, background: 0.0003, deltaE: 0.9, told: [304, 227], held: 0.0011 }],
    ["smoker", "camera", { edge: 0.0068, core: 0.016, background: 0.003, deltaE: 2.05, told: [304, 227], held: 0.0148 }],
    // Folds, seams and stains far from the subject are out; wood loses what the white coat shows of the screen's light.
    // The deep shade between boots is the screen's.
    ["wide", "clean", { edge: 0.007, core: 0.0005, background: 0.002, deltaE: 2, spill: 0.2 }],
    ["wide", "camera", { edge: 0.0205, core: 0.0028, background: 0.0025, deltaE: 2.65, rim: 3.6, spill: 0.2 }],
  ] as const)("%s, %s", async (name, variant, most) => {
    const t = await readTruth(name);
    const { picture, raw } = variantOf(t.plate, variant as Variant);
    const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
    const { recipe, notSolved } = proposeRecipe(picture, 1, undefined, recorded);
    const e = evaluate(recipe, { plate: { key: name, picture, ...recorded } }, { reduce: 1, outputs: ["matte", "foreground"] });
    const error = matteError(e.matte!, t.coverage);
    const deltaE = compositeError(e.foreground!, t.coverage, t.free, testBackground(t.plate.width, t.plate.height));
    console.log(
      `${name} ${variant}: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}, ΔE00 ${deltaE.toFixed(2)}`,
    );
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(most.background);
    expect(deltaE).toBeLessThan(most.deltaE);
    if ("rim" in most) {
      const depth = distanceTo(maskUnder(t.coverage.data, 0.998), t.coverage.width, t.coverage.height);
      const rim = { ...t.coverage, data: depth.map((d) => (d > 0 && d <= 2 ? 1 : 0)) };
      const onRim = compositeError(e.foreground!, t.coverage, t.free, testBackground(t.plate.width, t.plate.height), rim);
      console.log(`rim ΔE00 ${onRim.toFixed(2)}`);
      expect(onRim).toBeLessThan(most.rim);
    }
    if ("spill" in most) expect(spillLeft(e.foreground!, t.coverage, t.spilled, t.free, "g")).toBeLessThan(most.spill);
    // Gaps, however blurred or meshed, are not told of: a holdout would show the screen in them.
    const told: readonly (readonly [number, number])[] = "told" in most ? [most.told] : [];
    expect(notSolved.length).toBe(told.length);
    for (const [x, y] of told) {
      const holds = ({ place: p }: NotSolved) => x >= p.x && x < p.x + p.width && y >= p.y && y < p.y + p.height;
      expect(notSolved.some(holds)).toBe(true);
    }
    if ("held" in most) {
      // Held as it offers to, what is told of is solid, and nothing else changes.
      const { matte } = evaluate(
        holdUnsolved(recipe, notSolved),
        { plate: { key: name, picture, ...recorded } },
        { reduce: 1, outputs: ["matte"] },
      );
      const held = matteError(matte as Plane, t.coverage);
      console.log(`held: core ${held.core.toFixed(5)}`);
      expect(held.core).toBeLessThan(most.held);
      expect(held.edge).toBeCloseTo(error.edge, 6);
      expect(held.background).toBeCloseTo(error.background, 6);
    }
    if (name !== "gloves") return;
    // Sage cloth stays solid and keeps its own green; a plain limiter turns it grey, ΔE00 about 15.
    const cloth = nearScreenCloth(t);
    const where = [...cloth.data.keys()].filter((i) => cloth.data[i] === 1);
    const own = compositeError(e.foreground!, t.coverage, t.free, testBackground(t.plate.width, t.plate.height), cloth);
    const solid = where.reduce((sum, i) => sum + e.matte!.data[i]!, 0) / where.length;
    console.log(`sage cloth, ${where.length} px: matte ${solid.toFixed(4)}, ΔE00 ${own.toFixed(2)}`);
    expect(where.length).toBeGreaterThan(10_000);
    expect(solid).toBeGreaterThan(0.98);
    expect(own).toBeLessThan(2);
  });
});

/**
 * Grain falls as it may. On five draws of six a lamp's stand stayed, since grain cut off the dark between its legs (background 0.005), and on two a
 * marker that hangs on the subject by its shadow.
 */
describe("auto on other draws of the grain", () => {
  it.each([2, 77])("wide, %d", async (seed) => {
    const t = await readTruth("wide");
    const { picture, raw } = variantOf(t.plate, "camera", seed);
    const recorded = { raw: raw!, reading: cameraReading(CAMERA) };
    const { recipe, notSolved } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: "wide", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, t.coverage);
    expect(error.background).toBeLessThan(0.0013);
    expect(error.edge).toBeLessThan(0.0205);
    expect(error.core).toBeLessThan(0.004);
    expect(notSolved).toEqual([]);
  });
});

/** As little as half a percent of the rim's light, no more than straw and skin have of their own, was not told of. */
describe("spill that is left on truth plates", () => {
  it.each([
    ["veil", "clean"],
    ["gloves", "camera"],
  ] as const)("%s, %s: is named, until it is taken", async (name, variant) => {
    const t = await readTruth(name);
    const { picture, raw } = variantOf(t.plate, variant);
    const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
    const { recipe } = proposeRecipe(picture, 1, undefined, recorded);
    const pass = recipe.passes[0]!;
    const named = (amount: number) => {
      const spoilt = { ...recipe, passes: [{ ...pass, spill: { ...pass.spill, amount } }] };
      const sources = { plate: { key: name, picture, ...recorded } };
      return judgeFrame(spoilt, sources, { frame: 1, reduce: 1, pass: pass.id }, cache).list.map((f) => f.kind);
    };
    const cache = new StepCache();
    expect(named(0)).toContain("spill-left");
    expect(named(1)).not.toContain("spill-left");
  });
});

/** Blocks and ripples of a codec scattered some forty islands over the screen, of up to a tenth. */
describe("auto on a clip that compresses", () => {
  it("leaves nothing standing alone on the screen", async () => {
    const file = path.join(import.meta.dirname, "../demo/footage/lh-010-veil-at-the-hive.mp4");
    const { reading, ...info } = await probeFile(file);
    const raw = await new FrameReader(file, { reading, ...info }).frame(1);
    const picture = decodeRawFrame(raw, reading);
    const recorded = { raw, reading };
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const { matte, pull } = evaluate(recipe, { plate: { key: "clip", picture, recorded } }, { reduce: 1, outputs: ["matte", "pull"] });
    const toSolid = distanceTo(maskOver(pull!.data, 0.88), raw.width, raw.height);
    const count = (m: Plane) => m.data.reduce((sum, v, i) => sum + (v > 0.01 && toSolid[i]! > raw.height / 12 ? 1 : 0), 0);
    expect(count(pull!)).toBeGreaterThan(500);
    expect(count(matte!)).toBeLessThan(40);
  });
});

/** Bars burnt in after the camera: what is inside them is pulled as well as without, to the last line. */
describe("auto inside black bars", () => {
  it.each([
    // Hair and hat run into the bar above, a table into the one below.
    ["gloves", { top: 36, left: 0 }, { edge: 0.006, core: 0.0003, background: 0.0012 }],
    // The dark studio beside the screen, whose corners are behind the bars; few markers stand clear of them, beside many stains.
    ["wide", { top: 37, left: 0 }, { edge: 0.0165, core: 0.0035, background: 0.0012 }],
    ["veil", { top: 0, left: 81 }, { edge: 0.0108, core: 0.0011, background: 0.0011 }],
  ] as const)("%s", async (name, { top, left }, most) => {
    const t = await readTruth(name);
    const { width, height } = t.plate;
    const inside = { x: left, y: top, width: width - 2 * left, height: height - 2 * top };
    const light = { ...t.plate, r: t.plate.r.slice(), g: t.plate.g.slice(), b: t.plate.b.slice() };
    for (const c of [light.r, light.g, light.b]) fillAround(c, width, inside, 0);
    const { picture, raw } = variantOf(light, "camera");
    const recorded = { recorded: { raw: raw!, reading: cameraReading(CAMERA) } };
    const { recipe, reasons } = proposeRecipe(picture, 1, undefined, recorded);
    expect(reasons.join(" ")).toContain(`a picture of ${inside.width}×${inside.height} px`);
    if (name === "wide") expect(reasons.join(" ")).toContain("5 markers on the screen");
    const matte = evaluate(recipe, { plate: { key: name, picture, ...recorded } }, { reduce: 1, outputs: ["matte"] }).matte!;
    const cut = (p: Plane): Plane => ({ ...inside, data: cropChannel(p.data, width, inside) });
    const error = matteError(cut(matte), cut(t.coverage));
    console.log(
      `${name} in bars: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}`,
    );
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(most.background);
    const within = matte.data.slice();
    fillAround(within, width, inside, 0);
    expect(within).toEqual(matte.data);
  });
});

/**
 * A lens spreads every edge: blurred light is what a camera gets, and blurred coverage is the truth. Veils get smooth and take the screen's
 * hue; they were taken for the screen in shade, and for reflections to close: 1.4 to 2 of the best constant difference's edge error.
 */
describe("auto out of focus", () => {
  it.each([
    ["veil", 1, "camera", { edge: 0.0044, core: 0.0003, background: 0.0005 }],
    ["veil", 3, "clean", { edge: 0.002, core: 0.0003, background: 0.0003 }],
    ["blue", 1, "camera", { edge: 0.006, core: 0.0003, background: 0.0004 }],
    ["blue", 3, "camera", { edge: 0.0048, core: 0.0003, background: 0.0003 }],
  ] as const)("%s, twice a box of radius %d, %s", async (name, radius, variant, most) => {
    const t = await readTruth(name);
    const { width, height } = t.plate;
    const blur = (c: Float32Array) => boxMean(boxMean(c, width, height, radius), width, height, radius);
    const light = { ...t.plate, r: blur(t.plate.r), g: blur(t.plate.g), b: blur(t.plate.b) };
    const { picture, raw } = variantOf(light, variant);
    const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
    const { recipe } = proposeRecipe(picture, 1, undefined, recorded);
    const e = evaluate(recipe, { plate: { key: name, picture, ...recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, { ...t.coverage, data: blur(t.coverage.data) });
    console.log(
      `${name} out of focus: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}`,
    );
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(most.background);
  });
});

/** Colour recorded for every pixel has all of its grain: it comes off for the matte, so that rims can be looked through. */
describe("auto on grainy 4:4:4 and 4:2:2", () => {
  it.each([
    // With all the grain: edge 0.0071, core 0.0003.
    ["gloves", "444", 1, { edge: 0.003, core: 0.0001, background: 0.0006 }],
    ["smoker", "444", 1, { edge: 0.0012, core: 0.003, background: 0.0006 }],
    ["veil", "444", 1, { edge: 0.0021, core: 0.0003, background: 0.0005 }],
    // Its densest smoke was taken for cloth, and every ray that met it drew a line: edge 0.036.
    ["smoker", "422", 3, { edge: 0.0063, core: 0.0095, background: 0.0014 }],
  ] as const)("%s, %s, %d times the grain", async (name, subsampling, grain, most) => {
    const t = await readTruth(name);
    const camera = makeCamera({ shotNoise: 0.0004 * grain, readNoise: 0.0015 * grain, bits: 10, subsampling, siting: "left", seed: 12 });
    const recorded = { raw: record(t.plate, camera), reading: cameraReading(camera) };
    const picture = decodeRawFrame(recorded.raw, recorded.reading);
    const { recipe, reasons } = proposeRecipe(picture, 1, undefined, { recorded });
    expect(recipe.prepare.denoiseChroma > 0).toBe(subsampling === "444");
    expect(reasons.some((r) => r.startsWith("Grain taken off colour"))).toBe(subsampling === "444");
    const error = matteError(
      evaluate(recipe, { plate: { key: name, picture, recorded } }, { reduce: 1, outputs: ["matte"] }).matte!,
      t.coverage,
    );
    console.log(
      `${name} ${subsampling}: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}`,
    );
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(most.background);
  });
});

/** The same subject before screens of other hues, shot on the simulated stage: warm wood, straw and skin, sage cloth, mesh. */
describe("auto before other screens", () => {
  it.each([
    ["green", "clean", { edge: 0.0006, core: 0.0015, deltaE: 0.5 }],
    // Sage cloth has nearly the screen's own hue there.
    ["lime", "clean", { edge: 0.0009, core: 0.001, deltaE: 1.1 }],
    ["lime", "camera", { edge: 0.0225, core: 0.0025, deltaE: 2.4 }],
    // Between two primaries: skin and wood lead in red themselves.
    ["magenta", "clean", { edge: 0.0003, core: 0.0005, deltaE: 0.6 }],
    ["magenta", "camera", { edge: 0.0175, core: 0.0035, deltaE: 2.1 }],
    ["violet", "camera", { edge: 0.022, core: 0.002, deltaE: 2.4 }],
  ] as const)("%s, %s", async (name, variant, most) => {
    const camera = variant === "clean" ? NOISELESS : CAMERA;
    const t = await readTruth("veil");
    const { picture, recorded } = beforeScreen(t, SCREENS[name], camera);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: name, picture, recorded } }, { reduce: 1, outputs: ["matte", "foreground"] });
    const error = matteError(e.matte!, t.coverage);
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(0.002);
    expect(compositeError(e.foreground!, t.coverage, t.free, testBackground(picture.width, picture.height))).toBeLessThan(most.deltaE);
  });
});

/**
 * The whole picture moves while the shutter is open, 16 or 50 px of 640. Straws were taken for green cloth: 0.0123 and 0.0304 of edge error. Mixtures
 * of warm subjects, taken for certain, asked for a weight near 1: straws by 50 px 0.033 and 0.050, and sage gloves opened along their folds.
 */
describe("auto on subjects in motion", () => {
  it.each([
    ["smoker", 16, "clean", { edge: 0.0012, core: 0.001 }],
    ["smoker", 16, "camera", { edge: 0.0075, core: 0.001 }],
    ["smoker", 50, "clean", { edge: 0.0015, core: 0.0005 }],
    ["smoker", 50, "camera", { edge: 0.009, core: 0.0002 }],
    ["gloves", 50, "clean", { edge: 0.0025, core: 0.0002 }],
    ["gloves", 50, "camera", { edge: 0.0042, core: 0.0002 }],
    ["veil", 16, "camera", { edge: 0.008, core: 0.0002 }],
    // Pale cloth, blurred, was taken for cloth of the screen's hue where the weight was right.
    ["wide", 50, "clean", { edge: 0.0052, core: 0.0002 }],
  ] as const)("%s, %d px, %s", async (name, x, variant, most) => {
    const { coverage, free } = await readTruth(name);
    const camera = variant === "clean" ? NOISELESS : CAMERA;
    const stage = makeStage({ distance: 3, screen: { gradient: 0.5 }, motion: { x, y: 0 } });
    const { plate, truth } = shoot({ coverage, colour: free }, stage, camera);
    const reading = cameraReading(camera);
    const [picture, recorded] = [decodeRawFrame(plate, reading), { raw: plate, reading }];
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: "motion", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, truth.coverage);
    console.log(`${name} in motion by ${x} px, ${variant}: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}`);
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(0.0005);
  });
});

/** Brick-red and brown wood have nearly the hue of a magenta screen in shade: core error was 0.037 and 0.084. */
describe("auto on wood before magenta", () => {
  it.each([
    ["clean", 0.0075],
    ["camera", 0.024],
  ] as const)("%s", async (variant, most) => {
    const t = await readTruth("smoker");
    const { picture, recorded } = beforeScreen(t, SCREENS.magenta, variant === "clean" ? NOISELESS : CAMERA, { gradient: 0 });
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: "wood", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, t.coverage);
    console.log(`wood before magenta, ${variant}: core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}`);
    expect(error.core).toBeLessThan(most);
    expect(error.background).toBeLessThan(0.003);
  });
});

/** Before a screen as dark as that, or in the subject's shadow, a sage glove's excess is the screen's or more: all of it was lost. */
describe("auto before a dark screen", () => {
  const shadow = { x: 0.08, y: 0.05, blur: 0.01, stops: 1.2 };
  it.each([
    ["veil", "two stops under the subject", { level: -2 }, "clean", 0.003],
    ["veil", "two stops under the subject", { level: -2 }, "camera", 0.006],
    ["veil", "in its shadow", { shadow }, "clean", 0.0013],
    ["veil", "in its shadow", { shadow }, "camera", 0.0035],
    // Gloves that move: most of their outline is soft. By outlines alone 0.103, 0.106, 0.091 and 0.093 were lost.
    ["gloves", "a stop under the subject", { level: -1 }, "clean", 0.0035],
    ["gloves", "a stop under the subject", { level: -1 }, "camera", 0.0025],
    ["gloves", "in its shadow", { shadow }, "clean", 0.0038],
    ["gloves", "in its shadow", { shadow }, "camera", 0.003],
  ] as const)("%s, %s, %s", async (name, _, screen, variant, most) => {
    const t = await readTruth(name);
    const { picture, recorded } = beforeScreen(t, SCREENS.green, variant === "clean" ? NOISELESS : CAMERA, screen);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: "dark", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, t.coverage);
    const cloth = nearScreenCloth(t).data;
    const where = [...cloth.keys()].filter((i) => cloth[i] === 1);
    const solid = where.reduce((sum, i) => sum + e.matte!.data[i]!, 0) / where.length;
    console.log(
      `dark, ${name}, ${variant}: sage cloth ${solid.toFixed(4)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}, edge ${error.edge.toExponential(2)}`,
    );
    expect(error.core).toBeLessThan(most);
    expect(error.background).toBeLessThan(0.003);
    expect(solid).toBeGreaterThan(0.97);
  });
});

/** Smoke is paler than such screens and may end sharply: all of it was taken for cloth (edge error 0.34). */
describe("auto on smoke before even screens and such that fall off", () => {
  it.each([
    ["half a stop under the subject", { level: -0.5 }, "clean", 0.0003],
    ["half a stop under the subject", { level: -0.5 }, "camera", 0.012],
    ["a stop under the subject", { level: -1 }, "clean", 0.0006],
    // Lit from below, so that the screen is darkest where smoke hides it up to the border: filled from around, 0.041 and 0.050.
    ["two stops brighter at its foot", { gradient: 2, angle: 90 }, "clean", 0.0002],
    ["two stops brighter at its foot", { gradient: 2, angle: 90 }, "camera", 0.022],
  ] as const)("%s, %s", async (_, screen, variant, most) => {
    const t = await readTruth("smoker");
    const { picture, recorded } = beforeScreen(t, SCREENS.green, variant === "clean" ? NOISELESS : CAMERA, { gradient: 0, ...screen });
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const e = evaluate(recipe, { plate: { key: "smoke", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, t.coverage);
    console.log(`smoke before a screen ${JSON.stringify(screen)}, ${variant}: edge ${error.edge.toExponential(2)}`);
    expect(error.edge).toBeLessThan(most);
  });
});

/** Cut along the end to the pixel: the sleeve before the screen was thrown away with the part beyond it, core error 0.18 of the whole. */
describe("auto where an arm passes the screen's end", () => {
  it.each([
    ["clean", { edge: 0.0025, core: 0.002 }],
    ["camera", { edge: 0.0077, core: 0.0012 }],
  ] as const)("gloves, %s", async (variant, most) => {
    const t = await readTruth("gloves");
    const { picture, recorded } = beforeScreen(t, SCREENS.green, variant === "clean" ? NOISELESS : CAMERA, { endsAt: 0.85 });
    const { recipe, notSolved } = proposeRecipe(picture, 1, undefined, { recorded });
    expect(notSolved.map((n) => n.kind)).toContain("passes-end");
    const matte = evaluate(recipe, { plate: { key: "passes", picture, recorded } }, { reduce: 1, outputs: ["matte"] }).matte!;
    const { width, height } = picture;
    const cut = (p: Plane, x: number, w: number): Plane => {
      const place = { x, y: 0, width: w, height };
      return { width: w, height, data: cropChannel(p.data, width, place) };
    };
    // Some pixels before the end belong to its rim.
    const end = Math.round(0.85 * width);
    const error = matteError(cut(matte, 0, end - 5), cut(t.coverage, 0, end - 5));
    console.log(`an arm passes the end, ${variant}: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}`);
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(cut(matte, end, width - end).data.every((v) => v === 0)).toBe(true);
  });
});

/** By the product's own screen and matte, on a stage whose light falls off, with a hot spot and creases: about half a stop from end to end. */
describe("the levelled plate of auto", () => {
  it.each([
    ["veil", "clean"],
    ["gloves", "camera"],
  ] as const)("%s, %s: under 0.02 stop of unevenness where the screen shows, grain apart", async (name, variant) => {
    const camera = variant === "clean" ? NOISELESS : CAMERA;
    const { coverage, free } = await readTruth(name);
    const hotSpots = [{ x: 0.3, y: 0.4, radius: 0.3, stops: 0.5 }];
    const stage = makeStage({ distance: 3, screen: { gradient: 1, angle: 30, hotSpots, wrinkles: { stops: 0.05, count: 14 } } });
    const { plate, truth } = shoot({ coverage, colour: free }, stage, camera);
    const reading = cameraReading(camera);
    const [picture, recorded] = [decodeRawFrame(plate, reading), { raw: plate, reading }];
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const levelled = evaluate(recipe, { plate: { key: "level", picture, recorded } }, { reduce: 1, outputs: ["levelled"] }).levelled!;
    const shows = maskUnder(truth.coverage.data, 1e-6);
    const [before, after] = [picture, levelled].map((p) => measureLight(lumaOf(p), shows));
    console.log(`levelled ${name}, ${variant}: spread ${before!.spread.toFixed(3)} → ${after!.spread.toFixed(4)} stops`);
    expect(before!.deviation).toBeGreaterThan(0.1);
    expect(after!.deviation).toBeLessThan(0.01);
    if (variant === "clean") expect(after!.spread).toBeLessThan(0.02);
  });
});

/** What a picture file makes of the plates: colour at half the resolution, told from the pixels alone. */
describe("auto on JPEG stills", () => {
  it.each([
    // Without the rebuilt chroma: edge 0.0187 and 0.033, core 0.0074 and 0.0061.
    ["veil", { edge: 0.015, core: 0.002, background: 0.0015 }],
    ["blue", { edge: 0.029, core: 0.0011, background: 0.0023 }],
  ] as const)("%s", async (name, most) => {
    const t = await readTruth(name);
    const { picture, recorded } = await asJpeg(t.plate);
    const { recipe, reasons } = proposeRecipe(picture, 1, undefined, { recorded });
    expect(reasons.join(" ")).toContain("its colour was recorded as 4:2:0");
    const e = evaluate(recipe, { plate: { key: name, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, t.coverage);
    console.log(
      `${name} as JPEG: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}, background ${error.background.toFixed(5)}`,
    );
    expect(error.edge).toBeLessThan(most.edge);
    expect(error.core).toBeLessThan(most.core);
    expect(error.background).toBeLessThan(most.background);
  });
  it("that lie on their side and are to be turned are proposed for as they stand", async () => {
    const [width, height] = [320, 200];
    const { plate, truth } = throughLens(width, height, scattered(width, height, 16), SCREENS.green, { red: 0, blue: 0 });
    const lying = await asJpeg(plate);
    const raw: RawFrame = { ...lying.recorded.raw, turn: 1 };
    const recorded = { raw, reading: lying.recorded.reading };
    const picture = decodeRawFrame(raw, recorded.reading);
    const { recipe, reasons } = proposeRecipe(picture, 1, undefined, { recorded });
    expect(reasons.join(" ")).toContain("its colour was recorded as 4:2:0");
    const seen = (r: Recipe, source: PlateSource) => evaluate(r, { plate: source }, { reduce: 1, outputs: ["matte"] }).matte!;
    const upright = proposeRecipe(lying.picture, 1, undefined, { recorded: lying.recorded }).recipe;
    const core = matteError(seen(upright, { key: "upright", ...lying }), truth).core;
    const standing = { width: height, height: width, data: turnChannel(truth.data, width, height, 1) };
    expect(matteError(seen(recipe, { key: "lying", picture, recorded }), standing).core).toBeCloseTo(core, 3);
    expect(recipe.passes[0]!.pull.unmix.floor).toBeCloseTo(upright.passes[0]!.pull.unmix.floor, 2);
  });
});
