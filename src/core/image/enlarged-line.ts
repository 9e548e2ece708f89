import { onPlane } from "../kernels/planes";

/**
 * How a line of half as many samples was brought to full length. `centred` samples lie between two pixels, whose first takes
 * `weights` from the samples at 0, −1, +1, −2 and the second the mirrored ones; others lie on every first pixel, and every
 * second is the sum of its neighbours at ∓½, ∓1½.
 */
export interface Enlarging {
  readonly centred: boolean;
  readonly weights: readonly number[];
}

/** Cubic convolution, by its free parameter. Source: Keys, IEEE Trans. ASSP 29 (1981), eq. 15 with a = −1/2; general a as in Mitchell & Netravali 1988 with B = 0. */
export function cubic(a: number, at: number): number {
  const x = Math.abs(at);
  if (x < 1) return (a + 2) * x ** 3 - (a + 3) * x ** 2 + 1;
  return x < 2 ? a * (x ** 3 - 5 * x ** 2 + 8 * x - 4) : 0;
}

/** Repeated, linear (the "fancy" one of JPEG decoders among them), and cubic with the three usual parameters; centred and not. */
export const ENLARGINGS: readonly Enlarging[] = [
  { centred: true, weights: [1] },
  { centred: true, weights: [0.75, 0.25] },
  { centred: false, weights: [0.5] },
  ...[-0.5, -0.6, -0.75].flatMap((a) => [
    { centred: true, weights: [0.25, 0.75, 1.25, 1.75].map((d) => cubic(a, d)) },
    { centred: false, weights: [0.5, 1.5].map((d) => cubic(a, d)) },
  ]),
];
/** Rounds in which centred samples are found: what is left of the finest detail is under 1 %. */
const ROUNDS = 4;

/** Samples of a line, with room beside both ends for what kernels reach beyond them. */
export const PAD = 2;

/** Repeats the first and last sample beside the ends. */
export function pad(samples: Float32Array, lanes = 1): void {
  const end = samples.length - PAD * lanes;
  for (let k = 0; k < PAD; k++) {
    samples.copyWithin(k * lanes, PAD * lanes, (PAD + 1) * lanes);
    samples.copyWithin(end + k * lanes, end - lanes, end);
  }
}

/**
 * The samples that a line of twice as many pixels (or one less) was enlarged from.
 * @param samples written to, padded
 * @param lanes so many lines side by side in each, the columns of a plane say
 */
export function samplesOf(line: Float32Array, samples: Float32Array, { centred, weights }: Enlarging, lanes = 1): void {
  if (!centred) {
    const end = samples.length - PAD * lanes;
    for (let k = PAD * lanes, i = 0; k < end; k += lanes, i += 2 * lanes) samples.set(line.subarray(i, i + lanes), k);
    pad(samples, lanes);
    return;
  }
  // Both pixels of a sample take mirrored weights, so their mean is a symmetric blur of the samples; it is undone by turns.
  const own = weights[0] as number;
  const near = ((weights[1] ?? 0) + (weights[2] ?? 0)) / 2 / own;
  const far = (weights[3] ?? 0) / 2 / own;
  onPlane("unblurred", line, samples, 4 * samples.length, lanes, line.length / lanes, own, near, far, near === 0 ? 0 : ROUNDS);
}

/** A line of padded samples at full length; or so many side by side. */
export function enlargedLine(samples: Float32Array, out: Float32Array, { centred, weights }: Enlarging, lanes = 1): void {
  const w0 = weights[0] as number;
  const [w1, w2, w3] = [weights[1] ?? 0, weights[2] ?? 0, weights[3] ?? 0];
  const n = out.length;
  for (let i = 0, k = PAD * lanes; i < n; i += 2 * lanes, k += lanes) {
    const paired = i + lanes < n;
    for (let l = 0; l < lanes; l++) {
      const at = k + l;
      const b = samples[at - lanes] as number;
      const c = samples[at] as number;
      const d = samples[at + lanes] as number;
      if (centred) {
        out[i + l] = w0 * c + w1 * b + w2 * d + w3 * (samples[at - 2 * lanes] as number);
        if (paired) out[i + lanes + l] = w0 * c + w1 * d + w2 * b + w3 * (samples[at + 2 * lanes] as number);
      } else {
        out[i + l] = c;
        if (paired) out[i + lanes + l] = w0 * (c + d) + w1 * (b + (samples[at + 2 * lanes] as number));
      }
    }
  }
}
