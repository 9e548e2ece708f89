import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { decodeRawFrame } from "../image/raw-frame";
import { shrinkChannel, shrinkPicture } from "../image/resample";
import { defaultRecipe } from "../recipe/schema";
import { cameraReading, record } from "../simulate/camera";
import { box, type Drawn, disc as drawnDisc, drawPlate, even } from "../simulate/draw-plate";
import { makeCamera } from "../simulate/stage";
import { PULLS } from "./pulls";
import { subjectDifference, subjectExcess } from "./subject-difference";

const B = { r: 0.05, g: 0.4, b: 0.08 };

/** α·F + (1−α)·B with α along x. */
function mixture(
  F: { r: number; g: number; b: number },
  light: (y: number) => number,
  width = 101,
  height = 20,
): { plate: Picture; screen: Picture } {
  const plate = makePicture(width, height);
  const screen = makePicture(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const a = x / (width - 1);
      for (const c of ["r", "g", "b"] as const) {
        screen[c][i] = B[c] * light(y);
        plate[c][i] = a * F[c] + (1 - a) * screen[c][i]!;
      }
    }
  return { plate, screen };
}

describe("subject-aware difference", () => {
  it.each([
    ["neutral", { r: 0.3, g: 0.3, b: 0.3 }],
    ["skin, warm", { r: 0.56, g: 0.33, b: 0.22 }],
    ["sage cloth, green itself", { r: 0.1, g: 0.17, b: 0.09 }],
    ["lit by the screen", { r: 0.3, g: 0.36, b: 0.31 }],
  ])("gives α back within 1e-5 for a %s subject whose excess is known, before an uneven screen", (_, F) => {
    const { plate, screen } = mixture(F, (y) => 0.6 + 0.04 * y);
    for (const weight of [0, 0.35, 0.5, 1]) {
      const excess = new Float32Array(plate.r.length).fill(F.g - weight * F.r - (1 - weight) * F.b);
      const { data } = subjectDifference(plate, { primary: "g", weight, screen }, { excess, paler: null });
      for (let i = 0; i < data.length; i++) expect(Math.abs(data[i]! - (i % 101) / 100)).toBeLessThan(1e-5);
    }
  });
  it("knows that white covers, whatever hue coarse chroma gave it, and that nothing is so dim, before or behind the screen's light", () => {
    const plate = makePicture(4, 1);
    // White smeared with the screen's hue; the same half as bright; the screen a fifth brighter than the clean plate; a light beyond white.
    [
      { r: 0.85, g: 1.2, b: 0.9 },
      { r: 0.42, g: 0.6, b: 0.45 },
      { r: 0.06, g: 0.48, b: 0.096 },
      { r: 0.06, g: 0.48, b: 0.096 },
    ].forEach((c, i) => {
      [plate.r[i], plate.g[i], plate.b[i]] = [c.r, c.g, c.b];
    });
    const { data } = subjectDifference(plate, { primary: "g", weight: 0.5, screen: B }, null);
    const plain = (i: number) => 1 - (plate.g[i]! - 0.5 * (plate.r[i]! + plate.b[i]!)) / (B.g - 0.5 * (B.r + B.b));
    expect(plain(0)).toBeLessThan(0.05);
    expect(data[0]!).toBeCloseTo(Math.min((0.85 - B.r) / (1 - B.r), (0.9 - B.b) / (1 - B.b)) - 0.1, 5);
    expect(data[1]!).toBeCloseTo(plain(1), 5);
    expect(data[2]!).toBe(0);
    plate.b[3] = 8;
    const { data: lit } = subjectDifference(plate, { primary: "g", weight: 0.5, screen: B }, null);
    expect(lit[0]!).toBeCloseTo(Math.max(plain(0), (0.9 - B.b) / (8 - B.b) - 0.1), 5);
  });
  it("a constant difference is far off for the same warm and green subjects", () => {
    const { plate } = mixture({ r: 0.1, g: 0.17, b: 0.09 }, () => 1);
    const { data } = subjectDifference(plate, { primary: "g", weight: 0.5, screen: B }, null);
    expect(data[100]!).toBeLessThan(0.85);
  });
  it("refuses a screen colour with no excess", () => {
    const { plate } = mixture({ r: 0.3, g: 0.3, b: 0.3 }, () => 1);
    expect(() => subjectDifference(plate, { primary: "g", weight: 0.5, screen: { r: 0.3, g: 0.3, b: 0.3 } }, null)).toThrow(
      /sample the screen again/,
    );
  });

  /** A disc of one colour with a soft rim before an even screen. */
  const disc = (F: Rgb, ramp: number, behind: Rgb = B, radius = 55) => {
    const width = 320;
    const height = 180;
    const p = makePicture(width, height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const a = Math.min(1, Math.max(0, 0.5 + (radius - Math.hypot(x - 160, y - 90)) / ramp));
        for (const c of ["r", "g", "b"] as const) p[c][y * width + x] = a * F[c] + (1 - a) * behind[c];
      }
    return p;
  };
  it("reads the excess inside the subject and carries it under the rim", () => {
    const F = { r: 0.56, g: 0.33, b: 0.22 };
    const own = subjectExcess(disc(F, 3), { primary: "g", weight: 0.5, screen: B })!;
    const e = 0.33 - 0.5 * (0.56 + 0.22);
    expect(own.excess[90 * 320 + 160]).toBeCloseTo(e, 4);
    expect(own.excess[90 * 320 + 160 + 55]!).toBeLessThan(0.4 * e);
    expect(own.nearScreen[90 * 320 + 160]).toBe(0);
  });
  it("carries it to the far end of an even slope, as of a blurred edge, and not along strands", () => {
    const F = { r: 0.56, g: 0.33, b: 0.22 };
    const key = { primary: "g", weight: 0.5, screen: B } as const;
    const blurred = disc(F, 36);
    const matte = subjectDifference(blurred, key, subjectExcess(blurred, key)).data;
    // Without its own colour such a subject would be solid from 0.82 of cover on.
    for (let x = 200; x < 236; x++) {
      const cover = 0.5 + (55 - (x - 160)) / 36;
      if (cover > 0.75 && cover < 0.9) expect(matte[90 * 320 + x]!).toBeLessThan(cover + 0.06);
    }
    const strands = disc(F, 3);
    for (let x = 218; x < 240; x++)
      for (let y = 0; y < 180; y++)
        if ((x + y) % 3 === 0) for (const c of ["r", "g", "b"] as const) strands[c][y * 320 + x] = 0.5 * F[c] + 0.5 * B[c];
    expect(Math.abs(subjectExcess(strands, key)!.excess[90 * 320 + 226]!)).toBeLessThan(0.01);
  });
  it("takes near-screen cloth for subject, and smoke of the same colour not", () => {
    const cloth = { r: 0.12, g: 0.22, b: 0.1 };
    const sharp = subjectDifference(
      disc(cloth, 2),
      { primary: "g", weight: 0.5, screen: B },
      subjectExcess(disc(cloth, 2), { primary: "g", weight: 0.5, screen: B }),
    );
    expect(sharp.data[90 * 320 + 160]).toBeGreaterThan(0.98);
    const own = subjectExcess(disc(cloth, 2), { primary: "g", weight: 0.5, screen: B })!;
    expect(own.nearScreen[90 * 320 + 160]).toBeGreaterThan(0.9);
    // The same colour fading into the screen over half the frame.
    const faded = disc(cloth, 90);
    const smoke = subjectDifference(
      faded,
      { primary: "g", weight: 0.5, screen: B },
      subjectExcess(faded, { primary: "g", weight: 0.5, screen: B }),
    );
    expect(smoke.data[90 * 320 + 160]).toBeLessThan(0.75);
  });
  it("takes smoke for smoke where a few pixels of it are as clear as the screen", () => {
    const key = { primary: "g", weight: 0.5, screen: B } as const;
    const faded = disc({ r: 0.12, g: 0.22, b: 0.1 }, 90);
    const next = random(5);
    for (let i = 0; i < faded.g.length; i++) if (next() < 0.03) for (const c of ["r", "g", "b"] as const) faded[c][i] = B[c];
    const smoke = subjectDifference(faded, key, subjectExcess(faded, key));
    const [x, y] = [160, 90];
    const around = [...smoke.data.keys()].filter((i) => Math.abs((i % 320) - x) < 20 && Math.abs(Math.floor(i / 320) - y) < 20);
    expect(Math.max(...around.map((i) => smoke.data[i]!))).toBeLessThan(0.8);
  });
  it.each([
    ["at a fifth of its light", 0.2],
    ["whose excess is its own", 0.27],
  ])("takes cloth of the screen's hue for subject before a screen %s, and no smoke of that colour", (_, light) => {
    const dark = { r: light * B.r, g: light * B.g, b: light * B.b };
    const key = { primary: "g", weight: 0.5, screen: dark } as const;
    const cloth = { r: 0.12, g: 0.2, b: 0.1 };
    // A glove hangs on a sleeve: by itself it could be a pane of glass.
    const glove = disc(cloth, 2, dark, 30);
    const sleeve = disc({ r: 0.42, g: 0.4, b: 0.36 }, 2, dark, 30);
    for (const c of ["r", "g", "b"] as const) glove[c].set(sleeve[c].subarray(0, 80 * 320));
    const smoke = disc(cloth, 60, dark, 30);
    const middle = 95 * 320 + 160;
    expect(subjectDifference(glove, key, subjectExcess(glove, key)).data[middle]).toBe(1);
    expect(subjectDifference(glove, key, null).data[middle]!).toBeLessThan(0.3);
    expect(subjectDifference(smoke, key, subjectExcess(smoke, key)).data[middle]!).toBeLessThan(0.3);
    // Its rim, of which the difference tells nothing, is solved by colour, and nothing beyond it.
    const sources = { plate: glove, colour: dark, screen: dark, primary: "g", own: () => subjectExcess(glove, key), scale: 1 } as const;
    const { data } = PULLS.unmix(sources, { ...defaultRecipe().passes[0]!.pull, weight: 0.5 }, (n) => new Float32Array(n));
    for (let x = 0; x < 320; x++) {
      const truth = Math.min(1, Math.max(0, 0.5 + (30 - Math.hypot(x - 160, 5)) / 2));
      expect(Math.abs(data[95 * 320 + x]! - truth)).toBeLessThan(0.04);
    }
  });
  it("takes a sage glove under a pale sleeve for subject before a lime screen of nearly its own hue, lit and folded", () => {
    const [width, height] = [320, 180];
    const lime = { r: 0.07, g: 0.168, b: 0.019 };
    const sage = { r: 0.145, g: 0.21, b: 0.11 };
    const sleeve = { r: 0.42, g: 0.4, b: 0.36 };
    const p = makePicture(width, height);
    const next = random(11);
    const inGlove: number[] = [];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const a = Math.min(1, Math.max(0, 0.5 + (34 - Math.abs(x - 160)) / 2));
        // Brighter towards the left, and folds that no smooth colour runs through.
        const light = 1.02 - 0.007 * (x - 126) + (x % 12 === 0 && y % 9 < 4 ? 0.25 * (next() - 0.5) : 0);
        const F = y < 70 ? sleeve : sage;
        for (const c of ["r", "g", "b"] as const) p[c][i] = a * light * F[c] + (1 - a) * lime[c];
        if (y > 85 && y < 170 && Math.abs(x - 160) < 28) inGlove.push(i);
      }
    const key = { primary: "g", weight: 0.65, screen: lime } as const;
    const { data } = subjectDifference(p, key, subjectExcess(p, key));
    const mean = inGlove.reduce((sum, i) => sum + data[i]!, 0) / inGlove.length;
    expect(mean).toBeGreaterThan(0.98);
  });
  it("takes a pane of glass that stands alone for what it lets through, and a garment of the same colours that hangs on someone for cloth", () => {
    const [width, height] = [320, 180];
    const pane = { r: 0.78, g: 0.84, b: 0.87 };
    const solid = { r: 0.4, g: 0.3, b: 0.25 };
    const meanOfPane = (hangs: boolean) => {
      const p = makePicture(width, height);
      const inPane: number[] = [];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const i = y * width + x;
          const covered = Math.abs(x - 100) < 40 && y > 60;
          const behindGlass = Math.abs(x - (hangs ? 160 : 230)) < 20 && Math.abs(y - 100) < 25;
          const a = covered ? 1 : behindGlass ? 0.35 : 0;
          const F = covered ? solid : pane;
          for (const c of ["r", "g", "b"] as const) p[c][i] = a * F[c] + (1 - a) * B[c] * (1 + 0.0004 * x);
          if (behindGlass && !covered && Math.abs(y - 100) < 15 && Math.abs(x - (hangs ? 160 : 230)) < 10) inPane.push(i);
        }
      const screen = makePicture(width, height);
      for (let i = 0; i < screen.r.length; i++) for (const c of ["r", "g", "b"] as const) screen[c][i] = B[c] * (1 + 0.0004 * (i % width));
      const key = { primary: "g", weight: 0.5, screen } as const;
      const { data } = subjectDifference(p, key, subjectExcess(p, key));
      return inPane.reduce((sum, i) => sum + data[i]!, 0) / inPane.length;
    };
    expect(Math.abs(meanOfPane(false) - 0.35)).toBeLessThan(0.08);
    expect(meanOfPane(true)).toBeGreaterThan(0.98);
  });
  it("solves fair strands far from the head, which before a dim blue screen lack more than grey does and would pass for solid", () => {
    const dim = { r: 0.012, g: 0.035, b: 0.14 };
    const fair = even(0.5, 0.38, 0.22);
    const slanted: Drawn = {
      covers: (x, y) => (y < 130 && y > 30 && Math.abs(((x + 0.3 * y) % 16) - 8) < 1.2 && Math.abs(x - 160) < 80 ? 0.8 : 0),
      colour: fair,
    };
    const { plate, truth } = drawPlate(320, 180, [{ covers: drawnDisc(160, 190, 80), colour: fair }, slanted], () => dim);
    const own = subjectExcess(plate, { primary: "b", weight: 0.5, screen: dim })!;
    const matte = (warmest: Float32Array | null) =>
      PULLS.unmix(
        { plate, colour: dim, screen: dim, primary: "b", own: () => ({ ...own, warmest }), scale: 1 },
        { ...defaultRecipe().passes[0]!.pull, weight: 0.5 },
        (n) => new Float32Array(n),
      );
    // Both where the head's colours are within reach, and where they are not.
    for (const [from, to] of [
      [70, 105],
      [32, 50],
    ] as const) {
      const error = (warmest: Float32Array | null) => {
        const { data } = matte(warmest);
        const there = [...data.keys()].filter((i) => i >= from * 320 && i < to * 320 && truth.data[i]! > 0);
        return there.reduce((sum, i) => sum + (data[i]! - truth.data[i]!) ** 2, 0) / there.length;
      };
      expect(own.warmest).not.toBeNull();
      expect(error(own.warmest)).toBeLessThan(0.002);
      expect(error(null)).toBeGreaterThan(0.05);
    }
  });
  it("takes the least lack of such strands for a sign of them where there is no grain, and none under half of it in grain", () => {
    const brown = even(0.3, 0.25, 0.2);
    const slanted: Drawn = {
      covers: (x, y) => (y < 130 && y > 30 && Math.abs(((x + 0.3 * y) % 16) - 8) < 1.2 && Math.abs(x - 160) < 80 ? 1 : 0),
      colour: brown,
    };
    const blue = { r: 0.04, g: 0.08, b: 0.4 };
    const warmest = (grain: number) => {
      const { plate } = drawPlate(320, 180, [{ covers: drawnDisc(160, 190, 80), colour: brown }, slanted], () => blue);
      const next = random(9);
      for (let i = 0; i < plate.b.length; i++) plate.b[i]! += grain * (next() - 0.5);
      return subjectExcess(plate, { primary: "b", weight: 0.5, screen: blue })!.warmest;
    };
    // As 8-bit codes round; as a camera records.
    expect(warmest(0.0024)).not.toBeNull();
    expect(warmest(0.024)).toBeNull();
  });
  it("takes the navy trousers of somebody small for subject before a blue screen, as a camera records them", () => {
    const blue = { r: 0.03, g: 0.07, b: 0.36 };
    const navy = even(0.04, 0.07, 0.16);
    const { plate } = drawPlate(
      800,
      450,
      [
        { covers: box(380, 160, 420, 200), colour: even(0.7, 0.5, 0.06) },
        { covers: box(381, 200, 395, 250), colour: navy },
        { covers: box(405, 200, 419, 250), colour: navy },
      ],
      () => blue,
    );
    const camera = makeCamera({ shotNoise: 0.0004, readNoise: 0.0015, bits: 8, subsampling: "420", siting: "left" });
    const picture = decodeRawFrame(record(plate, camera), cameraReading(camera));
    const key = { primary: "b", weight: 0.5, screen: blue } as const;
    const { data } = subjectDifference(picture, key, subjectExcess(picture, key));
    let open = 0;
    for (let y = 204; y < 246; y++)
      for (const x0 of [385, 409]) for (let x = x0; x < x0 + 6; x++) open += 1 - (data[y * 800 + x] as number);
    expect(open / (2 * 6 * 42)).toBeLessThan(0.04);
  });
  it("is read from the same copy in a preview of half the size as in the full frame", () => {
    const key = { primary: "g", weight: 0.5, screen: B } as const;
    const sage = even(0.2, 0.34, 0.16);
    const things = Array.from({ length: 8 }, (_, k) => ({
      covers: drawnDisc(120 + 240 * k, 60, 15 + 5 * k),
      colour: k % 2 ? sage : even(0.5, 0.3, 0.2),
    }));
    const { plate } = drawPlate(1920, 120, things, () => B);
    const full = subjectExcess(plate, key)!;
    const half = shrinkPicture(plate, 2);
    const apart = (own: { excess: Float32Array }) => {
      const whole = shrinkChannel(full.excess, 1920, 120, 2);
      return Math.max(...own.excess.map((e, i) => Math.abs(e - (whole[i] as number))));
    };
    expect(apart(subjectExcess(half, key, 0.5)!)).toBeLessThan(0.01);
    expect(apart(subjectExcess(half, key)!)).toBeGreaterThan(0.05);
  });
  it("finds no subject in an empty screen", () => {
    const p = makePicture(320, 180);
    const next = random(4);
    for (let i = 0; i < p.r.length; i++) {
      const k = 1 + 0.02 * (next() - 0.5);
      p.r[i] = B.r * k;
      p.g[i] = B.g * k;
      p.b[i] = B.b * k;
    }
    expect(subjectExcess(p, { primary: "g", weight: 0.5, screen: B })).toBeNull();
  });
});
