import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture } from "../image/plane";
import { random } from "../image/random";
import { dropBehindVeils } from "./behind-veils";

const [W, H] = [200, 120];
const SCREEN = { r: 0.05, g: 0.36, b: 0.08 };
/** A green screen, a little brighter at the right, all of it certain but for what is put before it. */
function stage() {
  const p = makePicture(W, H);
  const certain = new Float32Array(W * H).fill(1);
  for (let i = 0; i < W * H; i++) {
    const light = 1 + (0.2 * (i % W)) / W;
    [p.r[i], p.g[i], p.b[i]] = [light * SCREEN.r, light * SCREEN.g, light * SCREEN.b];
  }
  return { p, certain, hue: new Uint8Array(W * H).fill(1) };
}
const drop = ({ p, certain, hue }: ReturnType<typeof stage>) => dropBehindVeils(p, "g", certain, hue);
/** A square with a rim of two pixels of which nothing is certain: the screen at so much of its light, and so much own light in each channel. */
function put({ p, certain }: ReturnType<typeof stage>, x0: number, y0: number, size: number, left: number, own: number): void {
  for (let y = y0; y < y0 + size; y++)
    for (let x = x0; x < x0 + size; x++) {
      const i = y * W + x;
      for (const c of [p.r, p.g, p.b]) c[i] = left * (c[i] as number) + own;
      if (x < x0 + 2 || y < y0 + 2 || x >= x0 + size - 2 || y >= y0 + size - 2) certain[i] = 0;
    }
}
const at = (certain: Float32Array, x: number, y: number) => certain[y * W + x];

describe("certain screen", () => {
  it("is not behind black mesh out of focus, and stays where only light is missing, or there is more of it", () => {
    const s = stage();
    // A third covered by black of two per cent; a hole in the subject's shade; one that is lit.
    put(s, 20, 40, 24, 0.66, 0.34 * 0.02);
    put(s, 80, 40, 24, 0.66, 0);
    put(s, 140, 40, 24, 1.2, 0.01);
    drop(s);
    expect([at(s.certain, 32, 52), at(s.certain, 92, 52), at(s.certain, 152, 52), at(s.certain, 5, 5)]).toEqual([0, 1, 1, 1]);
  });
  it("is told in a few pixels too, where there is no grain", () => {
    const s = stage();
    put(s, 20, 40, 6, 0.66, 0.34 * 0.02);
    put(s, 80, 40, 6, 0.66, 0);
    drop(s);
    expect([at(s.certain, 22, 42), at(s.certain, 82, 42)]).toEqual([0, 1]);
  });
  it("stays where a few grainy pixels tell nothing, and goes where many do", () => {
    const s = stage();
    const grain = normal(random(7));
    put(s, 20, 40, 5, 0.66, 0);
    put(s, 80, 40, 60, 0.66, 0.34 * 0.02);
    for (const c of [s.p.r, s.p.b]) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) + 0.008 * grain();
    // Even where those few happen to be paler than the screen by a standard deviation of what they tell together.
    s.p.r[42 * W + 22] = (s.p.r[42 * W + 22] as number) + 0.008;
    drop(s);
    expect([at(s.certain, 22, 42), at(s.certain, 110, 70)]).toEqual([1, 0]);
  });
  it("is not in a few grainy pixels that pass by chance beside a veil, and stays in such pixels far from one", () => {
    const s = stage();
    const grain = normal(random(7));
    put(s, 20, 40, 60, 0.66, 0.34 * 0.02);
    put(s, 84, 60, 5, 0.66, 0);
    put(s, 170, 60, 5, 0.66, 0);
    for (const c of [s.p.r, s.p.b]) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) + 0.008 * grain();
    drop(s);
    expect([at(s.certain, 50, 70), at(s.certain, 86, 62), at(s.certain, 172, 62)]).toEqual([0, 0, 1]);
  });
  it("is not behind a thin black veil with screen all around, and stays where as little is missing between pale clothes, which send some back", () => {
    const s = stage();
    for (const x of [20, 110]) put(s, x, 40, 24, 0.88, 0.003);
    for (let y = 30; y < 74; y++)
      for (let x = 100; x < 144; x++) if (!at(s.certain, x, y) || x < 110 || y < 40 || x >= 134 || y >= 64) s.hue[y * W + x] = 0;
    drop(s);
    expect([at(s.certain, 32, 52), at(s.certain, 122, 52)]).toEqual([0, 1]);
  });
  it("stays in a fold that takes a little light and sends next to nothing else, with screen all around", () => {
    const s = stage();
    put(s, 20, 40, 24, 0.88, 0.001);
    drop(s);
    expect(at(s.certain, 32, 52)).toBe(1);
  });
  it("is trusted in a large part at the frame's border, whatever its light", () => {
    const s = stage();
    // The floor: darker and greyer, a rim between it and the screen.
    for (let i = 90 * W; i < W * H; i++) for (const c of [s.p.r, s.p.g, s.p.b]) c[i] = 0.6 * (c[i] as number) + 0.006;
    s.certain.fill(0, 88 * W, 92 * W);
    drop(s);
    expect(at(s.certain, 100, 110)).toBe(1);
  });
  it("is left alone where there is one part of it", () => {
    const s = stage();
    drop(s);
    expect(s.certain.every((v) => v === 1)).toBe(true);
  });
});
