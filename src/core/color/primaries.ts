/**
 * Primaries that a plate may carry, and the way to those everything is worked in, BT.709's. Light outside of them goes under nothing and stays so.
 * Sources: Recommendations ITU-R BT.709-6 (item 1.3) and BT.2020-2 (table 3), SMPTE EG 432-1 (P3, white D65), SMPTE ST 2065-1 (ACES AP0), Academy
 * S-2014-004 (ACES AP1); matrices by SMPTE RP 177, another white by Bradford's (as ISO 15076-1, annex E).
 */
export const PRIMARIES = ["bt709", "bt2020", "p3", "ap1", "ap0"] as const;
export type Primaries = (typeof PRIMARIES)[number];

type Row = readonly [number, number, number];
type Matrix3 = readonly [Row, Row, Row];

type Xy = readonly [number, number];
const D65: Xy = [0.3127, 0.329];
const ACES_WHITE: Xy = [0.32168, 0.33767];

/** x and y of red, green, blue and white. */
const CHROMATICITIES: Record<Primaries, readonly [Xy, Xy, Xy, Xy]> = {
  bt709: [[0.64, 0.33], [0.3, 0.6], [0.15, 0.06], D65],
  bt2020: [[0.708, 0.292], [0.17, 0.797], [0.131, 0.046], D65],
  p3: [[0.68, 0.32], [0.265, 0.69], [0.15, 0.06], D65],
  ap1: [[0.713, 0.293], [0.165, 0.83], [0.128, 0.044], ACES_WHITE],
  ap0: [[0.7347, 0.2653], [0, 1], [0.0001, -0.077], ACES_WHITE],
};
const xyzOf = ([x, y]: Xy): [number, number, number] => [x / y, 1, (1 - x - y) / y];

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

const applied = (m: Matrix3, [x, y, z]: Row): Row => [
  m[0][0] * x + m[0][1] * y + m[0][2] * z,
  m[1][0] * x + m[1][1] * y + m[1][2] * z,
  m[2][0] * x + m[2][1] * y + m[2][2] * z,
];

/** Linear RGB of some primaries to XYZ, their white at Y 1. */
function toXyz(primaries: Primaries): Matrix3 {
  const [red, green, blue, white] = CHROMATICITIES[primaries];
  const columns: readonly [Row, Row, Row] = [xyzOf(red), xyzOf(green), xyzOf(blue)];
  const m = matrix((i, j) => columns[j][i]);
  const light = applied(inverse(m), xyzOf(white));
  return matrix((i, j) => m[i][j] * light[j]);
}

const BRADFORD: Matrix3 = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

/** XYZ under one white, at Y 1, to how it looks under D65. */
function toD65(white: Row): Matrix3 {
  const [from, to] = [applied(BRADFORD, white), applied(BRADFORD, xyzOf(D65))];
  return times(
    inverse(BRADFORD),
    matrix((i, j) => (BRADFORD[i][j] * to[i]) / from[i]),
  );
}

/** Rows that bring linear RGB of some primaries to BT.709's; null where there is nothing to do. */
export function toBt709(primaries: Primaries | undefined): Matrix3 | null {
  if (!primaries || primaries === "bt709") return null;
  const xyz = toXyz(primaries);
  const white = CHROMATICITIES[primaries][3];
  return times(inverse(toXyz("bt709")), white === D65 ? xyz : times(toD65(xyzOf(white)), xyz));
}

/** Chromaticities of files are written with three or four digits. */
const SAME = 0.0015;

/** The primaries of these chromaticities: x and y of red, green, blue and white; undefined where they are none of ours. */
export const primariesOf = (told: readonly number[]): Primaries | undefined =>
  PRIMARIES.find((name) => CHROMATICITIES[name].flat().every((v, k) => Math.abs(v - (told[k] ?? Number.NaN)) < SAME));

/** White of the space that profiles connect through. Source: ISO 15076-1, 7.2.16. */
const D50: Row = [0.9642, 1, 0.8249];

/** The primaries of a profile's colorants: X, Y and Z of red, green and blue under D50. */
export function primariesOfColorants(xyz: readonly number[]): Primaries | undefined {
  const chromaticities = [0, 3, 6].flatMap((k) => {
    const [x, y, z] = applied(toD65(D50), [xyz[k] as number, xyz[k + 1] as number, xyz[k + 2] as number]);
    return [x / (x + y + z), y / (x + y + z)];
  });
  return primariesOf([...chromaticities, ...D65]);
}
