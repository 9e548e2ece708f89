import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { makePicture, makePlane, type Picture, type Plane } from "../image/plane";
import { random } from "../image/random";
import { dropBlinking, steadyMatte } from "./steady";
import { stillPlaces } from "./still";

const [W, H] = [120, 80];
const SIGMA = 0.03;

/** A soft upright edge at x, with grain in the matte's greys. */
function edge(x: number, seed: number): Plane {
  const next = normal(random(seed));
  const plane = makePlane(W, H);
  for (let i = 0; i < plane.data.length; i++) {
    const m = Math.min(1, Math.max(0, (x - (i % W)) / 8 + 0.5));
    plane.data[i] = m > 0.02 && m < 0.98 ? m + SIGMA * next() : m;
  }
  return plane;
}
const everywhere = new Uint8Array(W * H).fill(1);
const deviation = (a: Plane, b: Plane, inGrey: (m: number) => boolean): number => {
  let [sum, n] = [0, 0];
  b.data.forEach((m, i) => {
    if (!inGrey(m)) return;
    sum += (a.data[i]! - m) ** 2;
    n++;
  });
  return Math.sqrt(sum / n);
};
const truth = (() => {
  const plane = makePlane(W, H);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.min(1, Math.max(0, (60 - (i % W)) / 8 + 0.5));
  return plane;
})();
const grey = (m: number) => m > 0.02 && m < 0.98;

describe("steadying still edges", () => {
  it("lowers grain by the square root of three over three frames, and moves nothing", () => {
    const now = edge(60, 1);
    const nearby = [2, 3].map((seed) => ({ matte: edge(60, seed), still: everywhere }));
    const before = deviation(now, truth, grey);
    const after = deviation(steadyMatte(now, nearby, 1), truth, grey);
    expect(before).toBeGreaterThan(0.9 * SIGMA);
    expect(after / before).toBeCloseTo(1 / Math.sqrt(3), 1);
    // By half, the variance lies where (1 − a/3·2)² + 2·(a/3)² puts it.
    const half = deviation(steadyMatte(now, nearby, 0.5), truth, grey);
    expect(half / before).toBeCloseTo(Math.sqrt((2 / 3) ** 2 + 2 * (1 / 6) ** 2), 1);
  });
  it("leaves a moving edge exactly as it is", () => {
    const now = edge(60, 1);
    const moved = [52, 68].map((x, k) => ({ matte: edge(x, k + 2), still: everywhere }));
    const out = steadyMatte(now, moved, 1);
    for (let i = 0; i < now.data.length; i++) {
      const x = i % W;
      if (x > 58 && x < 62) expect(out.data[i]).toBe(now.data[i]);
    }
  });
  it("leaves places alone where the plate moved, whatever the matte says", () => {
    const now = edge(60, 1);
    const out = steadyMatte(now, [{ matte: edge(60, 2), still: new Uint8Array(W * H) }], 1);
    expect(out.data).toEqual(now.data);
  });
});

describe("where a plate stands still", () => {
  const frame = (seed: number, at: number): Picture => {
    const next = normal(random(seed));
    const p = makePicture(W, H);
    for (let i = 0; i < W * H; i++) {
      const x = i % W;
      const subject = x >= at && x < at + 20 && i > 20 * W && i < 60 * W;
      p.r[i] = (subject ? 0.4 : 0.03) + 0.002 * next();
      p.g[i] = (subject ? 0.3 : 0.3) + 0.006 * next();
      p.b[i] = (subject ? 0.25 : 0.05) + 0.002 * next();
    }
    return p;
  };
  it("is told from grain, and a subject that moved by a few pixels is not still", () => {
    const still = stillPlaces(frame(1, 40), frame(2, 46), (i) => i % W < 30);
    const share = (x0: number, x1: number) => {
      let [n, all] = [0, 0];
      for (let y = 28; y < 52; y++)
        for (let x = x0; x < x1; x++) {
          n += still[y * W + x]!;
          all++;
        }
      return n / all;
    };
    expect(share(5, 30)).toBeGreaterThan(0.98);
    expect(share(41, 45)).toBe(0);
    expect(share(61, 65)).toBe(0);
    expect(share(80, 115)).toBeGreaterThan(0.98);
  });
});

describe("specks that blink", () => {
  const dot = (plane: Plane, x: number, y: number, v: number, r = 1) => {
    for (let dy = -r; dy <= r; dy++) for (let dx = -r; dx <= r; dx++) plane.data[(y + dy) * W + x + dx] = v;
  };
  const base = () => {
    const p = makePlane(W, H);
    for (let i = 0; i < p.data.length; i++) p.data[i] = i % W < 40 ? 1 : 0;
    return p;
  };
  const [before, now, after] = [base(), base(), base()];
  // A speck that stays (it drifts by a pixel), one that blinks, a pinhole that stays, one that blinks, and a large one that blinks.
  dot(before, 80, 20, 0.8);
  dot(now, 81, 20, 0.8);
  dot(after, 82, 20, 0.8);
  dot(now, 100, 50, 0.6);
  for (const p of [before, now, after]) dot(p, 10, 20, 0.2);
  dot(now, 20, 60, 0.3);
  dot(now, 80, 60, 0.9, 5);
  const out = dropBlinking(now, [before, after], 30);
  const at = (x: number, y: number) => out.data[y * W + x]!;
  it("go, outside the subject and inside", () => {
    expect(at(100, 50)).toBe(0);
    expect(at(20, 60)).toBe(1);
  });
  it("stay where they are real, or larger than what may go", () => {
    expect(at(81, 20)).toBeCloseTo(0.8, 6);
    expect(at(10, 20)).toBeCloseTo(0.2, 6);
    expect(at(80, 60)).toBeCloseTo(0.9, 6);
  });
  it("stay without a neighbour to tell by, as on a still", () => {
    expect(dropBlinking(now, [], 30).data).toEqual(now.data);
  });
});
