/**
 * Every truth plate × {clean, camera} × {auto, best constant colour difference, ffmpeg's general-purpose filters}, the two
 * others grid-searched with the truth in hand. Prints a table and writes bench/quality.json, which is committed, so that
 * a change for the worse is seen in review. Run: npm run bench:quality [NAME…]
 */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { readTruth, truthNames } from "../demo/truth-set";
import { scoreMatte } from "../src/core/measure/score";
import { compositeError, matteError, spillLeft } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { findScreen } from "../src/core/screen/find";
import { cameraReading } from "../src/core/simulate/camera";
import { bestConstant, bestFfmpeg, type Keyed } from "./baseline";
import { proxies } from "./proxies";
import { CAMERA, testBackground, VARIANTS, variantOf } from "./variants";

const only = process.argv.slice(2);
const rows: Record<string, string | number>[] = [];
const round = (v: number, digits = 4) => Number(v.toPrecision(digits));

for (const name of truthNames().filter((n) => only.length === 0 || only.includes(n))) {
  const t = await readTruth(name);
  const behind = testBackground(t.plate.width, t.plate.height);
  for (const variant of VARIANTS) {
    const { picture, raw } = variantOf(t.plate, variant);
    const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
    const { sample, primary } = findScreen(picture);
    const auto = (): Keyed => {
      const { recipe } = proposeRecipe(picture, 1, undefined, recorded);
      const e = evaluate(
        recipe,
        { plate: { key: `${name}/${variant}`, picture, ...recorded } },
        { reduce: 1, outputs: ["matte", "foreground"] },
      );
      return { matte: e.matte!, foreground: e.foreground!, settings: recipe.passes[0]!.pull.method };
    };
    const methods: [string, () => Keyed][] = [
      ["auto", auto],
      ["constant", () => bestConstant(picture, sample.colour, primary, t.coverage)],
      ["ffmpeg", () => bestFfmpeg(picture, sample.colour, primary, t.coverage)],
    ];
    for (const [method, run] of methods) {
      const started = performance.now();
      const { matte, foreground, settings } = run();
      const ms = performance.now() - started;
      const e = matteError(matte, t.coverage);
      const band = { ...t.coverage, data: t.coverage.data.map((v) => (v > 0.002 && v < 0.998 ? 1 : 0)) };
      const all = scoreMatte(matte, t.coverage);
      const unknown = scoreMatte(matte, t.coverage, band);
      const row = {
        plate: name,
        variant,
        method,
        edge: round(e.edge),
        core: round(e.core),
        inside: round(e.inside),
        background: round(e.background),
        sad: round(all.sad),
        sadBand: round(unknown.sad),
        gradient: round(all.gradient),
        connectivity: round(all.connectivity),
        deltaE: round(compositeError(foreground, t.coverage, t.free, behind)),
        spillLeft: round(spillLeft(foreground, t.coverage, t.spilled, t.free, primary)),
        spillShown: round(spillLeft(foreground, t.coverage, t.spilled, t.free, primary, "shown")),
        settings,
      };
      rows.push(row);
      console.log(
        `${name.padEnd(7)} ${variant.padEnd(6)} ${method.padEnd(8)} edge ${e.edge.toExponential(2)}  core ${e.core.toFixed(5)} (inside ${e.inside.toFixed(5)})  background ${e.background.toFixed(5)}  SAD ${all.sad.toFixed(0).padStart(6)}  ΔE00 ${row.deltaE.toFixed(2).padStart(6)}  spill left ${row.spillLeft.toFixed(3)} (shown ${row.spillShown.toFixed(3)})  ${settings}  (${ms.toFixed(0)} ms)`,
      );
    }
  }
}

/** Ratios of auto's edge error to the best constant's. */
for (const variant of VARIANTS)
  for (const name of new Set(rows.map((r) => r.plate))) {
    const edge = (method: string) => rows.find((r) => r.plate === name && r.variant === variant && r.method === method)!.edge as number;
    console.log(
      `${String(name).padEnd(7)} ${variant.padEnd(6)} edge error of auto over the best constant's: ${(edge("auto") / edge("constant")).toFixed(3)}`,
    );
  }

if (only.length === 0) {
  const correlations = await proxies();
  for (const [figure, { rank, leastRank, pooled, stands, cases }] of Object.entries(correlations))
    console.log(
      `${figure}: with ${stands}, over ${cases} cases: rank correlation ${rank.toFixed(2)} on a plate (least ${leastRank.toFixed(2)}), pooled correlation ${pooled.toFixed(2)}`,
    );
  const file = path.join(import.meta.dirname, "quality.json");
  let before = "";
  try {
    before = readFileSync(file, "utf8");
  } catch {
    // The first run has nothing to compare with.
  }
  const now = `${JSON.stringify({ rows, correlations }, (_, v) => (typeof v === "number" ? round(v) : v), 1)}\n`;
  writeFileSync(file, now);
  console.log(before === now ? "bench/quality.json: no change" : "bench/quality.json was written: see its difference before committing");
}
