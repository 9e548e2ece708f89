import { describe, expect, it } from "vitest";
import { linearToBt709 } from "../color/bt709";
import { decodeWith, encodeWith } from "../color/transfer";
import { lumaOf } from "../image/luma";
import { fillAround, makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { proposeRecipe } from "../recipe/auto";
import { evaluate } from "../recipe/evaluate";
import { describeColour, findScreen, otsuThreshold, screenMask } from "./find";
import { measureLight } from "./light";
import { screenName, screenPrimary, weightRange } from "./primary";
import { reportPlate } from "./report";
import { sampleScreen } from "./sample";

const GREEN = { r: 0.03, g: 0.25, b: 0.06 };
const BLUE = { r: 0.02, g: 0.06, b: 0.3 };

interface Scene {
  screen?: { r: number; g: number; b: number };
  /** Stops from left to right. */
  gradient?: number;
  /** Standard deviation of noise, linear. */
  noise?: number;
}

/** A plate with a skin-coloured disk before a screen. */
function plate({ screen = GREEN, gradient = 0, noise = 0 }: Scene, width = 320, height = 180): Picture {
  const p = makePicture(width, height);
  const next = random(5);
  const normal = () => Math.sqrt(-2 * Math.log(next() + 1e-12)) * Math.cos(2 * Math.PI * next());
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const inside = Math.hypot(x - width / 2, y - height / 2) < height / 4;
      const level = 2 ** (gradient * (x / (width - 1) - 0.5));
      const c = inside ? { r: 0.5, g: 0.3, b: 0.2 } : { r: screen.r * level, g: screen.g * level, b: screen.b * level };
      p.r[i] = c.r + noise * normal();
      p.g[i] = c.g + noise * normal();
      p.b[i] = c.b + noise * normal();
    }
  return p;
}

describe("sampleScreen", () => {
  it("is not moved by a marker and a strand in the box", () => {
    const p = plate({ noise: 0.004 });
    for (let i = 0; i < 40; i++) p.g[i * p.width + i] = 0.9;
    const s = sampleScreen(p, [{ x: 0, y: 0, width: 40, height: 40 }]);
    expect(s.colour.g).toBeCloseTo(GREEN.g, 3);
    expect(s.rejected).toBeGreaterThan(30);
    // A mean would have been off by far more.
    expect(Math.abs(s.colour.g - GREEN.g)).toBeLessThan(0.001);
  });
  it("measures the noise it averages", () =>
    expect(sampleScreen(plate({ noise: 0.01 }), [{ x: 0, y: 0, width: 60, height: 60 }]).noise.r).toBeCloseTo(0.01, 2));
  it("joins several boxes and refuses one outside the picture", () => {
    const p = plate({ gradient: 1 });
    const both = sampleScreen(p, [
      { x: 0, y: 0, width: 10, height: 10 },
      { x: 310, y: 0, width: 10, height: 10 },
    ]);
    expect(both.pixels).toBe(200);
    // Along a bent stroke: only pixels under the brush count, each once.
    const bent = sampleScreen(
      p,
      [],
      [
        {
          points: [
            { x: 4, y: 4 },
            { x: 24, y: 4 },
            { x: 24, y: 14 },
          ],
          radius: 2,
        },
      ],
    );
    expect(bent.pixels).toBeGreaterThan(0.95 * (4 * 30 + Math.PI * 4));
    expect(bent.pixels).toBeLessThan(1.05 * (4 * 30 + Math.PI * 4));
    expect(bent.colour.g).toBeCloseTo(sampleScreen(p, [{ x: 2, y: 2, width: 24, height: 14 }]).colour.g, 2);
    expect(() => sampleScreen(p, [], [{ points: [{ x: -50, y: 4 }], radius: 2 }])).toThrow(/outside the picture/);
    expect(() => sampleScreen(p, [{ x: 900, y: 0, width: 10, height: 10 }])).toThrow(/outside the picture/);
  });
});

describe("findScreen", () => {
  it.each([
    ["green", GREEN, "g"],
    ["blue", BLUE, "b"],
  ] as const)("finds a %s screen and its share", (_, screen, primary) => {
    const found = findScreen(plate({ screen, noise: 0.003 }));
    expect(found.primary).toBe(primary);
    expect(found.share).toBeCloseTo(1 - (Math.PI * 45 * 45) / (320 * 180), 2);
    expect(found.sample.colour[primary]).toBeCloseTo(screen[primary], 2);
  });
  it.each([
    ["green", GREEN, { r: 0.03, g: 0.05, b: 0.12 }, "g"],
    ["blue", BLUE, { r: 0.05, g: 0.2, b: 0.06 }, "b"],
  ] as const)(
    "finds a %s screen in close-up, where a garment of another primary is larger, behind the bars of a letterbox too",
    (_, screen, cloth, primary) => {
      for (const bars of [0, 20]) {
        const p = makePicture(180, 320 + 2 * bars);
        let garment = 0;
        for (let y = bars; y < 320 + bars; y++)
          for (let x = 0; x < 180; x++) {
            const down = y - bars - 140;
            const dressed = down > 0 && Math.abs(x - 90) < 60 + down / 3;
            const c = dressed ? cloth : Math.hypot(x - 90, y - bars - 90) < 45 ? { r: 0.5, g: 0.3, b: 0.2 } : screen;
            [p.r[y * 180 + x], p.g[y * 180 + x], p.b[y * 180 + x]] = [c.r, c.g, c.b];
            if (dressed) garment++;
          }
        const found = findScreen(p);
        expect(found.primary).toBe(primary);
        expect(garment).toBeGreaterThan(1.2 * found.share * p.r.length);
      }
    },
  );
  it("takes red curtains beside the screen for none, though they are more and purer; and looks for one of the primary that is asked for", () => {
    const p = plate({ screen: GREEN });
    const curtain = { r: 0.35, g: 0.03, b: 0.03 };
    for (let i = 0; i < p.r.length; i++) if (Math.abs((i % 320) - 160) > 60) [p.r[i], p.g[i], p.b[i]] = [curtain.r, curtain.g, curtain.b];
    expect(findScreen(p).primary).toBe("g");
    const asked = findScreen(p, "r");
    expect(asked.primary).toBe("r");
    expect(asked.share).toBeGreaterThan(0.5);
    // Before a red screen alone nothing need be asked.
    expect(findScreen(plate({ screen: curtain })).primary).toBe("r");
    // A display in a hand may be small.
    const small = plate({ screen: { r: 0.2, g: 0.15, b: 0.12 } });
    for (let y = 20; y < 40; y++)
      for (let x = 20; x < 40; x++) [small.r[320 * y + x], small.g[320 * y + x], small.b[320 * y + x]] = [0.05, 0.4, 0.1];
    expect(findScreen(small, "g").share).toBeCloseTo(400 / (320 * 180), 4);
    expect(() => findScreen(small, "b")).toThrow(/what was sampled covers under 0.2 %/);
  });
  it("says so when there is none", () => {
    const grey = makePicture(64, 64);
    for (const c of [grey.r, grey.g, grey.b]) c.fill(0.2);
    expect(() => findScreen(grey)).toThrow(/No screen was found/);
  });
  it("parts a two-humped histogram between its humps (Otsu 1979)", () => {
    const t = otsuThreshold([0, 5, 9, 5, 0, 0, 0, 0, 4, 8, 4, 0]);
    expect(t).toBeGreaterThanOrEqual(3);
    expect(t).toBeLessThan(8);
  });
});

describe("plate report", () => {
  it.each([0.3, 0.8, 1.5])("measures a gradient of %d stop back", (gradient) => {
    const p = plate({ gradient });
    const { spread, deviation } = measureLight(lumaOf(p), findScreen(p).mask);
    // Of a straight gradient the middle 90 % shows between the percentiles, and σ is its range over √12.
    expect(spread).toBeCloseTo(0.9 * gradient, 1);
    expect(deviation).toBeCloseTo(gradient / Math.sqrt(12), 1);
  });
  it("gives level, hue and findings", () => {
    const report = reportPlate(plate({ gradient: 1.6, noise: 0.002 }), { transfer: "bt709", chromaFormat: "4:2:0", pixelAspect: 1 });
    const at = GREEN;
    expect(report.screen.level).toBeCloseTo(
      100 * (0.2126 * linearToBt709(at.r) + 0.7152 * linearToBt709(at.g) + 0.0722 * linearToBt709(at.b)),
      0,
    );
    // By hand: codes .128, .490, .211 of BT.709, so 120° + 60° × (.211 − .128) / (.490 − .128).
    expect(report.screen.hue).toBeCloseTo(133.75, 0);
    expect(report.findings.map((f) => f.figure)).toContain("4:2:0");
    expect(report.findings.some((f) => /unevenly/.test(f.what))).toBe(true);
    expect(
      reportPlate(plate({}), { transfer: "bt709", chromaFormat: "RGB", pixelAspect: 1 }).findings.some((f) => /unevenly/.test(f.what)),
    ).toBe(false);
  });
  it("suspects a camera's logarithm that is read as video, and neither video nor what is read by its own curve", () => {
    const file = { chromaFormat: "RGB", pixelAspect: 1 };
    const p = plate({});
    const suspected = (q: Picture, transfer: "bt709" | "film-density" | "acescct") => {
      const { codes, findings } = reportPlate(q, { ...file, transfer });
      expect(findings.some((f) => /logarithm/.test(f.what) && /Read as/.test(f.remedy))).toBe(codes.logarithmic);
      return codes.logarithmic;
    };
    expect(suspected(p, "bt709")).toBe(false);
    for (const log of ["film-density", "acescct"] as const) {
      const [code, wrongly] = [encodeWith(log), decodeWith("bt709")];
      const mistaken = (c: Float32Array) => c.map((v) => wrongly(code(v)));
      const wrong = { ...p, r: mistaken(p.r), g: mistaken(p.g), b: mistaken(p.b) };
      expect(suspected(wrong, "bt709")).toBe(true);
      // Black bars are no part of the picture.
      const barred = { ...wrong, r: wrong.r.slice(), g: wrong.g.slice(), b: wrong.b.slice() };
      for (const c of [barred.r, barred.g, barred.b]) fillAround(c, p.width, { x: 0, y: 20, width: p.width, height: p.height - 40 }, 0);
      expect(suspected(barred, "bt709")).toBe(true);
      expect(suspected(p, log)).toBe(false);
    }
  });
  it("tells of black bars, and takes them for no end of the screen", () => {
    const p = plate({});
    for (const c of [p.r, p.g, p.b]) fillAround(c, p.width, { x: 0, y: 20, width: p.width, height: p.height - 40 }, 0);
    const { findings } = reportPlate(p, { transfer: "bt709", chromaFormat: "RGB", pixelAspect: 1 });
    expect(findings.find((f) => /Black bars/.test(f.what))).toMatchObject({ figure: "320×140 px", step: "Bounds" });
    expect(findings.some((f) => /ends inside/.test(f.what))).toBe(false);
  });
  it("names primaries and colours", () => {
    expect(screenPrimary(BLUE)).toBe("b");
    expect(describeColour({ r: 0.18, g: 0.18, b: 0.18 }, linearToBt709).level).toBeCloseTo(40.9, 1);
  });
});

describe("proposeRecipe", () => {
  it.each([
    ["green", GREEN],
    ["blue", BLUE],
  ])("makes a %s plate solid inside and empty outside", (_, screen) => {
    const p = plate({ screen, noise: 0.003, gradient: 0.2 });
    const { recipe, reasons } = proposeRecipe(p, 3);
    expect(recipe.screen.boxes[0]?.frame).toBe(3);
    const about = [
      "Screen",
      "Clean plate",
      "Pull",
      "Spill",
      "Edge",
      "Automatic bounds",
      "Automatic bounds",
      "Automatic bounds",
      "Automatic bounds",
      "Pull",
      "Matte",
      "Matte",
    ];
    expect(reasons.map((r) => r.slice(0, r.indexOf(":")))).toEqual(about);
    const { figures } = evaluate(recipe, { plate: { key: "p", picture: p } }, { reduce: 1, outputs: ["figures"] });
    expect(figures?.figures.holes).toBeLessThan(40);
    expect(figures?.figures.residue).toBeLessThan(400);
  });
  it("chooses the weight that separates the subject", () => {
    const p = plate({});
    // A yellowish subject: its blue is far below its green, so only red holds it.
    for (let i = 0; i < p.g.length; i++)
      if (p.r[i]! > 0.4) {
        p.r[i] = 0.5;
        p.g[i] = 0.42;
        p.b[i] = 0.05;
      }
    expect(proposeRecipe(p, 1).recipe.passes[0]!.pull.weight).toBeGreaterThan(0.6);
  });
});

describe("what only resembles the screen", () => {
  const shows = (screen: { r: number; g: number; b: number }, cloth: { r: number; g: number; b: number }) => {
    const p = plate({ screen, noise: 0.002 });
    for (let i = 0; i < p.r.length; i++) {
      if (Math.hypot((i % p.width) - p.width / 2, Math.floor(i / p.width) - p.height / 2) > p.height / 4) continue;
      [p.r[i], p.g[i], p.b[i]] = [cloth.r, cloth.g, cloth.b];
    }
    const { mask } = screenMask(p, screenPrimary(screen));
    return { disk: mask[90 * p.width + 160], screen: mask[10 * p.width + 10] };
  };
  it("sage cloth is paler than the screen and no part of it", () =>
    expect(shows({ r: 0.045, g: 0.36, b: 0.075 }, { r: 0.2, g: 0.34, b: 0.2 })).toEqual({ disk: 0, screen: 1 }));
  it("wood before a magenta screen leans the other way", () =>
    expect(shows({ r: 0.4, g: 0.04, b: 0.2 }, { r: 0.6, g: 0.42, b: 0.2 })).toEqual({ disk: 0, screen: 1 }));
  it("the weight goes beyond the other channels only for hues between two primaries", () => {
    expect(weightRange(GREEN)).toEqual([0, 1]);
    expect(weightRange(BLUE)).toEqual([0, 1]);
    expect(weightRange({ r: 0.4, g: 0.04, b: 0.2 })).toEqual([-1, 2]);
  });
  it.each([
    ["green", GREEN],
    ["blue", BLUE],
    ["red", { r: 0.4, g: 0.05, b: 0.05 }],
    ["lime", { r: 0.15, g: 0.36, b: 0.04 }],
    ["teal", { r: 0.03, g: 0.34, b: 0.2 }],
    ["violet", { r: 0.16, g: 0.05, b: 0.4 }],
    ["magenta", { r: 0.4, g: 0.04, b: 0.2 }],
    ["orange", { r: 0.4, g: 0.2, b: 0.04 }],
    ["azure", { r: 0.03, g: 0.2, b: 0.4 }],
    // Grey in all three channels fades a screen and does not turn its hue.
    ["green", { r: 0.2, g: 0.36, b: 0.22 }],
    ["blue", { r: 0.18, g: 0.21, b: 0.38 }],
  ] as const)("is called %s by its primary and second channel, grey set aside", (name, colour) => expect(screenName(colour)).toBe(name));
});
