import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { gaussianBlur } from "../image/blur";
import { normal } from "../image/normal";
import type { Picture } from "../image/plane";
import { random } from "../image/random";
import { type At, box, type Drawn, drawPlate, even } from "../simulate/draw-plate";
import { synthesiseCleanPlate } from "./clean-plate";
import { followShade, shadeBeside } from "./follow-shade";

const [W, H] = [480, 270];
const PAINT = { r: 0.05, g: 0.38, b: 0.08 };
const lit =
  (light: At<number>, paint: Rgb = PAINT): At<Rgb> =>
  (x, y) => {
    const k = light(x, y);
    return { r: k * paint.r, g: k * paint.g, b: k * paint.b };
  };
/** Half the light right of a soft edge beside the leg, back to all of it 60 px on. */
const penumbra: At<number> = (x) => 1 - 0.6 * Math.exp(-(((x - 250) / 22) ** 2));
const leg: Drawn = { covers: box(200, 60, 240, 271), colour: even(0.3, 0.2, 0.12) };
const grainy = (p: Picture, deviation: number): Picture => {
  const next = normal(random(7));
  const noisy = (c: Float32Array) => c.map((v) => v + deviation * Math.sqrt(Math.max(0, v)) * next());
  return { ...p, r: noisy(p.r), g: noisy(p.g), b: noisy(p.b) };
};
/** The largest error of the clean plate's green at row `y`, in stops, over columns. */
const stopsOff = (clean: Picture, light: At<number>, y: number, from: number, to: number, paint = PAINT) => {
  let most = 0;
  for (let x = from; x < to; x++) most = Math.max(most, Math.abs(Math.log2(clean.g[y * W + x]! / (paint.g * light(x + 0.5, y + 0.5)))));
  return most;
};

describe("shade beside a subject", () => {
  it.each([0, 0.01])("is followed up to its outline, grain %s", (deviation) => {
    const { plate } = drawPlate(W, H, [leg], lit(penumbra));
    expect(stopsOff(synthesiseCleanPlate(grainy(plate, deviation), "g"), penumbra, 150, 241, 300)).toBeLessThan(
      deviation === 0 ? 0.08 : 0.2,
    );
  });
  it("is followed in a gap that lies in it all over, and not on cloth whose hue is a little off", () => {
    const gap = box(250, 100, 290, 120);
    const bars: Drawn = { covers: (x, y) => (box(240, 60, 300, 160)(x, y) && !gap(x, y) ? 1 : 0), colour: even(0.3, 0.2, 0.12) };
    const shadow: At<number> = (x, y) => (gap(x, y) ? 0.5 : 1);
    const { plate } = drawPlate(W, H, [leg, bars], lit(shadow));
    for (const deviation of [0, 0.01])
      expect(stopsOff(synthesiseCleanPlate(grainy(plate, deviation), "g"), shadow, 110, 252, 288), `grain ${deviation}`).toBeLessThan(0.1);
    const cloth: Drawn = { covers: gap, colour: even(0.028, 0.19, 0.045) };
    const { plate: printed } = drawPlate(
      W,
      H,
      [leg, bars, cloth],
      lit(() => 1),
    );
    expect(stopsOff(synthesiseCleanPlate(printed, "g"), () => 1, 110, 252, 288)).toBeLessThan(0.1);
  });
  it("is no tangle of black hair, which has no hue but the screen's", () => {
    /** Soft strands every nine pixels, slanting one way and the other. */
    const strand = (v: number) => Math.exp(-((((v % 9) - 4.5) / 2) ** 2));
    const head = box(250, 80, 330, 160);
    const hair: Drawn = {
      covers: (x, y) => (head(x, y) ? 0.85 * Math.max(strand(x + 0.7 * y), strand(500 + x - 0.7 * y)) : 0),
      colour: even(0.0005, 0.004, 0.0008),
    };
    const { plate } = drawPlate(
      W,
      H,
      [leg, hair],
      lit(() => 1),
    );
    for (const deviation of [0, 0.01])
      expect(
        stopsOff(synthesiseCleanPlate(grainy(plate, deviation), "g"), () => 1, 120, 255, 325),
        `grain ${deviation}`,
      ).toBeLessThan(0.2);
    // The same places in a shadow as dark all over are the screen's.
    const shadow: At<number> = (x, y) => (head(x, y) ? 0.4 : 1);
    const { plate: dark } = drawPlate(W, H, [leg], lit(shadow));
    expect(stopsOff(synthesiseCleanPlate(dark, "g"), shadow, 120, 255, 325)).toBeLessThan(0.1);
  });
  it("is followed before a blue screen", () => {
    const blue = { r: 0.03, g: 0.07, b: 0.36 };
    const { plate } = drawPlate(W, H, [leg], lit(penumbra, blue));
    expect(stopsOff(synthesiseCleanPlate(plate, "b"), penumbra, 150, 241, 300, blue)).toBeLessThan(0.08);
  });
  it("is followed where it meets no subject: a marker's shadow", () => {
    const shadow: At<number> = (x, y) => 1 - 0.5 * Math.exp(-((x - 120) ** 2 + (y - 80) ** 2) / 40);
    const marker = { covers: box(104, 70, 112, 90), colour: even(0.8, 0.25, 0.05) };
    const { plate } = drawPlate(W, H, [leg, marker], lit(shadow));
    expect(stopsOff(synthesiseCleanPlate(plate, "g"), shadow, 80, 114, 140)).toBeLessThan(0.1);
  });
  it("is not the edge of a black thing that mirrors the screen, through a lens: it has the screen's hue all along", () => {
    const all: At<number> = () => 1;
    const visor: Drawn = { covers: box(240, 60, 330, 271), colour: lit((x) => 0.03 + 0.0003 * (x - 240)) };
    const { plate } = drawPlate(W, H, [leg, visor], lit(all));
    const lens = (c: Float32Array) => gaussianBlur(c, W, H, 1);
    const clean = synthesiseCleanPlate({ ...plate, r: lens(plate.r), g: lens(plate.g), b: lens(plate.b) }, "g");
    expect(stopsOff(clean, all, 150, 310, 345)).toBeLessThan(0.05);
  });
  it("is not what stands there: black hair, strands of it and cloth dyed dark green", () => {
    const all: At<number> = () => 1;
    const beside = box(240, 60, 262, 271);
    const strands: At<number> = (x, y) => (x % 5 < 2.7 ? beside(x, y) : 0);
    for (const { covers, colour } of [
      { covers: beside, colour: even(0.008, 0.006, 0.005) },
      { covers: strands, colour: even(0.008, 0.006, 0.005) },
      { covers: beside, colour: even(0.006, 0.03, 0.01) },
    ]) {
      const { plate } = drawPlate(W, H, [leg, { covers, colour }], lit(all));
      expect(stopsOff(synthesiseCleanPlate(plate, "g"), all, 150, 242, 300)).toBeLessThan(0.1);
    }
  });
  it.each([0.006, 0.012])(
    "is not black cloth in the light of a bright screen, grain %s: all of it together has light of its own",
    (deviation) => {
      const all: At<number> = () => 1;
      const bright = { r: 0.047, g: 0.17, b: 0.78 };
      const bounced: At<number> = (x) => 0.05 * Math.exp(-(x - 240) / 60);
      const coat: Drawn = {
        covers: box(240, 60, 420, 271),
        colour: (x, y) => {
          const k = bounced(x, y);
          return { r: 0.006 + k * bright.r, g: 0.005 + k * bright.g, b: 0.004 + k * bright.b };
        },
      };
      const { plate } = drawPlate(W, H, [coat], lit(all, bright));
      const clean = synthesiseCleanPlate(grainy(plate, deviation), "b");
      const followed = Array.from({ length: 170 * 190 }, (_, k) => clean.b[(70 + Math.floor(k / 170)) * W + 242 + (k % 170)]!).filter(
        (v) => v < 0.7 * bright.b,
      );
      expect(followed.length).toBe(0);
    },
  );
  it("is not told before a screen that is clipped: thin dark hair seems to take nothing but light there", () => {
    const strands: At<number> = (x, y) => (x % 5 < 2.7 ? 0.5 : 0.2) * box(240, 60, 262, 271)(x, y);
    const { plate } = drawPlate(
      W,
      H,
      [leg, { covers: strands, colour: even(0.03, 0.02, 0.015) }],
      lit(() => 2.9),
    );
    for (const c of [plate.r, plate.g, plate.b]) for (let i = 0; i < c.length; i++) c[i] = Math.min(1, c[i]!);
    const clean = synthesiseCleanPlate(plate, "g");
    for (let x = 242; x < 260; x++) expect(clean.g[150 * W + x]).toBeGreaterThan(0.95);
  });
  it("is not the thin wall of a glass, which shows the screen darker", () => {
    const all: At<number> = () => 1;
    const wall = { covers: box(300, 100, 302, 200), colour: even(0.02, 0.152, 0.032) };
    const { plate } = drawPlate(W, H, [leg, wall], lit(all));
    expect(stopsOff(synthesiseCleanPlate(plate, "g"), all, 150, 295, 310)).toBeLessThan(0.1);
  });
});

describe("a patch of shade", () => {
  const [w, h] = [60, 40];
  const block = box(20, 10, 40, 30);
  const fill = () => [PAINT.r, PAINT.g, PAINT.b].map((v) => new Float32Array(w * h).fill(v));
  /** Certain screen but for the block and two columns around it. */
  const certain = Float32Array.from({ length: w * h }, (_, i) => 1 - box(18, 8, 42, 32)((i % w) + 0.5, Math.floor(i / w) + 0.5));
  const plateOf = (screen: At<Rgb>) => drawPlate(w, h, [], screen).plate;
  const shaded = (k: number, pure = 1): Rgb => ({ r: pure * k * PAINT.r, g: k * PAINT.g, b: pure * k * PAINT.b });

  it("is told with what is deeper and purer in it, but for lines and lone pixels at its rim", () => {
    const line = box(30, 30, 31, 36);
    const deep = box(26, 14, 34, 26);
    const plate = plateOf((x, y) => (deep(x, y) ? shaded(0.1, 0.5) : block(x, y) || line(x, y) ? shaded(0.3) : PAINT));
    const deepMask = Uint8Array.from(certain, (_, i) => deep((i % w) + 0.5, Math.floor(i / w) + 0.5));
    const shade = shadeBeside(fill(), plate, "g", certain, deepMask);
    for (let i = 0; i < shade.length; i++) {
      const [x, y] = [(i % w) + 0.5, Math.floor(i / w) + 0.5];
      const corner = (x < 21 || x > 39) && (y < 11 || y > 29);
      if (!corner && !box(29, 29, 32, 36)(x, y)) expect(shade[i], `${x}, ${y}`).toBe(block(x, y));
    }
    expect(shade[34 * w + 30]).toBe(0);
  });
  it("is told where coarse chroma lays own light of either sign, as much as grain lets pass; light of one sign is a thing's", () => {
    /** How much of the block is told, where red departs by this from the screen in shade. */
    const told = (departs: (odd: boolean) => number, grain: number) => {
      const plate = plateOf((x, y) => (block(x, y) ? shaded(0.5) : PAINT));
      plate.r.forEach((_, i) => {
        const [x, y] = [i % w, Math.floor(i / w)];
        const odd = (x + y) % 2 === 1;
        plate.r[i]! += block(x + 0.5, y + 0.5) ? departs(odd) : odd ? grain : -grain;
      });
      return shadeBeside(fill(), plate, "g", certain, new Uint8Array(w * h)).reduce((sum, v) => sum + v, 0) / 400;
    };
    expect(told((odd) => (odd ? 0.023 : -0.023), 0.0011)).toBeGreaterThan(0.95);
    expect(told((odd) => (odd ? 0.023 : -0.023), 0)).toBeLessThan(0.6);
    expect(told(() => 0.023, 0.0011)).toBe(0);
  });
  it("is told before a bright screen whose light varies, and not before one that is clipped, of one light over much of it", () => {
    const before = (light: At<number>) => {
      const plate = plateOf((x, y) => lit((u, v) => light(u, v) * (block(u, v) ? 0.3 : 1))(x, y));
      for (let i = 0; i < plate.g.length; i++) plate.g[i] = Math.min(1.2, plate.g[i]!);
      const clean = fill().map((c) => c.map((v, i) => Math.min(1.2, v * light((i % w) + 0.5, 0))));
      return shadeBeside(clean, plate, "g", certain, new Uint8Array(w * h))[20 * w + 30];
    };
    // In the middle both are as bright as a logarithmic curve can hold.
    expect(before((x) => 3 - Math.abs(x - 30) / 100)).toBe(1);
    expect(before((x) => 4 - Math.abs(x - 30) / 100)).toBe(0);
  });
  it("lies one pixel behind what is mixed with it, and behind nothing else", () => {
    const beside: Record<number, Rgb> = {
      // Half leather, half shade.
      14: { r: 0.03, g: 0.068, b: 0.015 },
      // Pale cloth in shade, as bright as the patch.
      18: { r: 0.12, g: 0.11, b: 0.08 },
      // Lit screen, and all but black.
      22: PAINT,
      26: { r: 0.01, g: 0.008, b: 0.006 },
    };
    const plate = plateOf((x, y) => (Math.floor(x) === 40 && beside[Math.floor(y)]) || (block(x, y) ? shaded(0.3) : PAINT));
    const shade = Uint8Array.from(certain, (_, i) => block((i % w) + 0.5, Math.floor(i / w) + 0.5));
    const clean = fill();
    followShade(clean, plate, "g", shade);
    const green = (x: number, y: number) => clean[1]![y * w + x]! / PAINT.g;
    expect(green(30, 20)).toBeCloseTo(0.3, 4);
    expect(green(40, 14)).toBeCloseTo(0.3, 4);
    for (const y of [18, 22, 26]) expect(green(40, y), `row ${y}`).toBeCloseTo(1, 4);
    expect(green(41, 14)).toBeCloseTo(1, 4);
  });
});

describe("black hair in the screen's own light", () => {
  const [w, h, side] = [640, 480, 27];
  type Place = readonly [x: number, y: number];
  /** Strands three pixels wide, eight apart, crossing; what shows between them, brown or the screen. */
  const onStrand = (x: number, y: number) => (x % 8) - 3 < 0 || (y % 8) - 3 < 0;
  /**
   * What of each piece is told as shade.
   * @param pieces their corners @param margin px around each that are not certain to be screen @param solid whether there are no gaps between strands
   * @param deep px of each that pass for deep shade
   */
  const told = (pieces: readonly Place[], { margin = 14, solid = false, deep = 0, thin = [] as readonly Place[] } = {}) => {
    const n = w * h;
    const screen = [PAINT.r, PAINT.g, PAINT.b].map((v) => new Float32Array(n).fill(v));
    const [r, g, b] = screen.map((c) => c.slice()) as [Float32Array, Float32Array, Float32Array];
    const [certain, deeps] = [new Float32Array(n).fill(1), new Uint8Array(n)];
    const paint = (i: number, c: Rgb) => {
      [r[i], g[i], b[i]] = [c.r, c.g, c.b];
    };
    const shaded = (i: number, k: number) => paint(i, { r: k * PAINT.r, g: k * PAINT.g, b: k * PAINT.b });
    const over = ([px, py]: Place, wide: number, beyond: number, at: (i: number, x: number, y: number) => void) => {
      for (let y = -beyond; y < side + beyond; y++) for (let x = -beyond; x < wide + beyond; x++) at((py + y) * w + px + x, x, y);
    };
    for (const piece of [...pieces, ...thin])
      over(piece, thin.includes(piece) ? 70 : side, margin, (i) => {
        certain[i] = 0;
      });
    for (const piece of pieces) {
      let left = deep;
      over(piece, side, 0, (i, x, y) => {
        if (onStrand(x, y)) {
          shaded(i, 0.4);
          if (left-- > 0) deeps[i] = 1;
        } else if (solid) shaded(i, 0.9);
        else paint(i, { r: 0.3, g: 0.2, b: 0.12 });
      });
    }
    for (const piece of thin) over(piece, 70, 0, (i, x, y) => shaded(i, x < 19 && y < 19 && onStrand(x, y) ? 0.4 : 0.6));
    const shade = shadeBeside(screen, { width: w, height: h, r, g, b }, "g", certain, deeps);
    const share = (piece: Place, wide: number) => {
      let [strands, found] = [0, 0];
      over(piece, wide, 0, (i, x, y) => {
        if (wide === side && !onStrand(x, y)) return;
        strands++;
        found += shade[i] as number;
      });
      return found / strands;
    };
    return { pieces: pieces.map((q) => share(q, side)), thin: thin.map((q) => share(q, 70)), deep: deeps.reduce((sum, v) => sum + v, 0) };
  };
  const two: Place[] = [
    [100, 100],
    [300, 100],
  ];
  it("is in pieces, each of them too small to tell: together they are", () => {
    expect(told(two).pieces).toEqual([0, 0]);
    expect(Math.min(...told(two.slice(0, 1)).pieces)).toBeGreaterThan(0.8);
  });
  it("is no mark as dense, with certain screen on all sides, and no shadow with something in it, which is whole", () => {
    expect(Math.min(...told(two, { margin: 1 }).pieces)).toBeGreaterThan(0.8);
    expect(Math.min(...told(two, { solid: true }).pieces)).toBeGreaterThan(0.8);
  });
  it("is thinner elsewhere, where it would pass for shade alone", () => {
    const thin: Place[] = [[300, 300]];
    expect(told(two, { thin }).thin).toEqual([0]);
    expect(told([], { thin }).thin[0]).toBeGreaterThan(0.9);
  });
  it("holds blocks of compression that pass for deep shade, up to a twentieth of it", () => {
    expect(told(two, { deep: 10 })).toMatchObject({ pieces: [0, 0], deep: 0 });
    const shadow = told(two, { deep: 100 });
    expect(shadow.deep).toBe(200);
    expect(Math.min(...shadow.pieces)).toBeGreaterThan(0.8);
  });
});
