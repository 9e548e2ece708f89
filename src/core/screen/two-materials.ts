import { boxMean } from "../image/box";
import type { Picture } from "../image/plane";
import { valuesWhere } from "../image/rank";
import { principalAxis } from "../measure/principal-axis";

const CHANNELS = ["r", "g", "b"] as const;
/** Least part of the certain screen that each of two materials has. */
const LEAST = 0.02;
/** How far their colours lie apart, as shares of a pixel's light: lamps tint one material by less. */
const APART = 0.025;
/** Most of the screen that lies in the middle third between both: one material in uneven light has many of every colour between its extremes. */
const BETWEEN = 0.02;
/** Share of the top border, or of either side, along which a material must meet the frame's border: a wall, or a floor. Cloth on a subject does not. */
const AT_BORDER = 0.04;
/** Depth at which borders are looked at, reduced px. */
const INSET = 3;
/**
 * How far to either side of a seam each material is seen as it is, reduced px; the part of all changes from one to the other that must be so sharp,
 * and how many; and how far off a straight line they may lie. Smoke is paler than the screen behind it too, and ends neither straight nor sharply.
 */
const BESIDE_SEAM = 3;
const SHARP = 0.8;
const SEAM_LEAST = 10;
const STRAIGHT = 2;
/** Values of colour that are told apart, in how many deviations to either side; and rounds of the search for the two middles. */
const BINS = 128;
const REACH = 4;
const ROUNDS = 12;

/**
 * Whether a screen is of two materials side by side, a roll of paper beside a painted wall or floor say: their colours, light set aside, make two
 * heaps with next to nothing between, they meet sharply along a straight line, and each meets the frame's top or both of its sides.
 * Source: the two heaps by k-means, S. P. Lloyd, "Least Squares Quantization in PCM", IEEE Trans. Inf. Theory 28 (1982), along the principal axis.
 * @param hue 1 where the plate has the screen's hue @param shown 1 where that is smooth
 * @returns 1 where its colour is nearer to the second material's than to the first's, 0 elsewhere; null when it is one
 */
export function tellMaterials(small: Picture, hue: Uint8Array, shown: Uint8Array): Uint8Array | null {
  const n = shown.length;
  const [u, v] = [new Float32Array(n), new Float32Array(n)];
  // Grain averages out.
  const [r, g, b] = CHANNELS.map((c) => boxMean(small[c], small.width, small.height, 1)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const light = Math.max(1e-5, (r[i] as number) + (g[i] as number) + (b[i] as number));
    u[i] = (r[i] as number) / light;
    v[i] = (b[i] as number) / light;
  }
  const axis = principalAxis(valuesWhere(u, shown), valuesWhere(v, shown));
  const along = (i: number) => ((u[i] as number) - axis.x) * axis.dx + ((v[i] as number) - axis.y) * axis.dy;
  const reach = REACH * axis.along;
  if (!(reach > 0)) return null;
  const count = shown.reduce((sum, s) => sum + s, 0);
  const bins = new Float64Array(BINS);
  const middleOfBin = (bin: number) => ((2 * (bin + 0.5)) / BINS - 1) * reach;
  for (let i = 0; i < n; i++) if (shown[i]) bins[Math.min(BINS - 1, Math.max(0, Math.floor(((along(i) / reach + 1) / 2) * BINS)))]!++;
  let [low, high] = [-axis.along, axis.along];
  let share = 0;
  for (let round = 0; round < ROUNDS; round++) {
    let [below, above, sumBelow, sumAbove] = [0, 0, 0, 0];
    bins.forEach((c, bin) => {
      const value = middleOfBin(bin);
      if (2 * value < low + high) {
        below += c;
        sumBelow += c * value;
      } else {
        above += c;
        sumAbove += c * value;
      }
    });
    if (below === 0 || above === 0) return null;
    low = sumBelow / below;
    high = sumAbove / above;
    share = Math.min(below, above) / count;
  }
  const third = (high - low) / 3;
  const between = bins.reduce((sum, c, bin) => (middleOfBin(bin) > low + third && middleOfBin(bin) < high - third ? sum + c : sum), 0);
  if (share < LEAST || high - low < APART || between > BETWEEN * count) return null;
  const second = new Uint8Array(n);
  for (let i = 0; i < n; i++) if (2 * along(i) > low + high) second[i] = 1;
  const isPure = (i: number) => (second[i] ? along(i) > high - third : along(i) < low + third);
  const isSeam = meetSharply(small, hue, shown, second, isPure);
  return isSeam && [0, 1].every((k) => meetsBorders(small, (i) => shown[i] === 1 && second[i] === k)) ? second : null;
}

/** Whether two materials meet along a straight line, and sharply. @param isPure whether a pixel is as one of them is, and no mixture */
function meetSharply(
  { width, height }: Picture,
  hue: Uint8Array,
  shown: Uint8Array,
  second: Uint8Array,
  isPure: (i: number) => boolean,
): boolean {
  const [xs, ys]: [number[], number[]] = [[], []];
  let changes = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const [dx, dy] of [
        [1, 0],
        [0, 1],
      ] as const) {
        if (x + dx >= width || y + dy >= height) continue;
        const [i, step] = [y * width + x, dy * width + dx];
        if (!hue[i] || !hue[i + step] || second[i] === second[i + step]) continue;
        const far = BESIDE_SEAM + 1;
        if (x - far * dx < 0 || y - far * dy < 0 || x + far * dx >= width || y + far * dy >= height) continue;
        const [before, after] = [i - BESIDE_SEAM * step, i + far * step];
        // Between strands nothing is told.
        if (!shown[before] || !shown[after]) continue;
        changes++;
        if (second[before] !== second[i] || second[after] === second[i] || !isPure(before) || !isPure(after)) continue;
        xs.push(x + dx / 2);
        ys.push(y + dy / 2);
      }
  if (xs.length < SEAM_LEAST || xs.length < SHARP * changes) return false;
  return principalAxis(xs, ys).across <= STRAIGHT;
}

/** Whether a material meets the frame's top, or both of its sides. */
function meetsBorders({ width, height }: Picture, is: (i: number) => boolean): boolean {
  let [top, left, right] = [0, 0, 0];
  for (let x = 0; x < width; x++) top += Number(is(INSET * width + x));
  for (let y = 0; y < height; y++) {
    left += Number(is(y * width + INSET));
    right += Number(is(y * width + width - 1 - INSET));
  }
  return top > AT_BORDER * width || Math.min(left, right) > AT_BORDER * height;
}
