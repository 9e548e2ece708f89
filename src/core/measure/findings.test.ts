import { describe, expect, it } from "vitest";
import { distanceTo } from "../image/distance";
import { maskUnder } from "../image/mask";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { closeGlossyRims, glossyDepth } from "../matte/glossy-rims";
import { rasterisePolygon } from "../matte/polygon";
import { proposeRecipe } from "../recipe/auto";
import { type Evaluation, evaluate } from "../recipe/evaluate";
import { holdoutAlong } from "../recipe/new-shape";
import { withPart } from "../recipe/path";
import type { Pass, Recipe } from "../recipe/schema";
import { plateSource } from "../recipe/sources";
import { cameraReading } from "../simulate/camera";
import { type Element, shoot } from "../simulate/shoot";
import { makeCamera, makeStage } from "../simulate/stage";
import { densestPlace } from "./densest";
import { measureFigures } from "./figures";
import { type Finding, findFaults } from "./findings";
import { findJumps } from "./jumps";

const [W, H] = [480, 270];

/** A warm upright figure, soft at its rim, before an even green screen. */
function figure(): Element {
  const coverage = makePlane(W, H);
  const colour = makePicture(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const d = y < 90 ? Math.hypot(x - 240, (y - 90) * 1.2) : Math.abs(x - 240);
      const a = Math.min(1, Math.max(0, (62 - d) / 4));
      coverage.data[i] = a;
      colour.r[i] = 0.46 * a;
      colour.g[i] = 0.36 * a;
      colour.b[i] = 0.2 * a;
    }
  return { coverage, colour };
}
const camera = makeCamera({ bits: 10, shotNoise: 0.00005 });
const source = plateSource("plate/1", shoot(figure(), makeStage({ distance: 1.2 }), camera).plate, cameraReading(camera));
const { recipe } = proposeRecipe(source.picture, 1);
const withPass = (change: (p: Pass) => void): Recipe => {
  const copy = structuredClone(recipe);
  change(copy.passes[0]!);
  return copy;
};
const outputs = ["plate", "pull", "matte", "foreground", "garbage", "figures"] as const;
function named(r: Recipe, spoil: (e: Evaluation) => void = () => {}): Finding[] {
  const e = evaluate(r, { plate: source }, { reduce: 1, outputs });
  const own: Evaluation = { ...e, pull: { ...e.pull!, data: e.pull!.data.slice() } };
  spoil(own);
  const { plate, pull, matte, foreground, garbage, figures } = own as Required<Evaluation>;
  const drawn = r.bounds.garbage.length > 0;
  return findFaults(
    { plate, pull, matte, foreground, garbage, drawn, figures, screen: r.screen.colour!, primary: "g", scale: 1 },
    r.passes[0]!,
  );
}
const kinds = (r: Recipe): string[] => named(r).map((f) => f.kind);

describe("findings", () => {
  it("are none on a proposed key of a plain figure", () => expect(kinds(recipe)).toEqual([]));
  it("before a magenta screen warm surfaces are not taken for the screen's colour", () => {
    const stage = makeStage({ distance: 1.2, screen: { colour: { r: 0.4, g: 0.04, b: 0.2 } } });
    const magenta = plateSource("plate/2", shoot(figure(), stage, camera).plate, cameraReading(camera));
    const proposed = proposeRecipe(magenta.picture, 1);
    expect(proposed.reasons.join(" ")).toContain("Screen: magenta");
    expect(proposed.reasons.join(" ")).not.toContain("has the screen's own hue");
    const e = evaluate(proposed.recipe, { plate: magenta }, { reduce: 1, outputs }) as Required<Evaluation>;
    const judged = { ...e, drawn: false, screen: proposed.recipe.screen.colour!, primary: "r" as const, scale: 1 };
    expect(findFaults(judged, proposed.recipe.passes[0]!).map((f) => f.kind)).not.toContain("screen-inside");
  });
  /** The same figure on a frame, judged as it is given. */
  const judge = (change: Partial<Parameters<typeof findFaults>[0]>, primary: "g" | "b" = "g") => {
    const e = evaluate(recipe, { plate: source }, { reduce: 1, outputs }) as Required<Evaluation>;
    return findFaults({ ...e, drawn: false, screen: recipe.screen.colour!, primary, scale: 1, ...change }, recipe.passes[0]!);
  };
  it("do not take a rim that lacks blue as its inside does for spill treatment that went too far", () => {
    const { plate, pull } = evaluate(recipe, { plate: source }, { reduce: 1, outputs }) as Required<Evaluation>;
    // Warm before blue: the screen's light on the rim made up for the blue that the surface lacks.
    const toOutside = distanceTo(maskUnder(pull.data, 0.5), W, H);
    const blue = (inside: number, rim: number): Picture => ({
      ...plate,
      r: plate.r.map((v, i) => (toOutside[i]! > 0 ? 0.46 : v)),
      g: plate.g.map((v, i) => (toOutside[i]! > 0 ? 0.36 : v)),
      b: plate.b.map((v, i) => (toOutside[i]! === 0 ? v : toOutside[i]! < 6 ? rim : inside)),
    });
    const screen = { r: 0.04, g: 0.08, b: 0.4 };
    const named = (before: Picture, after: Picture) => judge({ plate: before, foreground: after, screen }, "b").map((f) => f.kind);
    expect(named(blue(0.2, 0.34), blue(0.2, 0.2))).not.toContain("over-corrected");
    expect(named(blue(0.34, 0.34), blue(0.34, 0.2))).toContain("over-corrected");
  });
  it("judge the light of mixed pixels by the screen behind them, not by one colour for all of it", () => {
    const { r, g, b } = recipe.screen.colour!;
    const { cleanPlate: clean } = evaluate(recipe, { plate: source }, { reduce: 1, outputs: ["cleanPlate"] });
    // Sampled where the screen is all but unlit.
    const screen = { r: r / 100, g: g / 100, b: b / 100 };
    expect(judge({ screen }).map((f) => f.kind)).toContain("dark-line");
    expect(judge({ screen, clean }).map((f) => f.kind)).not.toContain("dark-line");
  });
  it("take mesh for no thing of the screen's colour, and solid cloth for one", () => {
    const { plate, matte } = evaluate(recipe, { plate: source }, { reduce: 1, outputs }) as Required<Evaluation>;
    const inside = (i: number) => Math.abs((i % W) - 240) < 20 && Math.floor(i / W) > 140 && Math.floor(i / W) < 200;
    const green: Picture = { ...plate, r: plate.r.slice(), b: plate.b.slice() };
    for (let i = 0; i < W * H; i++) if (inside(i)) green.r[i] = green.b[i] = 0.1;
    const open = { ...matte, data: matte.data.map((v, i) => (inside(i) ? 0.6 : v)) };
    expect(judge({ plate: green }).map((x) => x.kind)).toContain("screen-inside");
    expect(judge({ plate: green, matte: open }).map((x) => x.kind)).not.toContain("screen-inside");
  });
  it.each([
    ["spill-left", (p: Pass) => Object.assign(p.spill, { amount: 0 }), "Spill"],
    ["hard-edge", (p: Pass) => Object.assign(p.matte, { black: 0.4, white: 0.55 }), "Matte"],
    ["over-corrected", (p: Pass) => Object.assign(p.spill, { limit: "minimum", protect: 0 }), "Spill"],
  ] as const)("name %s where it was planted, and its remedy mends it", (kind, plant, step) => {
    const spoilt = withPass(plant);
    const found = named(spoilt).find((f) => f.kind === kind)!;
    expect(found).toBeDefined();
    expect(found.step).toBe(step);
    expect(found.figure).toMatch(/^\d/);
    const mended = { ...spoilt, passes: [found.changes!.reduce((p, c) => withPart(p, c.path, c.value), spoilt.passes[0]!)] };
    expect(kinds(mended)).not.toContain(kind);
  });
  it("name holes and residue of a plain key, fly to them, and automatic bounds mend both", () => {
    const plain = withPass((p) => {
      p.pull.method = "colour-difference";
      p.matte.bounds.on = false;
      p.matte.black = 0;
      p.matte.white = 1;
    });
    const uneven = {
      ...plain,
      screen: { ...plain.screen, from: "none" as const, colour: { ...plain.screen.colour!, g: 1.15 * plain.screen.colour!.g } },
    };
    const found = named(uneven);
    expect(found.map((f) => f.kind)).toEqual(expect.arrayContaining(["holes", "residue"]));
    const hole = found.find((f) => f.kind === "holes")!;
    // Its place lies on the figure.
    const middle = { x: hole.place!.x + hole.place!.width / 2, y: hole.place!.y + hole.place!.height / 2 };
    expect(Math.abs(middle.x - 240)).toBeLessThan(62);
    const haze = found.find((f) => f.kind === "residue")!;
    expect(Math.abs(haze.place!.x + haze.place!.width / 2 - 240)).toBeGreaterThan(50);
  });
  it("name holes of rims that mirror the screen, and closing glossy rims as the remedy, when it is not done already", () => {
    const e = evaluate(recipe, { plate: source }, { reduce: 1, outputs }) as Required<Evaluation>;
    // A crisp post that stands open by a fifth for 8 px behind its outline.
    const pull = makePlane(W, H);
    for (let i = 0; i < W * H; i++) {
      const inside = 62 - Math.abs((i % W) - 240);
      pull.data[i] = Math.floor(i / W) < 40 || inside < 0 ? 0 : inside < 1 ? 0.4 : inside < 9 ? 0.8 : 1;
    }
    const judged = (glossy: number, matte: Plane) => {
      const figures = { ...measureFigures(pull, matte, undefined, 1), spill: 0 };
      const frame = { ...e, pull, matte, figures, drawn: false, screen: recipe.screen.colour!, primary: "g" as const, scale: 1 };
      return findFaults(frame, withPart(recipe.passes[0]!, "matte.bounds.glossy", glossy)).find((f) => f.kind === "holes");
    };
    const found = judged(0, pull)!;
    expect(found).toMatchObject({ remedy: "Close glossy rims", step: "Bounds" });
    expect(found.changes).toEqual([{ path: "matte.bounds.glossy", value: glossyDepth(H) }]);
    expect(judged(glossyDepth(H), pull)?.remedy).not.toBe("Close glossy rims");
    expect(judged(glossyDepth(H), closeGlossyRims(pull, glossyDepth(H)))).toBeUndefined();
  });
  /** Stripes near a blue screen's colour, so much of them at each place of a stripe and the gap beside it, 20 px in all. */
  const stripedBlue = (part: (x: number) => number) => {
    const striped = figure();
    for (let i = 0; i < W * H; i++)
      if (i % W >= 200 && i % W < 280 && i >= 120 * W)
        for (const [c, v] of [
          ["r", 0.085],
          ["g", 0.14],
          ["b", 0.34],
        ] as const)
          striped.colour[c][i]! += part((i % W) % 20) * (v - (striped.colour[c][i] as number));
    const stage = makeStage({ distance: 2, screen: { colour: { r: 0.012, g: 0.03, b: 0.12 } } });
    const source = plateSource("plate/3", shoot(striped, stage, camera).plate, cameraReading(camera));
    return { blue: source, proposed: proposeRecipe(source.picture, 1) };
  };
  it("name no crisp stripes near the screen's colour: the proposal keeps them whole", () => {
    const { blue, proposed } = stripedBlue((x) => (x < 10 ? 1 : 0));
    expect(proposed.notSolved.filter((n) => n.kind === "near-screen")).toEqual([]);
    const { matte } = evaluate(proposed.recipe, { plate: blue }, { reduce: 1, outputs: ["matte"] }) as Required<Evaluation>;
    const within = matte.data.filter((_, i) => i % W >= 204 && i % W < 276 && i >= 140 * W);
    expect(Math.min(...within)).toBeGreaterThan(0.98);
  });
  it("name soft stripes near the screen's colour that stay half open, as the proposal does, until a holdout lies over them", () => {
    const { blue, proposed } = stripedBlue((x) => 0.5 - 0.5 * Math.cos((2 * Math.PI * x) / 20));
    const told = proposed.notSolved.filter((n) => n.kind === "near-screen");
    expect(told).toHaveLength(3);
    const found = (r: Recipe) => {
      const e = evaluate(r, { plate: blue }, { reduce: 1, outputs }) as Required<Evaluation>;
      return findFaults({ ...e, drawn: false, screen: r.screen.colour!, primary: "b", scale: 1 }, r.passes[0]!).find(
        (f) => f.kind === "near-screen",
      );
    };
    const open = found(proposed.recipe)!;
    expect([open.step, open.draw, open.changes]).toEqual(["Bounds", "holdout", null]);
    for (const { place } of [...told, { place: open.place! }]) {
      expect(place.x + place.width / 2).toBeGreaterThan(200);
      expect(place.x + place.width / 2).toBeLessThan(280);
    }
    // Held along the outlines that it offers, none is left open.
    expect(open.hold!.length).toBeGreaterThan(2);
    const garbage: Recipe["bounds"]["garbage"] = [];
    for (const outline of open.hold!) garbage.push(holdoutAlong(outline, garbage));
    expect(found({ ...proposed.recipe, bounds: { ...proposed.recipe.bounds, garbage } })).toBeUndefined();
  });
  it("offer holdouts along holes that no key can tell from the screen, the largest first", () => {
    const e = evaluate(recipe, { plate: source }, { reduce: 1, outputs }) as Required<Evaluation>;
    const holed = (plane: Plane): Plane => {
      const data = plane.data.slice();
      for (let i = 0; i < data.length; i++) {
        const [x, y] = [i % W, Math.floor(i / W)];
        if (Math.hypot(x - 225, y - 150) < 12 || Math.hypot(x - 262, y - 210) < 6) data[i] = 0.05;
      }
      return { ...plane, data };
    };
    const [pull, matte] = [holed(e.pull), holed(e.matte)];
    const figures = { ...measureFigures(pull, matte, undefined, 1), spill: 0 };
    const hole = judge({ pull, matte, figures }).find((f) => f.kind === "holes")!;
    expect([hole.step, hole.draw, hole.changes]).toEqual(["Bounds", "holdout", null]);
    const [large, small, ...others] = hole.hold!.map((outline) => rasterisePolygon(outline, W, H).data);
    expect(others).toEqual([]);
    const at = (held: Float32Array | undefined, x: number, y: number) => held![y * W + x];
    expect([at(large, 225, 150), at(large, 236, 150), at(large, 242, 150), at(large, 262, 210)]).toEqual([1, 1, 0, 0]);
    expect([at(small, 262, 210), at(small, 225, 150)]).toEqual([1, 0]);
  });
  it("name a garbage matte that cuts the subject, on its place, and ask for a hand", () => {
    const shape = {
      id: "tight",
      name: "Tight",
      kind: "garbage" as const,
      out: "outside" as const,
      smooth: false,
      soft: 0,
      lean: 0,
      keys: [],
      points: [
        { x: 60, y: 0 },
        { x: 260, y: 0 },
        { x: 260, y: H },
        { x: 60, y: H },
      ],
    };
    const found = named({ ...recipe, bounds: { ...recipe.bounds, garbage: [shape] } }).find((f) => f.kind === "touches-garbage")!;
    expect(found.changes).toBeNull();
    expect(found.place!.x).toBeLessThan(262);
    expect(found.place!.x + found.place!.width).toBeGreaterThan(258);
  });
  it("come worst first", () => {
    const spoilt = withPass((p) => {
      p.spill.amount = 0;
      Object.assign(p.matte, { black: 0.4, white: 0.55 });
    });
    const list = named(spoilt);
    expect(list.length).toBeGreaterThan(1);
    for (let i = 1; i < list.length; i++) expect(list[i]!.severity).toBeLessThanOrEqual(list[i - 1]!.severity);
  });
  it("say nothing of a frame without a subject", () => {
    expect(named(recipe, (e) => (e.pull as { data: Float32Array }).data.fill(0))).toEqual([]);
  });
});

describe("the densest place", () => {
  it("is where most marks lie, in pixels of the full frame, and null without marks", () => {
    const marks = new Float32Array(100 * 50);
    expect(densestPlace(marks, 100, 50, 0.5, 10)).toBeNull();
    marks[25 * 100 + 90] = 1;
    for (let x = 20; x < 26; x++) marks[10 * 100 + x] = 1;
    const p = densestPlace(marks, 100, 50, 0.5, 10)!;
    expect(p.x).toBeLessThanOrEqual(40);
    expect(p.x + p.width).toBeGreaterThanOrEqual(52);
    expect(p.width).toBeLessThanOrEqual(24);
  });
});

describe("jumps", () => {
  const calm = Array.from({ length: 24 }, (_, i) => 100 + 3 * Math.sin(i));
  it("are frames that leave their neighbours, and not a slow rise", () => {
    expect(findJumps(calm, 20)).toEqual([]);
    expect(
      findJumps(
        calm.map((v, i) => v + 8 * i),
        20,
      ),
    ).toEqual([]);
    expect(
      findJumps(
        calm.map((v, i) => (i === 11 ? 300 : v)),
        20,
      ),
    ).toEqual([11]);
  });
  it("do not stumble over frames that could not be measured", () => {
    expect(
      findJumps(
        calm.map((v, i) => (i % 5 === 0 ? null : i === 12 ? 400 : v)),
        20,
      ),
    ).toEqual([12]);
    expect(findJumps([1, null, 2], 0)).toEqual([]);
  });
});
