/**
 * Primaries that a plate may carry, and the way to those everything is worked in, BT.709's. Light outside of them goes under nothing and stays so.
 * Sources: Recommendations ITU-R BT.709-6 (item 1.3) and BT.2020-2 (table 3), SMPTE EG 432-1 (P3, white D65); matrices by SMPTE RP 177.
 */
export const PRIMARIES = ["bt709", "bt2020", "p3"] as const;
export type Primaries = (typeof PRIMARIES)[number];

type Row = readonly [number, number, number];
type Matrix3 = readonly [Row, Row, Row];

/** x and y of red, green and blue; white is D65, 0.3127 and 0.3290, for all. */
const CHROMATICITIES: Record<Primaries, readonly (readonly [number, number])[]> = {
  bt709: [
    [0.64, 0.33],
    [0.3, 0.6],
    [0.15, 0.06],
  ],
  bt2020: [
    [0.708, 0.292],
    [0.17, 0.797],
    [0.131, 0.046],
  ],
  p3: [
    [0.68, 0.32],
    [0.265, 0.69],
    [0.15, 0.06],
  ],
};
const xyzOf = ([x, y]: readonly [number, number]): [number, number, number] => [x / y, 1, (1 - x - y) / y];
const WHITE = xyzOf([0.3127, 0.329]);

const matrix = (at: (i: 0 | 1 | 2, j: 0 | 1 | 2) => number): Matrix3 => {
  const row = (i: 0 | 1 | 2): Row => [at(i, 0), at(i, 1), at(i, 2)];
  return [row(0), row(1), row(2)];
};
const times = (a: Matrix3, b: Matrix3): Matrix3 => matrix((i, j) => a[i][0] * b[0][j] + a[i][1] * b[1][j] + a[i][2] * b[2][j]);

function inverse(m: Matrix3): Matrix3 {
  const at = (i: number, j: number) => m[(i % 3) as 0 | 1 | 2][(j % 3) as 0 | 1 | 2];
  const cofactor = (i: number, j: number) => at(i + 1, j + 1) * at(i + 2, j + 2) - at(i + 1, j + 2) * at(i + 2, j + 1);
  const det = at(0, 0) * cofactor(0, 0) + at(0, 1) * cofactor(0, 1) + at(0, 2) * cofactor(0, 2);
  return matrix((i, j) => cofactor(j, i) / det);
}

/** Linear RGB of some primaries to XYZ, white at Y 1. */
function toXyz(primaries: Primaries): Matrix3 {
  const colours = CHROMATICITIES[primaries].map(xyzOf) as unknown as Matrix3;
  const m = matrix((i, j) => colours[j][i]);
  const [r, g, b] = inverse(m).map((row) => row[0] * WHITE[0] + row[1] * WHITE[1] + row[2] * WHITE[2]) as [number, number, number];
  return matrix((i, j) => m[i][j] * [r, g, b][j]!);
}

/** Rows that bring linear RGB of some primaries to BT.709's; null where there is nothing to do. */
export const toBt709 = (primaries: Primaries | undefined): Matrix3 | null =>
  !primaries || primaries === "bt709" ? null : times(inverse(toXyz("bt709")), toXyz(primaries));
