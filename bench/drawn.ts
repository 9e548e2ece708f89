/**
 * The proposal on plates that are drawn with exact coverage and that no threshold was set by: strands light and dark, motion, mesh, glass,
 * contact shadows, glossy things, uneven and dim screens, small and large frames. Each as 8-bit pixels without noise, as the camera records it,
 * as a JPEG and as a sensor with one colour at each pixel sees it; squared edge error against the best constant colour difference that a grid
 * search with the truth in hand finds.
 * Run: npm run bench:drawn [NAME…]
 */
import type { Rgb } from "../src/core/color/hue";
import { linearToSrgb, srgbToLinear } from "../src/core/color/srgb";
import { normal } from "../src/core/image/normal";
import type { Picture } from "../src/core/image/plane";
import { random } from "../src/core/image/random";
import { decodeRawFrame } from "../src/core/image/raw-frame";
import { matteError } from "../src/core/measure/truth-error";
import { proposeRecipe } from "../src/core/recipe/auto";
import { evaluate } from "../src/core/recipe/evaluate";
import { findScreen } from "../src/core/screen/find";
import { cameraReading, record } from "../src/core/simulate/camera";
import { type At, box, type Drawn, disc, drawPlate, even } from "../src/core/simulate/draw-plate";
import { throughMosaic } from "../tests/support/through-mosaic";
import { bestConstant } from "./baseline";
import { asJpeg, CAMERA } from "./variants";

const GREEN = { r: 0.05, g: 0.38, b: 0.08 };
const BLUE = { r: 0.03, g: 0.07, b: 0.36 };
const lit =
  (paint: Rgb, light: At<number> = () => 1): At<Rgb> =>
  (x, y) => {
    const k = light(x, y);
    return { r: k * paint.r, g: k * paint.g, b: k * paint.b };
  };
const skin = { r: 0.56, g: 0.33, b: 0.24 };
const HEAD: [number, number, number] = [320, 215, 95];

/** Strands that leave a head at all angles, thinning to their ends, some crossing. */
function strands(colour: Rgb, { count = 260, width = 1.1, spill = 0 } = {}): Drawn[] {
  const next = random(5);
  const wobble = normal(next);
  const [cx, cy, radius] = HEAD;
  // Each a quadratic curve, kept as points; a cell grid finds those near a place.
  const cells = new Map<number, [number, number, number][]>();
  for (let k = 0; k < count; k++) {
    const angle = Math.PI * (1 + next());
    const length = 25 + 55 * next();
    const bend = 0.5 * wobble();
    const thick = width * (0.6 + 0.8 * next());
    for (let s = 0; s <= 1; s += 0.01) {
      const at = angle + bend * s * s;
      const far = radius - 3 + length * s;
      const [x, y] = [cx + far * Math.cos(at), cy + far * Math.sin(at)];
      const key = Math.floor(y / 4) * 4096 + Math.floor(x / 4);
      const cell = cells.get(key);
      const point: [number, number, number] = [x, y, (thick * (1 - 0.7 * s)) / 2];
      if (cell) cell.push(point);
      else cells.set(key, [point]);
    }
  }
  const covers: At<number> = (x, y) => {
    const [gx, gy] = [Math.floor(x / 4), Math.floor(y / 4)];
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++)
        for (const [px, py, r] of cells.get((gy + j) * 4096 + gx + i) ?? []) if ((px - x) ** 2 + (py - y) ** 2 <= r * r) return 1;
    return 0;
  };
  const glow: At<Rgb> = (x, y) => {
    const share = spill * Math.min(1, Math.max(0, (Math.hypot(x - cx, y - cy) - radius) / 40));
    return { r: colour.r + share * GREEN.r, g: colour.g + share * GREEN.g, b: colour.b + share * GREEN.b };
  };
  return [
    { covers, colour: glow },
    { covers: disc(...HEAD), colour: (_x, y) => (y < 200 ? colour : skin) },
    { covers: box(220, 300, 420, 361), colour: even(0.3, 0.28, 0.32) },
  ];
}

/** The share of the time that a box moved past a place, along x, px. */
const moved =
  (x0: number, y0: number, x1: number, y1: number, along: number): At<number> =>
  (x, y) =>
    y < y0 || y >= y1 ? 0 : Math.max(0, Math.min(1, (x - x0) / along, (x1 - x) / along));
const uneven: At<number> = (x, y) => 0.55 + (0.9 * x) / 640 - 0.2 * Math.sin(x / 23) ** 8 * (y / 360);
/** A shadow that something's foot casts on the screen, darkest beside it. */
const contact =
  (x: number, y: number, radius: number): At<number> =>
  (u, v) =>
    1 - 0.85 * Math.exp(-(((u - x) / radius) ** 2) - ((v - y) / (0.35 * radius)) ** 2);

const plates: Record<string, { things: readonly Drawn[]; screen?: At<Rgb>; size?: [number, number] }> = {
  brown: { things: strands({ r: 0.09, g: 0.05, b: 0.03 }) },
  pale: { things: strands({ r: 0.6, g: 0.5, b: 0.36 }) },
  black: { things: strands({ r: 0.008, g: 0.006, b: 0.005 }, { width: 1.6 }) },
  dense: { things: strands({ r: 0.2, g: 0.1, b: 0.05 }, { count: 900 }) },
  glowing: { things: strands({ r: 0.3, g: 0.2, b: 0.1 }, { spill: 0.4 }) },
  uneven: { things: strands({ r: 0.25, g: 0.14, b: 0.07 }), screen: lit(GREEN, uneven) },
  dim: { things: strands({ r: 0.09, g: 0.05, b: 0.03 }), screen: lit(GREEN, () => 0.2) },
  blue: { things: strands({ r: 0.3, g: 0.2, b: 0.1 }), screen: lit(BLUE) },
  motion: {
    things: [
      { covers: disc(420, 200, 110), colour: even(skin.r, skin.g, skin.b) },
      { covers: moved(60, 90, 138, 290, 24), colour: even(0.26, 0.05, 0.03) },
    ],
  },
  shadow: {
    things: [
      { covers: box(250, 60, 390, 250), colour: even(0.5, 0.47, 0.4) },
      { covers: box(262, 250, 306, 322), colour: lit({ r: 0.1, g: 0.05, b: 0.025 }, (_x, y) => 1.6 - (y - 250) / 60) },
      { covers: box(334, 250, 378, 322), colour: lit({ r: 0.1, g: 0.05, b: 0.025 }, (_x, y) => 1.6 - (y - 250) / 60) },
    ],
    screen: lit(GREEN, (x, y) => contact(284, 322, 70)(x, y) * contact(356, 322, 70)(x, y)),
  },
  suit: {
    things: [
      { covers: disc(320, 90, 45), colour: even(skin.r, skin.g, skin.b) },
      { covers: (x, y) => (y > 130 && Math.abs(x - 320) < 60 + 0.3 * (y - 130) ? 1 : 0), colour: even(0.006, 0.0055, 0.007) },
    ],
    screen: lit(GREEN, contact(430, 350, 120)),
  },
  tulle: {
    things: [
      { covers: disc(200, 190, 80), colour: even(skin.r, skin.g, skin.b) },
      { covers: (x, y) => (x > 300 && x < 560 && y > 60 ? 0.35 : 0), colour: even(0.7, 0.69, 0.66) },
    ],
  },
  glass: {
    things: [
      { covers: disc(180, 200, 85), colour: even(skin.r, skin.g, skin.b) },
      { covers: (x, y) => (x > 360 && x < 520 && y > 90 && y < 310 ? 0.12 : 0), colour: even(0.5, 0.52, 0.55) },
    ],
  },
  checks: {
    things: [
      { covers: disc(320, 80, 45), colour: even(skin.r, skin.g, skin.b) },
      {
        covers: (x, y) => (y > 130 && Math.abs(x - 320) < 90 + 0.3 * (y - 130) ? 1 : 0),
        colour: (x, y) => ((Math.floor(x / 12) + Math.floor(y / 12)) % 2 ? { r: 0.2, g: 0.34, b: 0.16 } : { r: 0.02, g: 0.02, b: 0.03 }),
      },
    ],
  },
  small: { things: [{ covers: disc(150, 150, 70), colour: even(skin.r, skin.g, skin.b) }], size: [360, 202] },
};

type Recorded = Parameters<typeof proposeRecipe>[3];
/** A plate as 8-bit pixels without noise. */
const asPixels = ({ width, height, r, g, b }: Picture) => {
  const eight = (c: Float32Array) => c.map((v) => srgbToLinear(Math.round(255 * linearToSrgb(Math.min(1, v))) / 255));
  return { picture: { width, height, r: eight(r), g: eight(g), b: eight(b) }, recorded: {} };
};
const asClip = (light: Picture) => {
  const raw = record(light, CAMERA);
  const reading = cameraReading(CAMERA);
  return { picture: decodeRawFrame(raw, reading), recorded: { recorded: { raw, reading } } };
};
const asStill = async (light: Picture) => {
  const { picture, recorded } = await asJpeg(light);
  return { picture, recorded: { recorded } };
};

/** Its lens softens what is covered a little, which the truth here does not say. */
const asMosaic = (light: Picture) => {
  const recorded = throughMosaic(light, 0.0001);
  return { picture: decodeRawFrame(recorded.raw, recorded.reading), recorded: { recorded } };
};

const only = process.argv.slice(2);
for (const [name, { things, screen = lit(GREEN), size: [width, height] = [640, 360] }] of Object.entries(plates)) {
  if (only.length > 0 && !only.includes(name)) continue;
  const { plate, truth } = drawPlate(width, height, things, screen);
  for (const [variant, make] of [
    ["pixels", asPixels],
    ["camera", asClip],
    ["JPEG", asStill],
    ["mosaic", asMosaic],
  ] as const) {
    const { picture, recorded } = (await make(plate)) as { picture: Picture; recorded: NonNullable<Recorded> };
    const started = performance.now();
    const { recipe } = proposeRecipe(picture, 1, undefined, recorded);
    const ms = performance.now() - started;
    const e = evaluate(recipe, { plate: { key: `${name}/${variant}`, picture, ...recorded } }, { reduce: 1, outputs: ["matte"] });
    const error = matteError(e.matte!, truth);
    const { sample, primary } = findScreen(picture);
    const best = matteError(bestConstant(picture, sample.colour, primary, truth).matte, truth);
    const against = error.pixels.edge > 0 ? `${(error.edge / best.edge).toFixed(3)} of the best constant's` : "no soft pixel";
    console.log(
      `${name.padEnd(8)} ${variant.padEnd(6)} edge ${error.edge.toExponential(2)} (${against})  core ${error.core.toFixed(5)} (inside ${error.inside.toFixed(5)})  background ${error.background.toFixed(5)}  proposed in ${ms.toFixed(0)} ms`,
    );
  }
}
