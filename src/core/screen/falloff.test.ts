import { describe, expect, it } from "vitest";
import { fillIn } from "../image/fill-in";
import { normal } from "../image/normal";
import { random } from "../image/random";
import { fallOff, fillScreen } from "./falloff";

const [W, H] = [120, 68];
/** Light of a screen over the frame, linear: 0.3 in its middle, and so many stops off it. */
const lit = (stops: (x: number, y: number) => number) =>
  Float32Array.from({ length: W * H }, (_, i) => 0.3 * 2 ** stops((2 * (i % W)) / W - 1, (2 * Math.floor(i / W)) / H - 1));
/** 1 but for a box at the top border. */
const hidden = Float32Array.from({ length: W * H }, (_, i) => (i % W > 20 && i % W < 80 && i < 40 * W ? 0 : 1));
const cut = (c: Float32Array, seen: Float32Array) => c.map((v, i) => (seen[i] ? v : 0));
const worstStops = (a: Float32Array, b: Float32Array, where: (i: number) => boolean) =>
  a.reduce((most, v, i) => (where(i) ? Math.max(most, Math.abs(Math.log2(v / b[i]!))) : most), 0);

describe("the fall-off of a screen's light", () => {
  const screen = lit((x, y) => 0.8 * y - 0.3 * x - 0.5 * x * x + 0.2 * x * y);
  it("goes on under what hides it, at the border too, where filling from around is half a stop off", () => {
    const channel = cut(screen, hidden);
    fillScreen([channel], hidden, W, H);
    expect(worstStops(channel, screen, () => true)).toBeLessThan(0.005);
    const plain = cut(screen, hidden);
    fillIn([plain], hidden, W, H);
    expect(worstStops(plain, screen, () => true)).toBeGreaterThan(0.5);
  });
  it("leaves what is seen as it is, and every channel its own share", () => {
    const [a, b] = [cut(screen, hidden), cut(screen, hidden).map((v) => 0.2 * v)] as [Float32Array, Float32Array];
    fillScreen([a, b], hidden, W, H);
    expect(worstStops(a, screen, (i) => hidden[i] === 1)).toBeLessThan(1e-6);
    expect(worstStops(b, a, () => true)).toBeCloseTo(Math.log2(5), 5);
  });
  it("is told through grain and past a hot spot", () => {
    const noise = normal(random(3));
    const spot = screen.map((v, i) => v * (Math.hypot((i % W) - 100, Math.floor(i / W) - 50) < 8 ? 2 : 1) * (1 + 0.03 * noise()));
    const channel = cut(spot, hidden);
    fillScreen([channel], hidden, W, H);
    // Over the hidden box, away from its rim, where grain is carried in.
    expect(worstStops(channel, screen, (i) => i % W > 25 && i % W < 75 && i < 35 * W)).toBeLessThan(0.12);
  });
  it("is none where folds, or nothing at all, change the light; then it is filled from around", () => {
    const folds = lit((x) => 0.4 * Math.sin(20 * x) + 0.1 * x);
    expect(fallOff([folds], hidden, W, H)).toBeNull();
    const [a, b] = [cut(folds, hidden), cut(folds, hidden)];
    fillScreen([a], hidden, W, H);
    fillIn([b], hidden, W, H);
    expect(a).toEqual(b);
    const noise = normal(random(4));
    expect(fallOff([lit(() => 0.05 * noise())], hidden, W, H)).toBeNull();
  });
  it("leads little beyond the light that was seen, however steep, and takes no few places for a screen", () => {
    const strip = Float32Array.from({ length: W * H }, (_, i) => (i >= (H - 12) * W ? 1 : 0));
    const steep = lit((_, y) => 6 * y);
    const falls = fallOff([cut(steep, strip)], strip, W, H)!;
    // Seen are twelve rows of 6/34 of a stop each; a quarter more is led to either side.
    const stops = Math.log2(falls.reduce((a, b) => Math.max(a, b)) / falls.reduce((a, b) => Math.min(a, b)));
    expect(stops).toBeGreaterThan(1.5);
    expect(stops).toBeLessThan(1.5 * 12 * (6 / 34) + 1e-6);
    const few = Float32Array.from({ length: W * H }, (_, i) => (i < 200 ? 1 : 0));
    expect(fallOff([steep], few, W, H)).toBeNull();
  });
});
