import { describe, expect, it } from "vitest";
import { fillIn } from "../image/fill-in";
import { random } from "../image/random";
import { memoryOf } from "./module";
import { changePlane, onPlane } from "./planes";

/** Sides that are no whole number of fours, and planes of one row or column. */
const SIZES = [
  [37, 23],
  [8, 8],
  [1, 9],
  [9, 1],
  [1, 1],
  [2, 3],
] as const;
const plane = (n: number, seed: number) => {
  const next = random(seed);
  return Float32Array.from({ length: n }, () => next());
};
const clamp = (v: number, last: number) => Math.min(last, Math.max(0, v));

function worst(got: Float32Array, wanted: (i: number) => number): number {
  return got.reduce((most, v, i) => Math.max(most, Math.abs(v - wanted(i))), 0);
}

/** Push–pull as Gortler and others write it, pixel by pixel. */
function filled(source: Float32Array, weight: Float32Array, width: number, height: number): Float32Array {
  if (width <= 1 && height <= 1) return source;
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const [sum, total] = [new Float32Array(w * h), new Float32Array(w * h)];
  source.forEach((v, i) => {
    const o = (Math.floor(i / width) >> 1) * w + ((i % width) >> 1);
    sum[o]! += weight[i]! * v;
    total[o]! += weight[i]!;
  });
  const mean = sum.map((v, o) => (total[o]! > 0 ? v / total[o]! : v));
  const above = filled(
    mean,
    total.map((v) => Math.min(1, v)),
    w,
    h,
  );
  return source.map((v, i) => {
    const [cx, cy] = [clamp(((i % width) - 0.5) / 2, w - 1), clamp((Math.floor(i / width) - 0.5) / 2, h - 1)];
    const [x, y] = [Math.floor(cx), Math.floor(cy)];
    const at = (u: number, v: number) => above[clamp(v, h - 1) * w + clamp(u, w - 1)]!;
    const row = (v: number) => at(x, v) + (cx - x) * (at(x + 1, v) - at(x, v));
    return weight[i]! * v + (1 - weight[i]!) * (row(y) + (cy - y) * (row(y + 1) - row(y)));
  });
}

describe.each(SIZES)("steps over a plane of %i × %i equal plain sums", (width, height) => {
  const source = plane(width * height, 3);
  const at = (x: number, y: number) => source[clamp(y, height - 1) * width + clamp(x, width - 1)]!;

  it.each([1, 2, 5])("mean over squares of radius %i", (wide) => {
    const r = Math.min(wide, Math.max(1, Math.max(width, height) - 1));
    const got = onPlane("boxMean", source, new Float32Array(source.length), 8 * width, width, height, r);
    const mean = (i: number) => {
      const [x0, y0] = [i % width, Math.floor(i / width)];
      let [sum, n] = [0, 0];
      for (let y = Math.max(0, y0 - r); y <= Math.min(height - 1, y0 + r); y++)
        for (let x = Math.max(0, x0 - r); x <= Math.min(width - 1, x0 + r); x++) {
          sum += at(x, y);
          n++;
        }
      return sum / n;
    };
    expect(worst(got, mean)).toBeLessThan(1e-6);
  });

  it.each([0.1, 0.6])("what is not known from levels above, %d of it known", (share) => {
    const next = random(11);
    const weight = Float32Array.from({ length: width * height }, () => (next() < share ? (next() < 0.8 ? 1 : next()) : 0));
    const got = source.slice();
    fillIn([got], weight, width, height);
    const wanted = filled(source, weight, width, height);
    expect(worst(got, (i) => wanted[i]!)).toBeLessThan(1e-6);
  });

  it("mean of what is known in 3 × 3", () => {
    const next = random(13);
    const known = Uint8Array.from(source, () => (next() < 0.4 ? 1 : 0));
    const got = source.slice();
    changePlane("meanOfKnown", known, got, 32 * (width + 16), width, height);
    const mean = (i: number) => {
      const [x0, y0] = [i % width, Math.floor(i / width)];
      let [sum, n] = [0, 0];
      for (let y = Math.max(0, y0 - 1); y <= Math.min(height - 1, y0 + 1); y++)
        for (let x = Math.max(0, x0 - 1); x <= Math.min(width - 1, x0 + 1); x++)
          if (known[y * width + x]) {
            sum += at(x, y);
            n++;
          }
      return n > 0 ? sum / n : 0;
    };
    expect(worst(got, mean)).toBeLessThan(1e-6);
  });

  it.each([2, 3])("means of blocks of %i, and what bilinear enlarging makes of them", (factor) => {
    const [w, h] = [Math.ceil(width / factor), Math.ceil(height / factor)];
    const small = onPlane("shrink", source, new Float32Array(w * h), 4 * width + 12, width, height, factor);
    const mean = (o: number) => {
      let [sum, n] = [0, 0];
      for (let y = Math.floor(o / w) * factor; y < Math.min(height, (Math.floor(o / w) + 1) * factor); y++)
        for (let x = (o % w) * factor; x < Math.min(width, ((o % w) + 1) * factor); x++) {
          sum += at(x, y);
          n++;
        }
      return sum / n;
    };
    expect(worst(small, mean)).toBeLessThan(1e-6);

    const large = onPlane("enlarge", small, new Float32Array(source.length), 16 * (width + 12) + 64, w, h, width, height, factor);
    const bilinear = (i: number) => {
      const place = (v: number, last: number) => Math.min(last, Math.max(0, (v + 0.5) / factor - 0.5));
      const [cx, cy] = [place(i % width, w - 1), place(Math.floor(i / width), h - 1)];
      const [x, y] = [Math.floor(cx), Math.floor(cy)];
      const row = (yy: number) => {
        const [a, b] = [small[yy * w + x]!, small[yy * w + Math.min(w - 1, x + 1)]!];
        return a + (cx - x) * (b - a);
      };
      const [a, b] = [row(y), row(Math.min(h - 1, y + 1))];
      return a + (cy - y) * (b - a);
    };
    expect(worst(large, bilinear)).toBeLessThan(1e-6);
  });

  it("weighted blur that repeats the ends", () => {
    const weights = [0.1, 0.2, 0.4, 0.2, 0.1];
    const room = new Float32Array(weights.length + width + 4 + 16);
    room.set(weights);
    const got = onPlane("weightedBlur", source, new Float32Array(source.length), room, width, height, 2);
    const sum = (i: number) => {
      let total = 0;
      for (let dy = -2; dy <= 2; dy++)
        for (let dx = -2; dx <= 2; dx++) total += weights[dy + 2]! * weights[dx + 2]! * at((i % width) + dx, Math.floor(i / width) + dy);
      return total;
    };
    expect(worst(got, sum)).toBeLessThan(1e-6);
  });

  it.each([Number.POSITIVE_INFINITY, 3])("distance to the nearest marked pixel, at most %f", (limit) => {
    const inside = Uint8Array.from(source, (v) => (v > 0.9 ? 1 : 0));
    inside[inside.length - 1] = 1;
    const got = onPlane("distance", inside, new Float32Array(source.length), 24 * (width + 2), width, height, Math.min(limit, 1e7));
    const nearest = (i: number) => {
      let d = limit;
      for (let j = 0; j < inside.length; j++)
        if (inside[j]) d = Math.min(d, Math.hypot((i % width) - (j % width), Math.floor(i / width) - Math.floor(j / width)));
      return d;
    };
    expect(worst(got, nearest)).toBeLessThan(1e-5);
  });
});

describe.each([
  [1, 21],
  [3, 8],
  [4, 9],
  [7, 12],
] as const)("rows of %i unblurred, %i of them", (lanes, height) => {
  const [own, near, far] = [0.87, 0.09, -0.014];
  it("come out as by plain Gauss–Seidel", () => {
    const half = Math.ceil(height / 2);
    const source = plane(lanes * height, 5);
    const got = onPlane(
      "unblurred",
      source,
      new Float32Array((half + 4) * lanes),
      4 * (half + 4) * lanes,
      lanes,
      height,
      own,
      near,
      far,
      3,
    );
    for (let l = 0; l < lanes; l++) {
      const mean = (k: number) => (source[2 * k * lanes + l]! + source[Math.min(height - 1, 2 * k + 1) * lanes + l]!) / 2;
      const wanted = Array.from({ length: half }, (_, k) => mean(k));
      for (let round = 0; round < 3; round++) {
        const ends = [wanted[0]!, wanted[half - 1]!];
        const at = (k: number) => (k < 0 ? ends[0]! : k >= half ? ends[1]! : wanted[k]!);
        for (let k = 0; k < half; k++) wanted[k] = mean(k) / own - near * (at(k - 1) + at(k + 1)) - far * (at(k - 2) + at(k + 2));
      }
      const padded = [wanted[0]!, wanted[0]!, ...wanted, wanted[half - 1]!, wanted[half - 1]!];
      padded.forEach((v, k) => {
        expect(got[k * lanes + l]).toBeCloseTo(v, 5);
      });
    }
  });
});

it("memory that cannot be had is told of, with what to do", () => {
  expect(() => memoryOf(2 ** 40)).toThrow(/not enough memory.*smaller/);
  // What was there still works.
  expect(onPlane("shrink", Float32Array.of(1, 3), new Float32Array(1), 32, 2, 1, 2)[0]).toBe(2);
});
