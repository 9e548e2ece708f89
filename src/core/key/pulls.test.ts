import { converter } from "culori";
import { beforeAll, describe, expect, it } from "vitest";
import { type OpenCv, withMat, withOpenCv } from "../../../tests/support/opencv";
import type { Rgb } from "../color/hue";
import { srgbToLinear } from "../color/srgb";
import { guidedByItself, guidedFilter } from "../image/guided";
import { normal } from "../image/normal";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { random } from "../image/random";
import { defaultRecipe } from "../recipe/schema";
import { chromaDistance } from "./chroma-distance";
import { cleanDifference } from "./clean-difference";
import { type ColourRange, colourRanges, rangeOf } from "./colour-ranges";
import { knownColours } from "./known-colours";
import { luminancePull } from "./luminance-pull";
import { openMixedRims } from "./mixed-rims";
import { PULLS } from "./pulls";
import { subjectDifference } from "./subject-difference";
import { unmix } from "./unmix";

const linear = (r: number, g: number, b: number): Rgb => ({ r: srgbToLinear(r / 255), g: srgbToLinear(g / 255), b: srgbToLinear(b / 255) });
const pictureOf = (colours: readonly Rgb[]): Picture => {
  const p = makePicture(colours.length, 1);
  colours.forEach((c, i) => {
    for (const k of ["r", "g", "b"] as const) p[k][i] = c[k];
  });
  return p;
};
const SCREEN = linear(50, 178, 62);

describe("chroma distance", () => {
  const lab = converter("lab65");
  const ab = (c: Rgb) => {
    const v = lab({ mode: "lrgb", r: c.r, g: c.g, b: c.b })!;
    return [v.a, v.b] as const;
  };
  const colours = [linear(70, 170, 80), linear(200, 160, 140), linear(90, 120, 60), linear(40, 60, 150), linear(128, 128, 128)];
  it("is the distance in CIELAB a*b*, as an independent colour library has it", () => {
    const [a0, b0] = ab(SCREEN);
    const matte = chromaDistance(pictureOf(colours), { screen: SCREEN, inner: 0, outer: 200, stretch: 1 });
    colours.forEach((c, i) => {
      const [a, b] = ab(c);
      expect(200 * (matte.data[i] as number)).toBeCloseTo(Math.hypot(a - a0, b - b0), 0);
    });
  });
  it("reaches farther along the screen's saturation than across its hue", () => {
    const paler = linear(118, 178, 122);
    const other = linear(120, 172, 40);
    const at = (stretch: number) => chromaDistance(pictureOf([paler, other]), { screen: SCREEN, inner: 0, outer: 200, stretch }).data;
    expect(at(3)[0]! / at(1)[0]!).toBeLessThan(0.5);
    expect(at(3)[1]! / at(1)[1]!).toBeGreaterThan(0.6);
  });
  it("gives 0 up to the inner radius, 1 from the outer on, against a clean plate too", () => {
    const p = pictureOf([SCREEN, linear(200, 160, 140)]);
    for (const screen of [SCREEN, pictureOf([SCREEN, SCREEN])])
      expect([...chromaDistance(p, { screen, inner: 10, outer: 40, stretch: 1 }).data]).toEqual([0, 1]);
    expect(() => chromaDistance(p, { screen: SCREEN, inner: 10, outer: 10, stretch: 1 })).toThrow(/outer radius/);
  });
  it("does not mind shade: half the light is nearly as near", () => {
    const half = { r: SCREEN.r / 2, g: SCREEN.g / 2, b: SCREEN.b / 2 };
    const m = chromaDistance(pictureOf([half]), { screen: SCREEN, inner: 0, outer: 100, stretch: 2 });
    expect(m.data[0]).toBeLessThan(0.12);
  });
});

describe("colour ranges", () => {
  const green: ColourRange = { take: false, hue: 120, hueReach: 30, saturation: [0.3, 1], luma: [0.2, 0.9] };
  const code = (h: number, s: number, v: number): Rgb => {
    const { r, g, b } = converter("rgb")({ mode: "hsv", h, s, v })!;
    return { r: srgbToLinear(r), g: srgbToLinear(g), b: srgbToLinear(b) };
  };
  it("takes out what lies inside hue, saturation and luma, and keeps what lies outside any of them", () => {
    const p = pictureOf([code(120, 0.7, 0.7), code(145, 0.7, 0.7), code(200, 0.7, 0.7), code(120, 0.1, 0.7), code(120, 0.7, 0.1)]);
    const { data } = colourRanges(p, { ranges: [green], softness: 0 });
    expect([...data]).toEqual([0, 0, 1, 1, 1]);
  });
  it("falls off linearly over the shoulder: 12° of hue at 10 %", () => {
    const p = pictureOf([150, 153, 156, 162].map((h) => code(h, 0.7, 0.7)));
    const { data } = colourRanges(p, { ranges: [green], softness: 0.1 });
    [0, 0.25, 0.5, 1].forEach((v, i) => {
      expect(data[i]).toBeCloseTo(v, 2);
    });
  });
  it("a range that takes gives back what another added; hue goes around", () => {
    const sage: ColourRange = { take: true, hue: 100, hueReach: 12, saturation: [0, 1], luma: [0, 1] };
    const p = pictureOf([code(100, 0.6, 0.6), code(125, 0.6, 0.6)]);
    expect([...colourRanges(p, { ranges: [green, sage], softness: 0 }).data]).toEqual([1, 0]);
    const red: ColourRange = { ...green, hue: 355, hueReach: 10 };
    expect([...colourRanges(pictureOf([code(4, 0.7, 0.7), code(20, 0.7, 0.7)]), { ranges: [red], softness: 0 }).data]).toEqual([0, 1]);
    expect(() => colourRanges(p, { ranges: [sage], softness: 0 })).toThrow(/No range yet/);
  });
  it("a sampled range holds what was sampled and not what lies far from it", () => {
    const next = normal(random(3));
    const p = makePicture(40, 20);
    for (let i = 0; i < 800; i++) {
      const c = i % 40 < 20 ? SCREEN : linear(190, 150, 130);
      for (const k of ["r", "g", "b"] as const) p[k][i] = c[k] * (1 + 0.03 * next());
    }
    const range = rangeOf(p, { x: 0, y: 0, width: 20, height: 20 }, false);
    expect(range.hue).toBeCloseTo(126, -1);
    const { data } = colourRanges(p, { ranges: [range], softness: 0.05 });
    const mean = (from: number) => data.filter((_, i) => (i % 40 < 20 ? 0 : 1) === from).reduce((s, v) => s + v, 0) / 400;
    expect(mean(0)).toBeLessThan(0.02);
    expect(mean(1)).toBe(1);
    expect(() => rangeOf(p, { x: 100, y: 0, width: 5, height: 5 }, false)).toThrow(/outside the frame/);
  });
});

describe("difference from a clean plate", () => {
  const noise = { r: 0.002, g: 0.004, b: 0.002 };
  it("counts in standard deviations, by the root of the sum of squares over the channels", () => {
    const at = { r: 0.1, g: 0.4, b: 0.1 };
    const p = pictureOf([at, { r: 0.1 + 3 * 0.002, g: 0.4, b: 0.1 + 4 * 0.002 }]);
    const { data } = cleanDifference(p, { screen: at, noise, at, inner: 0, outer: 10 });
    expect(data[0]).toBeCloseTo(0, 5);
    expect(data[1]).toBeCloseTo(0.5, 5);
  });
  it("lets grain of any light pass and finds a colour change of any kind", () => {
    const next = normal(random(5));
    const [width, height] = [200, 60];
    const [plate, screen] = [makePicture(width, height), makePicture(width, height)];
    const base = { r: 0.05, g: 0.3, b: 0.06 };
    for (let i = 0; i < width * height; i++) {
      const light = 0.5 + (i % width) / width;
      const inside = (i % width) % 50 > 40;
      for (const c of ["r", "g", "b"] as const) {
        screen[c][i] = base[c] * light;
        const clean = inside ? base[c] * light * 0.8 + (c === "b" ? 0.02 : 0) : base[c] * light;
        plate[c][i] = clean + noise[c] * Math.sqrt(light) * next();
      }
    }
    const { data } = cleanDifference(plate, { screen, noise, at: base, inner: 5, outer: 9 });
    const where = (want: boolean) => data.filter((_, i) => (i % width) % 50 > 40 === want);
    expect(where(false).filter((v) => v > 0).length).toBeLessThan(5);
    expect(where(true).filter((v) => v === 1).length).toBeGreaterThan(0.97 * where(true).length);
  });
  it("refuses thresholds in the wrong order", () =>
    expect(() => cleanDifference(makePicture(2, 2), { screen: SCREEN, noise, at: SCREEN, inner: 5, outer: 5 })).toThrow(/outer threshold/));
});

describe("luminance", () => {
  it("runs from empty to solid in codes, and the other way round", () => {
    const p = pictureOf([linear(0, 0, 0), linear(51, 51, 51), linear(102, 102, 102), linear(255, 255, 255)]);
    const up = luminancePull(p, { empty: 0.1, solid: 0.3 }).data;
    [0, 0.5, 1, 1].forEach((v, i) => {
      expect(up[i]).toBeCloseTo(v, 5);
    });
    expect(luminancePull(p, { empty: 0.3, solid: 0.1 }).data[1]).toBeCloseTo(0.5, 5);
    expect(() => luminancePull(p, { empty: 0.2, solid: 0.2 })).toThrow(/must differ/);
  });
});

describe("unmix", () => {
  it("takes a strand that passed for solid for no colour of its own, where a purer one explains the pixel beside it as well", () => {
    // Magenta hair: a half of it before green is as far from the screen as what is solid.
    const F = { r: 0.5, g: 0.08, b: 0.45 };
    const B = { r: 0.05, g: 0.33, b: 0.09 };
    const [width, height] = [80, 60];
    const cover = (x: number) => (x < 12 || x >= 56 ? 1 : x === 33 ? 0.6 : x === 32 || x === 34 ? 0.35 : 0);
    const p = makePicture(width, height);
    for (let i = 0; i < p.r.length; i++)
      for (const c of ["r", "g", "b"] as const) p[c][i] = cover(i % width) * F[c] + (1 - cover(i % width)) * B[c];
    const first = subjectDifference(p, { primary: "g", weight: 0.5, screen: B }, null);
    const middle = 30 * width;
    expect(first.data[middle + 33]).toBe(1);
    const { data } = unmix(p, { screen: B, primary: "g", prior: first, reach: 30, follow: 0, floor: 0 });
    // Taken for solid, the strand's own colour explains 0.35 as 0.58; along the strand, where it is no thinner than what it may be of, it counts.
    for (const x of [32, 34]) {
      expect(data[middle + x]).toBeGreaterThan(0.34);
      expect(data[middle + x]).toBeLessThan(0.5);
    }
  });
  const [width, height] = [160, 60];
  const B = (y: number): Rgb => ({ r: 0.04 + 0.0003 * y, g: 0.3 + 0.002 * y, b: 0.05 });
  const ABOVE = { r: 0.5, g: 0.33, b: 0.22 };
  const BELOW = { r: 0.12, g: 0.16, b: 0.3 };
  /** Certain subject at the right, a ramp of 60 px, screen at the left. The subject has one colour above, one below. */
  const mixture = (grain = 0, below: Rgb = BELOW) => {
    const [plate, screen] = [makePicture(width, height), makePicture(width, height)];
    const truth = makePlane(width, height);
    const next = normal(random(9));
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      const a = Math.min(1, Math.max(0, (x - 40) / 60));
      const F = y < 30 ? ABOVE : below;
      truth.data[i] = a;
      for (const c of ["r", "g", "b"] as const) {
        screen[c][i] = B(y)[c];
        plate[c][i] = a * F[c] + (1 - a) * B(y)[c] + grain * next();
      }
    }
    return { plate, screen, truth };
  };
  /** A first matte that is off by a tenth in the band, and right where it is sure. */
  const prior = (truth: Plane): Plane => ({
    ...truth,
    data: truth.data.map((a) => (a <= 0 ? 0 : a >= 1 ? 1 : Math.min(0.95, Math.max(0.02, 0.9 * a)))),
  });
  const worst = (below: Rgb) => {
    const { plate, screen, truth } = mixture(0, below);
    const first = prior(truth);
    const { data } = unmix(plate, { screen, primary: "g", prior: first, reach: 80, follow: 0, floor: 0 });
    let most = 0;
    for (let i = 0; i < data.length; i++)
      if (first.data[i]! > 0.01 && first.data[i]! < 0.985) most = Math.max(most, Math.abs(data[i]! - truth.data[i]!));
    return most;
  };
  it("recovers the level of mixture within 1e-4 where subject and screen are known", () => expect(worst(ABOVE)).toBeLessThan(1e-4));
  it("finds out which of two subject colours it is, to 3 %; nearly clear pixels could be either", () =>
    expect(worst(BELOW)).toBeLessThan(0.03));
  it("with grain it is nearer the truth than the first matte; and following the picture's edges does not spoil it", () => {
    const { plate, screen, truth } = mixture(0.004);
    const error = (m: Plane) => m.data.reduce((s, v, i) => s + (v - (truth.data[i] as number)) ** 2, 0);
    const first = prior(truth);
    const plain = unmix(plate, { screen, primary: "g", prior: first, reach: 80, follow: 0, floor: 0 });
    expect(error(plain)).toBeLessThan(0.25 * error(first));
    expect(error(unmix(plate, { screen, primary: "g", prior: first, reach: 80, follow: 1, floor: 0 }))).toBeLessThan(0.5 * error(first));
  });
  it("leaves what no subject colour explains, and what lies out of reach, to the first matte", () => {
    const { plate, screen, truth } = mixture();
    const first = prior(truth);
    const near = unmix(plate, { screen, primary: "g", prior: first, reach: 10, follow: 0, floor: 0 });
    expect(near.data[20 * width + 60]).toBe(first.data[20 * width + 60]);
    // A pixel of neither colour, in the middle of the band.
    const i = 20 * width + 70;
    plate.b[i] = 0.9;
    expect(
      Math.abs(unmix(plate, { screen, primary: "g", prior: first, reach: 80, follow: 0, floor: 0 }).data[i]! - first.data[i]!),
    ).toBeLessThan(0.02);
  });
  it("knows the subject's colour in other light than where it is certain, where grain cannot pass for shade", () => {
    for (const light of [0.5, 1.5]) {
      const { plate, screen, truth } = mixture();
      // The band is lit otherwise than the certain subject beside it.
      const above = [...truth.data.keys()].filter((i) => truth.data[i]! > 0 && truth.data[i]! < 1 && i < 30 * width);
      for (const i of above)
        for (const c of ["r", "g", "b"] as const) plate[c][i] = truth.data[i]! * light * ABOVE[c] + (1 - truth.data[i]!) * screen[c][i]!;
      const rms = (of: (i: number) => number) => Math.sqrt(above.reduce((sum, i) => sum + (of(i) - truth.data[i]!) ** 2, 0) / above.length);
      const pulled = (floor: number) => unmix(plate, { screen, primary: "g", prior: prior(truth), reach: 80, follow: 0, floor }).data;
      // The plain projection on the colour that is known.
      const projected = rms((i) => {
        const parts = (["r", "g", "b"] as const).map((c) => [plate[c][i]! - screen[c][i]!, ABOVE[c] - screen[c][i]!] as const);
        return parts.reduce((sum, [c, f]) => sum + c * f, 0) / parts.reduce((sum, [, f]) => sum + f * f, 0);
      });
      const free = pulled(0);
      const grainy = pulled(0.024);
      expect(rms((i) => free[i]!)).toBeLessThan(0.15 * projected);
      expect(rms((i) => grainy[i]!)).toBeGreaterThan(1.3 * rms((i) => free[i]!));
    }
  });
  describe("black mesh before a dim screen, beside a bright subject and a dark shirt", () => {
    const [w, h] = [120, 40];
    const dim = { r: 0.019, g: 0.1, b: 0.033 };
    const [pale, shirt] = [
      { r: 0.9, g: 0.88, b: 0.84 },
      { r: 0.04, g: 0.07, b: 0.17 },
    ];
    /** Root mean square error of the mesh's cover, in the colours and with the floor that are given. */
    const ofMesh = (beside: (y: number) => Rgb, floor: number): number => {
      const plate = makePicture(w, h);
      const first: Plane = { width: w, height: h, data: new Float32Array(w * h) };
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const i = y * w + x;
          const F = x >= 60 ? beside(y) : { r: 0.035, g: 0.035, b: 0.035 };
          const a = x >= 60 ? 1 : x >= 20 ? 0.17 : 0;
          for (const c of ["r", "g", "b"] as const) plate[c][i] = a * F[c] + (1 - a) * dim[c];
          first.data[i] = a;
        }
      const { data } = unmix(plate, { screen: dim, primary: "g", prior: first, reach: 50, follow: 0, floor });
      const mesh = [...data.keys()].filter((i) => i % w >= 24 && i % w < 56);
      return Math.sqrt(mesh.reduce((sum, i) => sum + (data[i]! - 0.17) ** 2, 0) / mesh.length);
    };
    it("is no shade that the subject's colour could be mixed from with light less than none", () =>
      expect(ofMesh((y) => (y < 20 ? pale : shirt), 0)).toBeLessThan(0.04));
    it("is nothing that the bright subject explains: errors count by the screen's light there, not by the subject's", () =>
      expect(ofMesh(() => pale, 0.02)).toBeLessThan(0.09));
  });
  it("clears what lies under the floor and fills what lies over its mirror", () => {
    const { plate, screen } = mixture();
    const first: Plane = { width, height, data: new Float32Array(width * height).fill(0.03) };
    first.data.fill(0.97, 0, 40);
    const m = unmix(plate, { screen, primary: "g", prior: first, reach: 20, follow: 0, floor: 0.04 });
    expect(m.data[0]).toBe(1);
    expect(m.data[100]).toBe(0);
  });
  it("grain alone opens nothing solid, and neither a gap nor a strand is taken for grain", () => {
    const { plate, screen } = mixture(0.012);
    const next = normal(random(4));
    const first: Plane = { width, height, data: new Float32Array(width * height) };
    for (let i = 0; i < first.data.length; i++) {
      const x = i % width;
      // Solid from 100 on, with one clear column in it; a strand at 20.
      const a = (x >= 100 && x !== 130) || x === 20 ? 1 : 0;
      first.data[i] = Math.min(1, Math.max(0, a * (x === 20 ? 0.9 : 1) - Math.abs(0.03 * next())));
    }
    const column = (x: number, floor: number) => {
      const { data } = unmix(plate, { screen, primary: "g", prior: first, reach: 2, follow: 0, floor, waver: 0.04 });
      return Array.from({ length: height - 2 }, (_, y) => data[(y + 1) * width + x]!);
    };
    expect(Math.min(...column(115, 0.03))).toBe(1);
    expect(Math.min(...column(115, 0))).toBeLessThan(0.97);
    expect(Math.max(...column(130, 0.03))).toBeLessThan(0.05);
    expect(Math.max(...column(20, 0.03))).toBeLessThan(0.95);
  });
  it("takes no cloth of the screen's hue for a mixture of other cloth with the screen, but at its rim", () => {
    // A white sleeve at the left, then seven tenths of it over screen: as sage cloth in the same light would look.
    const [w, h] = [120, 40];
    const [white, screen] = [
      { r: 0.8, g: 0.78, b: 0.75 },
      { r: 0.05, g: 0.3, b: 0.06 },
    ];
    const plate = makePicture(w, h);
    const first = new Float32Array(w * h);
    for (let i = 0; i < w * h; i++) {
      const x = i % w;
      const a = x < 40 ? 1 : x < 80 ? 0.7 : 0;
      first[i] = x < 40 ? 1 : x < 80 ? 0.94 : 0;
      for (const c of ["r", "g", "b"] as const) plate[c][i] = a * white[c] + (1 - a) * screen[c];
    }
    const pulled = (nearScreen?: Float32Array) =>
      unmix(plate, {
        screen,
        primary: "g",
        prior: { width: w, height: h, data: first },
        reach: 50,
        follow: 0,
        floor: 0,
        ...(nearScreen ? { nearScreen } : {}),
      }).data;
    const [inside, rim] = [20 * w + 60, 20 * w + 77];
    for (const i of [inside, rim]) expect(pulled()[i]).toBeCloseTo(0.7, 2);
    const cloth = new Float32Array(w * h).fill(1);
    expect(pulled(cloth)[inside]).toBeCloseTo(0.94, 2);
    expect(pulled(cloth)[rim]).toBeCloseTo(0.7, 2);
    // What the mixtures tell more of than the first matte stays.
    for (let i = 0; i < w * h; i++) if (i % w >= 40 && i % w < 80) first[i] = 0.6;
    expect(pulled(cloth)[inside]).toBeCloseTo(0.7, 2);
  });
  it("fills as far under white as solid wavers, and leaves thin smoke under that mirror alone", () => {
    const { plate, screen } = mixture();
    const first: Plane = { width, height, data: new Float32Array(width * height).fill(0.03) };
    first.data.fill(0.95, 0, 40);
    const pulled = (waver: number) => unmix(plate, { screen, primary: "g", prior: first, reach: 20, follow: 0, floor: 0.01, waver });
    expect(pulled(0.06).data[0]).toBe(1);
    expect(pulled(0.02).data[0]).toBeCloseTo(0.95, 6);
    expect(pulled(0.06).data[100]).toBeGreaterThan(0);
  });
});

describe("rims that pass for solid", () => {
  const [width, height] = [60, 24];
  const B: Rgb = { r: 0.05, g: 0.3, b: 0.06 };
  const F: Rgb = { r: 0.45, g: 0.3, b: 0.2 };
  /** Screen at the left, a ramp, subject at the right; a first matte that takes the subject's rim for solid from `hides` on. */
  const rim = (shade = (_x: number) => 1, wide = 20, hides = 0.8) => {
    const plate = makePicture(width, height);
    const truth = new Float32Array(width * height);
    for (let i = 0; i < truth.length; i++) {
      const x = i % width;
      const a = Math.min(1, Math.max(0, (x - 15) / wide));
      truth[i] = a;
      for (const c of ["r", "g", "b"] as const) plate[c][i] = a * shade(x) * F[c] + (1 - a) * B[c];
    }
    const first = truth.map((a) => Math.min(1, a / hides));
    const firm = Uint8Array.from(first, (a) => (a >= 1 ? 1 : 0));
    const certain = firm.slice();
    return { plate, truth, known: { first, firm, certain, colours: knownColours(plate, certain) } };
  };
  const middle = (x: number) => 12 * width + x;
  it("are opened a pixel deeper each round", () => {
    const { plate, truth, known } = rim(undefined, 6, 0.4);
    openMixedRims(plate, B, known, 20, 1);
    expect([18, 19, 20].map((x) => known.firm[middle(x)])).toEqual([0, 1, 1]);
    openMixedRims(plate, B, known, 20, 1);
    expect([18, 19, 20].map((x) => known.firm[middle(x)])).toEqual([0, 0, 1]);
    for (const x of [18, 19]) expect(Math.abs(known.first[middle(x)]! - truth[middle(x)]!)).toBeLessThan(0.05);
  });
  it("are followed as far as the screen shows in them where the edge is blurred", () => {
    for (const shade of [() => 1, (x: number) => 0.8 + 0.005 * x]) {
      const { plate, truth, known } = rim(shade);
      openMixedRims(plate, B, known, 20, 1);
      for (let x = 31; x < 34; x++) {
        expect(known.firm[middle(x)]).toBe(0);
        expect(Math.abs(known.first[middle(x)]! - truth[middle(x)]!)).toBeLessThan(0.05);
      }
      // What is solid stays so: beyond the ramp, and at its last twentieth, which could be spill.
      for (let x = 35; x < width; x++) expect(known.firm[middle(x)]).toBe(1);
    }
  });
  it("stay where they have the screen's own hue, and where no colour around is purer", () => {
    const { plate, known } = rim();
    openMixedRims(plate, B, known, 20, 6, new Float32Array(width * height).fill(1));
    expect(known.firm[middle(31)]).toBe(1);
    const even = rim();
    for (let i = 0; i < even.truth.length; i++) if (even.truth[i]! > 0) for (const c of ["r", "g", "b"] as const) even.plate[c][i] = F[c];
    openMixedRims(even.plate, B, even.known, 20, 6);
    expect(even.known.firm[middle(31)]).toBe(1);
  });
  it("do not open for a bright stripe along the edge: brighter is not mixed", () => {
    const { plate, known } = rim();
    for (let i = 0; i < known.firm.length; i++) {
      const x = i % width;
      if (known.firm[i]) for (const c of ["r", "g", "b"] as const) plate[c][i] = (x < 34 ? 1.6 : 1) * F[c];
    }
    openMixedRims(plate, B, known, 20, 6);
    expect(known.firm[middle(31)]).toBe(1);
  });
  it("do not open a darker green shade of the subject that lies behind a rim", () => {
    const { plate, known } = rim(undefined, 6, 0.4);
    // Behind the rim, whose last pixel is five sixths solid, the surface itself has a fifth of the screen's light.
    for (let i = 0; i < known.firm.length; i++) {
      const x = i % width;
      if (x >= 21 && x < 25) for (const c of ["r", "g", "b"] as const) plate[c][i] = 0.75 * F[c] + 0.25 * B[c];
    }
    openMixedRims(plate, B, known, 20, 6);
    expect([18, 19, 20].map((x) => known.firm[middle(x)])).toEqual([0, 0, 0]);
    expect([21, 22, 23, 24].map((x) => known.firm[middle(x)])).toEqual([1, 1, 1, 1]);
  });
  it("let unmix find the mixture that its first matte hid", () => {
    const { plate, truth, known } = rim();
    const first: Plane = { width, height, data: known.first };
    const at = (rims: number) => unmix(plate, { screen: B, primary: "g", prior: first, reach: 30, follow: 0, floor: 0, rims }).data;
    const error = (m: Float32Array) => m.reduce((sum, v, i) => sum + (v - truth[i]!) ** 2, 0);
    expect(error(at(6))).toBeLessThan(0.1 * error(at(0)));
  });
});

describe("guided filter", () => {
  let cv: OpenCv;
  beforeAll(() =>
    withOpenCv((library) => {
      cv = library;
    }),
  );
  it("is He, Sun & Tang's, built from a general-purpose library's box filter", () => {
    const [width, height, radius, epsilon] = [60, 40, 3, 0.002];
    const next = random(4);
    const guide = Float32Array.from({ length: width * height }, (_, i) => (i % width > 30 ? 0.8 : 0.2) + 0.05 * next());
    const source = guide.map((v) => v * 0.5 + 0.2 * next());
    // Border squares are cut to the frame by ours; the library repeats pixels there, so the middle is compared.
    const box = (v: Float32Array) =>
      withMat(cv, v, width, height, (from, to) =>
        cv.blur(from, to, new cv.Size(2 * radius + 1, 2 * radius + 1), new cv.Point(-1, -1), cv.BORDER_REPLICATE),
      );
    const [mi, mp, ii, ip] = [box(guide), box(source), box(guide.map((v) => v * v)), box(guide.map((v, i) => v * source[i]!))];
    const a = mi.map((m, i) => (ip[i]! - m * mp[i]!) / (ii[i]! - m * m + epsilon));
    const [ma, mb] = [box(a), box(mp.map((p, i) => p - a[i]! * mi[i]!))];
    const ours = guidedFilter(source, guide, width, height, radius, epsilon);
    const edge = 2 * radius;
    for (let y = edge; y < height - edge; y++)
      for (let x = edge; x < width - edge; x++) {
        const i = y * width + x;
        expect(ours[i]).toBeCloseTo(ma[i]! * guide[i]! + mb[i]!, 3);
      }
  });
  it("by itself: as the full filter where slopes and means are found on half the size; odd sizes too", () => {
    const [width, height, radius, epsilon] = [201, 151, 4, 0.02 ** 2];
    const next = normal(random(9));
    const light = (i: number) => ((i % width) + 0.3 * Math.floor(i / width) > 120 ? 0.5 : 0.2);
    const source = Float32Array.from({ length: width * height }, (_, i) => light(i) + 0.01 * next());
    const [full, half] = [
      guidedFilter(source, source, width, height, radius, epsilon),
      guidedByItself(source, width, height, radius, epsilon),
    ];
    let [off, grain, left, most, flat] = [0, 0, 0, 0, 0];
    for (let i = 0; i < source.length; i++) {
      off += (half[i]! - full[i]!) ** 2;
      const toEdge = Math.abs((i % width) + 0.3 * Math.floor(i / width) - 120);
      if (toEdge > 15) {
        grain += (source[i]! - light(i)) ** 2;
        left += (half[i]! - light(i)) ** 2;
        flat++;
      } else most = Math.max(most, Math.abs(half[i]! - source[i]!));
    }
    // A tenth of the grain's deviation apart; a third of it left in even places; edges stand.
    expect(Math.sqrt(off / source.length)).toBeLessThan(0.001);
    expect(Math.sqrt(grain / flat)).toBeCloseTo(0.01, 3);
    expect(Math.sqrt(left / flat)).toBeLessThan(0.0033);
    expect(most).toBeLessThan(0.04);
  });
});

describe("every pull of the list", () => {
  it("parts a warm disc from the screen with its untouched settings", () => {
    const [width, height] = [160, 90];
    const plate = makePicture(width, height);
    const inside = (i: number) => Math.hypot((i % width) - 80, i / width - 45) < 30;
    const next = normal(random(6));
    for (let i = 0; i < width * height; i++) {
      const c = inside(i) ? { r: 0.5, g: 0.32, b: 0.22 } : SCREEN;
      for (const k of ["r", "g", "b"] as const) plate[k][i] = Math.max(0, c[k] + 0.001 * next());
    }
    const settings = defaultRecipe().passes[0]!.pull;
    const ranges = [rangeOf(plate, { x: 2, y: 2, width: 20, height: 20 }, false)];
    for (const [name, pull] of Object.entries(PULLS)) {
      if (name === "luminance") continue;
      const { data } = pull(
        { plate, colour: SCREEN, screen: SCREEN, primary: "g", own: () => null, scale: 1 },
        { ...settings, ranges },
        (n) => new Float32Array(n),
      );
      const mean = (want: boolean) => {
        const values = data.filter((_, i) => inside(i) === want);
        return values.reduce((s, v) => s + v, 0) / values.length;
      };
      expect(mean(true), name).toBeGreaterThan(0.97);
      expect(mean(false), name).toBeLessThan(0.03);
    }
  });
});
