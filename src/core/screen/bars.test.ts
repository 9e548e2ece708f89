import { describe, expect, it } from "vitest";
import { makePicture, type Picture, type Region, wholeOf } from "../image/plane";
import { shrinkPicture } from "../image/resample";
import { insideBars, reducedInside } from "./bars";

const [W, H] = [160, 90];
/** A picture of even light in a black frame. */
function framed({ x, y, width, height }: Region, light = 0.2): Picture {
  const p = makePicture(W, H);
  for (let v = y; v < y + height; v++)
    for (let u = x; u < x + width; u++) for (const c of [p.r, p.g, p.b]) c[v * W + u] = c === p.g ? 2 * light : light / 2;
  return p;
}
const put = (p: Picture, { x, y, width, height }: Region, light: number) => {
  for (let v = y; v < y + height; v++) for (const c of [p.r, p.g, p.b]) c.fill(light, v * W + x, v * W + x + width);
};
const letterbox: Region = { x: 0, y: 11, width: W, height: 67 };

describe("the picture inside black bars", () => {
  it.each([
    ["a letterbox", letterbox],
    ["a pillarbox", { x: 20, y: 0, width: 121, height: H }],
    ["both", { x: 9, y: 7, width: 141, height: 75 }],
    ["none", wholeOf({ width: W, height: H })],
  ])("is told to the pixel: %s", (_, inside) => {
    expect(insideBars(framed(inside))).toEqual(inside);
  });
  it("is told where black is not quite none, and a subject crosses the bar's border", () => {
    const p = framed(letterbox);
    put(p, { x: 60, y: 11, width: 40, height: 67 }, 0.005);
    for (let i = 0; i < W * H; i++) p.r[i] = (p.r[i] as number) + 0.002 * (i % 3);
    // What coding leaves beside the picture.
    p.g[10 * W + 3] = 0.05;
    expect(insideBars(p)).toEqual(letterbox);
  });
  it("leaves out a line that scaling made of both", () => {
    const p = framed(letterbox);
    for (const y of [11, 77]) for (const c of [p.r, p.g, p.b]) for (let i = y * W; i < (y + 1) * W; i++) c[i]! *= 0.3;
    expect(insideBars(p)).toEqual({ x: 0, y: 12, width: W, height: 65 });
  });
  it("is the whole of a black frame, of a dim one, and of one whose foot is dark but not black", () => {
    const whole = wholeOf({ width: W, height: H });
    expect(insideBars(makePicture(W, H))).toEqual(whole);
    expect(insideBars(framed(letterbox, 0.01))).toEqual(whole);
    const table = framed(whole);
    put(table, { x: 0, y: 70, width: W, height: 20 }, 0.006);
    expect(insideBars(table)).toEqual(whole);
    // A black drape, or the dark studio beside a screen that ends straight.
    expect(insideBars(framed({ x: 0, y: 0, width: W, height: 80 }))).toEqual(whole);
    expect(insideBars(framed({ x: 0, y: 0, width: 130, height: H }))).toEqual(whole);
    expect(insideBars(framed({ x: 10, y: 0, width: 130, height: H }))).toEqual(whole);
    const slit = framed({ x: 0, y: 40, width: W, height: 10 });
    expect(insideBars(slit)).toEqual(whole);
  });
  it("has on a reduced copy no pixel that a bar is part of", () => {
    const inside: Region = { x: 0, y: 11, width: W, height: 67 };
    const p = framed(inside);
    const small = shrinkPicture(p, 4);
    const reduced = reducedInside(inside, p, small, 4);
    // Lines 12 to 75 of 90 in fours; the last copied line stands for two.
    expect(reduced).toEqual({ x: 0, y: 3, width: 40, height: 16 });
    const at = (y: number) => small.g[y * small.width + 5] as number;
    expect([at(2) < 0.39, at(3), at(18), at(19) < 0.39]).toEqual([true, Math.fround(0.4), Math.fround(0.4), true]);
    expect(reducedInside(wholeOf(p), p, small, 4)).toEqual(wholeOf(small));
  });
});
