import { beforeAll, describe, expect, it } from "vitest";
import { type OpenCv, withMat, withOpenCv } from "../../../tests/support/opencv";
import { gaussianBlur } from "../image/blur";
import type { Plane } from "../image/plane";
import { random as seeded } from "../image/random";
import { gradientMagnitude, scoreMatte } from "./score";

/**
 * An independent reading of Rhemann et al., CVPR 2009, section 4, on a general-purpose library's filters and components:
 * gradient = Σ (|∇α| − |∇α*|)² with first-order Gaussian derivatives of σ = 1.4 and unit energy;
 * connectivity = Σ |φ(α) − φ(α*)|, φ(α) = 1 − d·[d ≥ 0.15], d = α − l, l the last of the levels 0, 0.1 … 1 at which the pixel
 * belongs to the largest 4-connected area that both mattes reach.
 */
describe("score against an independent implementation", () => {
  let cv: OpenCv;
  beforeAll(() =>
    withOpenCv((library) => {
      cv = library;
    }),
  );
  const [width, height] = [97, 71];

  /** Blobs with soft rims, holes and islands, from 0 to 1. */
  const matteOf = (seed: number, sharp: number): Plane => {
    const random = seeded(seed);
    const noise = gaussianBlur(
      Float32Array.from({ length: width * height }, () => random() - 0.5),
      width,
      height,
      4,
    );
    return { width, height, data: noise.map((v) => Math.min(1, Math.max(0, 0.55 + sharp * v))) };
  };
  /** A matte as a pull would have it: near the truth, with noise, a lifted floor and a bitten rim. */
  const pulled = (truth: Plane, seed: number): Plane => {
    const random = seeded(seed);
    return { width, height, data: truth.data.map((t) => Math.min(1, Math.max(0, 1.15 * (t - 0.08) + 0.2 * (random() - 0.5)))) };
  };

  const gradientOf = (m: Plane): Float32Array => {
    const size = 11;
    const at = Array.from({ length: size * size }, (_, i) => ({ x: (i % size) - 5, y: Math.floor(i / size) - 5 }));
    const raw = at.map(({ x, y }) => -x * Math.exp(-(x * x + y * y) / (2 * 1.4 ** 2)));
    const energy = Math.sqrt(raw.reduce((s, v) => s + v * v, 0));
    const along = (transposed: boolean) =>
      withMat(cv, m.data, width, height, (from, to) => {
        // The library correlates; a derivative is a convolution: the kernel turned by 180°.
        const turned = raw.map((_, i) => -(raw[transposed ? (i % size) * size + Math.floor(i / size) : i] as number) / energy);
        const kernel = cv.matFromArray(size, size, cv.CV_32FC1, turned);
        cv.filter2D(from, to, -1, kernel, new cv.Point(-1, -1), 0, cv.BORDER_REPLICATE);
        kernel.delete();
      });
    const [dx, dy] = [along(false), along(true)];
    return dx.map((v, i) => Math.hypot(v, dy[i] as number));
  };

  const connectivityOf = (a: Plane, b: Plane): number => {
    const level = new Float64Array(a.data.length).fill(-1);
    for (let step = 1; step <= 10; step++) {
      const both = Uint8Array.from(a.data, (v, i) => (v >= step / 10 - 1e-6 && (b.data[i] as number) >= step / 10 - 1e-6 ? 1 : 0));
      const [stats, centres] = [new cv.Mat(), new cv.Mat()];
      let largest = -1;
      const labels = withMat(cv, both, width, height, (from, to) => {
        const count = cv.connectedComponentsWithStats(from, to, stats, centres, 4, cv.CV_32S);
        for (let k = 1; k < count; k++) {
          const area = (l: number) => stats.intAt(l, cv.CC_STAT_AREA);
          if (largest < 0 || area(k) > area(largest)) largest = k;
        }
      });
      stats.delete();
      centres.delete();
      for (let i = 0; i < level.length; i++) if ((level[i] as number) < 0 && labels[i] !== largest) level[i] = (step - 1) / 10;
    }
    const phi = (v: number, l: number) => (v - l >= 0.15 ? 1 - (v - l) : 1);
    return a.data.reduce((s, v, i) => {
      const l = (level[i] as number) < 0 ? 1 : (level[i] as number);
      return s + Math.abs(phi(v, l) - phi(b.data[i] as number, l));
    }, 0);
  };

  it.each([1, 2, 3, 4, 5, 6])("agrees on matte %i, over all pixels and over the unknown band", (seed) => {
    const truth = matteOf(seed, 3 + seed);
    const matte = pulled(truth, 100 + seed);
    const band: Plane = { width, height, data: truth.data.map((t) => (t > 0.002 && t < 0.998 ? 1 : 0)) };
    const [gm, gt] = [gradientOf(matte), gradientOf(truth)];
    gradientMagnitude(matte).forEach((v, i) => {
      expect(v).toBeCloseTo(gm[i] as number, 4);
    });
    for (const region of [undefined, band]) {
      const s = scoreMatte(matte, truth, region);
      const where = [...matte.data.keys()].filter((i) => !region || (region.data[i] as number) > 0.5);
      const difference = (i: number) => (matte.data[i] as number) - (truth.data[i] as number);
      expect(s.pixels).toBe(where.length);
      expect(s.sad).toBeCloseTo(
        where.reduce((sum, i) => sum + Math.abs(difference(i)), 0),
        2,
      );
      expect(s.mse).toBeCloseTo(where.reduce((sum, i) => sum + difference(i) ** 2, 0) / where.length, 7);
      expect(s.gradient / where.reduce((sum, i) => sum + ((gm[i] as number) - (gt[i] as number)) ** 2, 0)).toBeCloseTo(1, 3);
    }
    const { connectivity } = scoreMatte(matte, truth);
    expect(connectivity).toBeGreaterThan(5);
    expect(connectivity / connectivityOf(matte, truth)).toBeCloseTo(1, 4);
  });
});
