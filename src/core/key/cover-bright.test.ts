import { describe, expect, it } from "vitest";
import { makePicture } from "../image/plane";
import { random } from "../image/random";
import { coverBright } from "./cover-bright";

const SCREEN = { r: 0.06, g: 0.36, b: 0.1 };
const [W, H] = [40, 30];
const everywhere = new Uint8Array(W * H).fill(1);

describe("cover by brightness", () => {
  it("is never more than the truth for subjects up to white, and the truth for white itself", () => {
    const next = random(7);
    const plate = makePicture(W, H);
    const truth = Float32Array.from({ length: W * H }, () => 0.25 + 0.7 * next());
    const isWhite = truth.map(() => (next() < 0.3 ? 1 : 0));
    for (const c of ["r", "g", "b"] as const)
      for (let i = 0; i < W * H; i++) plate[c][i] = truth[i]! * (isWhite[i] ? 1 : next()) + (1 - truth[i]!) * SCREEN[c];
    const cover = new Float32Array(W * H).fill(0.2);
    coverBright(cover, everywhere, plate, SCREEN, "g");
    let [whites, told] = [0, 0];
    cover.forEach((v, i) => {
      expect(v).toBeLessThan(truth[i]! + 1e-5);
      // Light of a half and more in all channels is asked.
      if (isWhite[i] && truth[i]! > 0.5) {
        whites++;
        if (Math.abs(v - truth[i]!) < 1e-5) told++;
      }
    });
    expect(whites).toBeGreaterThan(50);
    expect(told).toBe(whites);
  });

  it("is whole where another channel is clipped, and is not told beside, where the subject was brighter than was recorded", () => {
    const plate = makePicture(W, H);
    for (const c of ["r", "g", "b"] as const) plate[c].fill(SCREEN[c]);
    const at = 10 * W + 10;
    const put = (i: number, r: number, g: number, b: number) => {
      plate.r[i] = r;
      plate.g[i] = g;
      plate.b[i] = b;
    };
    put(at, 1, 0.96, 0.78);
    put(at + 1, 0.88, 0.84, 0.6);
    put(at + 20, 0.88, 0.84, 0.6);
    const cover = new Float32Array(W * H).fill(0.6);
    coverBright(cover, everywhere, plate, SCREEN, "g");
    expect(cover[at]).toBe(1);
    expect(cover[at + 1]).toBeCloseTo(0.6, 6);
    expect(cover[at + 20]).toBeCloseTo((0.88 - 0.06) / 0.94, 5);
    // Nor is it along the outline.
    cover[at] = 0.6;
    cover[at - 1] = 0.1;
    coverBright(cover, everywhere, plate, SCREEN, "g");
    expect(cover[at]).toBeCloseTo(0.6, 6);
    cover[at - 1] = 0.6;
    // In scene light white is as bright as the brightest thing that is seen.
    put(5, 6, 5, 4);
    cover[at] = 0.6;
    coverBright(cover, everywhere, plate, SCREEN, "g");
    expect(cover[at]).toBeCloseTo(0.6, 6);
  });

  it("leaves glints on what is clear alone, and pixels that are no mixture", () => {
    const plate = makePicture(W, H);
    for (const c of ["r", "g", "b"] as const) plate[c].fill(1);
    const cover = new Float32Array(W * H).fill(0.1);
    coverBright(cover, everywhere, plate, SCREEN, "g");
    expect(cover.every((v) => v === Math.fround(0.1))).toBe(true);
    cover.fill(0.5);
    coverBright(cover, new Uint8Array(W * H), plate, SCREEN, "g");
    expect(cover.every((v) => v === 0.5)).toBe(true);
  });
});
