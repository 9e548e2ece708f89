import { meanOf } from "./correlation";

/** The line that lies nearest to points, by squares of distances to it: a point of it, its direction, of length 1, and the deviations along and across. */
export interface PrincipalAxis {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  readonly along: number;
  readonly across: number;
}

/** Source: K. Pearson, "On Lines and Planes of Closest Fit to Systems of Points in Space", Phil. Mag. 2 (1901). NaN for no points. */
export function principalAxis(xs: ArrayLike<number>, ys: ArrayLike<number>): PrincipalAxis {
  const n = xs.length;
  const [x, y] = [meanOf(xs, n), meanOf(ys, n)];
  let [xx, xy, yy] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [u, v] = [(xs[i] as number) - x, (ys[i] as number) - y];
    xx += (u * u) / n;
    xy += (u * v) / n;
    yy += (v * v) / n;
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  // Half the sum and half the difference of both eigenvalues.
  const [half, apart] = [(xx + yy) / 2, Math.hypot(xx - yy, 2 * xy) / 2];
  return { x, y, dx: Math.cos(angle), dy: Math.sin(angle), along: Math.sqrt(half + apart), across: Math.sqrt(Math.max(0, half - apart)) };
}
