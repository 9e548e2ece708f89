/**
 * Every step and the whole default recipe at 1920×1080 on one thread, as multiples of copying the same float32 RGBA frame
 * in memory, and beside ffmpeg's general-purpose filters on the same frame. Run: npm run bench:speed
 */

import { execFileSync } from "node:child_process";
import { readTruth } from "../demo/truth-set";
import { edgeColour } from "../src/core/edge/edge-colour";
import { rimChroma } from "../src/core/edge/rim-chroma";
import { chromaBehindRgb, recordedBehindRgb } from "../src/core/image/chroma-behind-rgb";
import { decodeWithRebuiltChroma } from "../src/core/image/chroma-rebuild";
import { enlargeChannel } from "../src/core/image/fill-in";
import { withoutFringes } from "../src/core/image/fringes";
import { tellsMosaic, withoutFalseColour } from "../src/core/image/mosaic-colour";
import { makePicture, makePlane, type Picture } from "../src/core/image/plane";
import { PlanePool } from "../src/core/image/pool";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { withoutSharpening } from "../src/core/image/sharpening";
import { chromaDistance } from "../src/core/key/chroma-distance";
import { colourDifference } from "../src/core/key/colour-difference";
import { subjectDifference, subjectExcess } from "../src/core/key/subject-difference";
import { unmix } from "../src/core/key/unmix";
import { applyBounds, automaticBounds } from "../src/core/matte/auto-bounds";
import { closeDips } from "../src/core/matte/dips";
import { closeGlossyRims } from "../src/core/matte/glossy-rims";
import { matteLevels } from "../src/core/matte/levels";
import { shapesMatte } from "../src/core/matte/polygon";
import { measureFigures } from "../src/core/measure/figures";
import { tellFringes } from "../src/core/measure/fringes";
import { tellSharpening } from "../src/core/measure/sharpening";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { defaultRecipe } from "../src/core/recipe/schema";
import { StepCache } from "../src/core/recipe/step-cache";
import { straightOverOpaque } from "../src/core/scene/over";
import { synthesiseCleanPlate } from "../src/core/screen/clean-plate";
import { levelPlate } from "../src/core/screen/level";
import { reportPlate } from "../src/core/screen/report";
import { missingLight, screenInShade, thinShade } from "../src/core/screen/shade";
import { cameraReading } from "../src/core/simulate/camera";
import { shoot } from "../src/core/simulate/shoot";
import { makeCamera, makeStage } from "../src/core/simulate/stage";
import { limitSpill } from "../src/core/spill/limit";
import { asJpeg, CAMERA, variantOf } from "./variants";

const [W, H] = [1920, 1080];
const coverage = makePlane(W, H);
const colour = makePicture(W, H);
for (let y = 0; y < H; y++)
  for (let x = 0; x < W; x++) {
    const i = y * W + x;
    const strand = Math.abs(Math.sin(x * 0.2 + y * 0.03)) < 0.1 && Math.hypot(x - W / 2, y - H / 2) < 420 ? 0.7 : 0;
    const a = Math.max(strand, Math.min(1, Math.max(0, 300 - Math.hypot(x - W / 2, y - H / 2))));
    coverage.data[i] = a;
    colour.r[i] = a * 0.3;
    colour.g[i] = a * 0.25;
    colour.b[i] = a * 0.2;
  }
const camera = makeCamera({ bits: 8, subsampling: "420", shotNoise: 0.0003, readNoise: 0.001 });
const reading = cameraReading(camera);
const raw = shoot({ coverage, colour }, makeStage({ screen: { gradient: 0.6 } }), camera).plate;
const plate = decodeRawFrame(raw, reading);
const behind = makePicture(W, H);

/** Median of runs, ms, after two that warm up. */
function time(run: () => void, rounds = 7): number {
  run();
  run();
  const took: number[] = [];
  for (let k = 0; k < rounds; k++) {
    const t = performance.now();
    run();
    took.push(performance.now() - t);
  }
  return took.sort((a, b) => a - b)[rounds >> 1]!;
}
const from = new Float32Array(W * H * 4).fill(0.5);
const to = new Float32Array(W * H * 4);
const copy = time(() => to.set(from), 21);
const show = (name: string, ms: number) =>
  console.log(`${name.padEnd(44)} ${ms.toFixed(1).padStart(8)} ms  ${(ms / copy).toFixed(1).padStart(7)} copies`);
show("copy of a float32 RGBA frame", copy);

const pool = new PlanePool(2 ** 31);
const taken: Float32Array[] = [];
const allocate = (n: number) => {
  const b = pool.take(n);
  taken.push(b);
  return b;
};
const steps: [string, number][] = [];
const step = (name: string, run: () => void) => {
  const ms = time(() => {
    run();
    pool.give(...taken.splice(0));
  });
  steps.push([name, ms]);
  show(name, ms);
};
/** A picture at so many times its size, bilinear. */
function enlarged({ width, height, r, g, b }: Picture, factor: number): Picture {
  const [w, h] = [width * factor, height * factor];
  const large = (c: Float32Array) => {
    const out = new Float32Array(w * h);
    enlargeChannel(c, width, height, factor, w, h, out);
    return out;
  };
  return { width: w, height: h, r: large(r), g: large(g), b: large(b) };
}
const screen = { r: 0.03, g: 0.24, b: 0.05 };
const spill = { primary: "g", limit: "average", amount: 1, replace: "neutral" } as const;
const clean = synthesiseCleanPlate(plate, "g");
const key = { primary: "g", weight: 0.5, screen: clean } as const;
const own = subjectExcess(plate, key);
const pull = subjectDifference(plate, key, own);
const bounds = { outLevel: 0.06, grow: 9, inLevel: 0.88, shrink: 9, soft: 4, specks: 16, islands: 0 };
const decided = automaticBounds(pull, bounds, 1);
const shade = screenInShade(plate, clean, "g");
const treated = limitSpill(plate, spill).picture;
/** As far as a proposal looks in a frame of that height. */
const REACH = 119;
const polygon = [
  {
    points: [
      { x: 200, y: 100 },
      { x: 1700, y: 80 },
      { x: 1800, y: 1000 },
      { x: 150, y: 1050 },
    ],
    kind: "garbage",
    smooth: false,
    out: "outside",
    soft: 24,
  },
] as const;

step("decode 4:2:0 to linear light", () => decodeRawFrame(raw, reading));
step("Screen: chroma rebuilt along luma", () => decodeWithRebuiltChroma(raw, reading));
const still = (await asJpeg(plate)).recorded.raw;
step("Plate: coarse chroma of a JPEG told", () => chromaBehindRgb({ ...still }));
step("Plate: coarse chroma of a JPEG undone", () => recordedBehindRgb({ ...still }, "srgb"));
step("Screen: clean plate synthesis", () => synthesiseCleanPlate(plate, "g", allocate));
step("Pull: a lens's fringes told", () => tellFringes(plate, "g", false));
step("Pull: a lens's fringes out of the matte's copy", () => withoutFringes(plate, { red: 1, blue: -1 }, 1, allocate));
step("Pull: a camera's sharpening told", () => tellSharpening(raw, pull));
step("Plate: a mosaic told", () => tellsMosaic({ ...still }));
step("Pull: a mosaic's false colour cleared for the matte", () => withoutFalseColour({ ...still }));
step("Pull: a camera's sharpening undone for the matte", () => withoutSharpening(raw, { amount: 1, radius: 0.8 }));
step("Screen: levelled plate", () => levelPlate(plate, pull, clean, screen, 1, undefined, allocate));
step("Bounds: garbage polygon with soft edge", () => shapesMatte(polygon, W, H, 1));
step("Pull: colour difference (pointwise)", () => colourDifference(plate, { screen, primary: "g", weight: 0.5 }, allocate));
step("Pull: the subject's own excess", () => subjectExcess(plate, key, 1, allocate));
step("Pull: subject-aware difference (pointwise)", () => subjectDifference(plate, key, own, allocate));
step("Pull: unmix, without its first matte", () =>
  unmix(plate, { screen: clean, primary: "g", prior: pull, reach: REACH, follow: 0, floor: 0.02 }, allocate),
);
step("Pull: unmix, rims looked through", () =>
  unmix(plate, { screen: clean, primary: "g", prior: pull, reach: REACH, follow: 0, floor: 0.02, rims: 2 }, allocate),
);
step("Pull: chroma distance (pointwise)", () => chromaDistance(plate, { screen, inner: 12, outer: 38, stretch: 1.8 }, allocate));
step("Matte: levels (pointwise)", () => matteLevels(pull, { black: 0.02, white: 0.98 }, allocate));
step("Matte: automatic bounds", () => automaticBounds(pull, bounds, 1, allocate));
step("Matte: screen in shade", () => screenInShade(plate, clean, "g"));
step("Matte: thin shade", () => thinShade(plate, clean, "g"));
const thin = thinShade(plate, clean, "g");
step("Matte: automatic bounds, what is in shade out", () =>
  automaticBounds(pull, bounds, 1, allocate, { wide: shade, thin, missing: missingLight(plate, clean, "g") }),
);
step("Matte: automatic bounds applied (pointwise)", () => applyBounds(pull, decided, allocate));
step("Matte: glossy rims closed", () => closeGlossyRims(pull, 43, shade, allocate));
step("Matte: dips closed", () => closeDips(pull, 0.4, 1, allocate));
step("Spill: limit, neutral put back (pointwise)", () => limitSpill(plate, spill, allocate));
const rebuilt = decodeWithRebuiltChroma(raw, reading);
step("Edge: rim colour of coarse chroma", () => rimChroma(plate, rebuilt, pull, 1, allocate));
step("Edge: screen out of mixed pixels (pointwise)", () => edgeColour(plate, treated, pull, clean, 1, spill, allocate));
step("Scene: over (pointwise)", () => straightOverOpaque(treated, pull.data, behind, allocate));
step("Proof: figures", () => measureFigures(pull, pull, undefined, 1));
show(
  "Plate: report",
  time(() => reportPlate(plate, { transfer: "bt709", chromaFormat: "4:2:0", pixelAspect: 1, raw }), 3),
);
let proposal = proposeRecipe(plate, 1, undefined, { recorded: { raw, reading } });
show(
  "auto: a complete recipe",
  time(() => (proposal = proposeRecipe(plate, 1, undefined, { recorded: { raw, reading } })), 3),
);

const cache = new StepCache(2 ** 31);
let serial = 0;
// A new frame every time, decoded already: what decoding takes is told above.
const source = () => ({ plate: { key: `plate/${serial++}`, picture: plate, recorded: { raw, reading } } });
const simple = { ...defaultRecipe(), screen: { ...defaultRecipe().screen, colour: screen } };
show(
  "whole default recipe to composite",
  time(() => evaluate(simple, source(), { reduce: 1, outputs: ["composite"] }, cache), 5),
);
show(
  "whole proposed recipe to composite",
  time(() => evaluate(proposal.recipe, source(), { reduce: 1, outputs: ["composite"] }, cache), 5),
);
// A truth plate as large: more of it is strands and mixed pixels than of the drawn one, less of it is alike.
const veil = await readTruth("veil");
const large = variantOf(enlarged(veil.plate, 2), "camera");
const shot = { raw: large.raw as RawFrame, reading: cameraReading(CAMERA) };
let proposed = proposeRecipe(large.picture, 1, undefined, { recorded: shot });
show(
  "auto: a truth plate of mesh and hair",
  time(() => (proposed = proposeRecipe(large.picture, 1, undefined, { recorded: shot })), 3),
);
show(
  "its proposed recipe to composite",
  time(() => {
    const frame = { plate: { key: `veil/${serial++}`, picture: large.picture, recorded: shot } };
    evaluate(proposed.recipe, frame, { reduce: 1, outputs: ["composite"] }, cache);
  }, 5),
);
const fixed = source();
const small = new StepCache();
let white = 0.9;
show(
  "a matte level moved, 1280×720 view, matte drawn",
  time(() => {
    white -= 0.01;
    const moved = structuredClone(proposal.recipe);
    moved.passes[0]!.matte.white = white;
    evaluate(moved, fixed, { reduce: 2, outputs: ["matte"] }, small);
  }),
);

const ffmpeg = (filter: string) => {
  const started = performance.now();
  const frames = 12;
  execFileSync("ffmpeg", [
    "-v",
    "error",
    "-threads",
    "1",
    "-filter_threads",
    "1",
    "-f",
    "lavfi",
    "-i",
    `color=c=0x46b454:s=${W}x${H}:r=${frames}:d=1`,
    "-vf",
    filter,
    "-f",
    "null",
    "-",
  ]);
  return (performance.now() - started) / frames;
};
const idle = ffmpeg("format=yuva444p");
show("ffmpeg chromakey, 8 bit, per frame", Math.max(0, ffmpeg("format=yuva444p,chromakey=0x46b454:0.1:0.1") - idle));
show("ffmpeg despill, 8 bit, per frame", Math.max(0, ffmpeg("format=rgba,despill") - ffmpeg("format=rgba")));
const slowest = steps.sort((a, b) => b[1] - a[1]).slice(0, 3);
console.log(`Slowest steps: ${slowest.map(([n, ms]) => `${n} (${(ms / copy).toFixed(0)} copies)`).join("; ")}`);
