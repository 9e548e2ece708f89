/**
 * Plants faults in the proposed keys of the truth plates and asks the findings for them. What is truly wrong is told by the known truth, so
 * that both what is missed and what is cried for nothing is counted. Prints recall of the planted and precision over everything named,
 * by kind. Run: npm run bench:findings [NAME…]
 */
import { readTruth, type TruthFrame, truthNames } from "../demo/truth-set";
import { luminance } from "../src/core/color/hue";
import { boxMean } from "../src/core/image/box";
import { distanceTo } from "../src/core/image/distance";
import { FINDING_KINDS, type FindingKind, findFaults } from "../src/core/measure/findings";
import { proposeRecipe } from "../src/core/recipe/auto";
import { type Evaluation, evaluate } from "../src/core/recipe/evaluate";
import type { Pass, Recipe } from "../src/core/recipe/schema";
import { StepCache } from "../src/core/recipe/step-cache";
import { otherChannels, type Primary, screenPrimary } from "../src/core/screen/primary";
import { cameraReading } from "../src/core/simulate/camera";
import { CAMERA, VARIANTS, variantOf } from "./variants";

const withPass = (r: Recipe, change: (p: Pass) => void): Recipe => {
  const copy = structuredClone(r);
  change(copy.passes[0] as Pass);
  return copy;
};

/** Recipes with one thing wrong each. */
const PLANTS: Partial<Record<FindingKind, (r: Recipe, width: number, height: number) => Recipe>> = {
  holes: (r) =>
    withPass(r, (p) => {
      p.matte.bounds.on = false;
      p.pull.method = "colour-difference";
      p.matte.white = 1;
    }),
  residue: (r) =>
    withPass({ ...r, bounds: { ...r.bounds, beyond: false } }, (p) => {
      p.matte.bounds.on = false;
      p.pull.method = "colour-difference";
      p.matte.black = 0;
    }),
  "hard-edge": (r) =>
    withPass(r, (p) => {
      p.matte.black = 0.35;
      p.matte.white = 0.6;
    }),
  "spill-left": (r) =>
    withPass(r, (p) => {
      p.spill.amount = 0;
    }),
  "over-corrected": (r) =>
    withPass(r, (p) => {
      p.spill.limit = "minimum";
      p.spill.replace = "nothing";
      p.spill.protect = 0;
    }),
  "dark-line": (r) =>
    withPass(r, (p) => {
      p.edge.screenOut = 0;
      p.matte.shift = 2;
      p.spill.limit = "minimum";
      p.spill.replace = "nothing";
    }),
  "touches-garbage": (r, w, h) => ({
    ...r,
    bounds: {
      ...r.bounds,
      garbage: [
        {
          id: "tight",
          name: "Tight",
          kind: "garbage",
          out: "outside",
          smooth: false,
          soft: 0,
          lean: 0,
          keys: [],
          points: [
            { x: 0.1 * w, y: 0.3 * h },
            { x: 0.9 * w, y: 0.3 * h },
            { x: 0.9 * w, y: h },
            { x: 0.1 * w, y: h },
          ],
        },
      ],
    },
  }),
};

/** What is truly wrong, by the known truth. */
function trulyWrong(e: Evaluation, t: TruthFrame, primary: Primary): Partial<Record<FindingKind, boolean>> {
  const n = t.coverage.data.length;
  const { width, height } = t.coverage;
  const truth = t.coverage.data;
  const matte = e.matte!.data;
  const f = e.foreground!;
  const [un, vn] = otherChannels(primary);
  const depth = distanceTo(
    Uint8Array.from(truth, (v) => (v < 0.98 ? 1 : 0)),
    width,
    height,
  );
  const away = distanceTo(
    Uint8Array.from(truth, (v) => (v > 0.002 ? 1 : 0)),
    width,
    height,
  );
  const margin = Math.max(1.5, (3 * height) / 1080);
  // The true light of the solid subject around a place: what an edge grown over the screen should look like.
  const solid = truth.map((v) => (v > 0.97 ? 1 : 0));
  const light = truth.map((v, i) => (v > 0.97 ? luminance({ r: t.free.r[i]!, g: t.free.g[i]!, b: t.free.b[i]! }) : 0));
  const [lightNear, solidNear] = [light, solid].map((c) => boxMean(c, width, height, 6)) as [Float32Array, Float32Array];
  const c = {
    holes: 0,
    residue: 0,
    band: 0,
    lost: 0,
    rim: 0,
    green: 0,
    pink: 0,
    soft: 0,
    dark: 0,
    empty: 0,
    faint: 0,
    cut: 0,
    own: 0,
    open: 0,
    area: 0,
  };
  for (let i = 0; i < n; i++) {
    const a = truth[i] as number;
    const m = matte[i] as number;
    const thrown = e.garbage ? (e.garbage.data[i] as number) > 0.5 : false;
    if (thrown && a > 0.05) c.cut++;
    if (depth[i]! > margin && m < 0.99 && !thrown) c.holes++;
    if (a > 0.998 && depth[i]! > margin && m > 0.1 && m < 0.95) c.open++;
    if (away[i]! > margin && m > 0.01) c.residue++;
    if (a > 0.05 && a < 0.95 && !thrown) {
      c.band++;
      if (m <= 1e-4 || m >= 1 - 1e-4) c.lost++;
    }
    if (a > 0.5) {
      c.area++;
      const free = (k: "r" | "g" | "b") => (t.free[k][i] as number) / a;
      const [p, u, v] = [f[primary][i]!, f[un][i]!, f[vn][i]!];
      const light = Math.max(0.03, p + u + v);
      const [fp, fu, fv] = [free(primary), free(un), free(vn)];
      if (depth[i]! >= 1.5 && depth[i]! <= height / 60) {
        c.rim++;
        c.green += Math.max(0, p - 0.5 * (u + v) - Math.max(0, fp - 0.5 * (fu + fv))) / light;
      }
      // What is taken beyond the spill, over the whole subject.
      c.pink += Math.max(0, fp - 0.5 * (fu + fv) - (p - 0.5 * (u + v))) / light;
      // Its own hue, or so much of the screen's light that a mirror or a glossy face shows the screen.
      const lit = (k: "r" | "g" | "b") => (t.spilled[k][i] as number) / a;
      const hue = (P: number, U: number, V: number) => P > 0.02 && (P - 0.5 * (U + V)) / P > 0.2;
      if (depth[i]! > 2 * margin && (hue(fp, fu, fv) || hue(lit(primary), lit(un), lit(vn)))) c.own++;
    }
    const grown = m > 0.3 && a <= 0.05 && solidNear[i]! > 0.1;
    if (grown || (m > 0.3 && m < 0.9 && a > 0.05)) {
      c.soft++;
      const y = luminance({ r: f.r[i]!, g: f.g[i]!, b: f.b[i]! });
      const yt = grown ? lightNear[i]! / solidNear[i]! : luminance({ r: t.free.r[i]! / a, g: t.free.g[i]! / a, b: t.free.b[i]! / a });
      if (y < 0.6 * yt) c.dark++;
    }
    if (away[i]! > 2 * margin && !thrown) {
      c.empty++;
      if (m > 0.0015 && m <= 0.04) c.faint++;
    }
  }
  const lines = (height / 1080) ** 2;
  return {
    holes: c.holes > 30 * lines,
    "near-screen": c.open > 0.001 * matte.length,
    residue: c.residue > 90 * lines,
    "hard-edge": c.lost > 0.25 * c.band,
    "spill-left": c.green > 0.0025 * c.rim,
    "over-corrected": c.pink > 0.015 * c.area,
    "dark-line": c.dark > 0.2 * c.soft,
    "touches-garbage": c.cut > 10,
    "grain-in-background": c.faint > 0.07 * c.empty,
    "screen-inside": c.own > 0.003 * c.area,
  };
}

const tally = new Map<FindingKind, { planted: number; found: number; named: number; right: number }>(
  FINDING_KINDS.map((k) => [k, { planted: 0, found: 0, named: 0, right: 0 }]),
);
const only = process.argv.slice(2);
for (const name of truthNames().filter((n) => only.length === 0 || only.includes(n))) {
  const t = await readTruth(name);
  const { width, height } = t.coverage;
  for (const variant of VARIANTS) {
    const { picture, raw } = variantOf(t.plate, variant);
    const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
    const { recipe } = proposeRecipe(picture, 1, undefined, recorded);
    const cache = new StepCache();
    const cases: [FindingKind | "none", Recipe][] = [
      ["none", recipe],
      ...Object.entries(PLANTS).map(([k, plant]) => [k as FindingKind, plant(recipe, width, height)] as [FindingKind, Recipe]),
    ];
    for (const [planted, r] of cases) {
      const outputs = ["plate", "pull", "matte", "foreground", "garbage", "figures", "cleanPlate", "nearScreen"] as const;
      const e = evaluate(r, { plate: { key: `${name}/${variant}`, picture, ...recorded } }, { reduce: 1, outputs }, cache);
      const screen = r.screen.colour!;
      const primary = screenPrimary(screen);
      const { plate, pull, matte, foreground, garbage, figures, cleanPlate: clean } = e as Required<Evaluation>;
      const drawn = r.bounds.garbage.length > 0;
      const { nearScreen } = e;
      const judged = { plate, pull, matte, foreground, garbage, drawn, figures, screen, primary, clean, nearScreen, scale: 1 };
      const named = findFaults(judged, r.passes[0]!).map((f) => f.kind);
      const wrong = trulyWrong(e, t, primary);
      if (planted !== "none" && wrong[planted]) {
        const row = tally.get(planted)!;
        row.planted++;
        if (named.includes(planted)) row.found++;
      }
      for (const kind of named) {
        const row = tally.get(kind)!;
        row.named++;
        if (wrong[kind]) row.right++;
      }
      const cried = named.filter((k) => !wrong[k]);
      const missed = FINDING_KINDS.filter((k) => wrong[k] && !named.includes(k));
      console.log(
        `${name.padEnd(7)} ${variant.padEnd(6)} ${planted.padEnd(19)} ${planted !== "none" && !wrong[planted] ? "(not truly there) " : ""}named ${named.join(", ") || "nothing"}${cried.length ? `; for nothing: ${cried.join(", ")}` : ""}${missed.length ? `; missed: ${missed.join(", ")}` : ""}`,
      );
    }
  }
}
const all = { planted: 0, found: 0, named: 0, right: 0 };
for (const [kind, row] of tally) {
  console.log(`${kind.padEnd(20)} recall ${row.found}/${row.planted}   precision ${row.right}/${row.named}`);
  for (const k of ["planted", "found", "named", "right"] as const) all[k] += row[k];
}
console.log(
  `all: recall ${((100 * all.found) / all.planted).toFixed(0)} % of ${all.planted} planted, precision ${((100 * all.right) / all.named).toFixed(0)} % of ${all.named} named`,
);
