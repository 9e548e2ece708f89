import { describe, expect, it } from "vitest";
import { decodeWithRebuiltChroma } from "../image/chroma-rebuild";
import { makePicture, makePlane, type Picture } from "../image/plane";
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
