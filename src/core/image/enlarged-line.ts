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
function cubic(a: number, at: number): number {
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
export function pad(samples: Float32Array): void {
  const last = samples.length - PAD - 1;
  samples.fill(samples[PAD] as number, 0, PAD);
  samples.fill(samples[last] as number, last + 1);
}

/** The samples that a line of twice as many pixels (or one less) was enlarged from. `samples` is padded; `sums` is room of its size. */
export function samplesOf(line: Float32Array, samples: Float32Array, sums: Float32Array, { centred, weights: w }: Enlarging): void {
  const half = samples.length - 2 * PAD;
  const last = line.length - 1;
  if (centred) {
    // Both pixels of a sample take mirrored weights, so their mean is a symmetric blur of the samples; it is undone by turns.
    for (let k = 0, i = 0; k < half; k++, i += 2)
      sums[k + PAD] = samples[k + PAD] = ((line[i] as number) + (line[i < last ? i + 1 : last] as number)) / 2;
    const own = w[0] as number;
    const near = ((w[1] ?? 0) + (w[2] ?? 0)) / 2 / own;
    const far = (w[3] ?? 0) / 2 / own;
    for (let round = 0; near !== 0 && round < ROUNDS; round++) {
      pad(samples);
      // In place: each sample from what its neighbours are by then (Gauss–Seidel).
      for (let k = PAD; k < half + PAD; k++)
        samples[k] =
          (sums[k] as number) / own -
          near * ((samples[k - 1] as number) + (samples[k + 1] as number)) -
          far * ((samples[k - 2] as number) + (samples[k + 2] as number));
    }
  } else for (let k = 0; k < half; k++) samples[k + PAD] = line[2 * k] as number;
  pad(samples);
}

/** A line of padded samples at full length. */
export function enlargedLine(samples: Float32Array, out: Float32Array, { centred, weights }: Enlarging): void {
  const w0 = weights[0] as number;
  const [w1, w2, w3] = [weights[1] ?? 0, weights[2] ?? 0, weights[3] ?? 0];
  const n = out.length;
  for (let i = 0, k = PAD; i < n; i += 2, k++) {
    const [b, c, d] = [samples[k - 1] as number, samples[k] as number, samples[k + 1] as number];
    if (centred) {
      out[i] = w0 * c + w1 * b + w2 * d + w3 * (samples[k - 2] as number);
      if (i + 1 < n) out[i + 1] = w0 * c + w1 * d + w2 * b + w3 * (samples[k + 2] as number);
    } else {
      out[i] = c;
      if (i + 1 < n) out[i + 1] = w0 * (c + d) + w1 * (b + (samples[k + 2] as number));
    }
  }
}
