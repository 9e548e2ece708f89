import { describe, expect, it } from "vitest";
import { makePicture } from "../image/plane";
import { random } from "../image/random";
import { areScattered, beyondScreen, partAreas } from "./areas";
import { screenLightOf } from "./light";
import { excessPlane } from "./primary";

/** A studio of 160 × 90: black left of the screen, which begins at x = 30 and leaves a lamp and a stand before the black. */
const [W, H] = [160, 90];
function studio(): { screen: Uint8Array; luma: Float32Array } {
  const screen = new Uint8Array(W * H);
  const luma = new Float32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      screen[i] = x >= 30 ? 1 : 0;
      luma[i] = x >= 30 ? 0.3 : 0.002;
    }
  return { screen, luma };
}
const put = (s: ReturnType<typeof studio>, x0: number, y0: number, w: number, h: number, light: number) => {
  for (let y = y0; y < y0 + h; y++)
    for (let x = x0; x < x0 + w; x++) {
      s.screen[y * W + x] = 0;
      s.luma[y * W + x] = light;
    }
};

describe("what lies beyond the screen", () => {
  /** 1 where a pixel lies beyond the screen. */
  const beyondOf = (s: ReturnType<typeof studio>) => {
    const { beyond } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    return (x: number, y: number) => beyond[y * W + x];
  };
  it("is the dark at the border and the lamps that stand in it, and not the subject before the screen", () => {
    const s = studio();
    put(s, 4, 10, 20, 30, 0.8);
    put(s, 80, 40, 30, 50, 0.2);
    const at = beyondOf(s);
    expect(at(1, 80)).toBe(1);
    expect(at(10, 20)).toBe(1);
    expect(at(90, 70)).toBe(0);
    expect(at(60, 20)).toBe(0);
  });
  it("is as dark a curtain before blue as before green, though luminance has so little of blue", () => {
    const curtain = 0.015;
    for (const [name, screen, main] of [
      ["green", 0.3, 0.38],
      ["blue", 0.12, 0.43],
    ] as const) {
      const s = studio();
      for (let y = 0; y < H; y++) put(s, 0, y, 30 + Math.round(8 * (1 + Math.sin(y / 9))), 1, curtain);
      for (let i = 0; i < W * H; i++) if (s.screen[i]) s.luma[i] = screen;
      const primary = Float32Array.from(s.screen, (is) => (is ? main : curtain));
      const { beyond } = beyondScreen(s.screen, s.luma, screenLightOf(s.luma, primary, s.screen), W, H);
      expect(beyond, name).toEqual(s.screen.map((is) => 1 - is));
    }
    expect(screenLightOf(new Float32Array(4), new Float32Array(4), new Uint8Array(4))).toBe(0);
  });
  it("leaves what reaches in over the screen from that side beyond the screen's own line", () => {
    const s = studio();
    put(s, 20, 50, 60, 6, 0.5);
    const at = beyondOf(s);
    expect(at(40, 53)).toBe(0);
    expect(at(25, 53)).toBe(1);
  });
  it("is cut straight where a sleeve passes it to the border, wide or aslant, and tells where", () => {
    const s = studio();
    // Lower at the border than where it passes the end.
    for (let x = 0; x < 90; x++) put(s, x, 30 + Math.round((90 - x) / 3), 1, 20, 0.5);
    const { beyond, passes } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) expect(beyond[y * W + x], `${x}, ${y}`).toBe(x < 30 ? 1 : 0);
    expect(passes).toEqual([{ x: 30, y: 50, width: 1, height: 20 }]);
    // The end of a screen that hangs aslant goes on aslant.
    for (let y = 0; y < H; y++) for (let x = 30; x < 30 + y / 5; x++) put(s, x, y, 1, 1, 0.002);
    for (let x = 0; x < 90; x++) put(s, x, 30 + Math.round((90 - x) / 3), 1, 20, 0.5);
    const aslant = beyondScreen(s.screen, s.luma, 0.3, W, H).beyond;
    for (const y of [10, 50, 60, 70, 85]) {
      const end = aslant.subarray(y * W, y * W + W).indexOf(0);
      expect(Math.abs(end - 30 - y / 5), `row ${y}: ${end}`).toBeLessThanOrEqual(2);
    }
  });
  it("is told of on either side where one subject passes both ends", () => {
    const s = studio();
    put(s, 130, 0, 30, H, 0.002);
    put(s, 0, 40, W, 12, 0.5);
    const { passes } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    expect(passes).toEqual([
      { x: 30, y: 40, width: 1, height: 12 },
      { x: 129, y: 40, width: 1, height: 12 },
    ]);
  });
  it("is a lit wall along which a screen ends straight, but for a hand before it, which is told", () => {
    const s = studio();
    put(s, 0, 0, 30, H, 0.35);
    put(s, 10, 40, 70, 10, 0.5);
    put(s, 60, 30, 40, 60, 0.2);
    const { beyond, passes, walls } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    for (let y = 0; y < H; y++) expect(beyond.subarray(y * W, y * W + W).lastIndexOf(1), `row ${y}`).toBe(y >= 40 && y < 50 ? 31 : 29);
    expect(passes).toEqual([{ x: 32, y: 40, width: 1, height: 10 }]);
    expect(walls).toEqual([]);
    // The same beside a round subject at that side is none.
    const round = studio();
    for (let y = 0; y < H; y++) put(round, 0, y, 30, 1, 0.35);
    for (let y = 0; y < H; y++)
      for (let x = Math.round(28 * Math.sin((Math.PI * (y + 9)) / 108)); x < 30; x++)
        [round.screen[y * W + x], round.luma[y * W + x]] = [1, 0.3];
    expect(beyondScreen(round.screen, round.luma, 0.3, W, H).beyond.includes(1)).toBe(false);
  });
  it("is not the set around a window, which is told of", () => {
    const s = studio();
    put(s, 0, 0, 30, H, 0.35);
    put(s, 0, 70, W, 20, 0.3);
    const { beyond, walls } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    expect(beyond.includes(1)).toBe(false);
    expect(walls).toHaveLength(1);
    expect(walls[0]).toMatchObject({ x: 0, y: 0 });
    expect(Math.abs(walls[0]!.width - 30)).toBeLessThanOrEqual(2);
  });
  it("begins at no sliver of a lit stand that looks like it", () => {
    const s = studio();
    put(s, 12, 20, 6, 60, 0.5);
    for (let y = 20; y < 80; y++) s.screen[y * W + 12] = s.screen[y * W + 14] = 1;
    const { beyond, passes } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) expect(beyond[y * W + x], `${x}, ${y}`).toBe(x < 30 ? 1 : 0);
    expect(passes).toEqual([]);
  });
  it("takes the leg of a stand that reaches in over the screen; not a hand, and nothing that stands apart", () => {
    const s = studio();
    put(s, 20, 70, 22, 2, 0.1);
    put(s, 20, 30, 40, 8, 0.4);
    put(s, 100, 80, 6, 6, 0.1);
    const at = beyondOf(s);
    expect(at(38, 70)).toBe(1);
    expect(at(50, 34)).toBe(0);
    expect(at(102, 82)).toBe(0);
  });
  it("is the dark between the legs of a stand; not a dark coat at the screen's end, whose cuff is lit", () => {
    const s = studio();
    // Two legs and what joins them stand before the dark and the floor, which reaches further out; the dark between them hangs on no other.
    for (let y = 60; y < H; y++) for (let x = 20; x < 30; x++) [s.screen[y * W + x], s.luma[y * W + x]] = [1, 0.3];
    put(s, 14, 40, 1, 36, 0.5);
    put(s, 14, 40, 22, 1, 0.5);
    put(s, 36, 40, 1, 36, 0.5);
    put(s, 15, 41, 21, 24, 0.01);
    put(s, 14, 65, 7, 1, 0.5);
    // A coat behind a lit cuff at the end.
    put(s, 30, 4, 1, 16, 0.4);
    put(s, 31, 4, 40, 16, 0.01);
    const { beyond, passes } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    const at = (x: number, y: number) => beyond[y * W + x];
    expect([at(25, 50), at(33, 60), at(36, 50)]).toEqual([1, 1, 1]);
    expect([at(60, 10), at(40, 10)]).toEqual([0, 0]);
    expect(passes.some((p) => p.y >= 30)).toBe(false);
  });
  it("is nothing where the screen fills the frame, though the subject meets its border", () => {
    const s = studio();
    s.screen.fill(1);
    s.luma.fill(0.3);
    put(s, 0, 30, 50, 20, 0.4);
    expect(beyondScreen(s.screen, s.luma, 0.3, W, H).beyond.some((v) => v === 1)).toBe(false);
  });
  it("is no dark hair at the top border and no dark clothes at the sides", () => {
    const s = studio();
    s.screen.fill(1);
    s.luma.fill(0.3);
    put(s, 60, 0, 40, 30, 0.01);
    put(s, 0, 55, W, 35, 0.02);
    expect(beyondScreen(s.screen, s.luma, 0.3, W, H).beyond.some((v) => v === 1)).toBe(false);
  });
  it("goes on behind a lamp that hides the corner; hair at the top and a sleeve at the side do not", () => {
    const s = studio();
    put(s, 0, 0, 10, 20, 0.8);
    const at = beyondOf(s);
    expect([at(2, 60), at(20, 2), at(5, 5), at(60, 20)]).toEqual([1, 1, 1, 0]);
    // A larger one, that leaves dark above and under it, and none beside it.
    const above = studio();
    put(above, 0, 4, 30, 18, 0.8);
    const around = beyondOf(above);
    expect([around(2, 1), around(2, 60), around(15, 12), around(60, 20)]).toEqual([1, 1, 1, 0]);
    const close = studio();
    close.screen.fill(1);
    close.luma.fill(0.3);
    put(close, 60, 0, 40, 60, 0.01);
    put(close, 0, 50, 100, 10, 0.01);
    expect(beyondScreen(close.screen, close.luma, 0.3, W, H).beyond.includes(1)).toBe(false);
  });
  it("is black bars around the picture, and in it what it would be without them", () => {
    const s = studio();
    put(s, 80, 30, 30, H - 30, 0.01);
    const { beyond: free } = beyondScreen(s.screen, s.luma, 0.3, W, H);
    put(s, 0, 0, W, 8, 0);
    put(s, 0, H - 8, W, 8, 0);
    const { beyond } = beyondScreen(s.screen, s.luma, 0.3, W, H, { x: 0, y: 8, width: W, height: H - 16 });
    const differs = [...beyond.keys()].filter((i) => beyond[i] !== free[i]);
    expect(differs.every((i) => i < 8 * W || i >= (H - 8) * W)).toBe(true);
    expect([beyond[4 * W + 80], beyond[(H - 4) * W + 90], beyond[60 * W + 90]]).toEqual([1, 1, 0]);
  });
});

describe("excess", () => {
  it("is what the primary has beyond the weighted others, at every pixel", () => {
    const p = makePicture(2, 1);
    [p.r[0], p.g[0], p.b[0]] = [0.1, 0.5, 0.3];
    [p.r[1], p.g[1], p.b[1]] = [0.4, 0.2, 0.6];
    const close = (found: Float32Array, ...wanted: number[]) => {
      for (const [i, v] of wanted.entries()) expect(found[i]).toBeCloseTo(v, 6);
    };
    close(excessPlane(p, "g", 0.5), 0.5 - 0.2, 0.2 - 0.5);
    close(excessPlane(p, "g", 1), 0.5 - 0.1, 0.2 - 0.4);
    close(excessPlane(p, "b", 0.25), 0.3 - (0.25 * 0.1 + 0.75 * 0.5), 0.6 - (0.25 * 0.4 + 0.75 * 0.2));
  });
});

describe("parting a plate", () => {
  it("tells markers from the subject", () => {
    const s = studio();
    for (const x of [60, 90, 130]) put(s, x, 10, 4, 4, 0.5);
    put(s, 90, 40, 30, 50, 0.2);
    const { markers, subject } = partAreas(s.screen, s.luma, 0.3, W, H);
    expect(markers.map((m) => m.x).sort((a, b) => a - b)).toEqual([60, 90, 130]);
    expect(subject[60 * W + 105]).toBe(1);
    expect(subject[11 * W + 61]).toBe(0);
  });
  it("tells markers close to black bars, and how far the screen ends in the picture", () => {
    const s = studio();
    s.screen.fill(1);
    s.luma.fill(0.3);
    for (const x of [60, 90, 130]) put(s, x, 10, 4, 4, 0.5);
    put(s, 0, 0, W, 9, 0);
    const inside = { x: 0, y: 9, width: W, height: H - 9 };
    expect(partAreas(s.screen, s.luma, 0.3, W, H).markers).toEqual([]);
    const { markers, ends } = partAreas(s.screen, s.luma, 0.3, W, H, inside);
    expect(markers.length).toBe(3);
    expect(ends).toEqual({ left: 0, right: 0, top: 0 });
  });

  const patch = (x: number, y: number) => ({ x: Math.round(x), y: Math.round(y), width: 4, height: 4 });
  it("takes many patches that lie as by chance, or in a cluster, for no markers; a lattice that a subject hides half of is one", () => {
    const next = random(5);
    const at = (count: number, place: () => readonly [number, number]) => Array.from({ length: count }, () => patch(...place()));
    const chance = () => [1000 * next(), 600 * next()] as const;
    expect(areScattered(at(40, chance))).toBe(true);
    expect(
      areScattered(
        at(40, () => {
          const [r, a] = [200 * next() ** 2, 2 * Math.PI * next()];
          return [500 + r * Math.cos(a), 300 + r * Math.sin(a)];
        }),
      ),
    ).toBe(true);
    const lattice = Array.from({ length: 24 }, (_, k) =>
      patch(80 + 160 * (k % 6) + 12 * next(), 60 + 140 * Math.floor(k / 6) + 12 * next()),
    );
    expect(areScattered(lattice)).toBe(false);
    expect(areScattered(lattice.filter(({ x }) => x < 300 || x > 600))).toBe(false);
    // A few put up by hand lie as they may.
    expect(areScattered(at(8, chance))).toBe(false);
  });
  it("so that snow is reported as no markers", () => {
    const s = studio();
    const next = random(2);
    for (let k = 0; k < 30; k++) put(s, 40 + Math.floor(110 * next()), 4 + Math.floor(78 * next()), 3, 3, 0.5);
    const { markers, scattered } = partAreas(s.screen, s.luma, 0.3, W, H);
    expect(markers.length).toBeGreaterThan(11);
    expect(scattered).toBe(true);
  });
});
