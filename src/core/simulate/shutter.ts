/** Moves a channel by whole and part pixels, bilinear; the frame's edge pixels repeat. */
export function translate(source: Float32Array, width: number, height: number, dx: number, dy: number): Float32Array {
  if (dx === 0 && dy === 0) return source;
  const out = new Float32Array(source.length);
  const [ix, iy] = [Math.floor(-dx), Math.floor(-dy)];
  const [fx, fy] = [-dx - ix, -dy - iy];
  for (let y = 0; y < height; y++) {
    const top = Math.min(height - 1, Math.max(0, y + iy)) * width;
    const bottom = Math.min(height - 1, Math.max(0, y + iy + 1)) * width;
    for (let x = 0; x < width; x++) {
      const a = Math.min(width - 1, Math.max(0, x + ix));
      const b = Math.min(width - 1, Math.max(0, x + ix + 1));
      out[y * width + x] =
        (1 - fy) * ((1 - fx) * (source[top + a] as number) + fx * (source[top + b] as number)) +
        fy * ((1 - fx) * (source[bottom + a] as number) + fx * (source[bottom + b] as number));
    }
  }
  return out;
}

/**
 * Motion blur: the mean of the channel over the part of the frame time that the shutter is open.
 * @param dx, dy movement in px while it is open; `phase` px is added to all of it (the second field of an interlaced frame)
 */
export function expose(source: Float32Array, width: number, height: number, dx: number, dy: number, phaseX = 0, phaseY = 0): Float32Array {
  const steps = Math.max(1, Math.ceil(2 * Math.max(Math.abs(dx), Math.abs(dy))));
  if (steps === 1) return translate(source, width, height, phaseX, phaseY);
  const out = new Float32Array(source.length);
  for (let s = 0; s < steps; s++) {
    const t = (s + 0.5) / steps - 0.5;
    const moved = translate(source, width, height, phaseX + t * dx, phaseY + t * dy);
    for (let i = 0; i < out.length; i++) out[i] = (out[i] as number) + (moved[i] as number) / steps;
  }
  return out;
}
