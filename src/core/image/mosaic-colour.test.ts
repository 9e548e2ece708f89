import { describe, expect, it } from "vitest";
import { codesOf, throughMosaic, throughSharpLens } from "../../../tests/support/through-mosaic";
import { reportPlate } from "../screen/report";
import { disc, drawPlate, even } from "../simulate/draw-plate";
import { medianOf9, tellsMosaic, withoutFalseColour } from "./mosaic-colour";
import { random } from "./random";
import { decodeRawFrame, type RawFrame } from "./raw-frame";
import { lumaCodes } from "./sharpening";

const [W, H] = [240, 160];
/** Black and white stripes of 4 px and a red disc before an uneven green screen. */
const { plate } = drawPlate(
  W,
  H,
  [
    {
      covers: (x, y) => (x > 20 && x < 110 && y > 20 ? 1 : 0),
      colour: (x) => (Math.floor(x / 4) % 2 ? { r: 0.7, g: 0.68, b: 0.66 } : { r: 0.03, g: 0.03, b: 0.04 }),
    },
    { covers: disc(175, 80, 45), colour: even(0.4, 0.08, 0.06) },
  ],
  (x) => ({ r: 0.05, g: 0.3 + x / 1500, b: 0.08 }),
);
const noisy = (raw: RawFrame, deviation: number): RawFrame => {
  const next = random(3);
  return { ...raw, planes: raw.planes.map((p) => p.map((v) => Math.max(0, Math.min(255, Math.round(v + deviation * (2 * next() - 1)))))) };
};

describe("a mosaic", () => {
  it("is told by what was interpolated having less detail, with grain and without", () => {
    for (const noise of [0, 0.0002]) expect(tellsMosaic(throughMosaic(plate, noise).raw)).toBe(true);
  });

  it("is not told of pictures that have all of their colour, whatever their grain, nor of flat ones and half floats", () => {
    for (const deviation of [0, 2, 8]) expect(tellsMosaic(noisy(codesOf(plate), deviation))).toBe(false);
    expect(tellsMosaic({ ...codesOf(plate), planes: [0, 1, 2].map(() => new Uint16Array(W * H).fill(90)) })).toBe(false);
    expect(tellsMosaic({ ...throughMosaic(plate, 0).raw, layout: { kind: "half", alpha: false } })).toBe(false);
  });

  it("is not told by a few edges that happen to lie on one of both lattices", () => {
    const hair = new Uint16Array(W * H).fill(90);
    for (let k = 10; k < H - 10; k++) hair[k * W + k] = 20;
    expect(tellsMosaic({ ...codesOf(plate), planes: [hair, hair, hair] })).toBe(false);
  });

  it("is not told of a mosaic that was made smaller by half, as there nothing is interpolated any more", () => {
    const { raw } = throughMosaic(plate, 0.0002);
    const planes = raw.planes.map((p) =>
      Uint16Array.from({ length: (W * H) / 4 }, (_, i) => {
        const at = 2 * Math.floor(i / (W / 2)) * W + 2 * (i % (W / 2));
        return Math.round((p[at]! + p[at + 1]! + p[at + W]! + p[at + W + 1]!) / 4);
      }),
    );
    expect(tellsMosaic({ ...raw, width: W / 2, height: H / 2, planes })).toBe(false);
  });
});

describe("a plate's report", () => {
  const reportOf = (raw: RawFrame) => {
    const reading = { transfer: "srgb", matrix: "bt709", range: "full", siting: "left" } as const;
    return reportPlate(decodeRawFrame(raw, reading), { transfer: "srgb", chromaFormat: "RGB", pixelAspect: 1, raw });
  };

  it("tells of a mosaic and what clears it, and takes what its interpolation adds beside edges for no sharpening", () => {
    const told = reportOf(throughMosaic(plate, 0.0001).raw);
    expect(told.traces.mosaic).toBe(true);
    expect(told.findings.find((f) => f.figure === "mosaic")?.remedy).toContain("cleared along luma");
    expect(told.overshoot).toBe(0);
  });

  it("says nothing of it where colour is whole", () => {
    const whole = reportOf(noisy(codesOf(plate), 2));
    expect(whole.traces.mosaic).toBe(false);
    expect(whole.findings.some((f) => f.figure === "mosaic")).toBe(false);
  });
});

describe("false colour", () => {
  const lens = (c: Float32Array) => throughSharpLens(c, W, H);
  const truth = codesOf({ ...plate, r: lens(plate.r), g: lens(plate.g), b: lens(plate.b) });
  /** Root mean square of the error of red and blue less luma, codes. */
  const colourError = (raw: RawFrame) => {
    const [luma, trueLuma] = [lumaCodes(raw), lumaCodes(truth)];
    const errors = [0, 2].map((k) => raw.planes[k]!.reduce((s, v, i) => s + (v - luma[i]! - truth.planes[k]![i]! + trueLuma[i]!) ** 2, 0));
    return Math.sqrt((errors[0]! + errors[1]!) / (2 * W * H));
  };

  it("goes for the most part, and luma stays", () => {
    const { raw } = throughMosaic(plate, 0.0001);
    const cleared = withoutFalseColour(raw);
    expect(colourError(cleared)).toBeLessThan(0.7 * colourError(raw));
    const [before, after] = [lumaCodes(raw), lumaCodes(cleared)];
    // Whole codes; where red or blue would fall out of their range, luma gives way.
    const moved = before.map((v, i) => Math.abs(v - after[i]!)).sort();
    expect(moved[Math.floor(0.99 * moved.length)]).toBeLessThan(1.5);
  });

  it("costs little where there is none", () => {
    expect(colourError(withoutFalseColour(truth))).toBeLessThan(0.35 * colourError(throughMosaic(plate, 0).raw));
  });

  it("goes from full chroma of Y′CbCr, and nothing else of it changes; frames with less chroma are left", () => {
    const planes = [new Uint16Array(25).fill(100), new Uint16Array(25).fill(128), new Uint16Array(25).fill(128)];
    planes[1]![12] = 180;
    const raw: RawFrame = { width: 5, height: 5, layout: { kind: "ycbcr", subsampling: "444", bits: 8, alpha: false }, planes };
    const cleared = withoutFalseColour(raw);
    expect(cleared.planes[0]).toEqual(planes[0]);
    expect(cleared.planes[1]![12]).toBeLessThan(135);
    const coarse: RawFrame = { ...raw, layout: { kind: "ycbcr", subsampling: "420", bits: 8, alpha: false } };
    expect(withoutFalseColour(coarse)).toBe(coarse);
  });

  it("takes the median of 3 × 3 as sorting does, borders repeated", () => {
    const next = random(11);
    const [w, h] = [7, 6];
    const plane = Float32Array.from({ length: w * h }, () => Math.round(9 * next()));
    const out = medianOf9(plane, w, h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const around: number[] = [];
        for (let j = -1; j <= 1; j++)
          for (let i = -1; i <= 1; i++) around.push(plane[Math.min(h - 1, Math.max(0, y + j)) * w + Math.min(w - 1, Math.max(0, x + i))]!);
        expect(out[y * w + x]).toBe(around.sort((a, b) => a - b)[4]);
      }
  });
});
