/**
 * The proposal on plates drawn at random, that no threshold was set by: a head, a torso, an arm still or moving, strands, a veil, a mesh, smoke or a
 * stick, before a screen of any light with gradients, folds and a shadow; in each recording. Squared edge error against the best constant colour
 * difference that a grid search with the truth in hand finds; "!!" marks what falls behind the bars.
 * Run: npm run bench:random FIRST-LAST [pixels,camera,JPEG,H.264]
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import type { Rgb } from "../src/core/color/hue";
import { gaussianBlur } from "../src/core/image/blur";
import type { Picture } from "../src/core/image/plane";
import { random } from "../src/core/image/random";
import { decodeRawFrame, type RawFrame } from "../src/core/image/raw-frame";
import { matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { findScreen } from "../src/core/screen/find";
import { addNoise, cameraReading, record } from "../src/core/simulate/camera";
import { type At, type Drawn, drawPlate } from "../src/core/simulate/draw-plate";
import { bestConstant } from "./baseline";
import { asJpeg, CAMERA, fromRgbCodes, rgbCodes } from "./variants";

const SIZES = [
  [640, 360],
  [800, 450],
  [432, 768],
  [720, 480],
] as const;
const rgb = (r: number, g: number, b: number): Rgb => ({ r, g, b });
const CLOTHS = [
  rgb(0.7, 0.68, 0.62),
  rgb(0.02, 0.02, 0.025),
  rgb(0.4, 0.05, 0.04),
  rgb(0.03, 0.05, 0.12),
  rgb(0.6, 0.42, 0.05),
  rgb(0.2, 0.12, 0.06),
  rgb(0.3, 0.3, 0.3),
  rgb(0.35, 0.1, 0.25),
];
const SKINS = [rgb(0.56, 0.33, 0.24), rgb(0.25, 0.13, 0.08), rgb(0.1, 0.05, 0.035), rgb(0.65, 0.45, 0.36)];
const HAIR = [rgb(0.09, 0.05, 0.03), rgb(0.5, 0.38, 0.2), rgb(0.01, 0.008, 0.007), rgb(0.25, 0.09, 0.03), rgb(0.55, 0.53, 0.5)];

/** A plate of known coverage, and in words what was drawn. The same number draws the same. */
function drawAtRandom(number: number) {
  const next = random(number * 7919 + 3);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)] as T;
  const between = (low: number, high: number) => low + (high - low) * next();
  const [width, height] = pick(SIZES);
  const unit = Math.min(width, height) / 360;
  const told: string[] = [`${width}×${height}`];
  const often = (share: number, name: string): boolean => {
    const is = next() < share;
    if (is) told.push(name);
    return is;
  };

  const base = often(0.3, "blue screen")
    ? rgb(between(0.02, 0.05), between(0.06, 0.13), between(0.3, 0.5))
    : rgb(between(0.03, 0.09), between(0.3, 0.5), between(0.05, 0.12));
  const level = pick([1.5, 1, 1, 0.6, 0.35]);
  const fold = often(0.35, "folds") ? between(0.05, 0.2) : 0;
  const shade = often(0.3, "shadow") ? between(0.2, 0.6) : 0;
  const [across, down, period, tilt] = [between(-0.5, 0.5), between(-0.3, 0.3), unit * between(15, 60), between(-0.3, 0.3)];
  const [shadeX, shadeSize] = [width * between(0.2, 0.8), unit * between(40, 110)];
  const light: At<number> = (x, y) =>
    level *
    (1 + across * (x / width - 0.5) + down * (y / height - 0.5)) *
    (1 - fold * Math.max(0, Math.sin((x + tilt * y) / period)) ** 6) *
    (1 - shade * Math.exp(-(((x - shadeX) / shadeSize) ** 2) - ((y - 0.9 * height) / (0.5 * shadeSize)) ** 2));
  const screen: At<Rgb> = (x, y) => rgb(light(x, y) * base.r, light(x, y) * base.g, light(x, y) * base.b);

  const spill = level * pick([0, 0.02, 0.05, 0.12]);
  const key = pick([0.6, 1, 1, 1.4]);
  told.push(`screen at ${level}`, `subject at ${key}`, `spill ${spill.toFixed(2)}`);
  /** A surface's light: turned so far to the lamp, so far to the screen at its rim. */
  const lit = (c: Rgb, facing: number, rim: number): Rgb => {
    const own = key * (0.35 + 0.65 * Math.max(0, facing));
    const green = spill * (0.25 + 0.75 * rim);
    return rgb(own * c.r + green * base.r, own * c.g + green * base.g, own * c.b + green * base.b);
  };

  const [cx, cy, radius] = [width * between(0.3, 0.7), height * between(0.25, 0.4), unit * between(32, 75)];
  const [cloth, second, skin, hair] = [pick(CLOTHS), pick(CLOTHS), pick(SKINS), pick(HAIR)];
  const stripes = often(0.3, "stripes") ? unit * pick([4, 8, 14]) : 0;
  const [shoulders, half, slope] = [cy + 1.25 * radius, radius * between(1.3, 1.9), between(0.02, 0.25)];
  const things: Drawn[] = [
    {
      covers: (x, y) => {
        const below = y - shoulders;
        return below >= 0 && Math.abs(x - cx) < Math.min(half, 0.55 * half + Math.sqrt(0.9 * below * half)) + slope * below ? 1 : 0;
      },
      colour: (x, y) => {
        const side = (x - cx) / (half + slope * (y - shoulders));
        return lit(stripes && Math.floor((x + 0.2 * y) / stripes) % 2 ? second : cloth, 0.7 + 0.5 * side, side ** 4);
      },
    },
  ];
  if (often(0.6, "arm")) {
    const moved = often(0.5, "moving") ? unit * between(4, 18) : 0;
    const side = pick([-1, 1]);
    const [ax, ay, angle, length] = [cx + side * 0.8 * half, shoulders + 0.5 * radius, between(-1.2, 0.6), radius * between(1.6, 3.2)];
    const [dx, dy] = [side * Math.cos(angle) * length, Math.sin(angle) * length];
    const thick = radius * between(0.22, 0.38);
    /** How far along it a place lies, and whether it is covered, when its end has moved so far. */
    const at = (x: number, y: number, by: number) => {
      const [ex, ey] = [dx - Math.sin(angle) * by, dy + Math.cos(angle) * by];
      const t = Math.max(0, Math.min(1, ((x - ax) * ex + (y - ay) * ey) / (ex * ex + ey * ey)));
      return { t, inside: Math.hypot(x - ax - t * ex, y - ay - t * ey) < thick * (1 - 0.25 * t) };
    };
    const times = moved ? Array.from({ length: 9 }, (_, k) => moved * (k / 8 - 0.5)) : [0];
    things.push({
      covers: (x, y) => times.filter((by) => at(x, y, by).inside).length / times.length,
      colour: (x, y) => lit(at(x, y, 0).t > 0.75 ? skin : cloth, 0.6, 0.3),
    });
  }
  things.push({
    covers: (x, y) => (Math.hypot(x - cx, (y - cy) / 1.2) <= radius ? 1 : 0),
    colour: (x, y) =>
      lit(y < cy - 0.35 * radius ? hair : skin, 0.6 + (0.6 * (x - cx)) / radius, (Math.hypot(x - cx, y - cy) / (1.2 * radius)) ** 4),
  });
  const count = pick([0, 60, 200, 500]);
  told.push(`${count} strands`);
  things.push(strandsOf(count, [cx, cy, radius], unit * between(0.6, 1.8), between(0.2, 0.9), next, () => lit(hair, 0.7, 1)));
  const extra = pick(["", "veil", "mesh", "smoke", "stick"]);
  if (extra) told.push(extra);
  const cover = between(0.15, 0.5);
  const [sx, sy, size] = [width * between(0.1, 0.9), height * between(0.2, 0.8), unit * between(30, 80)];
  if (extra === "veil" || extra === "mesh") {
    const pitch = unit * between(2.5, 5);
    const open = (v: number) => extra === "mesh" && v % pitch >= pitch / 4;
    const pale = often(0.5, "pale");
    things.push({
      covers: (x, y) =>
        Math.abs(x - cx) > 1.7 * radius || y < cy - 1.4 * radius || y > cy + 1.8 * radius || (open(x) && open(y)) ? 0 : cover,
      colour: () => lit(pale ? rgb(0.7, 0.69, 0.66) : rgb(0.03, 0.03, 0.03), 0.75, 0.5),
    });
  } else if (extra === "smoke")
    things.push({
      covers: (x, y) =>
        cover * Math.exp(-1.5 * (Math.hypot(x - sx, y - sy) / size) ** 2) * (0.8 + 0.2 * Math.sin(x / 7 / unit + Math.sin(y / 9 / unit))),
      colour: () => rgb(0.55 * key, 0.55 * key, 0.57 * key),
    });
  else if (extra === "stick") {
    const [turn, thick, paint] = [between(0, Math.PI), unit * between(1, 4), pick(CLOTHS)];
    things.push({
      covers: (x, y) => {
        const [along, off] = [(x - sx) * Math.cos(turn) + (y - sy) * Math.sin(turn), (y - sy) * Math.cos(turn) - (x - sx) * Math.sin(turn)];
        return Math.abs(along) < size && Math.abs(off) < thick / 2 ? 1 : 0;
      },
      colour: () => lit(paint, 0.6, 0.3),
    });
  }
  const soft = pick([0, 0.4, 0.6, 1]);
  told.push(`lens ${soft} px`);
  const { plate, truth } = drawPlate(width, height, things, screen);
  const lens = (c: Float32Array) => (soft > 0 ? gaussianBlur(c, width, height, soft) : c);
  return {
    plate: { width, height, r: lens(plate.r), g: lens(plate.g), b: lens(plate.b) },
    truth: { ...truth, data: lens(truth.data) },
    told: told.join(", "),
  };
}

/** Bent strands that leave the upper half of a head, thinning to their ends. */
function strandsOf(
  count: number,
  [cx, cy, radius]: readonly [number, number, number],
  width: number,
  curl: number,
  next: () => number,
  colour: At<Rgb>,
): Drawn {
  const CELL = 4;
  const cells = new Map<string, [number, number, number][]>();
  const cellOf = (x: number, y: number) => `${Math.floor(x / CELL)},${Math.floor(y / CELL)}`;
  for (let k = 0; k < count; k++) {
    const [from, length, bend, thick] = [
      Math.PI * (1 + next()),
      radius * (0.25 + 0.65 * next()),
      curl * (2 * next() - 1),
      width * (0.5 + 0.8 * next()),
    ];
    for (let s = 0; s <= 1; s += 0.01) {
      const [angle, far] = [from + bend * s * s, radius - 2 + length * s];
      const [x, y] = [cx + far * Math.cos(angle), cy + 1.2 * far * Math.sin(angle)];
      const id = cellOf(x, y);
      cells.set(id, [...(cells.get(id) ?? []), [x, y, (thick * (1 - 0.7 * s)) / 2]]);
    }
  }
  const covers: At<number> = (x, y) => {
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++)
        for (const [px, py, r] of cells.get(cellOf(x + CELL * i, y + CELL * j)) ?? []) if ((px - x) ** 2 + (py - y) ** 2 <= r * r) return 1;
    return 0;
  };
  return { covers, colour };
}

type Recorded = { readonly picture: Picture; readonly recorded: { raw: RawFrame; reading: ReturnType<typeof cameraReading> } };
/** Grain, through H.264 at a high rate, turned into RGB by a general converter. */
function throughH264(light: Picture, number: number): Recorded {
  const { width, height } = light;
  const folder = mkdtempSync(path.join(os.tmpdir(), "sieve-random-"));
  const clip = path.join(folder, "clip.mp4");
  const pixels = ["-f", "rawvideo", "-pix_fmt", "rgb24"];
  const coded = [
    "-vf",
    "scale=out_color_matrix=bt709:out_range=tv",
    "-c:v",
    "libx264",
    "-crf",
    "18",
    "-pix_fmt",
    "yuv420p",
    "-colorspace",
    "bt709",
  ];
  try {
    const input = rgbCodes(addNoise(light, { ...CAMERA, seed: number }));
    execFileSync("ffmpeg", ["-v", "error", ...pixels, "-s", `${width}x${height}`, "-i", "pipe:0", ...coded, clip], { input });
    return fromRgbCodes(execFileSync("ffmpeg", ["-v", "error", "-i", clip, ...pixels, "pipe:1"], { maxBuffer: 1e8 }), width, height);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
const RECORDINGS: Record<string, (light: Picture, number: number) => Recorded | Promise<Recorded>> = {
  pixels: (light) => fromRgbCodes(rgbCodes(light), light.width, light.height),
  camera: (light, number) => {
    const camera = { ...CAMERA, seed: number };
    const recorded = { raw: record(light, camera), reading: cameraReading(camera) };
    return { picture: decodeRawFrame(recorded.raw, recorded.reading), recorded };
  },
  JPEG: (light) => asJpeg(light, 90),
  "H.264": throughH264,
};

const [first = 1, last = 10] = (process.argv[2] ?? "").split("-").filter(Boolean).map(Number);
const names = process.argv[3]?.split(",") ?? Object.keys(RECORDINGS);
for (let number = first; number <= last; number++) {
  const { plate, truth, told } = drawAtRandom(number);
  console.log(`${number}: ${told}`);
  for (const name of names) {
    const make = RECORDINGS[name];
    if (!make) throw new RangeError(`There is no recording "${name}": take ${Object.keys(RECORDINGS).join(", ")}.`);
    const { picture, recorded } = await make(plate, number);
    const { recipe } = proposeRecipe(picture, 1, undefined, { recorded });
    const { matte } = evaluate(recipe, { plate: { key: `${number}/${name}`, picture, recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(matte!, truth);
    const { sample, primary } = findScreen(picture);
    const ratio = error.edge / matteError(bestConstant(picture, sample.colour, primary, truth).matte, truth).edge;
    const behind = ratio > (name === "pixels" ? 0.1 : 0.5) || error.core > 0.001 || error.background > 0.003;
    console.log(
      `  ${behind ? "!!" : "  "} ${name.padEnd(6)} edge ${error.edge.toExponential(2)} (${ratio.toFixed(3)} of the best constant's)  core ${error.core.toFixed(5)} (inside ${error.inside.toFixed(5)})  background ${error.background.toFixed(5)}`,
    );
  }
}
