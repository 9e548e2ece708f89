/** Normalised Gaussian weights out to 3σ (σ in pixels); one weight of 1 for σ = 0. */
export function gaussianWeights(sigma: number): Float32Array {
  if (sigma <= 0) return Float32Array.of(1);
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const w = Float32Array.from({ length: 2 * radius + 1 }, (_, i) => Math.exp(-((i - radius) ** 2) / (2 * sigma * sigma)));
  const sum = w.reduce((a, b) => a + b, 0);
  return w.map((v) => v / sum);
}

/** Separable Gaussian blur that repeats the frame's edge pixels. @param sigma in pixels, 0 copies */
export function gaussianBlur(source: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const weights = gaussianWeights(sigma);
  const radius = (weights.length - 1) / 2;
  if (radius === 0) return source.slice();
  const across = new Float32Array(source.length);
  const line = new Float32Array(width + 2 * radius);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    line.set(source.subarray(row, row + width), radius);
    line.fill(source[row] as number, 0, radius);
    line.fill(source[row + width - 1] as number, radius + width);
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = 0; k < weights.length; k++) sum += (line[x + k] as number) * (weights[k] as number);
      across[row + x] = sum;
    }
  }
  const out = new Float32Array(source.length);
  for (let y = 0; y < height; y++) {
    const to = y * width;
    for (let k = 0; k < weights.length; k++) {
      const from = Math.min(height - 1, Math.max(0, y + k - radius)) * width;
      const w = weights[k] as number;
      for (let x = 0; x < width; x++) out[to + x] = (out[to + x] as number) + w * (across[from + x] as number);
    }
  }
  return out;
}
