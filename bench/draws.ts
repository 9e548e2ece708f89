/**
 * The truth plates as they might as well have been: other draws of the camera's grain, mirrored, half a pixel aside, half as large again. What
 * `auto` does must not hang on any of it. Prints mean and worst error of each plate, and writes bench/draws.json. Run: npm run bench:draws [NAME…]
 */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { readTruth, type TruthFrame, truthNames } from "../demo/truth-set";
import type { Picture, Plane } from "../src/core/image/plane";
import { compositeError, matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { cameraReading } from "../src/core/simulate/camera";
import { CAMERA, testBackground, VARIANTS, variantOf } from "./variants";

/** A frame drawn anew: its size over the plate's, and the place of the plate, in its pixels, that a pixel shows. */
interface Redrawn {
  readonly scale: number;
  readonly at: (x: number, y: number, width: number) => readonly [number, number];
}

const AS_IT_IS: Redrawn = { scale: 1, at: (x, y) => [x, y] };
const DRAWS: readonly { readonly name: string; readonly redrawn: Redrawn; readonly seed: number }[] = [
  ...[CAMERA.seed, 1, 2, 3, 4].map((seed) => ({ name: `grain ${seed}`, redrawn: AS_IT_IS, seed })),
  { name: "mirrored", redrawn: { scale: 1, at: (x, y, width) => [width - 1 - x, y] }, seed: 5 },
  { name: "half a pixel aside", redrawn: { scale: 1, at: (x, y) => [x + 0.5, y + 0.5] }, seed: 5 },
  { name: "half as large again", redrawn: { scale: 1.5, at: (x, y) => [(x + 0.5) / 1.5 - 0.5, (y + 0.5) / 1.5 - 0.5] }, seed: 5 },
];

/** A channel drawn anew, bilinear. */
function redraw(channel: Float32Array, width: number, height: number, { scale, at }: Redrawn): Float32Array {
  const [w, h] = [width * scale, height * scale];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const [u, v] = at(x, y, width);
      const [x0, y0] = [Math.min(width - 2, Math.max(0, Math.floor(u))), Math.min(height - 2, Math.max(0, Math.floor(v)))];
      const [fx, fy] = [Math.min(1, Math.max(0, u - x0)), Math.min(1, Math.max(0, v - y0))];
      const along = (row: number) => channel[row * width + x0]! * (1 - fx) + channel[row * width + x0 + 1]! * fx;
      out[y * w + x] = along(y0) * (1 - fy) + along(y0 + 1) * fy;
    }
  return out;
}

function redrawTruth({ plate, free, coverage }: TruthFrame, redrawn: Redrawn) {
  const { width, height } = plate;
  const size = { width: width * redrawn.scale, height: height * redrawn.scale };
  const channel = (c: Float32Array) => redraw(c, width, height, redrawn);
  const picture = (p: Picture): Picture => ({ ...size, r: channel(p.r), g: channel(p.g), b: channel(p.b) });
  const plane = (p: Plane): Plane => ({ ...size, data: channel(p.data) });
  return { plate: picture(plate), free: picture(free), coverage: plane(coverage) };
}

const only = process.argv.slice(2);
const FIGURES = ["edge", "core", "background", "deltaE"] as const;
const table: Record<string, string | number>[] = [];
for (const name of truthNames().filter((n) => only.length === 0 || only.includes(n))) {
  const truth = await readTruth(name);
  for (const variant of VARIANTS) {
    const rows = DRAWS.filter((d) => variant === "camera" || d.redrawn !== AS_IT_IS || d.seed === CAMERA.seed).map((draw) => {
      const { plate, free, coverage } = redrawTruth(truth, draw.redrawn);
      const { picture, raw } = variantOf(plate, variant, draw.seed);
      const recorded = raw ? { recorded: { raw, reading: cameraReading(CAMERA) } } : {};
      const { recipe, notSolved } = proposeRecipe(picture, 1, undefined, recorded);
      const e = evaluate(recipe, { plate: { key: draw.name, picture, ...recorded } }, { reduce: 1, outputs: ["matte", "foreground"] });
      const { edge, core, background } = matteError(e.matte!, coverage);
      const deltaE = compositeError(e.foreground!, coverage, free, testBackground(plate.width, plate.height));
      console.log(
        `${name.padEnd(7)} ${variant.padEnd(6)} ${draw.name.padEnd(20)} edge ${edge.toFixed(5)}  core ${core.toFixed(5)}  background ${background.toFixed(5)}  ΔE00 ${deltaE.toFixed(2)}  told ${notSolved.length}`,
      );
      return { edge, core, background, deltaE };
    });
    const round = (v: number) => Number(v.toPrecision(3));
    const of = (figure: (typeof FIGURES)[number]) => rows.map((r) => r[figure]);
    table.push({
      plate: name,
      variant,
      ...Object.fromEntries(
        FIGURES.flatMap((f) => [
          [`${f} mean`, round(of(f).reduce((a, b) => a + b, 0) / rows.length)],
          [`${f} worst`, round(Math.max(...of(f)))],
        ]),
      ),
    });
  }
}
console.table(table);
if (only.length === 0) writeFileSync(path.join(import.meta.dirname, "draws.json"), `${JSON.stringify(table, null, 1)}\n`);
