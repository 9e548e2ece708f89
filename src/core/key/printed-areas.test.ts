import { describe, expect, it } from "vitest";
import { labelComponents } from "../image/components";
import { maskOf, maskOver } from "../image/mask";
import { enclosedPrints, printedAreas } from "./printed-areas";

const [WIDTH, HEIGHT] = [80, 60];

/** How many of the pieces are prints: of what is half open in `cover`, those pixels that `smooth` keeps. */
function prints(
  at: (x: number, y: number) => number,
  smooth: (x: number, y: number) => boolean,
  own: (x: number, y: number) => number = () => 0.3,
  sheer?: readonly [number, number],
): number {
  const plane = (value: (x: number, y: number) => number) =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
  const cover = plane(at);
  const maybe = maskOf(cover, (v, i) => v > 0.25 && v < 0.75 && smooth(i % WIDTH, Math.floor(i / WIDTH)));
  const screen = maskOf(cover, (v) => v < 0.1);
  const areas = labelComponents(maybe, WIDTH, HEIGHT);
  const isSheer = (label: number) => !!sheer && areas.labels[sheer[1] * WIDTH + sheer[0]] === label;
  const seen = { solid: maskOver(cover, 0.75), cover, own: plane(own), screen };
  return printedAreas(areas, seen, isSheer, 2, WIDTH, HEIGHT).reduce((sum, p) => sum + p, 0);
}

describe("prints", () => {
  const dot = (x: number, y: number) => x >= 38 && x < 42 && y >= 28 && y < 31;
  it("are pieces that stand in what is solid", () => {
    expect(prints((x, y) => (dot(x, y) ? 0.4 : 1), dot)).toBe(1);
  });
  it("are as well large ones, however wide the rim that is not smooth: a stamp on paper", () => {
    const stamp = (r: number) => (x: number, y: number) => Math.hypot(x - 40, y - 30) < r;
    expect(prints((x, y) => (stamp(14)(x, y) ? 0.45 : 1), stamp(12.7))).toBe(1);
  });
  it("are no smooth places of a veil beside a hat, which goes on around them: streaks of its colour were drawn from there", () => {
    // The hat above, hair on the left; between them a fold of the veil, in which single strands are.
    const veil = (x: number, y: number) => (y < 28 || x < 37 ? 1 : 0.4 + 0.004 * (x - 38));
    expect(prints(veil, dot)).toBe(0);
  });
  it("are no pieces of a veil between strands, one behind the other beside where it hangs free; what is brighter, or more open, is", () => {
    const gap = (x: number, y: number) => x >= 24 && x < 48 && x % 8 < 4 && y > 20 && y < 40;
    const free = (x: number) => x >= 52;
    const soft = (x: number, y: number) => gap(x, y) || free(x);
    const cover = (between: number) => (x: number, y: number) => (free(x) ? 0.45 : gap(x, y) ? between : 1);
    const light = (between: number) => (x: number) => (free(x) ? 0.3 : between);
    const [veil, unknown] = [[60, 30] as const, undefined];
    expect(prints(cover(0.45), soft, light(0.3), unknown)).toBe(4);
    expect(prints(cover(0.45), soft, light(0.3), veil)).toBe(0);
    expect(prints(cover(0.45), soft, light(0.42), veil)).toBe(3);
    expect(prints(cover(0.3), soft, light(0.3), veil)).toBe(3);
  });
});

describe("prints of thin parts", () => {
  const [W, H] = [160, 120];
  const leaf = (x: number, y: number) => (Math.abs(x - 80) < 2 && Math.abs(y - 60) < 7) || (Math.abs(y - 60) < 2 && Math.abs(x - 80) < 7);
  const fromMiddle = (x: number, y: number) => Math.hypot(x - 80, y - 60);
  /** How many pixels are taken for such prints, of a cloth on which `shape` is as open as `cover`, and less by `closing` for each px from the middle. */
  const pixels = (
    shape: (x: number, y: number) => boolean,
    { cover = 0.5, closing = 0, own = 0.8, paler = 0, toScreen = 20, around = 1 } = {},
  ): number => {
    const is = Uint8Array.from({ length: W * H }, (_, i) => (shape(i % W, Math.floor(i / W)) ? 1 : 0));
    const even = (value: number) => new Float32Array(W * H).fill(value);
    const seen = { open: is, solid: is.map((v) => 1 - v), paler: is.map(() => paler), toScreen: even(toScreen) };
    const light = {
      cover: even(around).map((v, i) => (is[i] ? cover + closing * fromMiddle(i % W, Math.floor(i / W)) : v)),
      others: even(0.3),
      own: even(0.3 * own),
    };
    return enclosedPrints({ ...seen, ...light }, W, H).reduce((sum, v) => sum + v, 0);
  };
  it("are whole, though no part of them is smooth", () => {
    expect(pixels(leaf)).toBe(13 * 3 * 2 - 9);
  });
  it("are no gap near the screen, nor one in whose middle it shows, nor what has hardly any light of its own", () => {
    expect(pixels(leaf, { toScreen: 11 })).toBe(0);
    expect(pixels(leaf, { cover: 0.15 })).toBe(0);
    expect(pixels(leaf, { own: 0.4 })).toBe(0);
  });
  it("are no gaps between fingers in motion, which go over softly", () => {
    expect(pixels(leaf, { cover: 0.6, around: 0.8 })).toBe(0);
    expect(pixels(leaf, { cover: 0.6, around: 0.9 })).toBe(69);
  });
  it("are no holes that grow clearer and clearer towards their middle, as what swings while the shutter is open", () => {
    const round = (x: number, y: number) => fromMiddle(x, y) < 7;
    expect(pixels(round)).toBeGreaterThan(0);
    expect(pixels(round, { cover: 0.25, closing: 0.075 })).toBe(0);
  });
  it("may have as much of the primary as the screen, if they are paler", () => {
    expect(pixels(leaf, { cover: 0.15, paler: 1 })).toBe(69);
  });
  it("are no cells of a comb, which lie beside each other", () => {
    expect(pixels((x, y) => x % 6 < 4 && y % 6 < 4)).toBe(0);
  });
});
