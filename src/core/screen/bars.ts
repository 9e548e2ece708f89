import type { Picture, Region, Size } from "../image/plane";

/** Mean light of a line of a bar, at most, of the mean of the channels; and of the first line of the picture beside it, at least. Linear. */
const BLACK = 0.004;
const LIT = 0.02;
/** Pixels of such a line that may be brighter than four times that: what coding leaves beside the picture. */
const STRAY = 0.02;
/** Largest part of a side that bars may take, both together. */
const MOST = 0.6;
/** How much wider, as a share, or by how many lines, one bar may be than the one across from it. */
const UNLIKE = 0.1;
const UNLIKE_LINES = 2;
/** Share of the line behind it under which a line is of both, as scaling makes it, and counts as bar. */
const HALF = 0.5;

/** The picture inside the black bars of a letterbox or a pillarbox, px of the frame; the whole frame where there are none. Bars come in pairs. */
export function insideBars(plate: Picture): Region {
  const { width, height, r, g, b } = plate;
  const light = (i: number) => ((r[i] as number) + (g[i] as number) + (b[i] as number)) / 3;
  /** Mean light of a line from `first` in steps of `step`; and whether it is a bar's. */
  const line = (first: number, step: number, count: number) => {
    let [sum, bright] = [0, 0];
    for (let k = 0, i = first; k < count; k++, i += step) {
      const v = light(i);
      sum += v;
      if (v > 4 * BLACK) bright++;
    }
    const mean = sum / count;
    return { mean, black: mean <= BLACK && bright <= STRAY * count };
  };
  /** Lines of a bar at one border. @param at the k-th line from there */
  const bar = (count: number, at: (k: number) => { mean: number; black: boolean }): number => {
    let k = 0;
    while (k < count && at(k).black) k++;
    if (k === 0 || k >= MOST * count || k + 1 >= count) return 0;
    const behind = at(k + 1).mean;
    if (behind < LIT) return 0;
    return at(k).mean < HALF * behind ? k + 1 : k;
  };
  /** Lines of the bars at both ends of a side; none where one stands alone: the dark beside a screen may end as straight. */
  const pair = (count: number, at: (k: number) => { mean: number; black: boolean }): [number, number] => {
    const [first, last] = [bar(count, at), bar(count, (k) => at(count - 1 - k))];
    const alike = first > 0 && last > 0 && Math.abs(first - last) <= Math.max(UNLIKE_LINES, UNLIKE * Math.max(first, last));
    return alike && first + last <= MOST * count ? [first, last] : [0, 0];
  };
  const [top, bottom] = pair(height, (y) => line(y * width, 1, width));
  const tall = height - top - bottom;
  const [left, right] = pair(width, (x) => line(top * width + x, width, tall));
  return { x: left, y: top, width: width - left - right, height: tall };
}

/** The same on a reduced copy of the frame: those of its pixels that no bar is part of. */
export function reducedInside(inside: Region, full: Size, small: Size, factor: number): Region {
  const [x, y] = [Math.ceil(inside.x / factor), Math.ceil(inside.y / factor)];
  // The copy's last pixel may stand for fewer of the frame's.
  const end = (last: number, whole: number, reduced: number) => (last === whole ? reduced : Math.floor(last / factor));
  return {
    x,
    y,
    width: end(inside.x + inside.width, full.width, small.width) - x,
    height: end(inside.y + inside.height, full.height, small.height) - y,
  };
}
