import { foursOf } from "./mask";
import type { Region } from "./plane";

/** Runs of a row that a mask's areas are made of, in the order in which they are read, and the areas. */
export interface Runs {
  readonly count: number;
  /** Where each run begins, and one past where it ends. */
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  /** The area that each belongs to, from 1. */
  readonly labels: Int32Array;
  /** Area in pixels by label; entry 0 is unused. */
  readonly areas: number[];
  /** Whether the area meets the frame's border, by label. */
  readonly atBorder: boolean[];
}

/** Connected areas of a mask. */
export interface Components {
  /** For each pixel the number of its area, from 1; 0 where the mask is 0. */
  readonly labels: Int32Array;
  /** As in {@link Runs}. */
  readonly areas: number[];
  readonly atBorder: boolean[];
}

/** Labels the 4-connected areas where `mask` is not 0, in the order in which their first pixels are read: pixel by pixel. */
export function labelComponents(mask: Uint8Array, width: number, height: number): Components {
  const { count, starts, ends, labels: of, areas, atBorder } = areaRuns(mask, width, height);
  const labels = new Int32Array(width * height);
  for (let k = 0; k < count; k++) labels.fill(of[k] as number, starts[k] as number, ends[k] as number);
  return { labels, areas, atBorder };
}

/**
 * The 4-connected areas where `mask` is not 0, as runs: most of what is asked of an area needs no plane of labels.
 * By runs of a row joined to the runs above them: union-find, after Rosenfeld & Pfaltz, "Sequential Operations in Digital
 * Picture Processing", J. ACM 13 (1966).
 */
export function areaRuns(mask: Uint8Array, width: number, height: number): Runs {
  // Runs as they are met: where each begins and ends, and the run it hangs on; roots are the earliest of their area.
  let starts = new Int32Array(1024);
  let ends = new Int32Array(1024);
  let parents = new Int32Array(1024);
  let count = 0;
  const rootOf = (k: number): number => {
    while (parents[k] !== k) {
      const up = parents[parents[k] as number] as number;
      parents[k] = up;
      k = up;
    }
    return k;
  };
  const fours = foursOf(mask);
  let above = 0;
  for (let y = 0; y < height; y++) {
    const here = count;
    const end = (y + 1) * width;
    let over = above;
    for (let i = y * width; i < end; i++) {
      if (!mask[i]) {
        // Most of most masks is empty: four at a time.
        if (fours && (i & 3) === 0) while (i + 4 < end && fours[i >> 2] === 0) i += 4;
        if (!mask[i]) continue;
      }
      const start = i;
      while (i < end && mask[i]) i++;
      if (count === starts.length) [starts, ends, parents] = [twice(starts), twice(ends), twice(parents)];
      starts[count] = start;
      ends[count] = i;
      parents[count] = count;
      // Runs above that end before this one begins are done with: the next begins further on.
      while (over < here && (ends[over] as number) <= start - width) over++;
      for (let k = over; k < here && (starts[k] as number) < i - width; k++) {
        const a = rootOf(k);
        const b = rootOf(count);
        if (a < b) parents[b] = a;
        else parents[a] = b;
      }
      count++;
    }
    above = here;
  }
  const areas = [0];
  const atBorder = [false];
  const labels = new Int32Array(count);
  for (let k = 0; k < count; k++) {
    const root = rootOf(k);
    if (root === k) {
      labels[k] = areas.length;
      areas.push(0);
      atBorder.push(false);
    }
    const label = labels[root] as number;
    labels[k] = label;
    const [start, end] = [starts[k] as number, ends[k] as number];
    areas[label]! += end - start;
    const y = Math.floor(start / width);
    if (y === 0 || y === height - 1 || start === y * width || end === (y + 1) * width) atBorder[label] = true;
  }
  return { count, starts, ends, labels, areas, atBorder };
}

function twice(list: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const longer = new Int32Array(2 * list.length);
  longer.set(list);
  return longer;
}

/** The box around every component of a labelling. */
export function boxesOf(labels: Int32Array, width: number): Map<number, Region> {
  const ends = new Map<number, [number, number, number, number]>();
  for (let y = 0, row = 0; row < labels.length; y++, row += width)
    for (let x = 0; x < width; ) {
      const label = labels[row + x] as number;
      const first = x;
      do x++;
      while (x < width && labels[row + x] === label);
      if (!label) continue;
      const b = ends.get(label);
      if (!b) ends.set(label, [first, y, x - 1, y]);
      else {
        if (first < b[0]) b[0] = first;
        if (x - 1 > b[2]) b[2] = x - 1;
        b[3] = y;
      }
    }
  return new Map([...ends].map(([label, [x0, y0, x1, y1]]) => [label, { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 }]));
}
