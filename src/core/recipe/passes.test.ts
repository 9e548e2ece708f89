import { describe, expect, it } from "vitest";
import { makePicture, type Picture, type Plane } from "../image/plane";
import { evaluate, type OutputName } from "./evaluate";
import { defaultRecipe, type Pass, parseRecipe, type Recipe } from "./schema";
import { StepCache } from "./step-cache";

const [width, height] = [120, 60];
const SCREEN = { r: 0.04, g: 0.35, b: 0.06 };
const at = (x: number, y: number) => y * width + x;

/** Skin at the left, cloth of nearly the screen's hue at the right, screen around both. */
function plateOf(): Picture {
  const p = makePicture(width, height);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const inside = y > 15 && y < 45;
    const c =
      inside && x > 15 && x < 45 ? { r: 0.5, g: 0.33, b: 0.22 } : inside && x > 75 && x < 105 ? { r: 0.1, g: 0.22, b: 0.09 } : SCREEN;
    for (const k of ["r", "g", "b"] as const) p[k][i] = c[k];
  }
  return p;
}
const plate = { key: "passes", picture: plateOf() };
const base = (): Recipe => {
  const r = defaultRecipe();
  r.screen.colour = SCREEN;
  return r;
};
const second = (change: Partial<Pass>): Pass => ({ ...structuredClone(base().passes[0]!), id: "second", ...change });
const withSecond = (change: Partial<Pass>): Recipe => ({ ...base(), passes: [base().passes[0]!, second(change)] });
const look = (r: Recipe, outputs: OutputName[], pass?: string, cache?: StepCache) =>
  evaluate(r, { plate }, { reduce: 1, outputs, ...(pass ? { pass } : {}) }, cache);
const matteOf = (r: Recipe): Plane => look(r, ["matte"]).matte!;
const SKIN = at(30, 30);
const CLOTH = at(90, 30);
const EMPTY = at(60, 30);
/** Finds the cloth, which the difference loses: everything that is not the screen's luma. */
const clothPull = () => ({ ...base().passes[0]!.pull, method: "clean-difference" as const });

describe("several passes", () => {
  it("one pass alone is what it was: the same numbers with a second one switched off", () => {
    const alone = matteOf(base()).data;
    expect([...matteOf(withSecond({ on: false, pull: clothPull() })).data]).toEqual([...alone]);
    expect(alone[SKIN]).toBe(1);
    expect(alone[CLOTH]).toBeLessThan(0.7);
  });
  it("a second pull on what the first left brings the cloth back, and leaves the rest", () => {
    const m = matteOf(withSecond({ region: { kind: "left" }, pull: clothPull() })).data;
    expect(m[CLOTH]).toBeGreaterThan(0.8);
    expect(m[SKIN]).toBe(1);
    expect(m[EMPTY]).toBeLessThan(1e-6);
  });
  it("joins, cuts, keeps within and replaces", () => {
    const m = (combine: Pass["combine"]) => matteOf(withSecond({ combine, pull: clothPull() })).data;
    const shown = (v: Float32Array) => [SKIN, CLOTH, EMPTY].map((i) => Number(v[i]!.toFixed(5)));
    expect(shown(m("join"))).toEqual([1, 1, 0]);
    expect(shown(m("cut"))).toEqual([0, 0, 0]);
    const alone = matteOf(base()).data;
    expect(m("within")[CLOTH]).toBeCloseTo(alone[CLOTH]!, 6);
    expect([...m("replace")]).toEqual([...matteOf({ ...base(), passes: [{ ...base().passes[0]!, pull: clothPull() }] }).data]);
  });
  it("counts only inside its drawn region", () => {
    const region: Pass["region"] = {
      kind: "drawn",
      keys: [],
      smooth: false,
      soft: 0,
      points: [
        { x: 60, y: 0 },
        { x: 92, y: 0 },
        { x: 92, y: 60 },
        { x: 60, y: 60 },
      ],
    };
    const m = matteOf(withSecond({ region, pull: clothPull() })).data;
    expect(m[at(85, 30)]).toBe(1);
    expect(m[at(98, 30)]).toBeCloseTo(matteOf(base()).data[at(98, 30)]!, 6);
  });
  it("its drawn region goes from key to key, and counts where it lies on the frame", () => {
    const box = (x: number) => [
      { x, y: 0 },
      { x: x + 16, y: 0 },
      { x: x + 16, y: 60 },
      { x, y: 60 },
    ];
    const still = (x: number): Pass["region"] => ({ kind: "drawn", smooth: false, soft: 0, points: box(x), keys: [] });
    const keys = [
      { frame: 1, points: box(70) },
      { frame: 5, points: box(94) },
    ];
    const moving: Pass["region"] = { kind: "drawn", smooth: false, soft: 0, points: box(0), keys };
    const cache = new StepCache();
    const on = (region: Pass["region"], frame: number) => [
      ...evaluate(withSecond({ region, pull: clothPull() }), { plate }, { reduce: 1, frame, outputs: ["matte"] }, cache).matte!.data,
    ];
    for (const [frame, x] of [
      [1, 70],
      [3, 82],
      [9, 94],
    ] as const)
      expect(on(moving, frame)).toEqual(on(still(x), 1));
    expect(on(moving, 1)).not.toEqual(on(moving, 9));
    expect(() => parseRecipe(withSecond({ region: { ...moving, keys: [{ frame: 1, points: box(0).slice(1) }] } }))).toThrow(
      /as many points as the outline/,
    );
    expect(() => parseRecipe(withSecond({ region: { ...moving, keys: [...keys].reverse() } }))).toThrow(/order of frames/);
  });
  it("each pass has its own spill: the cloth keeps its green where the second pass brought it", () => {
    const r = withSecond({
      region: { kind: "left" },
      pull: clothPull(),
      spill: { ...base().passes[0]!.spill, replace: "original" },
      edge: { ...base().passes[0]!.edge, screenOut: 0 },
    });
    r.passes[0]!.matte.white = 1;
    r.passes[0]!.matte.black = 0.6;
    const both = look(r, ["foreground"]).foreground!;
    expect(both.g[CLOTH]).toBeCloseTo(0.22, 2);
    const one = look({ ...r, passes: [r.passes[0]!] }, ["foreground"]).foreground!;
    expect(one.g[CLOTH]).toBeLessThan(0.12);
    // The skin is the first pass's in both.
    expect(both.g[SKIN]).toBeCloseTo(one.g[SKIN]!, 6);
  });
  it("shows the pull of the pass that is asked for, and both joined without one", () => {
    const r = withSecond({ region: { kind: "left" }, pull: clothPull() });
    expect(look(r, ["pull"], "main").pull!.data[CLOTH]).toBeLessThan(0.7);
    expect(look(r, ["pull"], "second").pull!.data[CLOTH]).toBe(1);
    expect(look(r, ["pull"]).pull!.data[CLOTH]).toBeGreaterThan(0.8);
  });
  it("a change in one pass leaves the other's steps alone", () => {
    const cache = new StepCache();
    const r = withSecond({ region: { kind: "left" }, pull: clothPull() });
    look(r, ["composite", "figures"], undefined, cache);
    const before = { ...cache.computed };
    const changed = structuredClone(r);
    changed.passes[1]!.matte.white = 0.8;
    look(changed, ["composite", "figures"], undefined, cache);
    expect(cache.computed.pull).toBe(before.pull);
    expect(cache.computed.joinPulls).toBe(before.joinPulls);
    expect(cache.computed.matte).toBe(before.matte! + 1);
    expect(cache.computed.join).toBe(before.join! + 1);
  });
  it("is refused without a pass that is on, with a doubled id, and with more than eight", () => {
    const off = base();
    off.passes[0]!.on = false;
    expect(() => matteOf(off)).toThrow(/switch one on/);
    const twice = withSecond({ id: "main" });
    expect(() => parseRecipe(twice)).toThrow(/same id/);
    const many = { ...base(), passes: Array.from({ length: 9 }, (_, k) => second({ id: `p${k}` })) };
    expect(() => parseRecipe(many)).toThrow(/passes/);
  });
});
