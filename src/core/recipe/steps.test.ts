import { describe, expect, it } from "vitest";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { clippedFrom } from "../screen/clipped";
import { cameraReading } from "../simulate/camera";
import { type Element, shoot } from "../simulate/shoot";
import { makeCamera, makeStage } from "../simulate/stage";
import { proposeRecipe } from "./auto";
import { evaluate, framesNearby, looksAtBackground } from "./evaluate";
import { defaultRecipe, parseRecipe, type Recipe } from "./schema";
import { plateSource } from "./sources";
import { StepCache } from "./step-cache";

/** A warm disc before an uneven screen, as a camera records it in 4:2:0. */
function element(width = 320, height = 180): Element {
  const coverage = makePlane(width, height);
  const colour = makePicture(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const a = Math.min(1, Math.max(0, 50.5 - Math.hypot(x - width / 2, y - height / 2)));
      coverage.data[i] = a;
      colour.r[i] = 0.5 * a;
      colour.g[i] = 0.32 * a;
      colour.b[i] = 0.22 * a;
    }
  return { coverage, colour };
}
const camera = makeCamera({ bits: 8, subsampling: "420", shotNoise: 0.0002 });
const shot = shoot(element(), makeStage({ screen: { gradient: 1, level: -0.3 } }), camera);
const source = plateSource("plate/1", shot.plate, cameraReading(camera));
const { recipe, reasons, notSolved } = proposeRecipe(source.picture, 1, undefined, { recorded: source.recorded! });
const error = (r: Recipe) => {
  const { matte } = evaluate(r, { plate: source }, { reduce: 1, outputs: ["matte"] });
  return matte!.data.reduce((s, v, i) => s + (v - shot.truth.coverage.data[i]!) ** 2, 0) / matte!.data.length;
};
const withPass = (r: Recipe, change: (p: Recipe["passes"][number]) => void): Recipe => {
  const copy = structuredClone(r);
  change(copy.passes[0]!);
  return copy;
};

describe("a proposed recipe", () => {
  it("is valid, complete and gives its reasons", () => {
    expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
    expect(reasons.some((r) => /4:2:0/.test(r))).toBe(true);
    expect(recipe.prepare.chroma).toBe(true);
    expect(recipe.screen.from).toBe("synthesised");
    expect(notSolved).toEqual([]);
  });
  it("leaves its steps to whoever shows it: what was made of the screen is not made again, and gives the same", () => {
    const steps = new StepCache();
    const shared = { steps, plateKey: source.key };
    expect(proposeRecipe(source.picture, 1, undefined, { recorded: source.recorded!, shared })).toEqual({ recipe, reasons, notSolved });
    const made = { ...steps.computed };
    const outputs = ["matte", "composite"] as const;
    const after = evaluate(recipe, { plate: source }, { reduce: 1, outputs }, steps);
    for (const step of ["rebuilt", "clean", "own"]) expect([step, made[step], steps.computed[step]]).toEqual([step, 1, 1]);
    const alone = evaluate(recipe, { plate: source }, { reduce: 1, outputs });
    expect(after.matte!.data).toEqual(alone.matte!.data);
    for (const c of ["r", "g", "b"] as const) expect(after.composite![c]).toEqual(alone.composite![c]);
  });
  it("beats the untouched defaults with the same screen colour by far", () => {
    const plain = { ...defaultRecipe(), screen: { ...defaultRecipe().screen, colour: recipe.screen.colour } };
    expect(error(recipe)).toBeLessThan(0.1 * error(plain));
  });
  it("needs each of its parts: without any one the error grows", () => {
    const whole = error(recipe);
    expect(error({ ...recipe, screen: { ...recipe.screen, from: "none" } })).toBeGreaterThan(1.2 * whole);
    expect(error({ ...recipe, prepare: { ...recipe.prepare, chroma: false } })).toBeGreaterThan(1.02 * whole);
    expect(error(withPass(recipe, (p) => (p.matte.bounds.on = false)))).toBeGreaterThan(1.1 * whole);
  });
});

describe("an older recipe", () => {
  it("gets the defaults of what was added since, and pulls as before", () => {
    const old = {
      version: 1,
      plate: {},
      screen: { boxes: [], colour: { r: 0.03, g: 0.3, b: 0.05 } },
      bounds: { garbage: [] },
      passes: [
        {
          id: "main",
          role: "whole",
          pull: { method: "colour-difference", weight: 0.5 },
          matte: { black: 0.1, white: 0.9 },
          spill: { limit: "average", amount: 1 },
          edge: { screenOut: 1 },
        },
      ],
      scene: { background: null, fit: "fill", scale: 1, x: 0, y: 0 },
    };
    const parsed = parseRecipe(old);
    const today = defaultRecipe();
    today.screen.colour = old.screen.colour;
    today.passes[0]!.matte = { ...today.passes[0]!.matte, black: 0.1, white: 0.9 };
    expect(parsed).toEqual(today);
  });
});

describe("the steps", () => {
  it("give clean plate, levelled plate, prepared copy and automatic bounds by name", () => {
    const e = evaluate(recipe, { plate: source }, { reduce: 1, outputs: ["cleanPlate", "levelled", "prepared", "autoBounds", "plate"] });
    expect(e.prepared).not.toBe(e.plate);
    // Levelled: both sides of the frame have the sampled colour, which the plate has not.
    const sides = (p: Picture) => [p.g[90 * 320 + 10]!, p.g[90 * 320 + 310]!];
    const [left, right] = sides(e.levelled!);
    expect(Math.abs(Math.log2(left! / right!))).toBeLessThan(0.12);
    const [a, b] = sides(e.plate!);
    expect(Math.abs(Math.log2(a! / b!))).toBeGreaterThan(0.6);
    const [c, d] = sides(e.cleanPlate!);
    expect(Math.abs(c! / a! - 1)).toBeLessThan(0.1);
    expect(Math.abs(d! / b! - 1)).toBeLessThan(0.1);
    expect(e.autoBounds!.data[90 * 320 + 160]).toBe(1);
    expect(e.autoBounds!.data[10 * 320 + 10]).toBe(0);
  });
  it("put right what coarse chroma mixed across the edge in the picture alone, at full size, where there is coarse chroma", () => {
    const as = (chroma: number, plate = source, reduce = 1) =>
      evaluate(
        withPass(recipe, (p) => (p.edge.chroma = chroma)),
        { plate },
        { reduce, outputs: ["matte", "foreground"] },
      );
    const [recorded, right] = [as(0), as(1)];
    expect(right.matte!.data).toEqual(recorded.matte!.data);
    const { coverage, colour } = shot.truth;
    const rim = [...coverage.data.keys()].filter((i) => {
      const inside = 50 - Math.hypot((i % 320) - 160, Math.floor(i / 320) - 90);
      return inside > 0.8 && inside < 2.5;
    });
    const off = ({ foreground: f }: typeof right) => rim.reduce((s, i) => s + Math.abs(f!.r[i]! - colour.r[i]!), 0) / rim.length;
    expect(off(right)).toBeLessThan(0.5 * off(recorded));
    expect(as(1, source, 2).foreground).toEqual(as(0, source, 2).foreground);
    const fine = shoot(element(), makeStage({ screen: { gradient: 1, level: -0.3 } }), { ...camera, subsampling: "444" });
    const full = plateSource("plate/fine", fine.plate, cameraReading(camera));
    expect(as(1, full).foreground).toEqual(as(0, full).foreground);
  });
  it("have no clean plate when the pull reads one colour", () => {
    const one = { ...recipe, screen: { ...recipe.screen, from: "none" as const } };
    expect(evaluate(one, { plate: source }, { reduce: 1, outputs: ["cleanPlate"] }).cleanPlate).toBeUndefined();
  });
  it("are not run again above a change", () => {
    const cache = new StepCache();
    const run = (r: Recipe) => evaluate(r, { plate: source }, { reduce: 1, outputs: ["composite"] }, cache);
    run(recipe);
    const before = { ...cache.computed };
    run(withPass(recipe, (p) => (p.matte.white = 0.8)));
    for (const step of ["plate", "rebuilt", "rimChroma", "clean", "own", "pull", "autoBounds", "spill"])
      expect(cache.computed[step], step).toBe(before[step]);
    expect(cache.computed.matte).toBe(before.matte! + 1);
    run(withPass(recipe, (p) => (p.spill.amount = 0.5)));
    expect(cache.computed.matte).toBe(before.matte! + 1);
    expect(cache.computed.spill).toBe(before.spill! + 1);
  });
  it("let go of within a frame where memory is short, make the same pictures and run no more often", () => {
    const picture = makePicture(320, 180);
    picture.r.fill(0.4);
    picture.g.fill(0.1);
    picture.b.fill(0.3);
    const sources = { plate: source, background: { key: "back", picture } };
    const request = { reduce: 1, outputs: ["matte", "foreground", "composite"] } as const;
    const wrapped = parseRecipe({ ...recipe, scene: { ...recipe.scene, wrap: { ...recipe.scene.wrap, strength: 0.6 } } });
    const frugal = new StepCache(undefined, undefined, undefined, true);
    const kept = evaluate(wrapped, sources, request);
    for (let frame = 1; frame <= 2; frame++) {
      const short = evaluate(wrapped, sources, request, frugal);
      expect(short.matte!.data).toEqual(kept.matte!.data);
      for (const c of ["r", "g", "b"] as const) {
        expect(short.foreground![c]).toEqual(kept.foreground![c]);
        expect(short.composite![c]).toEqual(kept.composite![c]);
      }
      frugal.leaveFrame();
      for (const [step, times] of Object.entries(frugal.computed)) expect(times, step).toBe(frame);
    }
  });
  it("cut a region from the whole: the same numbers", () => {
    const region = { x: 100, y: 40, width: 60, height: 50 };
    const whole = evaluate(recipe, { plate: source }, { reduce: 1, outputs: ["matte", "levelled", "composite"] });
    const part = evaluate(recipe, { plate: source }, { reduce: 1, outputs: ["matte", "levelled", "composite"], region });
    for (let y = 0; y < 50; y++)
      for (let x = 0; x < 60; x++) {
        const i = (40 + y) * 320 + 100 + x;
        expect(part.matte!.data[y * 60 + x]).toBe(whole.matte!.data[i]);
        expect(part.levelled!.g[y * 60 + x]).toBe(whole.levelled!.g[i]);
        expect(part.composite!.r[y * 60 + x]).toBe(whole.composite!.r[i]);
      }
  });
  it("throw away what lies beyond the screen", () => {
    const short = shoot(element(), makeStage({ screen: { endsAt: 0.85 } }), camera);
    const plate = plateSource("short", short.plate, cameraReading(camera));
    const proposed = proposeRecipe(plate.picture, 1).recipe;
    expect(proposed.bounds.beyond).toBe(true);
    const { matte } = evaluate(proposed, { plate }, { reduce: 1, outputs: ["matte"] });
    let worst = 0;
    for (let y = 0; y < 180; y++) for (let x = 0.88 * 320; x < 320; x++) worst = Math.max(worst, matte!.data[y * 320 + Math.floor(x)]!);
    expect(worst).toBe(0);
    expect(matte!.data[90 * 320 + 160]).toBe(1);
  });
  it("tells of a screen that is clipped, and where; highlights of the subject are not", () => {
    const element = { coverage: makePlane(320, 180), colour: makePicture(320, 180) };
    for (let y = 60; y < 180; y++)
      for (let x = 100; x < 200; x++) {
        const i = y * 320 + x;
        element.coverage.data[i] = 1;
        for (const c of ["r", "g", "b"] as const) element.colour[c][i] = y < 100 ? 1.6 : 0.4;
      }
    const told = (stops: number) => {
      const stage = makeStage({ screen: { hotSpots: [{ x: 0.85, y: 0.3, radius: 0.15, stops }] } });
      const shot = shoot(element, stage, camera);
      const { picture } = plateSource("clipped", shot.plate, cameraReading(camera));
      return proposeRecipe(picture, 1).notSolved.filter((n) => n.kind === "clipped");
    };
    expect(told(0.5)).toEqual([]);
    const [place, ...others] = told(2);
    expect(others).toEqual([]);
    expect(Math.abs(place!.place.x + place!.place.width / 2 - 272)).toBeLessThan(25);
    expect(place!.what).toContain("is clipped in green over");
    // A curve that goes on beyond white, and half float, have it all.
    const logarithmic = { ...camera, transfer: "acescct" } as const;
    const bright = shoot(element, makeStage({ screen: { hotSpots: [{ x: 0.85, y: 0.3, radius: 0.15, stops: 2 }] } }), logarithmic);
    const source = plateSource("bright", bright.plate, cameraReading(logarithmic));
    expect(Math.max(...source.picture.g)).toBeGreaterThan(1);
    expect(proposeRecipe(source.picture, 1, undefined, { recorded: source.recorded! }).notSolved).toEqual([]);
    expect(clippedFrom("linear", { ...bright.plate, layout: { kind: "half", alpha: false } })).toBe(Number.POSITIVE_INFINITY);
  });

  it("say first that the plate may be a camera's logarithm where it is read as video, and nothing of it where it is read as what it is", () => {
    const film = { ...camera, transfer: "film-density" } as const;
    const { plate: raw } = shoot(element(), makeStage({}), film);
    const told = (transfer: "film-density" | "bt709") => {
      const reading = { ...cameraReading(film), transfer };
      const { picture, recorded } = plateSource(transfer, raw, reading);
      return proposeRecipe(picture, 1, undefined, { recorded: recorded! }).reasons.filter((r) => /^Curve: .*logarithm/.test(r));
    };
    expect(told("bt709")).toHaveLength(1);
    expect(told("film-density")).toEqual([]);
    expect(reasons.some((r) => /^Curve:/.test(r))).toBe(false);
  });
  it("cut the subject off at the screen's end, say so, and keep there what a holdout holds", () => {
    const { coverage, colour } = element();
    // An arm that leaves the frame on the right.
    for (let y = 75; y < 105; y++)
      for (let i = y * 320 + 160; i < (y + 1) * 320; i++) [coverage.data[i], colour.r[i], colour.g[i], colour.b[i]] = [1, 0.5, 0.32, 0.22];
    const short = shoot({ coverage, colour }, makeStage({ screen: { endsAt: 0.75 } }), camera);
    const plate = plateSource("passes", short.plate, cameraReading(camera));
    const proposed = proposeRecipe(plate.picture, 1, undefined, { recorded: plate.recorded! });
    const matteOf = (r: Recipe) => evaluate(r, { plate }, { reduce: 1, outputs: ["matte"] }).matte!.data;
    const cut = matteOf(proposed.recipe);
    // Beyond the end, at 240, all is thrown away; before it nothing of the arm is, but for the rim of the end.
    let [beyond, before] = [0, 0];
    for (let i = 0; i < cut.length; i++) {
      if (i % 320 >= 240) beyond = Math.max(beyond, cut[i]!);
      else if (i % 320 < 236 && i >= 80 * 320 && i < 100 * 320) before = Math.max(before, coverage.data[i]! - cut[i]!);
    }
    expect(beyond).toBe(0);
    expect(before).toBeLessThan(0.1);
    const told = proposed.notSolved.filter((n) => n.kind === "passes-end");
    expect(told.map((n) => n.what)).toEqual([expect.stringMatching(/^The subject passes the screen's end at 240, 90;/)]);
    const held = structuredClone(proposed.recipe);
    const points = [
      { x: 200, y: 75 },
      { x: 320, y: 75 },
      { x: 320, y: 105 },
      { x: 200, y: 105 },
    ];
    held.bounds.garbage.push({ id: "arm", name: "Arm", points, keys: [], kind: "holdout", smooth: false, out: "inside", soft: 0, lean: 0 });
    const kept = matteOf(held);
    expect(Math.min(kept[90 * 320 + 238]!, kept[78 * 320 + 300]!)).toBe(1);
    expect(Math.max(kept[20 * 320 + 260]!, kept[108 * 320 + 300]!)).toBe(0);
  });
});

describe("edge colour", () => {
  const look = (r: Recipe) => evaluate(r, { plate: source }, { reduce: 1, outputs: ["foreground", "spillRemoved", "matte"] });
  it("is not touched by a garbage matte's soft edge across the subject", () => {
    const across: Recipe = {
      ...recipe,
      bounds: {
        ...recipe.bounds,
        garbage: [
          {
            id: "g",
            name: "Across",
            kind: "garbage",
            keys: [],
            smooth: false,
            lean: 0,
            out: "outside",
            soft: 40,
            points: [
              { x: 0, y: 0 },
              { x: 160, y: 0 },
              { x: 160, y: 180 },
              { x: 0, y: 180 },
            ],
          },
        ],
      },
    };
    const { foreground, spillRemoved, matte } = look(across);
    const i = 90 * 320 + 163;
    expect(matte!.data[i]).toBeGreaterThan(0.1);
    expect(matte!.data[i]).toBeLessThan(0.9);
    for (const c of ["r", "g", "b"] as const) expect(foreground![c][i]).toBeCloseTo(spillRemoved![c][i]!, 5);
  });
  it("a fringe has the subject's colour", () => {
    const fringed = withPass(recipe, (p) => {
      p.edge.fringe = { strength: 0.3, grow: 8, soft: 3 };
    });
    const { foreground, matte } = look(fringed);
    // Six pixels outside the disc's edge, where the plate shows screen alone.
    const i = 90 * 320 + 160 + 56;
    expect(matte!.data[i]).toBeGreaterThan(0.1);
    expect(foreground!.r[i]! / foreground!.b[i]!).toBeGreaterThan(1.6);
    expect(foreground!.r[i]).toBeGreaterThan(0.25);
  });
});

describe("the background's light for spill", () => {
  const lit = withPass(recipe, (p) => {
    p.spill.replace = "background";
  });
  it("is asked for by every output that shows the subject's colour, and not otherwise", () => {
    expect(looksAtBackground(recipe, ["foreground"])).toBe(false);
    expect(looksAtBackground(recipe, ["composite"])).toBe(true);
    expect(looksAtBackground(lit, ["foreground"])).toBe(true);
  });
  it("colours what goes back: redder before a red background than before a blue one", () => {
    const before = (r: number, b: number) => {
      const picture = makePicture(320, 180);
      picture.r.fill(r);
      picture.g.fill(0.1);
      picture.b.fill(b);
      const sources = { plate: source, background: { key: `back ${r}`, picture } };
      const { spillRemoved } = evaluate(lit, sources, { reduce: 1, outputs: ["spillRemoved"] });
      // On the screen itself most is taken, so there it shows most.
      return spillRemoved!.r[5]! / spillRemoved!.b[5]!;
    };
    expect(before(0.6, 0.1)).toBeGreaterThan(2 * before(0.1, 0.6));
  });
});

describe("what neighbouring frames do", () => {
  const frames = [1, 2, 3].map((seed) => {
    const grainy = makeCamera({ bits: 10, shotNoise: 0.0012, readNoise: 0.006, seed });
    const taken = shoot(element(), makeStage({ screen: { gradient: 1, level: -0.3 } }), grainy);
    return plateSource(`grainy/${seed}`, taken.plate, cameraReading(grainy));
  });
  const [before, now, after] = frames as [(typeof frames)[0], (typeof frames)[0], (typeof frames)[0]];
  const nearby = [
    { frame: 1, source: before },
    { frame: 3, source: after },
  ];
  const plain = withPass(recipe, (p) => {
    p.matte.bounds.on = false;
    p.pull.method = "colour-difference";
  });
  const sad = (r: Recipe) => {
    const { matte } = evaluate(r, { plate: now, nearby }, { reduce: 1, outputs: ["matte"], frame: 2 });
    // In the greys alone: at 0 and 1 grain is cut on one side.
    return matte!.data.reduce((s, v, i) => s + (calm[i]! > 0.2 && calm[i]! < 0.8 ? Math.abs(v - calm[i]!) : 0), 0);
  };
  const quiet = makeCamera({ bits: 12 });
  const noiseless = plateSource(
    "quiet",
    shoot(element(), makeStage({ screen: { gradient: 1, level: -0.3 } }), quiet).plate,
    cameraReading(quiet),
  );
  const calm = evaluate(plain, { plate: noiseless }, { reduce: 1, outputs: ["matte"] }).matte!.data;
  const steady = { ...plain, time: { steady: 1, blinking: 0 } };
  it("are named only where the recipe looks at them, and only those that there are", () => {
    expect(framesNearby(plain, 2, 3)).toEqual([]);
    expect(framesNearby(steady, 2, 3)).toEqual([1, 3]);
    expect(framesNearby(steady, 1, 3)).toEqual([2]);
    expect(framesNearby({ ...plain, prepare: { ...plain.prepare, overTime: 0.5 } }, 3, 3)).toEqual([2]);
  });
  it("lower the error of a grainy key on a subject that stands still, by the copy and by the matte", () => {
    const alone = sad(plain);
    expect(sad(steady)).toBeLessThan(0.75 * alone);
    expect(sad({ ...plain, prepare: { ...plain.prepare, overTime: 1 } })).toBeLessThan(0.75 * alone);
  });
  it("change nothing where there are none", () => {
    const ask = (r: Recipe) => evaluate(r, { plate: now }, { reduce: 1, outputs: ["matte"] }).matte!.data.slice();
    expect(ask({ ...steady, prepare: { ...steady.prepare, overTime: 1 } })).toEqual(ask(plain));
  });
  it("make the same matte whatever the cache holds", () => {
    const cache = new StepCache(1);
    const ask = (c?: StepCache) =>
      evaluate(steady, { plate: now, nearby }, { reduce: 1, outputs: ["matte"], frame: 2 }, c).matte!.data.slice();
    const first = ask(cache);
    const apart = (other: Float32Array) => other.reduce((most, v, i) => Math.max(most, Math.abs(v - first[i]!)), 0);
    expect(apart(ask(cache))).toBe(0);
    expect(apart(ask())).toBe(0);
  });
});

describe("the paint layer", () => {
  it("shows in the foreground and not in what is under it", () => {
    const stroke = {
      id: "one",
      first: 1,
      last: 1,
      points: [{ x: 160, y: 90 }],
      radius: 20,
      soft: 0,
      strength: 1,
      colour: { r: 0.1, g: 0.1, b: 0.9 },
      keys: [],
    };
    const painted = { ...recipe, paint: [stroke] };
    const look = (r: Recipe, frame: number) =>
      evaluate(r, { plate: source }, { reduce: 1, outputs: ["foreground", "spillRemoved"], frame });
    const i = 90 * 320 + 160;
    const [bare, on, later] = [look(recipe, 1), look(painted, 1), look(painted, 2)];
    expect(on.foreground!.b[i]).toBeGreaterThan(2 * on.foreground!.r[i]!);
    expect(on.spillRemoved!.b[i]).toBe(bare.spillRemoved!.b[i]);
    expect(later.foreground!.b[i]).toBe(bare.foreground!.b[i]);
  });
});
