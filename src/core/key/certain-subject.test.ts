import { describe, expect, it } from "vitest";
import type { Rgb } from "../color/hue";
import { normal } from "../image/normal";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { againstScreen, certainSubject, palerThanScreen } from "./certain-subject";

const [WIDTH, HEIGHT] = [320, 180];
const B = { r: 0.05, g: 0.4, b: 0.08 };
const SAGE = { r: 0.2, g: 0.34, b: 0.16 };
const WHITE = { r: 0.92, g: 0.9, b: 0.88 };

/** A round thing before an even screen: cover and light by distance from its middle, and by place. */
function round(F: Rgb, cover: (d: number, x: number, y: number) => number, light: (x: number, y: number) => number): Picture {
  const p = makePicture(WIDTH, HEIGHT);
  const next = random(7);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const a = Math.min(1, Math.max(0, cover(Math.hypot(x - 160, y - 90), x, y)));
      const grain = 1 + 0.002 * (next() - 0.5);
      for (const c of ["r", "g", "b"] as const) p[c][y * WIDTH + x] = grain * (a * light(x, y) * F[c] + (1 - a) * B[c]);
    }
  return p;
}

/** Share of the pixels within 20 of the middle that are certain subject. */
function certainInMiddle(plate: Picture, screen: Rgb = B): number {
  const seen = againstScreen(plate, screen, "g", 0.5);
  const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
  const middle = [...certain.keys()].filter((i) => Math.hypot((i % WIDTH) - 160, Math.floor(i / WIDTH) - 90) < 20);
  return middle.reduce((sum, i) => sum + (certain[i] as number), 0) / middle.length;
}

const even = () => 1;
/** Bright at the left, dark at the right: as a sleeve or a fold. */
const shaded = (x: number) => 1.1 - 0.006 * (x - 100);

/** Share that is certain, of the pixels that count, on white cloth of radius 60 that is sage as far as `part` says. */
function certainOnWhite(part: (x: number, y: number) => number, counts: (x: number, y: number) => boolean): number {
  const plate = round(WHITE, (d) => 60.5 - d, even);
  for (let i = 0; i < plate.r.length; i++) {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    const k = Math.hypot(x - 160, y - 90) > 45 ? 0 : part(x, y);
    for (const c of ["r", "g", "b"] as const) plate[c][i] = k * SAGE[c] + (1 - k) * (plate[c][i] as number);
  }
  const seen = againstScreen(plate, B, "g", 0.5);
  const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
  const those = [...certain.keys()].filter((i) => counts(i % WIDTH, Math.floor(i / WIDTH)));
  return those.reduce((sum, i) => sum + (certain[i] as number), 0) / those.length;
}

describe("certain subject", () => {
  it("cloth of the screen's hue is told by its light however soft it ends: where it has more light it has more excess", () => {
    const soft = (d: number) => (60 - d) / 20;
    expect(certainInMiddle(round(SAGE, soft, shaded))).toBeGreaterThan(0.95);
    // Without any shading it could be a veil, and its outline says nothing.
    expect(certainInMiddle(round(SAGE, soft, even))).toBe(0);
  });
  it("nor need that light change much: where it is brighter it seems to cover less, as nothing does that lets the screen through", () => {
    const little = (x: number) => 1 - 0.0025 * (x - 160);
    expect(certainInMiddle(round(SAGE, (d) => (60 - d) / 20, little))).toBeGreaterThan(0.95);
  });
  it("nor does a puff of smoke before it hide that", () => {
    const plate = round(SAGE, (d) => (60 - d) / 20, shaded);
    for (let i = 0; i < plate.r.length; i++) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const puff = 0.6 * Math.exp(-(((x - 180) / 14) ** 2) - ((y - 60) / 14) ** 2);
      for (const c of ["r", "g", "b"] as const) plate[c][i] = puff * WHITE[c] + (1 - puff) * (plate[c][i] as number);
    }
    expect(certainInMiddle(plate)).toBeGreaterThan(0.9);
  });
  it("smoke is told by its light however sharp it ends: where it covers more it has more light of its own", () => {
    const billows = (x: number, y: number) => 0.5 + 0.15 * Math.sin(x / 9) * Math.cos(y / 7);
    const cut = (d: number, x: number, y: number) => (d < 60 ? billows(x, y) : 0);
    expect(certainInMiddle(round(WHITE, cut, even))).toBe(0);
    // As even as a garment it would be taken for one: what its light tells is the only difference.
    expect(certainInMiddle(round(WHITE, (d) => (d < 60 ? 0.5 : 0), even))).toBe(1);
  });
  it("a pale blurred edge that climbs evenly from clear screen is mixed, and not certain before it is nearly solid", () => {
    const cover = (d: number) => (75 - d) / 36;
    const plate = round(WHITE, cover, even);
    const seen = againstScreen(plate, B, "g", 0.5);
    const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
    const where = (holds: (a: number) => boolean) =>
      [...certain.keys()].filter((i) => holds(cover(Math.hypot((i % WIDTH) - 160, Math.floor(i / WIDTH) - 90))));
    const share = (places: number[]) => places.reduce((sum, i) => sum + certain[i]!, 0) / places.length;
    expect(share(where((a) => a > 0.1 && a < 0.85))).toBeLessThan(0.02);
    expect(share(where((a) => a > 1.1))).toBe(1);
  });
  it("smoke before a dark screen, paler than it everywhere, is no cloth", () => {
    const dark = { r: 0.2 * B.r, g: 0.2 * B.g, b: 0.2 * B.b };
    const billows = (d: number, x: number, y: number) => (60 - d) / 90 + 0.06 * Math.sin(x / 9) * Math.cos(y / 7);
    const plate = makePicture(WIDTH, HEIGHT);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const a = Math.max(0, billows(Math.hypot(x - 160, y - 90), x, y));
        for (const c of ["r", "g", "b"] as const) plate[c][y * WIDTH + x] = a * WHITE[c] + (1 - a) * dark[c];
      }
    expect(certainInMiddle(plate, dark)).toBe(0);
  });
  it("a film whose cover changes little is told under grain by the means of tiles, which pixels do not show", () => {
    const film = (ripples: number) => {
      const noise = normal(random(11));
      const plate = round(WHITE, (d, x, y) => (d < 60 ? 0.5 + ripples * Math.sin(x / 12) * Math.cos(y / 10) : 0), even);
      // Grain of luma, alike over some pixels, as compression leaves it.
      const blocks = Float32Array.from({ length: (WIDTH / 4) * (HEIGHT / 4) }, () => 0.045 * noise());
      for (const c of ["r", "g", "b"] as const)
        for (let i = 0; i < plate.r.length; i++)
          plate[c][i]! += blocks[Math.floor(i / WIDTH / 4) * (WIDTH / 4) + Math.floor((i % WIDTH) / 4)] as number;
      return certainInMiddle(plate);
    };
    expect(film(0.05)).toBe(0);
    // What does not change could as well be cloth.
    expect(film(0)).toBeGreaterThan(0.7);
  });
  it("a clear umbrella, as bright here and dark there, lets as much of the screen through everywhere, and is no cloth however sharp it ends", () => {
    const reflects = (x: number) => 0.8 + 0.2 * Math.sin(x / 10);
    const dome = (part: number) => (d: number) => (d < 60 ? part : 0);
    expect(certainInMiddle(round(WHITE, dome(0.55), reflects))).toBe(0);
    // Cloth as pale, whose light changes as much, has its excess with it.
    const pale = { r: 0.55 * WHITE.r + 0.45 * B.r, g: 0.55 * WHITE.g + 0.45 * B.g, b: 0.55 * WHITE.b + 0.45 * B.b };
    expect(certainInMiddle(round(pale, dome(1), reflects))).toBeGreaterThan(0.9);
  });
  it("the crests of a sheer curtain's folds are none, though they pass for solid; a small thing as large that covers wholly is", () => {
    // Folds that hang: even along the crest, on and off across it; a crest is 4 px wide and 9 long.
    const crest = (x: number, y: number) => Math.abs(x - 160) <= 2 && Math.abs(y - 90) <= 4;
    const most = (peak: number) => {
      const plate = round(WHITE, (_, x, y) => (crest(x, y) ? peak : 0.35 + 0.15 * Math.cos((x - 160) / 5)), even);
      const seen = againstScreen(plate, B, "g", 0.5);
      const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
      return [...certain.keys()].filter((i) => certain[i] === 1 && crest(i % WIDTH, Math.floor(i / WIDTH))).length;
    };
    expect(most(0.8)).toBe(0);
    expect(most(1)).toBeGreaterThan(3);
  });
  it("checks near the screen's hue are no holes in what is solid around them, though none is as large as a garment", () => {
    const check = (x: number, y: number) => (Math.floor(x / 10) + Math.floor(y / 10)) % 2 === 0;
    const wellIn = (v: number) => v % 10 > 1 && v % 10 < 8;
    const inner = (x: number, y: number) => Math.hypot(x - 160, y - 90) < 35 && check(x, y) && wellIn(x) && wellIn(y);
    expect(certainOnWhite((x, y) => (check(x, y) ? 1 : 0), inner)).toBe(1);
    // What goes over softly, as a gap between blurred fingers does, may be screen.
    const from = (x: number, y: number) => Math.hypot(x - 160, y - 90);
    expect(
      certainOnWhite(
        (x, y) => Math.max(0, 1 - Math.max(0, from(x, y) - 6) / 24),
        (x, y) => from(x, y) < 6,
      ),
    ).toBe(0);
  });
  it("leaves printed on cloth are whole, though they are so narrow that all of them is edge", () => {
    const leaf = (x: number, y: number) =>
      (Math.abs(x - 160) < 1.5 && Math.abs(y - 90) < 8) || (Math.abs(y - 90) < 1.5 && Math.abs(x - 160) < 8);
    expect(certainOnWhite((x, y) => (leaf(x, y) ? 1 : 0), leaf)).toBe(1);
  });
  it("folds of such cloth are no mixed pixels: their light changes, and not the part of it that is in excess", () => {
    const folds = (x: number) => 1 + 0.25 * Math.sin(x / 2.5);
    expect(certainInMiddle(round(SAGE, (d) => 60.5 - d, folds))).toBeGreaterThan(0.9);
  });
  it("the screen in shade within such cloth, softly lit, has no light of its own, and is none of it", () => {
    const plate = round(SAGE, (d) => 60.5 - d, shaded);
    const toMiddle = (i: number) => Math.hypot((i % WIDTH) - 160, Math.floor(i / WIDTH) - 90);
    for (let i = 0; i < plate.r.length; i++) {
      const open = Math.min(1, Math.max(0, (26 - toMiddle(i)) / 14));
      for (const c of ["r", "g", "b"] as const) plate[c][i] = open * 0.5 * B[c] + (1 - open) * (plate[c][i] as number);
    }
    const seen = againstScreen(plate, B, "g", 0.5);
    const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
    const where = (from: number, to: number) => [...certain.keys()].filter((i) => toMiddle(i) >= from && toMiddle(i) < to);
    expect(where(0, 12).some((i) => certain[i] === 1)).toBe(false);
    expect(where(32, 55).every((i) => certain[i] === 1)).toBe(true);
  });
  it("takes no strand in a tangle for it though the copy is so wide that few pixels lie on one", () => {
    const [width, height] = [800, 120];
    const p = makePicture(width, height);
    for (let i = 0; i < p.r.length; i++) {
      // Three even pixels on the top of each; on both sides less and less, by as much as others cross there.
      const x = i % width;
      const fromTop = Math.max(0, Math.abs((x % 9) - 4) - 1);
      const a = x < width / 2 ? 0 : 0.93 - (Math.floor(i / width) % 2 ? 0.1 : 0.18) * fromTop;
      for (const c of ["r", "g", "b"] as const) p[c][i] = a * { r: 0.3, g: 0.2, b: 0.1 }[c] + (1 - a) * B[c];
    }
    const seen = againstScreen(p, B, "g", 0.5);
    const { certain } = certainSubject(p, "g", seen, palerThanScreen(seen));
    expect(certain.includes(1)).toBe(false);
  });
});
