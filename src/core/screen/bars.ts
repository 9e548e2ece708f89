import { type Picture, type Region, wholeOf } from "../image/plane";

type Size = Pick<Region, "width" | "height">;

/** Mean light of a line of a bar, at most, of the mean of the channels; and of the first line of the picture beside it, at least. Linear. */
const BLACK = 0.004;
const LIT = 0.02;
/** Pixels of such a line that may be brighter than four times that: what coding leaves beside the picture. */
const STRAY = 0.02;
/** Largest part of a side that bars may take, both together. */
const MOST = 0.6;
/** Share of the line behind it under which a line is of both, as scaling makes it, and counts as bar. */
const HALF = 0.5;

/** The picture inside the black bars of a letterbox or a pillarbox, px of the frame; the whole frame where there are none. */
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
  const row = (y: number) => line(y * width, 1, width);
  const top = bar(height, row);
  const bottom = bar(height, (k) => row(height - 1 - k));
  const tall = height - top - bottom;
  if (tall < (1 - MOST) * height) return wholeOf(plate);
  const column = (x: number) => line(top * width + x, width, tall);
  const left = bar(width, column);
  const right = bar(width, (k) => column(width - 1 - k));
  const wide = width - left - right;
  return wide < (1 - MOST) * width ? { x: 0, y: top, width, height: tall } : { x: left, y: top, width: wide, height: tall };
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
