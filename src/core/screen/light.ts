import { gaussianBlur } from "../image/blur";
import { lumaOf } from "../image/luma";
import type { Picture, Plane, Size } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import { factorTo, shrinkPicture } from "../image/resample";
import { leastSquares } from "../measure/least-squares";
import { screenMask } from "./find";
import { blockNoise } from "./noise";
import type { Primary } from "./primary";

/** Screen light on a grid of cells, in stops (log2 of luminance); cells that are not all screen do not count. */
export interface LightGrid {
  readonly width: number;
  readonly height: number;
  /** Side of a cell, px. */
  readonly cell: number;
  readonly stops: Float32Array;
  /** 1 where a cell is all screen. */
  readonly whole: Uint8Array;
  /** Variance that grain alone leaves in a cell's stops. */
  readonly grain: number;
}

/** A place on the screen that is lighter (or darker) than its surroundings. */
export interface LightSpot {
  /** Centre, px of the frame. */
  readonly x: number;
  readonly y: number;
  /** Against the screen's even gradient, in stops. */
  readonly stops: number;
}

export interface ScreenLight {
  /** Standard deviation, in stops. */
  readonly deviation: number;
  /** log2 of the 95th over the 5th percentile, in stops. */
  readonly spread: number;
  /** Even change of light from side to side of the frame along `angle` (degrees as the picture stands; 0 to the right, 90 downwards), in stops. */
  readonly gradient: { readonly stops: number; readonly angle: number };
  readonly hotSpots: readonly LightSpot[];
  readonly darkSpots: readonly LightSpot[];
  /** Root mean square of creases finer than a tenth of the frame's width, in stops. */
  readonly wrinkles: number;
}

/** Cells across the frame. */
const ACROSS = 160;
/** Longer side of the copy on which what is large is measured, px. */
const OVERVIEW = 640;
/** Deviation from the gradient that makes a spot, in stops. */
const SPOT = 0.3;

export function lightGrid(luma: Plane, mask: Uint8Array): LightGrid {
  const cell = Math.max(1, Math.round(luma.width / ACROSS));
  const width = Math.floor(luma.width / cell);
  const height = Math.floor(luma.height / cell);
  const noise = blockNoise(luma.data, mask, luma.width, luma.height);
  const stops = new Float32Array(width * height);
  const whole = new Uint8Array(width * height);
  let grain = 0;
  let count = 0;
  for (let cy = 0; cy < height; cy++)
    for (let cx = 0; cx < width; cx++) {
      let sum = 0;
      let all = true;
      for (let y = cy * cell; y < (cy + 1) * cell && all; y++)
        for (let x = cx * cell; x < (cx + 1) * cell; x++) {
          const i = y * luma.width + x;
          if (!mask[i]) {
            all = false;
            break;
          }
          sum += luma.data[i] as number;
        }
      if (!all || sum <= 0) continue;
      const n = cell * cell;
      const mean = sum / n;
      const c = cy * width + cx;
      whole[c] = 1;
      stops[c] = Math.log2(mean);
      grain += (noise * noise) / (n * (mean * Math.LN2) ** 2);
      count++;
    }
  return { width, height, cell, stops, whole, grain: count ? grain / count : 0 };
}

/** Mean of the whole cells around each cell, by a Gaussian of σ cells. */
function smoothWhole(values: Float32Array, grid: LightGrid, sigma: number): Float32Array {
  const { width, height, whole } = grid;
  const weighted = gaussianBlur(
    values.map((v, i) => (whole[i] ? v : 0)),
    width,
    height,
    sigma,
  );
  const weight = gaussianBlur(new Float32Array(whole), width, height, sigma);
  return weighted.map((v, i) => ((weight[i] as number) > 1e-3 ? v / (weight[i] as number) : 0));
}

/**
 * Even gradient of the stops: c + a·u + b·v, u and v from −1/2 to 1/2 across the frame; spots and shadows are set aside.
 * Source: least absolute deviations, then Tukey's biweight, both iteratively reweighted (Holland & Welsch, Comm. Statist. A6, 1977).
 */
function fitPlane(grid: LightGrid): { c: number; a: number; b: number; residual: Float32Array } {
  const { width, height, stops, whole } = grid;
  const residual = new Float32Array(stops.length);
  const weights = new Float32Array(whole);
  let [c, a, b] = [0, 0, 0];
  for (let round = 0; round < 14; round++) {
    const termsAt = (i: number, out: Float64Array): number => {
      out[0] = 1;
      out[1] = ((i % width) + 0.5) / width - 0.5;
      out[2] = (Math.floor(i / width) + 0.5) / height - 0.5;
      return weights[i] as number;
    };
    [c, a, b] = leastSquares(3, stops.length, termsAt, stops) as [number, number, number];
    const sizes = new Float32Array(stops.length);
    let n = 0;
    for (let i = 0; i < stops.length; i++) {
      if (!whole[i]) continue;
      const u = ((i % width) + 0.5) / width - 0.5;
      const t = (Math.floor(i / width) + 0.5) / height - 0.5;
      residual[i] = (stops[i] as number) - (c + a * u + b * t);
      sizes[n++] = Math.abs(residual[i] as number);
    }
    if (n === 0) break;
    const bound = Math.max(1e-4, 3 * 1.4826 * middleOf(sizes.subarray(0, n), 0));
    for (let i = 0; i < stops.length; i++) {
      const r = Math.abs(residual[i] as number);
      // Least absolute deviations first, so that a large shadow does not tilt the start; then the biweight.
      if (round < 8) weights[i] = whole[i] ? 1 / Math.max(0.005, r) : 0;
      else weights[i] = whole[i] && r < bound ? (1 - (r / bound) ** 2) ** 2 : 0;
    }
  }
  return { c, a, b, residual };
}

/** Peaks of the smoothed residual, largest first, each at least an eighth of the frame's width from a larger one. */
function spots(grid: LightGrid, residual: Float32Array, sign: 1 | -1): LightSpot[] {
  const { width, height, whole, cell } = grid;
  const smooth = smoothWhole(residual, grid, width / 48);
  const order: number[] = [];
  for (let i = 0; i < smooth.length; i++) if (whole[i] && sign * (smooth[i] as number) > SPOT) order.push(i);
  order.sort((p, q) => sign * ((smooth[q] as number) - (smooth[p] as number)));
  const found: { cx: number; cy: number; stops: number }[] = [];
  for (const i of order) {
    const cx = i % width;
    const cy = (i - cx) / width;
    if (found.some((s) => Math.hypot(s.cx - cx, s.cy - cy) < width / 8)) continue;
    const near: number[] = [];
    for (let y = Math.max(0, cy - 2); y <= Math.min(height - 1, cy + 2); y++)
      for (let x = Math.max(0, cx - 2); x <= Math.min(width - 1, cx + 2); x++)
        if (whole[y * width + x]) near.push(residual[y * width + x] as number);
    near.sort((p, q) => p - q);
    found.push({ cx, cy, stops: near[near.length >> 1] as number });
    if (found.length === 4) break;
  }
  return found.map((s) => ({ x: (s.cx + 0.5) * cell, y: (s.cy + 0.5) * cell, stops: s.stops }));
}

/** Measures the light of the screen where `mask` is 1. @param luma luminance, linear @returns zeros when no cell is all screen */
export function measureLight(luma: Plane, mask: Uint8Array): ScreenLight {
  const grid = lightGrid(luma, mask);
  const { stops, whole } = grid;
  const sorted = stops.filter((_, i) => whole[i]).sort();
  const n = sorted.length;
  if (n < 8) return { deviation: 0, spread: 0, gradient: { stops: 0, angle: 0 }, hotSpots: [], darkSpots: [], wrinkles: 0 };
  const mean = sorted.reduce((s, v) => s + v, 0) / n;
  const deviation = Math.sqrt(Math.max(0, sorted.reduce((s, v) => s + (v - mean) ** 2, 0) / n - grid.grain));
  const at = (q: number) => sorted[Math.round(q * (n - 1))] as number;
  const { a, b, residual } = fitPlane(grid);
  const local = smoothWhole(residual, grid, grid.width / 12);
  let square = 0;
  for (let i = 0; i < residual.length; i++) if (whole[i]) square += ((residual[i] as number) - (local[i] as number)) ** 2;
  return {
    deviation,
    spread: at(0.95) - at(0.05),
    gradient: { stops: Math.abs(a) + Math.abs(b), angle: (Math.atan2(b / grid.height, a / grid.width) * 180) / Math.PI },
    hotSpots: spots(grid, residual, 1),
    darkSpots: spots(grid, residual, -1),
    wrinkles: Math.sqrt(Math.max(0, square / n - grid.grain)),
  };
}

/** By how much a frame is reduced for what is large to be measured. */
export const overviewFactor = (plate: Size): number => factorTo(OVERVIEW, plate);

/**
 * Evenness of a frame's screen as the plate report tells it, in stops.
 * @param plate scene-linear
 */
export function screenEvenness(plate: Picture, primary: Primary): number {
  const small = shrinkPicture(plate, overviewFactor(plate));
  return measureLight(lumaOf(small), screenMask(small, primary).mask).deviation;
}

/** Luminance of a screen, as a share of its primary, that before blue too is dark what is dark before green: of blue light luminance has a third as much. */
const LUMINANCE = 0.75;

/**
 * The light by which what lies beside a screen is dark or not: its median luminance, or what a green one in as much light has.
 * @param luma luminance of the plate, linear @param main its channel of the screen's primary @param screen 1 where it is screen
 * @returns as linear light; 0 where there is no screen
 */
export function screenLightOf(luma: Float32Array, main: Float32Array, screen: Uint8Array): number {
  return Math.max(middleOf(valuesWhere(luma, screen), 0), LUMINANCE * middleOf(valuesWhere(main, screen), 0));
}
