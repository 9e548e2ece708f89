import { Matrix, solve } from "ml-matrix";
import { fillIn } from "../image/fill-in";

/** Terms of the surface: 1, x, y, x², xy, y². */
const TERMS = 6;
/** Part of the spread of the screen's light, in squared stops, that a fall-off must account for: folds, hot spots and shadows are none. */
const ACCOUNTS = 0.9;
/** How far beyond the light that was seen the fall-off may lead, as a share of what was seen. */
const BEYOND = 0.25;
/** Fits, each without what the one before was farther off from than so many deviations. */
const ROUNDS = 3;
const OFF = 2.5;
/** Every so many pixels across and down tell it. */
const STRIDE = 3;
/** Fewest places that tell a surface, and least light of one, linear. */
const FEWEST = 60;
const LEAST = 1e-4;

function termsAt(i: number, width: number, height: number, out: Float64Array): Float64Array {
  const x = (2 * (i % width)) / width - 1;
  const y = (2 * Math.floor(i / width)) / height - 1;
  out[0] = 1;
  out[1] = x;
  out[2] = y;
  out[3] = x * x;
  out[4] = x * y;
  out[5] = y * y;
  return out;
}

function surfaceAt(coefficients: readonly number[], terms: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < TERMS; k++) sum += (coefficients[k] as number) * (terms[k] as number);
  return sum;
}

/** Coefficients of the surface that fits these places best, by least squares. */
function fitSurface(places: readonly Float64Array[], stops: readonly number[]): number[] {
  const normal = Matrix.zeros(TERMS, TERMS);
  const right = Matrix.zeros(TERMS, 1);
  places.forEach((terms, p) => {
    for (let i = 0; i < TERMS; i++) {
      for (let j = 0; j < TERMS; j++) normal.set(i, j, normal.get(i, j) + (terms[i] as number) * (terms[j] as number));
      right.set(i, 0, right.get(i, 0) + (terms[i] as number) * (stops[p] as number));
    }
  });
  // By singular values: a screen that shows in a strip tells only some of the terms, and the others stay small.
  return solve(normal, right, true).to1DArray();
}

const variance = (values: readonly number[]): number => {
  const mean = values.reduce((s, v) => s + v, 0) / values.length;
  return values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length;
};

/**
 * How a screen's light falls off over the frame: a surface of the second degree in stops, fitted to what is seen of the screen but for what
 * is off it (hot spots, shadows), and led on over what is hidden.
 * @param light linear, where the screen is seen
 * @param seen 1 there
 * @returns the light at every pixel against its middle, 1 for as much; null where the screen's light is no such surface
 */
export function fallOff(light: Float32Array, seen: Float32Array, width: number, height: number): Float32Array | null {
  let places: Float64Array[] = [];
  let stops: number[] = [];
  for (let y = 1; y < height; y += STRIDE)
    for (let x = 1; x < width; x += STRIDE) {
      const i = y * width + x;
      if (!seen[i] || (light[i] as number) < LEAST) continue;
      places.push(termsAt(i, width, height, new Float64Array(TERMS)));
      stops.push(Math.log2(light[i] as number));
    }
  let surface: number[] = [];
  let left: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    if (places.length < FEWEST) return null;
    const fit = fitSurface(places, stops);
    const off = places.map((terms, p) => (stops[p] as number) - surfaceAt(fit, terms));
    const most = OFF * Math.sqrt(variance(off));
    surface = fit;
    const near = (_: unknown, p: number) => Math.abs(off[p] as number) <= most;
    left = off.filter(near);
    places = places.filter(near);
    stops = stops.filter(near);
  }
  if (variance(left) > (1 - ACCOUNTS) * variance(stops)) return null;
  const fitted = places.map((terms) => surfaceAt(surface, terms));
  const least = fitted.reduce((a, b) => Math.min(a, b));
  const most = fitted.reduce((a, b) => Math.max(a, b));
  const room = BEYOND * (most - least);
  const terms = new Float64Array(TERMS);
  return light.map((_, i) => {
    const value = surfaceAt(surface, termsAt(i, width, height, terms));
    return 2 ** (Math.min(most + room, Math.max(least - room, value)) - (least + most) / 2);
  });
}

/**
 * Fills in the screen where it is not seen: its light falls off beneath the subject as it does around it, and what is left of folds and
 * colour goes on smoothly from around.
 * @param channels linear, of one size; filled in place
 * @param seen 1 where they hold the screen
 */
export function fillScreen(channels: readonly Float32Array[], seen: Float32Array, width: number, height: number): void {
  const light = Float32Array.from(seen, (_, i) => channels.reduce((sum, c) => sum + (c[i] as number), 0));
  const falls = fallOff(light, seen, width, height);
  if (falls) for (const c of channels) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) / (falls[i] as number);
  fillIn(channels, seen, width, height);
  if (falls) for (const c of channels) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) * (falls[i] as number);
}
