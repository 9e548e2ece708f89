import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { bothOf, maskOver, maskUnder, notOf } from "../image/mask";
import type { Plane } from "../image/plane";
import type { OpenPlace } from "./open-places";
import { outlinesOf } from "./outline";

/** Mattes between which something is neither empty nor solid. */
const EMPTY = 0.1;
const SOLID = 0.95;
/** How far inside its border a stretch is looked at, px: an edge is none. */
const EDGE = 2;
/** How far a holdout's outline is carried out from there, but for what lies within an edge of the clear, px. */
const OVER = EDGE + 1.5;
/** Least area of a stretch without its border, as a share of the frame. */
const LEAST_STRETCH = 0.001;
/** Step from one pixel to the next, as a root mean square, from which on half open places are strands, mesh or blur. */
const RESTLESS = 0.04;
/** Share of a stretch's border that is solid, of what of it is solid or empty. Smoke and veils end in the clear. */
const BETWEEN_SOLID = 0.75;

/** Steps to the four neighbours. */
const BESIDE = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/**
 * Even, half open stretches of a matte that lie between solid parts, though they may reach the frame's border or run out at the outline: cloth near
 * the screen's colour beside other cloth (stripes, a lining), which no key can tell from something sheer. Largest first;
 * areas without the border.
 * @param factor size of the full frame over the matte's
 */
export function openStretches(matte: Plane, factor: number): OpenPlace[] {
  const { width, height, data } = matte;
  const half = bothOf(maskOver(data, EMPTY), maskUnder(data, SOLID));
  const depth = distanceTo(notOf(half), width, height, EDGE + 1);
  const { labels, areas } = labelComponents(maskOver(depth, EDGE), width, height);
  const sums = areas.map(() => ({ x: 0, y: 0, squares: 0, pairs: 0, solid: 0, empty: 0 }));
  const across = 2 * EDGE;
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    const s = sums[label];
    if (!label || !s) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    s.x += x;
    s.y += y;
    for (const [dx, dy] of BESIDE) {
      const [u, v] = [x + across * dx, y + across * dy];
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const beside = i + dx + dy * width;
      if (labels[beside] === label) {
        s.squares += ((data[beside] as number) - (data[i] as number)) ** 2;
        s.pairs++;
        continue;
      }
      const beyond = data[v * width + u] as number;
      if (beyond >= SOLID) s.solid++;
      else if (beyond < EMPTY) s.empty++;
    }
  }
  const least = LEAST_STRETCH * data.length;
  const found = areas
    .flatMap((area, l) => {
      const s = sums[l] as (typeof sums)[number];
      if (l === 0 || area < least || s.squares > RESTLESS ** 2 * s.pairs || s.solid < BETWEEN_SOLID * (s.solid + s.empty)) return [];
      const [x, y] = [Math.round((s.x / area) * factor), Math.round((s.y / area) * factor)];
      return [{ x, y, area: Math.round(area * factor * factor), label: l }];
    })
    .sort((a, b) => b.area - a.area);
  if (found.length === 0) return [];
  const toClear = distanceTo(maskUnder(data, EMPTY), width, height, EDGE + 1);
  const over = { may: (i: number) => (toClear[i] as number) > EDGE, within: OVER };
  return outlinesOf(found, labels, matte, over, factor);
}
