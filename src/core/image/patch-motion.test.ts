import { beforeAll, describe, expect, it } from "vitest";
import { type OpenCv, withOpenCv } from "../../../tests/support/opencv";
import { drawPlate } from "../simulate/draw-plate";
import { type Affine, movedBack, movedBy, movedTwice, UNMOVED } from "./affine";
import { normal } from "./normal";
import { patchOf } from "./patch";
import { findPatch } from "./patch-motion";
import type { Picture } from "./plane";
import { random } from "./random";

const [WIDTH, HEIGHT] = [200, 150];
const BOX = { x: 70, y: 50, width: 60, height: 50 };
const CORNERS = [
  { x: 70, y: 50 },
  { x: 130, y: 50 },
  { x: 130, y: 100 },
  { x: 70, y: 100 },
];
const everything = () => new Float32Array(BOX.width * BOX.height).fill(1);

/** A cloth of soft waves, as it looks where a motion takes it: light at a place of the frame is that of where it came from. */
function cloth(motion: Affine, { grain = 0, seed = 1, light = 1, hidden = false } = {}): Picture {
  const back = movedBack(motion);
  const wave = (x: number, y: number, k: number) => {
    // No two places of it look the same.
    const bent = 3 * Math.sin(0.037 * x - 0.051 * y + k) + 0.002 * (x - 100) * (y - 60);
    return 0.3 + 0.1 * Math.sin(0.21 * x + 0.13 * y + k + bent) + 0.08 * Math.cos(0.11 * x - 0.23 * y + 2 * k - bent);
  };
  const { plate } = drawPlate(WIDTH, HEIGHT, [], (x, y) => {
    // Something even that passes in front.
    if (hidden && x > 115 && x < 128) return { r: 0.6, g: 0.1, b: 0.1 };
    const p = movedBy(back, { x, y });
    return { r: light * wave(p.x, p.y, 0), g: light * wave(p.x, p.y, 1), b: light * wave(p.x, p.y, 2.5) };
  });
  if (grain > 0) {
    const next = normal(random(seed));
    for (const c of [plate.r, plate.g, plate.b]) for (let i = 0; i < c.length; i++) c[i]! += grain * next();
  }
  return plate;
}

/** Turns, scales and shears about the middle of the box, then moves. */
function change(turn: number, scale: number, shear: number, dx: number, dy: number): Affine {
  const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
  const about = { a: c, b: shear - s, c: s, d: c, x: 0, y: 0 };
  const to = movedBy(about, { x: 100, y: 75 });
  return { ...about, x: 100 + dx - to.x, y: 75 + dy - to.y };
}
/** How far the worst corner is off, px. */
const off = (found: Affine, true_: Affine) =>
  Math.max(...CORNERS.map((p) => Math.hypot(movedBy(found, p).x - movedBy(true_, p).x, movedBy(found, p).y - movedBy(true_, p).y)));

describe("affine motions", () => {
  it("are made one after the other and undone", () => {
    const [m, n] = [change(0.4, 1.2, 0.1, 7, -3), change(-0.2, 0.8, 0, 2, 5)];
    const p = { x: 12, y: 34 };
    const [once, twice] = [movedBy(m, movedBy(n, p)), movedBy(movedTwice(m, n), p)];
    expect(twice.x).toBeCloseTo(once.x, 10);
    expect(twice.y).toBeCloseTo(once.y, 10);
    const home = movedBy(movedBack(m), movedBy(m, p));
    expect(home.x).toBeCloseTo(12, 10);
    expect(home.y).toBeCloseTo(34, 10);
  });
});

describe("a patch looked for in another frame", () => {
  const patch = patchOf(cloth(UNMOVED), BOX, everything())!;

  it.each([
    ["moved by parts of a pixel", change(0, 1, 0, 0.37, -0.62)],
    ["moved far", change(0, 1, 0, 11.3, 8.9)],
    ["turned", change(0.15, 1, 0, 3, 2)],
    ["larger", change(0, 1.1, 0, -2, 4)],
    ["sheared", change(0.05, 1, 0.12, 1, 1)],
    ["all of it", change(-0.12, 0.93, -0.06, 5, -4)],
  ])("%s: its corners within 0.05 px", (_, motion) => {
    const found = findPatch(patch, cloth(motion), UNMOVED);
    expect(off(found.motion, motion)).toBeLessThan(0.05);
    expect(found.likeness).toBeGreaterThan(0.99);
    expect(found.turned).toBe(true);
    expect(found.inside).toBe(1);
  });
  it("in other light and behind something: within 0.1 px", () => {
    const motion = change(0.06, 1.02, 0, 2.4, -1.3);
    expect(off(findPatch(patch, cloth(motion, { light: 0.6 }), UNMOVED).motion, motion)).toBeLessThan(0.05);
    const behind = findPatch(patch, cloth(motion, { hidden: true }), UNMOVED);
    expect(off(behind.motion, motion)).toBeLessThan(0.1);
    expect(behind.seen).toBeLessThan(0.85);
    expect(behind.seen).toBeGreaterThan(0.6);
  });
  it("is off by about as much as it says, in grain", () => {
    const errors: number[] = [];
    const said: number[] = [];
    for (let seed = 1; seed <= 12; seed++) {
      const motion = change(0.05, 1.03, 0, 1.5 + 0.3 * seed, -2.2);
      const grainy = patchOf(cloth(UNMOVED, { grain: 0.03, seed: 100 + seed }), BOX, everything())!;
      const found = findPatch(grainy, cloth(motion, { grain: 0.03, seed }), UNMOVED);
      errors.push(off(found.motion, motion));
      said.push(found.spread);
    }
    const rms = Math.sqrt(errors.reduce((s, e) => s + e * e, 0) / errors.length);
    const mean = said.reduce((s, e) => s + e, 0) / said.length;
    expect(rms).toBeLessThan(2 * mean);
    expect(rms).toBeGreaterThan(0.4 * mean);
  });
  it("is not told where nothing shows but grain", () => {
    const grain = (seed: number) => {
      const next = normal(random(seed));
      const { plate } = drawPlate(WIDTH, HEIGHT, [], () => ({ r: 0.3, g: 0.3, b: 0.3 }));
      for (const c of [plate.r, plate.g, plate.b]) for (let i = 0; i < c.length; i++) c[i]! += 0.02 * next();
      return plate;
    };
    const found = findPatch(patchOf(grain(5), BOX, everything())!, grain(6), UNMOVED);
    expect(found.spread > 1 || found.likeness < 0.5).toBe(true);
  });
  it("counts what its weights say, and nothing is no patch", () => {
    expect(patchOf(cloth(UNMOVED), BOX, new Float32Array(BOX.width * BOX.height))).toBeNull();
    // The half that stays is not looked at.
    const half = everything().map((_, i) => (i % BOX.width < 30 ? 0 : 1));
    const motion = change(0, 1, 0, 3, 1);
    const moved = cloth(motion);
    const still = cloth(UNMOVED);
    for (let i = 0; i < moved.r.length; i++) if (i % WIDTH < 98) for (const c of ["r", "g", "b"] as const) moved[c][i] = still[c][i]!;
    expect(off(findPatch(patchOf(still, BOX, half)!, moved, UNMOVED).motion, motion)).toBeLessThan(0.3);
  });
});

describe("against a general-purpose image library", () => {
  let cv: OpenCv;
  beforeAll(() =>
    withOpenCv((library) => {
      cv = library;
    }),
  );
  // OpenCV 4.12's findTransformECC: Evangelidis & Psarakis, IEEE TPAMI 30 (2008).
  it.each([change(0, 1, 0, 0.4, -0.7), change(0.03, 1.02, 0.02, 0.8, 0.5), change(-0.04, 0.97, 0, -1.1, 0.6)])(
    "motion %# as its alignment finds it, within 0.05 px",
    (motion) => {
      const [from, to] = [cloth(UNMOVED), cloth(motion)];
      const found = findPatch(patchOf(from, BOX, everything())!, to, UNMOVED).motion;
      const mat = (p: Picture) => cv.matFromArray(HEIGHT, WIDTH, cv.CV_32FC1, p.g as unknown as number[]);
      const [a, b] = [mat(from), mat(to)];
      const box = a.roi(new cv.Rect(BOX.x, BOX.y, BOX.width, BOX.height));
      // From pixel (0, 0) of the box, at its centre, to the frame's.
      const warp = cv.matFromArray(2, 3, cv.CV_32FC1, [1, 0, BOX.x, 0, 1, BOX.y]);
      const mask = new cv.Mat();
      const criteria = new cv.TermCriteria(cv.TermCriteria_COUNT + cv.TermCriteria_EPS, 200, 1e-9);
      cv.findTransformECC(box, b, warp, cv.MOTION_AFFINE, criteria, mask, 1);
      const [m00, m01, m02, m10, m11, m12] = warp.data32F as unknown as [number, number, number, number, number, number];
      for (const m of [a, b, box, warp, mask]) m.delete();
      for (const p of CORNERS) {
        const [x, y] = [p.x - BOX.x - 0.5, p.y - BOX.y - 0.5];
        const theirs = { x: m00 * x + m01 * y + m02 + 0.5, y: m10 * x + m11 * y + m12 + 0.5 };
        const ours = movedBy(found, p);
        expect(Math.hypot(ours.x - theirs.x, ours.y - theirs.y)).toBeLessThan(0.05);
      }
    },
  );
});
