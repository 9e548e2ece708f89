/** Weights of a disc of `diameter` px, each pixel by the share of it that lies inside (8 × 8 points). */
function discWeights(diameter: number): { radius: number; weights: Float32Array } {
  const r = diameter / 2;
  const radius = Math.ceil(r - 0.5 + 1e-9);
  const side = 2 * radius + 1;
  const weights = new Float32Array(side * side);
  let sum = 0;
  for (let y = -radius; y <= radius; y++)
    for (let x = -radius; x <= radius; x++) {
      let inside = 0;
      for (let j = 0; j < 8; j++) for (let i = 0; i < 8; i++) if (Math.hypot(x + (i - 3.5) / 8, y + (j - 3.5) / 8) <= r) inside++;
      weights[(y + radius) * side + x + radius] = inside;
      sum += inside;
    }
  return { radius, weights: weights.map((w) => w / sum) };
}

/** Defocus: blur by an even disc of `diameter` px; the frame's edge pixels repeat. Light in, light out. */
export function defocus(source: Float32Array, width: number, height: number, diameter: number): Float32Array {
  if (diameter <= 1) return source;
  const { radius, weights } = discWeights(diameter);
  const side = 2 * radius + 1;
  const out = new Float32Array(source.length);
  for (let ky = -radius; ky <= radius; ky++)
    for (let kx = -radius; kx <= radius; kx++) {
      const w = weights[(ky + radius) * side + kx + radius] as number;
      if (w === 0) continue;
      for (let y = 0; y < height; y++) {
        const row = Math.min(height - 1, Math.max(0, y + ky)) * width;
        const to = y * width;
        for (let x = 0; x < width; x++) {
          const sx = x + kx;
          out[to + x] = (out[to + x] as number) + w * (source[row + (sx < 0 ? 0 : sx >= width ? width - 1 : sx)] as number);
        }
      }
    }
  return out;
}
