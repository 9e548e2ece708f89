import { describe, expect, it } from "vitest";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { evaluate, NoScreenError, type Request } from "./evaluate";
import { defaultRecipe, parseRecipe, type Recipe } from "./schema";
import type { Sources } from "./sources";
import { StepCache } from "./step-cache";

function noisy(width: number, height: number, seed: number): Picture {
  const p = makePicture(width, height);
  const next = random(seed);
  for (let i = 0; i < p.r.length; i++) {
    p.r[i] = 0.5 * next();
    p.g[i] = next();
    p.b[i] = 0.5 * next();
  }
  return p;
}

/** A recipe with no types, to be spoiled. */
type Loose = ReturnType<typeof JSON.parse>;

const sources: Sources = { plate: { key: "plate/1", picture: noisy(64, 48, 9) }, background: { key: "bg/1", picture: noisy(40, 40, 4) } };
const recipe: Recipe = {
  ...defaultRecipe(),
  screen: { ...defaultRecipe().screen, colour: { r: 0.05, g: 0.8, b: 0.1 } },
  bounds: {
    beyond: false,
    garbage: [
      {
        id: "g1",
        name: "one",
        kind: "garbage",
        keys: [],
        smooth: false,
        lean: 0,
        out: "outside",
        soft: 6,
        points: [
          { x: 5, y: 5 },
          { x: 60, y: 8 },
          { x: 50, y: 45 },
          { x: 8, y: 40 },
        ],
      },
    ],
  },
};
const all: Request = {
  reduce: 1,
  outputs: ["plate", "garbage", "pull", "matte", "spillRemoved", "spillMap", "foreground", "background", "composite", "figures"],
};
const levels = (white: number): Recipe => ({
  ...recipe,
  passes: [{ ...recipe.passes[0]!, matte: { ...recipe.passes[0]!.matte, black: 0.1, white } }],
});

describe("the recipe", () => {
  it("survives JSON", () => expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe));
  it.each([
    [
      "NaN",
      (r: Loose) => {
        r.passes[0].matte.white = Number.NaN;
      },
      /passes\.0\.matte\.white/,
    ],
    [
      "an infinity",
      (r: Loose) => {
        r.bounds.garbage[0].points[1].x = Number.POSITIVE_INFINITY;
      },
      /points\.1\.x/,
    ],
    [
      "an unknown key",
      (r: Loose) => {
        r.passes[0].gamma = 2;
      },
      /gamma/,
    ],
    [
      "a newer version",
      (r: Loose) => {
        r.version = 2;
      },
      /version/,
    ],
    [
      "crossed levels",
      (r: Loose) => {
        r.passes[0].matte = { black: 0.6, white: 0.5 };
      },
      /white point must lie/,
    ],
    [
      "a path for a background",
      (r: Loose) => {
        r.scene.background = "../../etc/passwd";
      },
      /scene\.background/,
    ],
    [
      "no pass",
      (r: Loose) => {
        r.passes = [];
      },
      /passes/,
    ],
  ])("refuses %s and says where", (_, spoil, message) => {
    const document = structuredClone(recipe);
    spoil(document);
    expect(() => parseRecipe(document)).toThrow(message);
  });
});

describe("evaluate", () => {
  it("gives every intermediate by name", () => {
    const e = evaluate(recipe, sources, all);
    for (const name of all.outputs) expect(e[name], name).toBeDefined();
    expect(e.foreground!.a).toBe(e.matte!.data);
  });
  it("needs a screen colour for a matte, not for the plate", () => {
    const bare = defaultRecipe();
    expect(evaluate(bare, sources, { reduce: 1, outputs: ["plate"] }).plate!.width).toBe(64);
    expect(() => evaluate(bare, sources, { reduce: 1, outputs: ["matte"] })).toThrow(NoScreenError);
  });
  it("keeps automatic bounds while dips are moved, and where the screen lies in shade while bounds are", () => {
    const cache = new StepCache();
    const bounded = (change: Partial<Recipe["passes"][number]["matte"]["bounds"]>): Recipe => {
      const moved = structuredClone(recipe);
      const { matte } = moved.passes[0]!;
      matte.bounds = { ...matte.bounds, on: true, shade: true, dips: 0.2, ...change };
      return moved;
    };
    const told = (change: Parameters<typeof bounded>[0]) => {
      evaluate(bounded(change), sources, { reduce: 1, outputs: ["matte"] }, cache);
      return [cache.computed.shade, cache.computed.autoBounds, cache.computed.bounded];
    };
    expect(told({})).toEqual([1, 1, 1]);
    expect(told({ dips: 0.4 })).toEqual([1, 1, 2]);
    expect(told({ grow: 9 })).toEqual([1, 2, 3]);
  });
  it("recomputes from the changed step down, and no more", () => {
    const cache = new StepCache();
    evaluate(levels(0.9), sources, all, cache);
    const before = { ...cache.computed };
    evaluate(levels(0.8), sources, all, cache);
    const again = Object.fromEntries(Object.entries(cache.computed).map(([k, v]) => [k, v - (before[k] ?? 0)]));
    expect(again).toMatchObject({
      plate: 0,
      pull: 0,
      bounds: 0,
      spill: 0,
      background: 0,
      matte: 1,
      holdout: 1,
      edge: 1,
      composite: 1,
      figures: 1,
    });
    evaluate(levels(0.9), sources, all, cache);
    expect(cache.computed.matte).toBe(2);
  });
  it("gives the same numbers in a region as in the whole frame", () => {
    const whole = evaluate(levels(0.7), sources, all);
    const region = { x: 13, y: 9, width: 20, height: 17 };
    const part = evaluate(levels(0.7), sources, { ...all, outputs: ["matte", "composite", "garbage"], region });
    for (let y = 0; y < 17; y++)
      for (let x = 0; x < 20; x++) {
        const i = (y + 9) * 64 + x + 13;
        expect(part.matte!.data[y * 20 + x]).toBe(whole.matte!.data[i]);
        expect(part.composite!.g[y * 20 + x]).toBeCloseTo(whole.composite!.g[i]!, 6);
      }
  });
  it("gives the same numbers with a warm cache as with a cold one", () => {
    const cache = new StepCache(200_000);
    for (const white of [0.9, 0.5, 0.7, 0.9, 0.6]) {
      const warm = evaluate(levels(white), sources, all, cache);
      const cold = evaluate(levels(white), sources, all);
      expect(warm.composite!.r).toEqual(cold.composite!.r);
      expect(warm.matte!.data).toEqual(cold.matte!.data);
    }
  });
  it("allocates nothing new in steady state", () => {
    const cache = new StepCache(150_000);
    const plate = (k: number): Sources => ({ plate: { key: `plate/${k}`, picture: sources.plate.picture } });
    const run = (k: number) => evaluate(levels(0.8), plate(k), { reduce: 1, outputs: ["foreground"] }, cache);
    for (let k = 0; k < 20; k++) run(k);
    const { allocated } = cache.pool;
    for (let k = 20; k < 60; k++) run(k);
    expect(cache.pool.allocated).toBe(allocated);
  });
  it("reduces in linear light", () => {
    const half = evaluate(recipe, sources, { reduce: 2, outputs: ["plate"] }).plate!;
    const { g } = sources.plate.picture;
    expect(half.g[0]).toBeCloseTo((g[0]! + g[1]! + g[64]! + g[65]!) / 4, 6);
  });
  it("composites α·F + (1 − α)·B of its own outputs", () => {
    const e = evaluate(levels(0.7), sources, all);
    for (const i of [100, 777, 2000]) {
      const a = e.matte!.data[i]!;
      expect(e.composite!.b[i]).toBeCloseTo(a * e.foreground!.b[i]! + (1 - a) * e.background!.b[i]!, 6);
    }
  });
  it("refuses figures of a region", () =>
    expect(() => evaluate(recipe, sources, { reduce: 1, outputs: ["figures"], region: { x: 0, y: 0, width: 5, height: 5 } })).toThrow(
      /whole frame/,
    ));
});

describe("keyed shapes", () => {
  const half = (x: number) => [
    { x: 0, y: 0 },
    { x, y: 0 },
    { x, y: 1000 },
    { x: 0, y: 1000 },
  ];
  const r = structuredClone(recipe);
  Object.assign(r.bounds.garbage[0]!, {
    soft: 0,
    points: half(20),
    keys: [
      { frame: 1, points: half(20) },
      { frame: 5, points: half(40) },
    ],
  });
  it("throw away another part on every frame", () => {
    const kept = (frame: number) => {
      const { garbage } = evaluate(r, sources, { reduce: 1, frame, outputs: ["garbage"] });
      return garbage!.data.subarray(0, garbage!.width).reduce((s, v) => s + (1 - v), 0);
    };
    expect([1, 2, 3, 5, 9].map(kept)).toEqual([20, 25, 30, 40, 40]);
  });
  it("are refused with keys out of order or of other corners", () => {
    const swapped = structuredClone(r);
    swapped.bounds.garbage[0]!.keys.reverse();
    expect(() => parseRecipe(swapped)).toThrow(/in order/);
    const less = structuredClone(r);
    less.bounds.garbage[0]!.keys[0]!.points.pop();
    expect(() => parseRecipe(less)).toThrow(/as many points/);
  });
});
