import { describe, expect, it } from "vitest";
import { sharpened } from "../../../tests/support/sharpened";
import { scattered, throughLens } from "../../../tests/support/through-lens";
import { codesOf, throughMosaic, throughSharpLens } from "../../../tests/support/through-mosaic";
import type { Rgb } from "../color/hue";
import { linearToSrgb, srgbToLinear } from "../color/srgb";
import { gaussianBlur } from "../image/blur";
import { normal } from "../image/normal";
import type { Picture, Plane } from "../image/plane";
import { random } from "../image/random";
import { decodeRawFrame } from "../image/raw-frame";
import { turnChannel, turnPicture } from "../image/turn";
import { matteError } from "../measure/truth-error";
import { screenPrimary } from "../screen/primary";
import { cameraReading, record } from "../simulate/camera";
import { type At, type Drawn, disc, drawPlate, even } from "../simulate/draw-plate";
import { makeCamera } from "../simulate/stage";
import { proposeRecipe } from "./auto";
import { evaluate } from "./evaluate";
import { defaultRecipe, recipeSchema } from "./schema";

const SCREEN = { r: 0.05, g: 0.38, b: 0.08 };
/** A plate of known coverage over a screen that gets lighter to the right. */
const plateOf = (width: number, height: number, things: readonly Drawn[], light: At<number> = () => 1) =>
  drawPlate(width, height, things, (x, y) => {
    const k = (0.85 + (0.3 * x) / width) * light(x, y);
    return { r: k * SCREEN.r, g: k * SCREEN.g, b: k * SCREEN.b };
  });
const inCodes = (p: Picture): Picture => {
  const codes = (c: Float32Array) => c.map((v) => srgbToLinear(Math.round(255 * linearToSrgb(Math.min(1, v))) / 255));
  return { ...p, r: codes(p.r), g: codes(p.g), b: codes(p.b) };
};
const DARK = { r: 0.02, g: 0.02, b: 0.02 };
const skin = even(0.56, 0.33, 0.24);

function proposed(plate: Picture): { matte: Plane; recipe: ReturnType<typeof proposeRecipe>["recipe"] } {
  const { recipe } = proposeRecipe(plate, 1);
  return { recipe, matte: evaluate(recipe, { plate: { key: "drawn", picture: plate } }, { reduce: 1, outputs: ["matte"] }).matte as Plane };
}

describe("a proposal", () => {
  it("measures an upright frame as the same one lying", () => {
    // Its copies are half its size, lying and upright.
    const [w, h] = [960, 540];
    const figure = { covers: (x: number, y: number) => (Math.abs(x - 480) < 105 && y > 180 ? 1 : 0), colour: skin };
    const hangs = (x: number, y: number) => y > 90 && y <= 180 && Math.abs(x - 480) < 105;
    const strands = { covers: (x: number, y: number) => (hangs(x, y) && x % 6 < 1 ? 1 : 0), colour: even(0.2, 0.12, 0.06) };
    const { plate } = plateOf(w, h, [figure, strands]);
    const [lying, upright] = [proposed(plate), proposed(turnPicture(plate, 1))];
    const lengths = ({ passes: [pass] }: typeof lying.recipe) => {
      const { matte, pull } = pass as (typeof lying.recipe.passes)[number];
      return { bounds: matte.bounds, reach: pull.unmix.reach, rims: pull.unmix.rims };
    };
    expect(lengths(upright.recipe)).toEqual(lengths(lying.recipe));
    const turned = turnChannel(lying.matte.data, w, h, 1);
    const apart = turned.reduce((sum, v, i) => sum + (v - (upright.matte.data[i] as number)) ** 2, 0) / turned.length;
    expect(Math.sqrt(apart)).toBeLessThan(1e-5);
  });
  it("tells the weight for straws by what of them covers most, as nothing of them lies deeper than the margin", () => {
    const at = (x: number, y: number, lean: number) => (((x + lean * y) % 30) + 30) % 30 < 5;
    const covers: At<number> = (x, y) => (y > 90 && (at(x, y, 0.5) || at(x, y, -0.4)) ? 1 : 0);
    const colour: At<Rgb> = (x, y) => (at(x, y, 0.5) ? { r: 0.5, g: 0.38, b: 0.14 } : { r: 0.62, g: 0.52, b: 0.26 });
    const { plate, truth } = plateOf(640, 360, [{ covers, colour }]);
    const { recipe, reasons } = proposeRecipe(plate, 1);
    expect(reasons.join(" ")).toContain("thin or blurred things");
    const { matte } = evaluate(recipe, { plate: { key: "straws", picture: plate } }, { reduce: 1, outputs: ["matte"] });
    // By equal weights, as they were, 0.0178 of edge and 0.16 of what covers wholly stayed open on such straws.
    const error = matteError(matte as Plane, truth);
    expect(error.edge).toBeLessThan(0.004);
    expect(error.core).toBeLessThan(0.01);
    // The mean of the other channels would take pale straw's own green: on a frame of 720 lines, ΔE 9 where the mix leaves 3.
    const [{ pull, spill }] = recipe.passes as [(typeof recipe.passes)[number]];
    expect(spill).toMatchObject({ limit: "mix", mix: pull.weight });
    // A dark studio beside the screen is wide enough, and says nothing of the straws.
    const studio = { covers: (x: number) => (x > 520 ? 1 : 0), colour: even(0.012, 0.011, 0.01) };
    const beside = proposeRecipe(plateOf(640, 360, [{ covers, colour }, studio]).plate, 1).recipe;
    const weightIn = (r: typeof recipe) => r.passes[0]!.pull.weight;
    expect(Math.abs(weightIn(beside) - weightIn(recipe))).toBeLessThan(0.06);
  });
  it("closes most of a checked coat whose pale checks are like its dark ones mixed with the screen, in folds as deep as they are", () => {
    const coat = { a: { r: 0.51, g: 0.1, b: 0.58 }, b: { r: 0.39, g: 0.35, b: 0.52 } };
    const noise = normal(random(3));
    const folds = Float32Array.from({ length: 240 * 134 }, () => Math.exp(0.12 * noise()));
    const checked: Drawn = {
      covers: disc(360, 240, 130),
      colour: (x, y) => {
        const { r, g, b } = (Math.floor(x / 10) + Math.floor(y / 10)) % 2 ? coat.a : coat.b;
        const k = (0.55 + 0.35 * Math.sin(x / 60) * Math.cos(y / 45)) * (folds[240 * Math.floor(y / 3) + Math.floor(x / 3)] as number);
        return { r: k * r, g: k * g, b: k * b };
      },
    };
    const screen: At<Rgb> = (x) => ({ r: 0.07 * (0.9 + x / 3600), g: 0.33 * (0.9 + x / 3600), b: 0.155 * (0.9 + x / 3600) });
    const { plate, truth } = drawPlate(720, 400, [{ covers: disc(360, 70, 50), colour: skin }, checked], screen);
    // Its rim, where hair would be as thin, stays open; without closing it is 0.089.
    expect(matteError(proposed(inCodes(plate)).matte, truth).core).toBeLessThan(0.04);
  });
  it("takes heavy grain of a camera off light and coarse colour, which halves its specks and costs no edge, and leaves light grain alone", () => {
    const [w, h] = [320, 180];
    const { plate, truth } = plateOf(w, h, [{ covers: disc(160, 90, 50), colour: skin }], () => 0.4);
    const camera = (times: number) =>
      makeCamera({ shotNoise: 0.0004 * times * times, readNoise: 0.0015 * times, bits: 8, subsampling: "420", siting: "left", seed: 5 });
    const told = (times: number, plain = false) => {
      const raw = record(plate, camera(times));
      const recorded = { raw, reading: cameraReading(camera(times)) };
      const picture = decodeRawFrame(raw, recorded.reading);
      const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
      const shown = plain ? { ...recipe, prepare: { ...recipe.prepare, denoiseLuma: 0, denoiseChroma: 0 } } : recipe;
      const source = { plate: { key: `${times}`, picture, recorded } };
      return {
        recipe: recipeSchema.parse(recipe),
        error: matteError(evaluate(shown, source, { reduce: 1, outputs: ["matte"] }).matte as Plane, truth),
      };
    };
    expect(told(1).recipe.prepare).toMatchObject({ denoiseLuma: 0, denoiseChroma: 0 });
    const { recipe, error } = told(4);
    expect(recipe.prepare.denoiseLuma).toBeGreaterThan(0.005);
    expect(recipe.prepare.denoiseChroma).toBeGreaterThan(0);
    const { error: plain } = told(4, true);
    expect(error.background).toBeLessThan(plain.background / 2);
    expect(error.edge).toBeLessThan(1.02 * plain.edge);
    expect(error.core).toBeLessThan(0.001);
  });
  it("clears a faded screen, in which grain reaches far, by bounds that begin above it", () => {
    const [w, h] = [320, 180];
    const { plate, truth } = drawPlate(w, h, [{ covers: disc(160, 90, 50), colour: skin }], () => ({ r: 0.2, g: 0.36, b: 0.22 }));
    const camera = makeCamera({ shotNoise: 0.002, readNoise: 0.007, bits: 8, subsampling: "420", siting: "left", seed: 5 });
    const raw = record(plate, camera);
    const recorded = { raw, reading: cameraReading(camera) };
    const picture = decodeRawFrame(raw, recorded.reading);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const outLevel = recipe.passes[0]!.matte.bounds.outLevel;
    expect(outLevel).toBeGreaterThan(0.13);
    const errorFrom = (level: number) => {
      const shown = structuredClone(recipe);
      shown.passes[0]!.matte.bounds.outLevel = level;
      const source = { plate: { key: "faded", picture, recorded } };
      return matteError(evaluate(shown, source, { reduce: 1, outputs: ["matte"] }).matte as Plane, truth);
    };
    const [error, usual] = [errorFrom(outLevel), errorFrom(0.12)];
    console.log(
      `faded: out ${outLevel}, background ${error.background.toFixed(4)} (${usual.background.toFixed(4)}), edge ${error.edge.toFixed(5)} (${usual.edge.toFixed(5)})`,
    );
    expect(error.background).toBeLessThan(usual.background / 2);
    expect(error.edge).toBeLessThan(1.05 * usual.edge);
  });
  it("takes grain off colour by what the screen has of it, none where there is none, and stays within a recipe's ranges however bright the plate", () => {
    const [w, h] = [320, 180];
    const { plate } = plateOf(w, h, [{ covers: disc(160, 90, 50), colour: skin }]);
    const grainy = (deviation: number, exposure: number): Picture => {
      const next = normal(random(3));
      const c = (v: Float32Array) => v.map((l) => exposure * Math.max(0, l + deviation * next()));
      return { ...plate, r: c(plate.r), g: c(plate.g), b: c(plate.b) };
    };
    const dose = (p: Picture) => recipeSchema.parse(proposeRecipe(p, 1).recipe).prepare.denoiseChroma;
    expect(dose(plate)).toBe(0);
    const [light, heavy] = [dose(grainy(0.008, 1)), dose(grainy(0.016, 1))];
    expect(light).toBeGreaterThan(0.004);
    expect(heavy / light).toBeCloseTo(2, 0);
    expect(dose(grainy(0.016, 40))).toBe(0.1);
  });

  it("takes a lens's fringes out of the matte's copy, which gains most of the edge that they cost; the picture keeps its pixels", () => {
    const [w, h] = [640, 360];
    const discs = scattered(w, h, 16);
    const through = (red: number, blue: number) => {
      const { plate, truth } = throughLens(w, h, discs, SCREEN, { red, blue });
      const { recipe, reasons } = proposeRecipe(plate, 1);
      const error = (shown: typeof recipe) => {
        const out = evaluate(shown, { plate: { key: `${red}`, picture: plate } }, { reduce: 1, outputs: ["matte", "foreground"] });
        return { edge: matteError(out.matte as Plane, truth).edge, picture: out.foreground as Picture };
      };
      return { plate, recipe, reasons: reasons.filter((r) => r.startsWith("Lens fringes")), error };
    };
    const none = through(0, 0);
    expect(none.recipe.prepare.fringes).toEqual({ red: 0, blue: 0 });
    expect(none.reasons).toEqual([]);
    const { plate, recipe, reasons, error } = through(1.6, -1.2);
    expect(recipeSchema.parse(recipe).prepare.fringes.red).toBeCloseTo(1.6, 0);
    expect(recipe.prepare.fringes.blue).toBeCloseTo(-1.2, 0);
    expect(reasons[0]).toMatch(/^Lens fringes: red is drawn 1\.\d\d px larger and blue 1\.\d\d px smaller than green at the corners/);
    const { edge, picture } = error(recipe);
    const fringed = error({ ...recipe, prepare: { ...recipe.prepare, fringes: { red: 0, blue: 0 } } });
    expect(edge - none.error(none.recipe).edge).toBeLessThan(0.4 * (fringed.edge - none.error(none.recipe).edge));
    // Deep inside a disc, where nothing is mixed or spilt, the picture is the plate.
    const { x, y } = discs.at(-1)!;
    const inside = Math.round(y) * w + Math.round(x);
    for (const c of ["r", "g", "b"] as const) expect(picture[c][inside]).toBeCloseTo(plate[c][inside]!, 5);
  });

  it("undoes a camera's sharpening for the matte, which gains the edge that it costs", () => {
    const [w, h] = [480, 270];
    const discs = [
      ...scattered(w, h, 20),
      ...Array.from({ length: 20 }, (_, k) => ({ x: 12 + 24 * k, y: 20 + (k % 5) * 50, radius: 0.9, colour: DARK })),
    ];
    const { plate, truth } = throughLens(w, h, discs, SCREEN, { red: 0, blue: 0 });
    const camera = makeCamera({ shotNoise: 0.0004, readNoise: 0.0015, bits: 8, subsampling: "420", siting: "left", seed: 5 });
    const reading = cameraReading(camera);
    const shot = (amount: number) => {
      const raw = sharpened(record(plate, camera), amount);
      const recorded = { raw, reading };
      const picture = decodeRawFrame(raw, reading);
      const { recipe, reasons } = proposeRecipe(picture, 1, undefined, { recorded });
      const edge = (undo: number) => {
        const shown = { ...recipe, prepare: { ...recipe.prepare, sharpening: { ...recipe.prepare.sharpening, amount: undo } } };
        const { matte } = evaluate(shown, { plate: { key: `${amount}`, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
        return matteError(matte as Plane, truth).edge;
      };
      return { told: recipeSchema.parse(recipe).prepare.sharpening.amount, reasons, edge };
    };
    const plain = shot(0);
    expect(plain.told).toBe(0);
    expect(plain.reasons.some((r) => r.startsWith("Sharpening"))).toBe(false);
    const sharp = shot(1);
    expect(sharp.reasons.some((r) => r.startsWith("Sharpening undone for the matte"))).toBe(true);
    const [left, undone, unsharpened] = [sharp.edge(0), sharp.edge(sharp.told), plain.edge(0)];
    expect(left).toBeGreaterThan(1.1 * unsharpened);
    expect(undone - unsharpened).toBeLessThan(0.4 * (left - unsharpened));
  });

  it("clears a mosaic's false colour for the matte, which gains the edge that it costs, and keeps fine stripes whole", () => {
    const [w, h] = [480, 270];
    const stripes = {
      covers: (x: number, y: number) => (x > 60 && x < 200 && y > 60 ? 1 : 0),
      colour: (x: number) => ((x >> 2) % 2 ? { r: 0.7, g: 0.68, b: 0.66 } : DARK),
    };
    const person = { covers: disc(340, 150, 80), colour: skin };
    const hairs = {
      covers: (x: number, y: number) => (y > 20 && y < 80 && x > 280 && x < 400 && (x + y / 3) % 9 < 1.5 ? 1 : 0),
      colour: even(0.2, 0.11, 0.06),
    };
    const { plate, truth: drawn } = plateOf(w, h, [stripes, person, hairs]);
    const truth = { ...drawn, data: throughSharpLens(drawn.data, w, h) };
    const { raw, reading } = throughMosaic(plate, 0.0001);
    const recorded = { raw, reading };
    const picture = decodeRawFrame(raw, reading);
    const { recipe, reasons } = proposeRecipe(picture, 1, undefined, { recorded });
    const error = (falseColour: boolean) => {
      const shown = { ...recipe, prepare: { ...recipe.prepare, falseColour } };
      const { matte } = evaluate(shown, { plate: { key: "mosaic", picture, recorded } }, { reduce: 1, outputs: ["matte"] });
      return matteError(matte as Plane, truth);
    };
    expect(recipe.prepare.falseColour).toBe(true);
    expect(reasons.some((r) => r.startsWith("False colour cleared"))).toBe(true);
    // What its interpolation adds beside edges is no sharpening.
    expect(recipe.prepare.sharpening.amount).toBe(0);
    const [cleared, left] = [error(true), error(false)];
    expect(cleared.edge).toBeLessThan(0.85 * left.edge);
    expect(cleared.inside).toBeLessThan(0.5 * left.inside);
    const whole = { raw: codesOf(plate), reading };
    expect(proposeRecipe(decodeRawFrame(whole.raw, reading), 1, undefined, { recorded: whole }).recipe.prepare.falseColour).toBe(false);
  });

  it("keeps dark clothes that leave the frame at its sides and its foot", () => {
    // A close-up: shoulders wider than the frame, the jacket from brown to nearly black in the corner.
    const [w, h] = [240, 400];
    const shoulders = (x: number, y: number) => (y > 260 + ((x - 120) / 24) ** 2 ? 1 : 0);
    const jacket = (x: number, y: number) => {
      const k = Math.max(0.01, 0.3 - 0.0012 * (x + y - 260));
      return { r: k, g: 0.55 * k, b: 0.5 * k };
    };
    const { plate, truth } = plateOf(w, h, [
      { covers: shoulders, colour: jacket },
      { covers: disc(120, 160, 70), colour: skin },
    ]);
    const { matte, recipe } = proposed(plate);
    expect(recipe.bounds.beyond).toBe(false);
    const error = matteError(matte, truth);
    expect(error.core).toBeLessThan(0.001);
    expect(error.background).toBeLessThan(0.001);
  });

  it("drops a set of markers of the screen's own colour, and keeps a fly", () => {
    const [w, h] = [480, 270];
    const marker = (x: number, y: number) => (Math.abs((x % 96) - 48) < 3 && Math.abs((y % 90) - 30) < 3 ? 0.35 : 1);
    const { plate, truth } = plateOf(
      w,
      h,
      [
        { covers: disc(200, 170, 60), colour: skin },
        { covers: disc(380, 75, 6), colour: even(0.2, 0.12, 0.03) },
      ],
      marker,
    );
    const { matte } = proposed(plate);
    expect(matteError(matte, truth).background).toBeLessThan(0.0005);
    expect(matte.data[75 * w + 380]).toBeGreaterThan(0.99);
  });

  it("drops a set of small markers through a soft lens, whose rim is most of them", () => {
    const [w, h] = [480, 270];
    const person = { covers: disc(240, 190, 60), colour: skin };
    const cross: Drawn = {
      covers: (x, y) => {
        const [u, v] = [Math.abs((x % 60) - 30), Math.abs((y % 60) - 30)];
        return y < 120 && Math.max(u, v) < 5 && Math.min(u, v) < 1.2 ? 1 : 0;
      },
      colour: even(0.04, 0.05, 0.04),
    };
    const { plate } = plateOf(w, h, [person, cross]);
    const { truth } = plateOf(w, h, [person]);
    const lens = (c: Float32Array) => gaussianBlur(c, w, h, 1);
    const { matte } = proposed(inCodes({ ...plate, r: lens(plate.r), g: lens(plate.g), b: lens(plate.b) }));
    expect(matteError(matte, { ...truth, data: lens(truth.data) }).background).toBeLessThan(0.0005);
  });

  it("keeps a swarm: small things of many sizes beside a person, and any where there is nothing else", () => {
    const [w, h] = [480, 270];
    const bees = (size: (k: number) => number): Drawn[] =>
      Array.from({ length: 8 }, (_, k) => ({ covers: disc(50 + 54 * k, 40 + 17 * (k % 3), size(k)), colour: even(0.2, 0.12, 0.03) }));
    const worst = (things: readonly Drawn[], among: readonly Drawn[]) => {
      const { plate } = plateOf(w, h, things);
      const { truth } = plateOf(w, h, among);
      const { matte } = proposed(plate);
      return matteError({ ...matte, data: matte.data.map((v, i) => ((truth.data[i] as number) > 0 ? v : 0)) }, truth).core;
    };
    const person = { covers: disc(240, 190, 60), colour: skin };
    const alike = bees(() => 5);
    const unlike = bees((k) => 2.5 + 0.9 * k);
    expect(worst(alike, alike)).toBeLessThan(0.005);
    expect(worst([person, ...unlike], unlike)).toBeLessThan(0.005);
    // Of one kind, some a little nearer; markers as unlike as that are not cut.
    const nearer = bees((k) => 4 + 0.32 * k);
    expect(worst([person, ...nearer], nearer)).toBeLessThan(0.005);
    // Confetti is of one size and of many colours, the screen's own in shade among them; a set of markers as large is of one.
    const [red, leaf] = [even(0.6, 0.05, 0.04), even(0.02, 0.16, 0.04)];
    const colours = [red, leaf, even(0.05, 0.1, 0.5), leaf, even(0.7, 0.3, 0.03), leaf, even(0.5, 0.5, 0.5), red];
    const confetti = alike.map((piece, k) => ({ ...piece, colour: colours[k]! }));
    expect(
      worst(
        [person, ...confetti],
        confetti.filter(({ colour }) => colour !== leaf),
      ),
    ).toBeLessThan(0.01);
    const markers = alike.map((piece) => ({ ...piece, colour: red }));
    expect(worst([person, ...markers], markers)).toBeGreaterThan(0.9);
    // Nor do stains beside them make them bees.
    const stains = [90, 250, 410].map((x) => ({ covers: disc(x, 110, 2.6), colour: red }));
    expect(worst([person, ...markers, ...stains], markers)).toBeGreaterThan(0.9);
  });

  it("keeps a rim that a back light burns out, though its hue is clipped", () => {
    const [w, h] = [480, 270];
    const rim = (x: number, y: number) => {
      const k = Math.exp(-Math.max(0, 60 - Math.hypot(x - 240, y - 135)) / 5);
      return { r: 0.5 + 1.2 * k, g: 0.31 + 1.1 * k, b: 0.22 + 0.95 * k };
    };
    const { plate, truth } = plateOf(w, h, [{ covers: disc(240, 135, 60), colour: rim }]);
    for (const c of [plate.r, plate.g, plate.b]) for (let i = 0; i < c.length; i++) c[i] = Math.min(1, c[i]!);
    const { matte } = proposed(inCodes(plate));
    const error = matteError(matte, truth);
    console.log(`burnt-out rim: edge ${error.edge.toExponential(2)}, core ${error.core.toFixed(5)}`);
    expect(error.core).toBeLessThan(0.001);
    expect(error.edge).toBeLessThan(0.002);
  });

  it("keeps snow beside a person, however alike the flakes are, and drops a lattice of as many markers", () => {
    const [w, h] = [480, 270];
    const next = random(11);
    const lattice = Array.from({ length: 24 }, (_, k) => [30 + 60 * (k % 8), 30 + 50 * Math.floor(k / 8)] as const);
    const fallen = lattice.map(() => [10 + 460 * next(), 10 + 140 * next()] as const);
    /** Cover that is lost of them, as a share of theirs. */
    const lost = (places: readonly (readonly [number, number])[]) => {
      const near = (x: number, y: number) => places.some(([u, v]) => Math.abs(x - u) <= 3 && Math.hypot(x - u, y - v) <= 3);
      const flakes: Drawn = { covers: (x, y) => (near(x, y) ? 0.7 : 0), colour: even(0.7, 0.7, 0.7) };
      const { plate } = plateOf(w, h, [{ covers: disc(240, 230, 60), colour: skin }, flakes]);
      const { truth } = plateOf(w, h, [flakes]);
      const { matte } = proposed(plate);
      const sum = (of: (i: number) => number) => truth.data.reduce((total, t, i) => (t > 0 ? total + of(i) : total), 0);
      return 1 - sum((i) => Math.min(matte.data[i] as number, truth.data[i] as number)) / sum((i) => truth.data[i] as number);
    };
    expect(lost(fallen)).toBeLessThan(0.05);
    expect(lost(lattice)).toBeGreaterThan(0.9);
  });

  it("keeps to the screen that was sampled on the plate, not to one sampled on another", () => {
    // A display of 1 % of the frame in a room of blue light.
    const [w, h] = [480, 270];
    const display = (x: number, y: number) => (x > 200 && x < 240 && y > 100 && y < 133 ? 1 : 0);
    const { plate } = drawPlate(w, h, [{ covers: display, colour: even(0.05, 0.42, 0.1) }], () => ({ r: 0.06, g: 0.09, b: 0.3 }));
    expect(screenPrimary(proposeRecipe(plate, 1).recipe.screen.colour!)).toBe("b");
    const base = defaultRecipe();
    const sampled = (colour: Rgb, x: number) => ({
      ...base,
      screen: { ...base.screen, colour, boxes: [{ frame: 1, x, y: 108, width: 16, height: 16 }] },
    });
    const primaryOf = (recipe: typeof base, frame = 1) => screenPrimary(proposeRecipe(plate, frame, recipe).recipe.screen.colour!);
    const green = { r: 0.05, g: 0.42, b: 0.1 };
    expect(primaryOf(sampled(green, 212))).toBe("g");
    // Carried from another shot, where the screen stood elsewhere; from another frame; from a larger plate.
    expect(primaryOf(sampled(green, 20))).toBe("b");
    expect(primaryOf(sampled(green, 212), 2)).toBe("b");
    expect(primaryOf(sampled(green, 1200))).toBe("b");
  });

  it("leaves what moved past as open as it was, also along its sharp end", () => {
    // An arm 54 px wide that moved 24 px while the shutter was open: cover climbs and falls along x, and ends at a line.
    const [w, h] = [640, 360];
    const passed = (x: number) => Math.max(0, Math.min(1, (x - 60) / 24, (138 - x) / 24));
    const arm = (x: number, y: number) => (y > 90 && y < 290 ? passed(x) : 0);
    const { plate, truth } = plateOf(w, h, [
      { covers: disc(420, 200, 110), colour: skin },
      { covers: arm, colour: even(0.26, 0.05, 0.03) },
    ]);
    // In codes of 8 bits the climb is no longer quite even.
    for (const p of [plate, inCodes(plate)]) {
      const error = matteError(proposed(p).matte, truth);
      expect(error.edge).toBeLessThan(0.0012);
      expect(error.core).toBeLessThan(0.001);
    }
  });

  it("leaves the end of a waving arm open, whose middle is as even as cloth and nowhere covered the screen all the time", () => {
    const [w, h] = [640, 360];
    const [x0, y0, length, half] = [260, 230, 250, 14];
    const [from, to] = [-0.85, -0.65];
    // The share of the time that an arm that turns about its elbow was before a place.
    const waves = (x: number, y: number) => {
      const far = Math.hypot(x - x0, y - y0);
      if (far <= half) return 1;
      if (far > length) return 0;
      const [at, wide] = [Math.atan2(y - y0, x - x0), Math.asin(half / far)];
      return Math.max(0, Math.min(to, at + wide) - Math.max(from, at - wide)) / (to - from);
    };
    const { plate, truth } = plateOf(w, h, [
      { covers: (x, y) => (Math.abs(x - 230) < 60 && y > 200 ? 1 : 0), colour: even(0.12, 0.14, 0.3) },
      { covers: waves, colour: skin },
    ]);
    const { matte } = proposed(inCodes(plate));
    const end = (x: number, y: number) => [matte.data[y * w + x]!, truth.data[y * w + x]!] as const;
    for (const far of [200, 230]) {
      const [m, t] = end(Math.round(x0 + far * Math.cos(-0.75)), Math.round(y0 + far * Math.sin(-0.75)));
      expect(t).toBeLessThan(0.8);
      expect(Math.abs(m - t)).toBeLessThan(0.05);
    }
    expect(matteError(matte, truth).edge).toBeLessThan(0.0025);
    expect(matteError(matte, truth).core).toBeLessThan(0.001);
  });

  it("looks for subject colours in the same part of the frame at every size from 440 lines on", () => {
    const reachAt = (h: number) => {
      const { plate } = plateOf((h * 4) / 3, h, [{ covers: disc(h * 0.6, h * 0.6, h * 0.3), colour: skin }]);
      return proposeRecipe(plate, 1).recipe.passes[0]!.pull.unmix.reach;
    };
    expect(reachAt(240)).toBe(48);
    expect(reachAt(900) / 900).toBeCloseTo(reachAt(600) / 600, 3);
  });
});
