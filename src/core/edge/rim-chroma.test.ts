import { describe, expect, it } from "vitest";
import { decodeWithRebuiltChroma } from "../image/chroma-rebuild";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { random } from "../image/random";
import { decodeRawFrame } from "../image/raw-frame";
import { cameraReading, record } from "../simulate/camera";
import { makeCamera } from "../simulate/stage";
import { rimChroma } from "./rim-chroma";

const [width, height] = [120, 80];
const SCREEN = [0.045, 0.36, 0.075] as const;
const WOOD = [0.3, 0.16, 0.07] as const;
const PALE = [0.62, 0.6, 0.58] as const;
const names = ["r", "g", "b"] as const;

/** A disc of radius 30, its upper half wood, its lower half pale, before a green screen: exact, and as a camera of 4:2:0 records it. */
const matte = makePlane(width, height);
const light = makePicture(width, height);
for (let i = 0; i < matte.data.length; i++) {
  const [x, y] = [i % width, Math.floor(i / width)];
  const m = Math.min(1, Math.max(0, 0.5 + (30 - Math.hypot(x - 60, y - 40)) / 1.5));
  matte.data[i] = m;
  names.forEach((c, k) => {
    light[c][i] = m * (y < 40 ? WOOD : PALE)[k]! + (1 - m) * SCREEN[k]!;
  });
}
const camera = makeCamera({ bits: 8, subsampling: "420" });
const raw = record(light, camera);
const plate = decodeRawFrame(raw, cameraReading(camera));
const rebuilt = decodeWithRebuiltChroma(raw, cameraReading(camera));
const right = rimChroma(plate, rebuilt, matte, 1);

/** Distance inside the outline, px. */
const inside = (i: number) => 30 - Math.hypot((i % width) - 60, Math.floor(i / width) - 40);
const errors = (p: Picture, where: (i: number) => boolean) => {
  let [sum, count] = [0, 0];
  for (let i = 0; i < matte.data.length; i++)
    if (where(i)) {
      for (const c of names) sum += Math.abs(p[c][i]! - light[c][i]!);
      count++;
    }
  return sum / count;
};
const rim = (i: number) => inside(i) > 0.8 && inside(i) < 3;

describe("the colour of rims behind coarse chroma", () => {
  it("is the subject's own again", () => {
    expect(errors(plate, rim)).toBeGreaterThan(0.05);
    expect(errors(right, rim)).toBeLessThan(0.3 * errors(plate, rim));
    expect(errors(right, rim)).toBeLessThan(0.75 * errors(rebuilt, rim));
  });
  it("keeps each pixel's luma, as the camera's curve sees it", () => {
    const curve = (v: number) => Math.sqrt(Math.max(0, v));
    const luma = (p: Picture, i: number) => 0.2126 * curve(p.r[i]!) + 0.7152 * curve(p.g[i]!) + 0.0722 * curve(p.b[i]!);
    for (let i = 0; i < matte.data.length; i++) if (rim(i)) expect(Math.abs(luma(right, i) - luma(plate, i))).toBeLessThan(0.01);
  });
  it("is nearer the truth in mixed pixels", () => {
    const mixed = (i: number) => matte.data[i]! > 0.1 && matte.data[i]! < 0.9;
    expect(errors(right, mixed)).toBeLessThan(0.8 * errors(plate, mixed));
  });
  it("comes from the surface of its own luma where two meet at the rim", () => {
    const meeting = (i: number) => rim(i) && Math.abs(Math.floor(i / width) - 39.5) < 4;
    expect(errors(right, meeting)).toBeLessThan(0.4 * errors(plate, meeting));
  });
  it("changes nothing farther than 5 px from the edge, nor where there is no subject", () => {
    for (let i = 0; i < matte.data.length; i++)
      if (inside(i) > 6.5 || matte.data[i]! <= 0.02) for (const c of names) expect(right[c][i]).toBe(plate[c][i]);
  });
  it("goes as far as asked", () => {
    const none = rimChroma(plate, rebuilt, matte, 0);
    const half = rimChroma(plate, rebuilt, matte, 0.5);
    for (const c of names)
      for (let i = 0; i < matte.data.length; i++) {
        expect(none[c][i]).toBe(plate[c][i]);
        expect(half[c][i]).toBeCloseTo(0.5 * (plate[c][i]! + right[c][i]!), 5);
      }
  });
});

describe("the kernel behind it", () => {
  it("gives what the written definition gives, up to the frame's borders and whatever its width", () => {
    for (const [w, h] of [
      [37, 19],
      [8, 5],
      [3, 2],
    ] as const) {
      const next = random(w);
      const noisy = (n: number): Float32Array => Float32Array.from({ length: n }, () => next());
      const picture = (): Picture => ({ width: w, height: h, r: noisy(w * h), g: noisy(w * h), b: noisy(w * h) });
      const [from, fine] = [picture(), picture()];
      const m = { width: w, height: h, data: noisy(w * h).map((v) => Math.min(1, 1.6 - v * v)) };
      const got = rimChroma(from, fine, m, 0.8);
      const wanted = byDefinition(from, fine, m.data, w, h, 0.8);
      for (const c of names)
        for (let i = 0; i < w * h; i++) expect(Math.abs(got[c][i]! - wanted[c]![i]!), `${w}: ${c} ${i}`).toBeLessThan(2e-5);
    }
  });
});

/** Slowly, in double precision: weights by place and luma of all pixels within 4 px, as the docstring of rimChroma says. */
function byDefinition(plate: Picture, fine: Picture, m: Float32Array, w: number, h: number, amount: number) {
  const luma = (rgb: readonly number[]) => 0.2126 * Math.sqrt(rgb[0]!) + 0.7152 * Math.sqrt(rgb[1]!) + 0.0722 * Math.sqrt(rgb[2]!);
  const at = (p: Picture, i: number) => names.map((c) => p[c][i]!);
  const far = Array.from({ length: w * h }, (_, i) => {
    let least = 6;
    for (let j = 0; j < w * h; j++)
      if (m[j]! < 0.97) least = Math.min(least, Math.hypot((i % w) - (j % w), Math.floor(i / w) - Math.floor(j / w)));
    return least;
  });
  const out: Record<string, number[]> = { r: [...plate.r], g: [...plate.g], b: [...plate.b] };
  for (let i = 0; i < w * h; i++) {
    if (far[i]! >= 5 || m[i]! <= 0.02) continue;
    const here = luma(at(plate, i));
    let [weight, sum] = [0, [0, 0, 0]];
    for (let j = 0; j < w * h; j++) {
      const [dx, dy] = [(j % w) - (i % w), Math.floor(j / w) - Math.floor(i / w)];
      if (Math.abs(dx) > 4 || Math.abs(dy) > 4) continue;
      const alike = Math.max(0, 1 - ((luma(at(plate, j)) - here) / 0.16) ** 2) ** 2;
      const k = Math.min(1, Math.max(0, far[j]! - 1)) * Math.exp(-(dx * dx + dy * dy) / (2 * 1.8 * 1.8)) * alike;
      weight += k;
      sum = sum.map((v, n) => v + k * at(fine, j)[n]!);
    }
    let target = at(fine, i);
    if (m[i]! >= 0.9 && weight > 0) {
      const mean = sum.map((v) => v / weight);
      const shade = (here / Math.max(1e-4, luma(mean))) ** 2;
      target = target.map((v, n) => v + (weight / (weight + 0.5)) * (shade * mean[n]! - v));
    }
    names.forEach((c, n) => {
      out[c]![i]! += amount * Math.min(1, (5 - far[i]!) / 2) * (target[n]! - out[c]![i]!);
    });
  }
  return out;
}
