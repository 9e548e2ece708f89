import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { type At, box, type Drawn, drawPlate, even } from "../simulate/draw-plate";
import { addMargin } from "./certain-margin";
import { synthesiseCleanPlate } from "./clean-plate";

const [W, H] = [480, 270];
const PAINT = { r: 0.05, g: 0.38, b: 0.08 };
const lit =
  (light: At<number>): At<Rgb> =>
  (x, y) => {
    const k = light(x, y);
    return { r: k * PAINT.r, g: k * PAINT.g, b: k * PAINT.b };
  };
const BLACK = even(0.02, 0.017, 0.012);
const [from, to] = [240, 290];
/** Threads of mesh two pixels apart. */
const mesh: Drawn = { covers: (x, y) => (box(from, 60, to, 200)(x, y) && (x % 4 < 2 || y % 4 < 2) ? 1 : 0), colour: BLACK };
/** A crease of the screen that begins under the mesh and ends a few pixels beside it. */
const crease: At<number> = (x) => 1 - 0.2 * Math.exp(-(((x - to) / 5) ** 2));

describe("the margin of certain screen", () => {
  it("lets the clean plate follow a crease right up to mesh, and so behind it", () => {
    const { plate } = drawPlate(W, H, [mesh], lit(crease));
    const clean = synthesiseCleanPlate(plate, "g");
    const off = (x: number) => Math.abs(clean.g[130 * W + x]! / (PAINT.g * crease(x + 0.5, 130)) - 1);
    for (let x = to + 1; x < to + 20; x++) expect(off(x), `column ${x}`).toBeLessThan(0.05);
    for (let x = to - 3; x <= to; x++) expect(off(x), `column ${x}`).toBeLessThan(0.1);
  });

  /** What is added to certain screen left of column `edge` on an even screen, beside what `drawn` covers. */
  const added = (drawn: Drawn, edge: number) => {
    const { plate, truth } = drawPlate(
      W,
      H,
      [drawn],
      lit(() => 1),
    );
    const certain = new Float32Array(W * H);
    for (let i = 0; i < certain.length; i++) if (i % W < edge) certain[i] = 1;
    const clean = [PAINT.r, PAINT.g, PAINT.b].map((v) => new Float32Array(W * H).fill(v));
    const any = addMargin(clean, plate, "g", certain);
    const mixed = certain.filter((v, i) => v && i % W >= edge && truth.data[i]! > 0.05).length;
    return { any, count: certain.filter((v, i) => v && i % W >= edge).length, mixed };
  };
  it("is all of an even screen up to one pixel before what stands there", () => {
    expect(added({ covers: box(260, -1, W, H + 1), colour: even(0.3, 0.2, 0.12) }, 250)).toEqual({ any: true, count: 9 * H, mixed: 0 });
  });
  it.each([
    ["pale cloth", 0.5, 0.45, 0.4],
    ["black mesh", 0.02, 0.017, 0.012],
    ["brown hair", 0.05, 0.03, 0.02],
  ])("is no blurred rim of %s", (_, r, g, b) => {
    const blurred: At<number> = (x) => Math.min(1, Math.max(0, (x - 252) / 40));
    const { any, mixed } = added({ covers: blurred, colour: even(r, g, b) }, 250);
    expect(any).toBe(true);
    expect(mixed).toBe(0);
  });
  it("is not what no way of calm screen leads to", () => {
    expect(added({ covers: box(250, -1, 254, H + 1), colour: even(0.3, 0.2, 0.12) }, 249)).toEqual({ any: false, count: 0, mixed: 0 });
  });
});
