import { EigenvalueDecomposition, Matrix, pseudoInverse, solve } from "ml-matrix";
import { type Affine, movedBack, movedBy, movedTwice } from "./affine";
import { type Copy, type Patch, type Sampled, SIGMA } from "./patch";

/** Rounds at most at every size, and the move of a corner under which it has arrived, px of the copy. */
const ROUNDS = 40;
const ARRIVED = 0.01;
/** Differences this many times the usual one and more count for nothing: what passes in front, and reflections. */
const FAR = 4.685;
/** A difference that so small a shift makes at a place is a usual one there, px of the copy. */
const NEARLY = 0.1;
/** Where a patch was found. */
export interface PatchFound {
  readonly motion: Affine;
  /** How alike they are where it is seen: correlation over its three channels, gain and offset apart; 1 for the same. */
  readonly likeness: number;
  /** Share of the patch that lies inside the frame. */
  readonly inside: number;
  /** Share that is seen, in the frame and behind nothing. */
  readonly seen: number;
  /** Whether its turn and size were told, and not its shift alone. */
  readonly turned: boolean;
  /** How far its corners may be off by what is left of the differences, px of the frame. */
  readonly spread: number;
}

/** Values of a copy where a motion takes the patch's places; how many lie in it. */
export function look(patch: Patch, level: Sampled, copy: Copy, m: Affine, values: Float32Array, valid: Uint8Array): number {
  const { width, height, channels, left, top, factor } = copy;
  const centre = movedBy(m, patch);
  const [cx, cy] = [(centre.x - left) / factor - 0.5, (centre.y - top) / factor - 0.5];
  let inside = 0;
  for (let k = 0; k < level.count; k++) {
    const u = level.u[k] as number;
    const v = level.v[k] as number;
    const x = cx + m.a * u + m.b * v;
    const y = cy + m.c * u + m.d * v;
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    if (x0 < 0 || y0 < 0 || x0 + 1 >= width || y0 + 1 >= height) {
      valid[k] = 0;
      continue;
    }
    valid[k] = 1;
    inside++;
    const fx = x - x0;
    const fy = y - y0;
    const i = y0 * width + x0;
    for (let n = 0; n < 3; n++) {
      const c = channels[n] as Float32Array;
      const over = (c[i] as number) + fx * ((c[i + 1] as number) - (c[i] as number));
      const under = (c[i + width] as number) + fx * ((c[i + width + 1] as number) - (c[i + width] as number));
      values[3 * k + n] = over + fy * (under - over);
    }
  }
  return inside;
}

/** What takes seen values to the patch's: one gain, an offset of each channel. */
interface Light {
  readonly gain: number;
  readonly offsets: readonly number[];
}

/** The same light but for an offset, of the middle difference: what hides a part of the patch does not tell of the rest. */
function plainly(level: Sampled, values: Float32Array, valid: Uint8Array): Light {
  const middle = (n: number): number => {
    const differences = new Float32Array(level.count);
    let seen = 0;
    for (let k = 0; k < level.count; k++)
      if (valid[k]) differences[seen++] = (level.values[3 * k + n] as number) - (values[3 * k + n] as number);
    return differences.subarray(0, seen).sort()[seen >> 1] ?? 0;
  };
  return { gain: 1, offsets: [middle(0), middle(1), middle(2)] };
}

/** What takes seen values to the patch's, and how alike they are then. @param weights of the places, all alike without them */
export function compared(
  level: Sampled,
  values: Float32Array,
  valid: Uint8Array,
  weights: Float32Array | null,
): Light & { readonly likeness: number } {
  const seen = [0, 0, 0];
  const own = [0, 0, 0];
  let total = 0;
  for (let k = 0; k < level.count; k++) {
    if (!valid[k]) continue;
    const w = weights ? (weights[k] as number) : 1;
    total += w;
    for (let n = 0; n < 3; n++) {
      seen[n]! += w * (values[3 * k + n] as number);
      own[n]! += w * (level.values[3 * k + n] as number);
    }
  }
  if (total === 0) return { gain: 1, offsets: [0, 0, 0], likeness: 0 };
  let [both, seen2, own2] = [0, 0, 0];
  for (let k = 0; k < level.count; k++) {
    if (!valid[k]) continue;
    const w = weights ? (weights[k] as number) : 1;
    for (let n = 0; n < 3; n++) {
      const s = (values[3 * k + n] as number) - (seen[n] as number) / total;
      const o = (level.values[3 * k + n] as number) - (own[n] as number) / total;
      both += w * s * o;
      seen2 += w * s * s;
      own2 += w * o * o;
    }
  }
  const gain = seen2 > 0 && both > 0 ? both / seen2 : 1;
  return {
    gain,
    offsets: own.map((o, n) => (o - gain * (seen[n] as number)) / total),
    likeness: seen2 > 0 && own2 > 0 ? both / Math.sqrt(seen2 * own2) : 0,
  };
}

/** Refines a motion on one size. */
export function fit(patch: Patch, level: Sampled, copy: Copy, start: Affine, ways: readonly (readonly number[])[]): PatchFound {
  const { count } = level;
  const values = new Float32Array(3 * count);
  const valid = new Uint8Array(count);
  const weights = new Float32Array(count);
  const [halfWidth, halfHeight] = [(0.5 * patch.width) / level.factor, (0.5 * patch.height) / level.factor];
  const radius = Math.max(halfWidth, halfHeight);
  // Turns count by how far they move the rim, so that all ways are alike in size.
  const basis = new Matrix(ways.map((w) => w.map((c, k) => (k % 3 === 2 ? c : c / radius)))).transpose();
  const across = basis.transpose();
  let motion = start;
  let total = [0, 0, 0, 0, 0, 0];
  let inside = look(patch, level, copy, motion, values, valid);
  let told: ReturnType<typeof weigh> | null = null;
  for (let round = 0; round < ROUNDS && inside > 8; round++) {
    const sums = weigh(
      level,
      values,
      valid,
      weights,
      round === 0 ? plainly(level, values, valid) : compared(level, values, valid, weights),
    );
    if (sums.counted < 8) break;
    told = sums;
    // What is left of the differences, against what a patch changes from frame to frame.
    const held = Matrix.mul(CHANGES, (TOGETHER * sums.left) / (3 * sums.counted));
    const normal = across.mmul(Matrix.add(sums.normal, held)).mmul(basis);
    const right = across.mmul(Matrix.sub(sums.right, held.mmul(Matrix.columnVector(total))));
    const change = basis.mmul(solve(normal, right, true)).to1DArray();
    total = total.map((t, k) => t + (change[k] as number));
    const [p1, p2, p3, p4, p5, p6] = change as [number, number, number, number, number, number];
    // The change is one of the patch about its centre; undone there, it is made in the frame.
    const own: Affine = {
      a: 1 + p1,
      b: p2,
      c: p4,
      d: 1 + p5,
      x: patch.x - (1 + p1) * patch.x - p2 * patch.y + p3 * level.factor,
      y: patch.y - p4 * patch.x - (1 + p5) * patch.y + p6 * level.factor,
    };
    if (Math.abs(own.a * own.d - own.b * own.c) < 0.1) break;
    motion = movedTwice(motion, movedBack(own));
    inside = look(patch, level, copy, motion, values, valid);
    const moved = Math.hypot(p3, p6) + radius * Math.max(Math.hypot(p1, p4), Math.hypot(p2, p5));
    if (moved < ARRIVED) break;
  }
  const { counted } = weigh(level, values, valid, weights, compared(level, values, valid, weights));
  const { likeness } = compared(level, values, valid, weights);
  const spread = told ? level.factor * cornerSpread(told, basis, halfWidth, halfHeight) : Number.POSITIVE_INFINITY;
  return { motion, likeness, inside: inside / count, seen: counted / count, turned: ways.length > 2, spread };
}

/** What a patch changes by from one frame to the next, one deviation: its size, its turn, and its stretch along two ways. */
const USUAL_CHANGES = [
  { of: [0.5, 0, 0, 0, 0.5, 0], by: 0.02 },
  { of: [0, -0.5, 0, 0.5, 0, 0], by: 0.1 },
  { of: [0.5, 0, 0, 0, -0.5, 0], by: 0.01 },
  { of: [0, 0.5, 0, 0.5, 0, 0], by: 0.01 },
];
const CHANGES = USUAL_CHANGES.map(({ of, by }) =>
  Matrix.columnVector(of)
    .mmul(Matrix.rowVector(of))
    .div(by * by),
).reduce((a, b) => Matrix.add(a, b));

/** Products of a place's x, y and 1, and where they stand in a matrix of three. */
const PRODUCTS = [
  [0, 1, 2],
  [1, 3, 4],
  [2, 4, 5],
] as const;

/**
 * The normal equations of a small change, by places weighted (into `weights`) by how usual their difference is.
 * @returns `normal` and `right`; `bare`, what `normal` would be if every slope were 1; the weighted square of the differences that are
 * `left`; and what all places counted for
 */
function weigh(level: Sampled, values: Float32Array, valid: Uint8Array, weights: Float32Array, { gain, offsets }: Light) {
  const { count, u, v, slopes } = level;
  const [o0, o1, o2] = offsets as [number, number, number];
  const differences = new Float32Array(3 * count);
  const squares = new Float32Array(count);
  let seen = 0;
  for (let k = 0; k < count; k++) {
    if (!valid[k]) continue;
    const d0 = gain * (values[3 * k] as number) + o0 - (level.values[3 * k] as number);
    const d1 = gain * (values[3 * k + 1] as number) + o1 - (level.values[3 * k + 1] as number);
    const d2 = gain * (values[3 * k + 2] as number) + o2 - (level.values[3 * k + 2] as number);
    differences[3 * k] = d0;
    differences[3 * k + 1] = d1;
    differences[3 * k + 2] = d2;
    squares[seen++] = d0 * d0 + d1 * d1 + d2 * d2;
  }
  const usual = 1.4826 * Math.sqrt(squares.subarray(0, seen).sort()[seen >> 1] as number) + 1e-4;
  const far2 = FAR ** 2;
  const [xx, xy, yy, bare] = [new Float64Array(6), new Float64Array(6), new Float64Array(6), new Float64Array(6)];
  const right = new Float64Array(6);
  const products = new Float64Array(6);
  let left = 0;
  let counted = 0;
  for (let k = 0; k < count; k++) {
    if (!valid[k]) continue;
    const d0 = differences[3 * k] as number;
    const d1 = differences[3 * k + 1] as number;
    const d2 = differences[3 * k + 2] as number;
    const square = d0 * d0 + d1 * d1 + d2 * d2;
    const [x0, x1, x2] = [slopes[6 * k] as number, slopes[6 * k + 1] as number, slopes[6 * k + 2] as number];
    const [y0, y1, y2] = [slopes[6 * k + 3] as number, slopes[6 * k + 4] as number, slopes[6 * k + 5] as number];
    const steep = x0 * x0 + x1 * x1 + x2 * x2 + y0 * y0 + y1 * y1 + y2 * y2;
    const t = square / (far2 * (usual * usual + NEARLY * NEARLY * steep));
    const w = t < 1 ? (1 - t) ** 2 : 0;
    weights[k] = w;
    if (w === 0) continue;
    left += w * square;
    counted += w;
    const sxx = w * (x0 * x0 + x1 * x1 + x2 * x2);
    const sxy = w * (x0 * y0 + x1 * y1 + x2 * y2);
    const syy = w * (y0 * y0 + y1 * y1 + y2 * y2);
    const x = u[k] as number;
    const y = v[k] as number;
    products[0] = x * x;
    products[1] = x * y;
    products[2] = x;
    products[3] = y * y;
    products[4] = y;
    products[5] = 1;
    for (let i = 0; i < 6; i++) {
      const p = products[i] as number;
      xx[i]! += sxx * p;
      xy[i]! += sxy * p;
      yy[i]! += syy * p;
      bare[i]! += w * p;
    }
    const alongX = w * (x0 * d0 + x1 * d1 + x2 * d2);
    const alongY = w * (y0 * d0 + y1 * d1 + y2 * d2);
    right[0]! += alongX * x;
    right[1]! += alongX * y;
    right[2]! += alongX;
    right[3]! += alongY * x;
    right[4]! += alongY * y;
    right[5]! += alongY;
  }
  const none = new Float64Array(6);
  const matrix = (a: Float64Array, b: Float64Array, c: Float64Array) => {
    const row = (s: Float64Array, i: number) => (PRODUCTS[i] as readonly number[]).map((n) => s[n] as number);
    return new Matrix([0, 1, 2, 3, 4, 5].map((i) => (i < 3 ? [...row(a, i), ...row(b, i)] : [...row(b, i - 3), ...row(c, i - 3)])));
  };
  return { normal: matrix(xx, xy, yy), bare: matrix(bare, none, bare), right: Matrix.columnVector([...right]), left, counted };
}

/** Pixels that grain is alike in after the blur: 4πσ². */
const TOGETHER = 4 * Math.PI * SIGMA ** 2;
/** Square of the slopes that grain has after the blur, over the square of what is left between two such copies. */
const GRAIN_SLOPE = 0.2;

/** How far the least sure corner may be off after a change in the ways of a basis, px of the copy. */
function cornerSpread(sums: ReturnType<typeof weigh>, basis: Matrix, halfWidth: number, halfHeight: number): number {
  const across = basis.transpose();
  // Slopes of grain tell nothing: without them, what is known is less.
  const known = across.mmul(Matrix.sub(sums.normal, Matrix.mul(sums.bare, (GRAIN_SLOPE * sums.left) / sums.counted))).mmul(basis);
  const { realEigenvalues } = new EigenvalueDecomposition(known, { assumeSymmetric: true });
  if (Math.min(...realEigenvalues) <= 0) return Number.POSITIVE_INFINITY;
  const covariance = basis.mmul(pseudoInverse(known)).mmul(across);
  let most = 0;
  for (const side of [-1, 1]) {
    const place = [halfWidth, side * halfHeight, 1];
    let variance = 0;
    for (const row of [0, 3])
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++) variance += (place[i] as number) * (place[j] as number) * covariance.get(row + i, row + j);
    most = Math.max(most, variance);
  }
  return Math.sqrt((most * TOGETHER * sums.left) / (3 * sums.counted));
}
