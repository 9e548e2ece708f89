import { describe, expect, it } from "vitest";
import { gaussianBlur } from "./blur";
import { areaRuns, labelComponents } from "./components";
import { distanceTo } from "./distance";
import { maskOf, maskOver, maskUnder } from "./mask";
import { checkSize, clipRegion, cropPicture, makePicture, stopNotFinite } from "./plane";
import { PlanePool } from "./pool";
import { random } from "./random";
import { placePicture, shrinkChannel } from "./resample";

describe("distanceTo", () => {
  it("equals the distance found by trying every pixel", () => {
    const [w, h] = [23, 17];
    const next = random(7);
    const mask = Uint8Array.from({ length: w * h }, () => (next() < 0.04 ? 1 : 0));
    const d = distanceTo(mask, w, h);
    for (let i = 0; i < d.length; i++) {
      let best = Number.POSITIVE_INFINITY;
      for (let j = 0; j < mask.length; j++)
        if (mask[j]) best = Math.min(best, Math.hypot((i % w) - (j % w), Math.floor(i / w) - Math.floor(j / w)));
      expect(d[i]).toBeCloseTo(best, 4);
    }
  });
  it("with a limit tells the same up to it, and the limit beyond", () => {
    const [w, h] = [61, 37];
    const next = random(5);
    for (const share of [0.002, 0.03, 0.3]) {
      const inside = Uint8Array.from({ length: w * h }, () => (next() < share ? 1 : 0));
      const all = distanceTo(inside, w, h);
      for (const limit of [1.5, 4, 9.3]) {
        const near = distanceTo(inside, w, h, limit);
        for (let i = 0; i < all.length; i++) expect(near[i]).toBeCloseTo(Math.min(limit, all[i]!), 4);
      }
    }
  });
  it("is far where nothing is inside", () => expect(distanceTo(new Uint8Array(9), 3, 3)[4]).toBeGreaterThan(1e6));
});

describe("gaussianBlur", () => {
  it("equals the two-dimensional sum with repeated edges", () => {
    const [w, h, sigma] = [13, 11, 1.3];
    const next = random(3);
    const source = Float32Array.from({ length: w * h }, next);
    const blurred = gaussianBlur(source, w, h, sigma);
    const r = Math.ceil(3 * sigma);
    for (const [cx, cy] of [
      [0, 0],
      [6, 5],
      [12, 10],
      [3, 9],
    ] as const) {
      let [sum, weight] = [0, 0];
      for (let dy = -r; dy <= r; dy++)
        for (let dx = -r; dx <= r; dx++) {
          const k = Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
          sum += k * source[Math.min(h - 1, Math.max(0, cy + dy)) * w + Math.min(w - 1, Math.max(0, cx + dx))]!;
          weight += k;
        }
      expect(blurred[cy * w + cx]).toBeCloseTo(sum / weight, 5);
    }
  });
  it("leaves a flat frame flat up to its border", () => {
    for (const v of gaussianBlur(new Float32Array(64).fill(0.7), 8, 8, 2)) expect(v).toBeCloseTo(0.7, 5);
  });
});

describe("labelComponents", () => {
  it("tells areas, sizes and borders apart", () => {
    const mask = Uint8Array.from([1, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0]);
    const c = labelComponents(mask, 4, 4);
    expect(c.areas).toEqual([0, 2, 1, 1]);
    expect(c.atBorder.slice(1)).toEqual([true, true, true]);
    const inner = labelComponents(Uint8Array.from([0, 0, 0, 0, 1, 0, 0, 0, 0]), 3, 3);
    expect(inner.atBorder[1]).toBe(false);
  });
  it("labels a random mask as a flood fill does, in the order in which areas are met", () => {
    const [w, h] = [83, 47];
    const next = random(9);
    const mask = Uint8Array.from({ length: w * h }, () => (next() < 0.55 ? 1 : 0));
    const { labels, areas, atBorder } = labelComponents(mask, w, h);
    const flooded = new Int32Array(w * h);
    let count = 0;
    for (let seed = 0; seed < mask.length; seed++) {
      if (!mask[seed] || flooded[seed]) continue;
      count++;
      const stack = [seed];
      let [area, border] = [0, false];
      flooded[seed] = count;
      while (stack.length) {
        const i = stack.pop()!;
        const [x, y] = [i % w, Math.floor(i / w)];
        area++;
        border ||= x === 0 || y === 0 || x === w - 1 || y === h - 1;
        for (const [nx, ny] of [
          [x - 1, y],
          [x + 1, y],
          [x, y - 1],
          [x, y + 1],
        ] as const) {
          const k = ny * w + nx;
          if (nx < 0 || ny < 0 || nx >= w || ny >= h || !mask[k] || flooded[k]) continue;
          flooded[k] = count;
          stack.push(k);
        }
      }
      expect(areas[count]).toBe(area);
      expect(atBorder[count]).toBe(border);
    }
    expect(labels).toEqual(flooded);
    expect(areas.length).toBe(count + 1);
  });
  it("gives the same areas as runs, each within its row and followed by what is not in the mask", () => {
    const [w, h] = [83, 47];
    const next = random(10);
    const mask = Uint8Array.from({ length: w * h }, () => (next() < 0.7 ? 1 : 0));
    const runs = areaRuns(mask, w, h);
    const { labels, areas, atBorder } = labelComponents(mask, w, h);
    expect(runs.areas).toEqual(areas);
    expect(runs.atBorder).toEqual(atBorder);
    const laid = new Uint8Array(w * h);
    for (let k = 0; k < runs.count; k++) {
      const [start, end] = [runs.starts[k]!, runs.ends[k]!];
      expect(Math.floor(start / w)).toBe(Math.floor((end - 1) / w));
      expect(end % w === 0 || mask[end] === 0).toBe(true);
      expect([...new Set(labels.subarray(start, end))]).toEqual([runs.labels[k]]);
      laid.fill(1, start, end);
    }
    expect(laid).toEqual(mask);
  });
  it("does not join areas that touch at corners only", () =>
    expect(labelComponents(Uint8Array.from([1, 0, 0, 1]), 2, 2).areas).toEqual([0, 1, 1]));
});

describe("resampling", () => {
  it("averages areas, and the rest of an odd size", () => {
    expect([...shrinkChannel(Float32Array.from([1, 3, 5, 7, 9, 11]), 3, 2, 2)]).toEqual([5, 8]);
  });
  it("places a picture exactly when scale and offset are whole", () => {
    const p = makePicture(2, 2);
    p.r.set([1, 2, 3, 4]);
    const placed = placePicture(p, 4, 3, { scaleX: 1, scaleY: 1, offsetX: 1, offsetY: 1 }, false);
    expect([...placed.r]).toEqual([0, 0, 0, 0, 0, 1, 2, 0, 0, 3, 4, 0]);
    expect([...placed.a!]).toEqual([0, 0, 0, 0, 0, 1, 1, 0, 0, 1, 1, 0]);
  });
  it("keeps the mean of a picture that is much reduced", () => {
    const p = makePicture(64, 64);
    const next = random(11);
    for (let i = 0; i < p.g.length; i++) p.g[i] = next();
    const placed = placePicture(p, 8, 8, { scaleX: 1 / 8, scaleY: 1 / 8, offsetX: 0, offsetY: 0 }, true);
    const mean = (c: Float32Array) => c.reduce((a, b) => a + b, 0) / c.length;
    expect(mean(placed.g)).toBeCloseTo(mean(p.g), 5);
  });
});

describe("planes", () => {
  it.each([
    [0, 5],
    [1.5, 2],
    [40_000, 40_000],
    [Number.NaN, 3],
  ])("refuses a frame of %d×%d", (w, h) => expect(() => checkSize(w, h)).toThrow(RangeError));
  it("clips regions and crops", () => {
    expect(clipRegion({ x: -2, y: 1.4, width: 5, height: 50 }, 10, 10)).toEqual({ x: 0, y: 1, width: 3, height: 9 });
    const p = makePicture(3, 2);
    p.b.set([1, 2, 3, 4, 5, 6]);
    expect([...cropPicture(p, { x: 1, y: 0, width: 2, height: 2 }).b]).toEqual([2, 3, 5, 6]);
  });
  it("counts what it stops", () => expect(stopNotFinite(Float32Array.of(1, Number.NaN, Number.NEGATIVE_INFINITY))).toBe(2));
  it("the pool hands the same memory out again and keeps within its bound", () => {
    const pool = new PlanePool(100);
    const a = pool.take(10);
    pool.give(a);
    expect(pool.take(10)).toBe(a);
    pool.give(new Float32Array(1000));
    pool.take(1000);
    expect(pool.allocated).toBe(2);
  });
});

describe("masks", () => {
  it("tell what is over a level, what is under it, and neither where it is met or no number", () => {
    const values = Float32Array.from([0.25, 0.5, 0.75, Number.NaN]);
    expect([...maskOver(values, 0.5)]).toEqual([0, 0, 1, 0]);
    expect([...maskUnder(values, 0.5)]).toEqual([1, 0, 0, 0]);
    expect([...maskOf(values, (v, i) => v > 0.3 && i < 2)]).toEqual([0, 1, 0, 0]);
  });
});
