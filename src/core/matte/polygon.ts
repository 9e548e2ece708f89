import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import { cropChannel, type Plane } from "../image/plane";
import { wideBlur } from "../image/wide-blur";
import { pointwise } from "../kernels/pointwise";

/** A corner, in pixels of the full frame; pixel (0, 0) covers 0…1 on both axes. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

const SUBROWS = 16;

/**
 * Area coverage (0…1) of a closed polygon by the non-zero rule.
 * Exact across each of 16 sub-rows a pixel; corners may lie outside the frame.
 */
export function rasterisePolygon(points: readonly Point[], width: number, height: number): Plane {
  const data = new Float32Array(width * height);
  if (points.length >= 3) {
    const partial = new Float32Array(width + 1);
    const steps = new Int32Array(width + 1);
    for (let y = 0; y < height; y++) {
      partial.fill(0);
      steps.fill(0);
      let any = false;
      for (let s = 0; s < SUBROWS; s++) any = addSubrow(points, y + (s + 0.5) / SUBROWS, partial, steps, width) || any;
      if (!any) continue;
      let whole = 0;
      for (let x = 0; x < width; x++) {
        whole += steps[x] as number;
        data[y * width + x] = Math.min(1, (whole + (partial[x] as number)) / SUBROWS);
      }
    }
  }
  return { width, height, data };
}

/**
 * Adds the spans of one horizontal line: exact cover of the pixels at both ends to `partial`, and where whole pixels begin and end
 * to `steps`.
 */
function addSubrow(points: readonly Point[], y: number, partial: Float32Array, steps: Int32Array, width: number): boolean {
  const crossings: { x: number; winding: number }[] = [];
  for (let i = 0; i < points.length; i++) {
    const a = points[i] as Point;
    const b = points[(i + 1) % points.length] as Point;
    if (a.y <= y === b.y <= y) continue;
    crossings.push({ x: a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x), winding: a.y < b.y ? 1 : -1 });
  }
  if (crossings.length < 2) return false;
  crossings.sort((p, q) => p.x - q.x);
  let winding = 0;
  for (let k = 0; k + 1 < crossings.length; k++) {
    winding += (crossings[k] as { winding: number }).winding;
    if (winding === 0) continue;
    const x0 = Math.max(0, (crossings[k] as { x: number }).x);
    const x1 = Math.min(width, (crossings[k + 1] as { x: number }).x);
    if (x1 <= x0) continue;
    const first = Math.floor(x0);
    const last = Math.min(width - 1, Math.floor(x1));
    if (first === last) partial[first] = (partial[first] as number) + (x1 - x0);
    else {
      partial[first] = (partial[first] as number) + (first + 1 - x0);
      steps[first + 1] = (steps[first + 1] as number) + 1;
      steps[last] = (steps[last] as number) - 1;
      partial[last] = (partial[last] as number) + (x1 - last);
    }
  }
  return true;
}

/** Straight pieces that a smooth side is drawn with, at most this far from the true curve, px. */
const FLAT = 0.02;

/**
 * A smooth closed curve through all points, as a polygon: uniform Catmull–Rom. Source: Catmull & Rom, "A Class of Local
 * Interpolating Splines" (1974). Pieces are short enough to lie within 1/50 px of the curve.
 */
export function smoothOutline(points: readonly Point[]): Point[] {
  const n = points.length;
  if (n < 3) return [...points];
  const out: Point[] = [];
  for (let k = 0; k < n; k++) {
    const [a, b, c, d] = [-1, 0, 1, 2].map((o) => points[(k + o + n) % n] as Point) as [Point, Point, Point, Point];
    // The chord's error is at most an eighth of the second derivative over the pieces squared.
    const bend = (p: "x" | "y") =>
      Math.max(Math.abs(2 * a[p] - 5 * b[p] + 4 * c[p] - d[p]), Math.abs(-a[p] + 4 * b[p] - 5 * c[p] + 2 * d[p]));
    const pieces = Math.min(400, Math.max(1, Math.ceil(Math.sqrt(Math.hypot(bend("x"), bend("y")) / (8 * FLAT)))));
    for (let s = 0; s < pieces; s++) {
      const t = s / pieces;
      const at = (p: "x" | "y") =>
        0.5 *
        (2 * b[p] + (c[p] - a[p]) * t + (2 * a[p] - 5 * b[p] + 4 * c[p] - d[p]) * t * t + (3 * b[p] - a[p] - 3 * c[p] + d[p]) * t * t * t);
      out.push({ x: at("x"), y: at("y") });
    }
  }
  return out;
}

/** A drawn shape of the Bounds step; lengths in pixels of the full frame. */
export interface DrawnShape {
  readonly points: readonly Point[];
  /** A smooth curve through the points instead of straight sides. */
  readonly smooth: boolean;
  /** A garbage shape throws away one side of its outline; a holdout holds one in. */
  readonly kind: "garbage" | "holdout";
  /** The side that is thrown away or held. */
  readonly out: "outside" | "inside";
  /** Width of the soft edge, in pixels: the matte goes from 0.5 % to 99.5 % over it. */
  readonly soft: number;
  /** Which side of the outline the soft edge falls on: −1 all inside, 0 half and half, 1 all outside. */
  readonly lean?: number;
}

/** A Gaussian edge rises from 0.5 % to 99.5 % over this many σ. */
const EDGE_SIGMAS = 5.152;

/**
 * What drawn shapes of one kind hold or throw away: 1 there, joined over all of them, for a frame at `scale` of the full
 * size. The soft edge repeats the frame's edge pixels, so that a shape over the border leaves the border solid.
 */
export function shapesMatte(shapes: readonly DrawnShape[], width: number, height: number, scale: number): Plane {
  const data = new Float32Array(width * height);
  for (const shape of shapes) {
    if (shape.points.length < 3) continue;
    const outline = shape.smooth ? smoothOutline(shape.points) : shape.points;
    const points = outline.map((p) => ({ x: p.x * scale, y: p.y * scale }));
    const hard = rasterisePolygon(points, width, height).data;
    const leaning = leanOutline(hard, width, height, 0.5 * shape.soft * scale * (shape.lean ?? 0));
    const soft = softOutline(leaning, width, height, (shape.soft * scale) / EDGE_SIGMAS);
    // Levels from 1 down to 0 turn inside out.
    if (shape.out === "outside") pointwise("levels", [1, -1, 1, -1], [soft], [soft]);
    pointwise("bounded", [], [data, soft, 0], [data]);
  }
  return { width, height, data };
}

/** The mask with its outline moved outwards by `by` px, or inwards; the frame's border counts as no outline. */
function leanOutline(hard: Float32Array, width: number, height: number, by: number): Float32Array {
  if (Math.abs(by) < 0.05) return hard;
  const side = by > 0 ? 1 : 0;
  const distance = distanceTo(
    maskOf(hard, (v) => v >= 0.5 === by > 0),
    width,
    height,
  );
  // The outline runs half a pixel from the centre of the nearest pixel on its side.
  return distance.map((d) => {
    const reached = Math.min(1, Math.max(0, Math.abs(by) + 1 - d));
    return side ? reached : 1 - reached;
  });
}

/** Blurs only near the outline: where every pixel within 3 σ is the same, the blur changes nothing. */
function softOutline(hard: Float32Array, width: number, height: number, sigma: number): Float32Array {
  if (sigma <= 0) return hard;
  // A band of rows at a time, cut to the columns in which something changes.
  const reach = Math.ceil(3 * sigma) + 1;
  const out = hard.slice();
  const tall = Math.max(32, 2 * reach);
  for (let top = 0; top < height; top += tall) {
    const [y0, y1] = [Math.max(0, top - reach), Math.min(height, top + tall + reach)];
    for (const [from, to] of changes(hard, width, y0, y1, reach)) {
      const [x0, x1] = [Math.max(0, from - reach), Math.min(width, to + reach)];
      const part = cropChannel(hard, width, { x: x0, y: y0, width: x1 - x0, height: y1 - y0 });
      const blurred = wideBlur(part, x1 - x0, y1 - y0, sigma);
      for (let y = top; y < Math.min(height, top + tall); y++)
        out.set(blurred.subarray((y - y0) * (x1 - x0) + from - x0, (y - y0) * (x1 - x0) + to - x0), y * width + from);
    }
  }
  return out;
}

/** Runs of columns of a band within `reach` of a change of value, from and to; runs that are near each other join. */
function changes(mask: Float32Array, width: number, y0: number, y1: number, reach: number): [number, number][] {
  const changed = new Uint8Array(width);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if ((x > 0 && mask[i] !== mask[i - 1]) || (y > y0 && mask[i] !== mask[i - width])) changed[x] = 1;
    }
  const runs: [number, number][] = [];
  for (let x = 0; x < width; x++) {
    if (!changed[x]) continue;
    const [from, to] = [Math.max(0, x - reach), Math.min(width, x + reach + 1)];
    const last = runs[runs.length - 1];
    if (last && from <= last[1]) last[1] = to;
    else runs.push([from, to]);
  }
  return runs;
}
