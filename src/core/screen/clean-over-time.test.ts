import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { mergeCleanPlate } from "./clean-over-time";
import { synthesiseCleanPlate } from "./clean-plate";
import { denoiseOverTime } from "./denoise-over-time";

const [W, H] = [480, 270];
const GRAIN = 0.01;

/** An uneven green screen with a crease and two markers, linear light; `dx` shifts the camera. */
function bare(dx = 0): Picture {
  const p = makePicture(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const u = x + dx;
      const crease = 1 - 0.25 * Math.exp(-(((u - 240) / 5) ** 2));
      const light = (0.7 + (0.3 * u) / W) * crease * (1 + 0.04 * Math.sin(u / 11) * Math.sin(y / 9));
      p.r[i] = 0.035 * light;
      p.g[i] = 0.32 * light;
      p.b[i] = 0.06 * light;
    }
  return p;
}
/** The screen with a warm figure before it, grain and its own exposure. */
function frame(seed: number, at: number, gain = 1, dx = 0): Picture {
  const p = bare(dx);
  const next = normal(random(seed));
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    if (Math.abs(x - at) < 45 && y > 60) {
      p.r[i] = 0.45;
      p.g[i] = 0.3;
      p.b[i] = 0.22;
    }
    for (const c of ["r", "g", "b"] as const) p[c][i] = Math.max(0, gain * p[c][i]! * (1 + GRAIN * next()));
  }
  return p;
}
const off = (made: Picture, from: number, to: number): number => {
  const truth = bare();
  let [sum, n] = [0, 0];
  for (let y = 80; y < H - 20; y++)
    for (let x = from; x < to; x++) {
      const i = y * W + x;
      sum += Math.abs(made.g[i]! / truth.g[i]! - 1);
      n++;
    }
  return sum / n;
};

describe("a clean plate over time", () => {
  // The figure crosses the crease; the exposure breathes.
  const frames = [60, 120, 180, 240, 300, 360, 420].map((at, k) => frame(k + 1, at, 1 + 0.02 * Math.sin(k)));
  it("shows the screen under a subject that moves, crease and all, with less grain than any frame", () => {
    const { picture, seen } = mergeCleanPlate(frames, "g");
    expect(seen).toBeGreaterThan(0.9);
    expect(off(picture, 225, 255)).toBeLessThan(0.8 * GRAIN);
    // One frame alone cannot know the crease under the figure.
    expect(off(synthesiseCleanPlate(frames[3]!, "g"), 225, 255)).toBeGreaterThan(0.05);
  });
  it("fills in what no frame shows", () => {
    const still = [1, 2, 3].map((seed) => frame(seed, 120));
    const { picture, seen } = mergeCleanPlate(still, "g");
    expect(seen).toBeLessThan(0.85);
    expect(off(picture, 90, 150)).toBeLessThan(0.05);
  });
  it("refuses a camera that moves, by how much, and says what to do", () => {
    const moving = [0, 2, 4].map((dx, k) => frame(k + 1, 60 + 60 * k, 1, dx));
    expect(() => mergeCleanPlate(moving, "g")).toThrow(/camera moves: by 2\.0 px.*own pixels/);
  });
  it("refuses a single frame, other sizes and another screen", () => {
    expect(() => mergeCleanPlate([frames[0]!], "g")).toThrow(/two frames/);
    expect(() => mergeCleanPlate([frames[0]!, makePicture(10, 10)], "g")).toThrow(/size/);
    expect(() => mergeCleanPlate(frames.slice(0, 2), "b")).toThrow(/No screen/);
  });
});

describe("denoising over time", () => {
  const [a, b, c] = [frame(11, 200), frame(12, 200), frame(13, 200)] as const;
  const still = new Uint8Array(W * H).fill(1);
  it("leaves 1/√3 of the grain of three frames, and every pixel its own where the plate moved", () => {
    for (let i = 0; i < W * 40; i++) still[i] = 0;
    const out = denoiseOverTime(
      a,
      [b, c].map((picture) => ({ picture, still })),
      1,
    );
    expect(off(out, 300, 460) / off(a, 300, 460)).toBeCloseTo(1 / Math.sqrt(3), 1);
    expect(out.g.subarray(0, W * 40)).toEqual(a.g.subarray(0, W * 40));
  });
});
