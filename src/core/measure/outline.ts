import { contours } from "d3-contour";
import simplify from "simplify-js";
import { boxesOf } from "../image/components";
import type { Region, Size } from "../image/plane";
import type { Point } from "../matte/polygon";

/** How far the outline with fewer corners may lie from the one along every pixel, px of the copy; it grows until there are no more corners than these. */
const APART = 1;
const CORNERS = 48;

/**
 * The outer outline of an area of a matte, px of the full frame, for a holdout: carried over what may be held beside it, so that its soft edge falls
 * where it changes nothing.
 * @param inside whether a pixel is of the area
 * @param around what holds the area, px of the matte
 * @param over whether a pixel beside it may be held, and how far such pixels lie at most, px of the matte
 * @param factor size of the full frame over the matte's
 * @returns no corners for an area that is empty
 * Source: marching squares (d3-contour); corners by Douglas & Peucker (1973), "Algorithms for the reduction of the number of points required to
 * represent a digitized line or its caricature", Cartographica 10 (simplify-js).
 */
export function outlineAround(
  inside: (i: number) => boolean,
  around: Region,
  { width, height }: Size,
  over: { readonly may: (i: number) => boolean; readonly within: number },
  factor: number,
): Point[] {
  const reach = Math.ceil(over.within);
  const [x0, y0] = [around.x - reach - 1, around.y - reach - 1];
  const [w, h] = [around.width + 2 * reach + 2, around.height + 2 * reach + 2];
  const marks = new Array<number>(w * h).fill(0);
  for (let y = around.y; y < around.y + around.height; y++)
    for (let x = around.x; x < around.x + around.width; x++) {
      if (!inside(y * width + x)) continue;
      for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++)
        for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++) {
          const i = v * width + u;
          if (inside(i) || (Math.hypot(u - x, v - y) <= over.within && over.may(i))) marks[(v - y0) * w + u - x0] = 1;
        }
    }
  const rings = contours()
    .size([w, h])
    .contour(marks, 0.5)
    .coordinates.map((polygon) => polygon[0] ?? []);
  const ring = rings.sort((a, b) => areaOf(b) - areaOf(a))[0] ?? [];
  const full = ring.slice(0, -1).map(([x, y]) => ({ x: x as number, y: y as number }));
  let corners = full;
  for (let apart = APART; corners === full || corners.length > CORNERS; apart *= 1.5) {
    corners = simplify(full, apart, true);
    if (full.length < 3) break;
  }
  return corners.map(({ x, y }) => ({ x: round((x + x0) * factor), y: round((y + y0) * factor) }));
}

/** Areas with the outlines of holdouts that close them. @param labels of the pixels, as {@link outlineAround} takes what follows */
export function outlinesOf<T extends { readonly label: number }>(
  found: readonly T[],
  labels: Int32Array,
  matte: Size,
  over: Parameters<typeof outlineAround>[3],
  factor: number,
): (Omit<T, "label"> & { outline: Point[] })[] {
  if (found.length === 0) return [];
  const boxes = boxesOf(labels, matte.width);
  return found.map(({ label, ...area }) => ({
    ...area,
    outline: outlineAround((i) => labels[i] === label, boxes.get(label) as Region, matte, over, factor),
  }));
}

const round = (v: number) => Math.round(10 * v) / 10;

/** Twice the area within a ring, of either sense. */
const areaOf = (ring: readonly (readonly number[])[]): number =>
  Math.abs(
    ring.reduce((sum, [x, y], k) => {
      const [u, v] = ring[(k + 1) % ring.length] as [number, number];
      return sum + (x as number) * v - u * (y as number);
    }, 0),
  );
