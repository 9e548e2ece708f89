import { describe, expect, it } from "vitest";
import { cameraReading, record } from "../simulate/camera";
import { makeCamera } from "../simulate/stage";
import { boxDeviation, boxMean } from "./box";
import { decodeWithRebuiltChroma } from "./chroma-rebuild";
import { enlargeChannel, fillIn } from "./fill-in";
import { makePicture } from "./plane";
import { random } from "./random";
import { decodeRawFrame } from "./raw-frame";
import { shrinkChannel } from "./resample";

describe("boxMean and boxDeviation", () => {
  it.each([1, 2, 5, 40])("radius %d: mean and deviation of what lies in the frame", (radius) => {
    const [w, h] = [17, 11];
    const next = random(7);
    const source = Float32Array.from({ length: w * h }, next);
    const out = boxMean(source, w, h, radius);
    const deviations = boxDeviation(source, w, h, radius);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        let [sum, n] = [0, 0];
        const around: number[] = [];
        for (let j = Math.max(0, y - radius); j <= Math.min(h - 1, y + radius); j++)
          for (let i = Math.max(0, x - radius); i <= Math.min(w - 1, x + radius); i++) {
            sum += source[j * w + i]!;
            n++;
            around.push(source[j * w + i]!);
          }
        expect(out[y * w + x]).toBeCloseTo(sum / n, 5);
        const squares = around.reduce((s, v) => s + (v - sum / n) ** 2, 0);
        expect(deviations[y * w + x]).toBeCloseTo(Math.sqrt(squares / n), 5);
      }
  });
});

describe("fillIn", () => {
  it("keeps what is known and stays within its values elsewhere", () => {
    const [w, h] = [33, 21];
    const next = random(2);
    const channel = Float32Array.from({ length: w * h }, () => 0.2 + 0.6 * next());
    const weight = Float32Array.from({ length: w * h }, () => (next() < 0.1 ? 1 : 0));
    const before = channel.slice();
    fillIn([channel], weight, w, h);
    for (let i = 0; i < channel.length; i++) {
      if (weight[i] === 1) expect(channel[i]).toBe(before[i]);
      expect(channel[i]).toBeGreaterThan(0.19);
      expect(channel[i]).toBeLessThan(0.81);
    }
  });
  it("carries a gradient across a hole", () => {
    const [w, h] = [64, 64];
    const channel = Float32Array.from({ length: w * h }, (_, i) => (i % w) / w);
    const weight = Float32Array.from({ length: w * h }, (_, i) => (Math.hypot((i % w) - 32, Math.floor(i / w) - 32) < 14 ? 0 : 1));
    const wanted = channel.slice();
    for (let i = 0; i < channel.length; i++) if (!weight[i]) channel[i] = 9;
    fillIn([channel], weight, w, h);
    for (let i = 0; i < channel.length; i++) expect(Math.abs(channel[i]! - wanted[i]!)).toBeLessThan(0.16);
  });
  it("an enlarged reduction of a ramp is the ramp, away from the border", () => {
    const [w, h] = [40, 12];
    const ramp = Float32Array.from({ length: w * h }, (_, i) => i % w);
    const out = new Float32Array(w * h);
    enlargeChannel(shrinkChannel(ramp, w, h, 4), 10, 3, 4, w, h, out);
    for (let x = 4; x < w - 4; x++) expect(out[5 * w + x]).toBeCloseTo(x, 4);
  });
});

describe("chroma rebuilt along luma", () => {
  /** Grey verticals, two pixels wide, before a green screen. */
  const light = makePicture(96, 64);
  for (let i = 0; i < light.r.length; i++) {
    const x = i % 96;
    const grey = x % 11 < 2;
    light.r[i] = grey ? 0.03 : 0.05;
    light.g[i] = grey ? 0.03 : 0.4;
    light.b[i] = grey ? 0.03 : 0.08;
  }
  const excessError = (p: typeof light) => {
    let sum = 0;
    for (let i = 0; i < p.r.length; i++) {
      const e = (q: typeof light) => q.g[i]! - 0.5 * (q.r[i]! + q.b[i]!);
      sum += (e(p) - e(light)) ** 2;
    }
    return sum / p.r.length;
  };
  it.each([
    ["420", "left"],
    ["420", "center"],
    ["420", "topleft"],
    ["422", "left"],
  ] as const)("brings thin detail of %s, %s, back: error of the excess under 0.4 of plain decoding's", (subsampling, siting) => {
    const camera = makeCamera({ bits: 8, subsampling, siting });
    const raw = record(light, camera);
    const plain = excessError(decodeRawFrame(raw, cameraReading(camera)));
    const rebuilt = excessError(decodeWithRebuiltChroma(raw, cameraReading(camera)));
    expect(rebuilt).toBeLessThan(0.4 * plain);
  });
  it("sharpens a straight edge that luma does not show, and goes no farther than the colours at its sides", () => {
    // Two colours of one luma: only chroma tells them apart.
    const sides = [
      { r: 0.3, g: 0.2, b: 0.2 },
      { r: 0.1, g: 0.2595, b: 0.2 },
    ] as const;
    const edge = makePicture(96, 64);
    for (let i = 0; i < edge.r.length; i++) {
      const side = sides[i % 96 < 45 ? 0 : 1];
      for (const c of ["r", "g", "b"] as const) edge[c][i] = side[c];
    }
    const camera = makeCamera({ bits: 10, subsampling: "420" });
    const raw = record(edge, camera);
    const error = (p: typeof edge) => p.r.reduce((s, v, i) => s + (v - edge.r[i]!) ** 2, 0);
    const [plain, rebuilt] = [decodeRawFrame(raw, cameraReading(camera)), decodeWithRebuiltChroma(raw, cameraReading(camera))];
    expect(error(rebuilt)).toBeLessThan(0.75 * error(plain));
    for (const v of rebuilt.r) {
      expect(v).toBeGreaterThan(0.1 - 0.03);
      expect(v).toBeLessThan(0.3 + 0.03);
    }
  });
  it("takes the colour of a pixel's own side where that side's luma is no straight line of colour", () => {
    // Wood whose grain runs along its edge, dark and bright, before a screen between the two.
    const board = makePicture(96, 64);
    for (let i = 0; i < board.r.length; i++) {
      const [x, y] = [i % 96, Math.floor(i / 96)];
      const wood = x + 0.3 * y > 60;
      const k = y % 12 < 6 ? 0.5 : 1.6;
      board.r[i] = wood ? 0.4 * k : 0.03;
      board.g[i] = wood ? 0.3 * k : 0.3;
      board.b[i] = wood ? 0.15 * k : 0.06;
    }
    const camera = makeCamera({ bits: 8, subsampling: "420" });
    const raw = record(board, camera);
    const error = (p: typeof board) => {
      const e = (q: typeof board, i: number) => q.g[i]! - 0.5 * (q.r[i]! + q.b[i]!);
      return board.r.reduce((sum, _, i) => sum + (e(p, i) - e(board, i)) ** 2, 0);
    };
    const plain = error(decodeRawFrame(raw, cameraReading(camera)));
    expect(error(decodeWithRebuiltChroma(raw, cameraReading(camera)))).toBeLessThan(0.35 * plain);
  });
  it("leaves an even field and 4:4:4 as they are", () => {
    const even = makePicture(32, 32);
    even.g.fill(0.3);
    even.r.fill(0.1);
    const camera = makeCamera({ bits: 10, subsampling: "420" });
    const raw = record(even, camera);
    const [a, b] = [decodeRawFrame(raw, cameraReading(camera)), decodeWithRebuiltChroma(raw, cameraReading(camera))];
    for (let i = 0; i < a.g.length; i++) expect(Math.abs(a.g[i]! - b.g[i]!)).toBeLessThan(1e-4);
    const full = makeCamera({ bits: 10 });
    expect(decodeWithRebuiltChroma(record(even, full), cameraReading(full))).toEqual(
      decodeRawFrame(record(even, full), cameraReading(full)),
    );
  });
});
