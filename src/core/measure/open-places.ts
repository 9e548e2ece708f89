import { labelComponents } from "../image/components";
import { maskUnder } from "../image/mask";
import type { Plane, Region } from "../image/plane";
import type { Point } from "../matte/polygon";
import { outlinesOf } from "./outline";

/** An area that stays half open: its middle, px of the full frame, its area there, and the outline of a holdout that closes it. */
export interface OpenPlace {
  readonly x: number;
  readonly y: number;
  readonly area: number;
  readonly outline: readonly Point[];
}

/** A square that holds a place of such an area, with room around it. */
export function placeAround({ x, y, area }: Omit<OpenPlace, "outline">): Region {
  const side = Math.max(16, Math.ceil(2 * Math.sqrt(area)));
  return { x: Math.round(x - side / 2), y: Math.round(y - side / 2), width: side, height: side };
}

/** Matte from which on a pixel is no part of an open place. */
const SOLID = 0.95;
/** Area under which an open place is not told of, px² of the copy that it is looked for on. */
const LEAST_PLACE = 12;
/** Difference from one pixel of the pull to the next, as a root mean square, over which an open place is mesh or strands and no mirror. */
const MESH = 0.12;
/** How far a holdout's outline is carried over what is solid beside an open place, px of the copy. */
const OVER = 2;
/** Level of the matte under which the screen itself shows, and share of such pixels from which on an open place is a gap, however blurred. */
const GAP_LEVEL = 0.35;
const GAP_SHARE = 0.1;

/**
 * Enclosed areas of middling matte: neither solid nor a gap to the screen, nor full of gaps. What is solid in the pull is none: strands were looked
 * through there. Largest first, at most three.
 * @param pull at full size, where mesh and strands can still be told
 * @param factor its size over the matte's
 */
export function openPlaces(matte: Plane, pull: Plane, factor: number): OpenPlace[] {
  const { width, data } = matte;
  const { labels, areas, atBorder } = labelComponents(maskUnder(data, SOLID), width, matte.height);
  const sums = areas.map(() => ({ x: 0, y: 0, clear: 0, squares: 0, pairs: 0 }));
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    const s = sums[label];
    if (!label || !s || atBorder[label]) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    s.x += x;
    s.y += y;
    if ((data[i] as number) < GAP_LEVEL) s.clear++;
    for (let row = y * factor; row < Math.min(pull.height - 1, (y + 1) * factor); row++)
      for (let column = x * factor; column < Math.min(pull.width - 1, (x + 1) * factor); column++) {
        const q = row * pull.width + column;
        const m = pull.data[q] as number;
        // The rim of the place says nothing of its inside.
        for (const beside of [pull.data[q + 1] as number, pull.data[q + pull.width] as number]) {
          if (m >= SOLID || beside >= SOLID) continue;
          s.squares += (beside - m) ** 2;
          s.pairs++;
        }
      }
  }
  const found: (Omit<OpenPlace, "outline"> & { label: number })[] = [];
  for (let l = 1; l < areas.length; l++) {
    const area = areas[l] as number;
    const s = sums[l] as (typeof sums)[number];
    if (atBorder[l] || s.pairs === 0 || area < LEAST_PLACE || s.clear > GAP_SHARE * area || s.squares > MESH * MESH * s.pairs) continue;
    const [x, y] = [Math.round((s.x / area) * factor), Math.round((s.y / area) * factor)];
    found.push({ x, y, area: Math.round(area * factor * factor), label: l });
  }
  const told = found.sort((a, b) => b.area - a.area).slice(0, 3);
  const over = { may: (i: number) => (data[i] as number) >= SOLID, within: OVER };
  return outlinesOf(told, labels, matte, over, factor);
}
