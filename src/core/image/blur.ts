import { onPlane } from "../kernels/planes";

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
  const room = new Float32Array(weights.length + width + 2 * radius + 16);
  room.set(weights);
  return onPlane("weightedBlur", source, new Float32Array(source.length), room, width, height, radius);
}
