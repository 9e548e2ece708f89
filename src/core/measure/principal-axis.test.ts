import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import { describe, expect, it } from "vitest";
import { random } from "../image/random";
import { principalAxis } from "./principal-axis";

describe("the principal axis of points", () => {
  it("has the deviations and the direction that the eigenvectors of their covariance have", () => {
    for (const [turn, seed] of [
      [0.3, 1],
      [1.4, 2],
      [-0.9, 3],
    ] as const) {
      const next = random(seed);
      const points = Array.from({ length: 60 }, () => {
        const [a, b] = [8 * (next() - 0.5), 2 * (next() - 0.5)];
        return [5 + a * Math.cos(turn) - b * Math.sin(turn), -3 + a * Math.sin(turn) + b * Math.cos(turn)] as const;
      });
      const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
      const axis = principalAxis(xs, ys);
      const centred = new Matrix(points.map(([x, y]) => [x - axis.x, y - axis.y]));
      const { realEigenvalues: values, eigenvectorMatrix: vectors } = new EigenvalueDecomposition(
        centred.transpose().mmul(centred).div(points.length),
      );
      const greatest = values.indexOf(Math.max(...values));
      expect(axis.along).toBeCloseTo(Math.sqrt(Math.max(...values)), 10);
      expect(axis.across).toBeCloseTo(Math.sqrt(Math.min(...values)), 10);
      expect(Math.abs(axis.dx * vectors.get(0, greatest) + axis.dy * vectors.get(1, greatest))).toBeCloseTo(1, 10);
      expect(Math.hypot(axis.dx, axis.dy)).toBeCloseTo(1, 12);
    }
  });

  it("lies on points that lie on a line", () => {
    const axis = principalAxis([1, 2, 4], [5, 7, 11]);
    expect(axis.across).toBeCloseTo(0, 7);
    expect(axis.dy / axis.dx).toBeCloseTo(2, 10);
  });
});
