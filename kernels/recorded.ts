/**
 * Chroma at luma's size brought back to what was recorded, and its edges sharpened: AssemblyScript, compiled with kernels/pointwise.ts. Planes lie
 * as in kernels/rows.ts; what a step means, and the sources, stand in src/core/image/chroma-rebuild.ts.
 */
import { evens, leastOf3, mostOf3, odds, rangeOfThree, repeatEnds } from "./lanes";
import { chromaRow } from "./rows";

/**
 * How far chroma may go around every sample: the range of 3 × 3, and `spare` of it more. Where the range is at most `even`
 * there is no edge; `least` is over `most` there.
 * @param spans for every row the first sample with an edge and one past the last, by fours; both 0 where there is none
 * @param room two rows of chroma's width, `stride` bytes apart, 16 floats besides each
 */
export function limitsAround(
  recorded: usize,
  least: usize,
  most: usize,
  spans: usize,
  room: usize,
  stride: usize,
  cw: i32,
  ch: i32,
  even: f32,
  spare: f32,
): void {
  const row = (<usize>cw) << 2;
  const low = room + 16;
  const high = low + stride;
  for (let y = 0; y < ch; y++) {
    const above = recorded + row * max(0, y - 1);
    const here = recorded + row * y;
    const below = recorded + row * min(ch - 1, y + 1);
    rangeOfThree(above, here, below, low, high, cw);
    let first = 0;
    let end = 0;
    for (let at: usize = 0; at < row; at += 16) {
      const l = leastOf3(low + at);
      const m = mostOf3(high + at);
      const range = f32x4.sub(m, l);
      const edge = f32x4.gt(range, f32x4.splat(even));
      const more = f32x4.mul(f32x4.splat(spare), range);
      v128.store(least + row * y + at, v128.bitselect(f32x4.sub(l, more), f32x4.splat(1), edge));
      v128.store(most + row * y + at, v128.bitselect(f32x4.add(m, more), f32x4.splat(-1), edge));
      if (!v128.any_true(edge)) continue;
      if (end === 0) first = <i32>(at >> 2);
      end = <i32>(at >> 2) + 4;
    }
    store<i32>(spans + 8 * y, first);
    store<i32>(spans + 8 * y, end, 4);
  }
}

/** What a luma-sized plane would be recorded as from sample `first` to `end` of a row of chroma, taken from what was, less `grain`; 0 where there is no edge. */
function missingRow(
  fine: usize,
  recorded: usize,
  least: usize,
  most: usize,
  to: usize,
  line: usize,
  first: i32,
  end: i32,
  width: i32,
  height: i32,
  y: i32,
  rows: i32,
  cositedAcross: bool,
  cositedDown: bool,
  grain: f32,
): void {
  const row = (<usize>width) << 2;
  // The luma rows that the sample stands for: 1-2-1 on the row itself, 1-1 between two, or one.
  const before = fine + row * max(0, rows * y - 1);
  const own = fine + row * (rows * y);
  const after = fine + row * min(height - 1, rows * y + 1);
  const kb: f32 = cositedDown ? 0.25 : 0;
  const ka: f32 = rows === 1 ? 0 : cositedDown ? 0.25 : 0.5;
  const wb = f32x4.splat(kb);
  const wo = f32x4.splat(1 - kb - ka);
  const wa = f32x4.splat(ka);
  // With four columns before and after, which the ends' samples stand for too.
  for (let at: usize = (<usize>max(0, 2 * first - 4)) << 2; at < (<usize>min(width, 2 * end + 4)) << 2; at += 16) {
    const sum = f32x4.add(f32x4.mul(wb, v128.load(before + at)), f32x4.mul(wo, v128.load(own + at)));
    v128.store(line + at, f32x4.add(sum, f32x4.mul(wa, v128.load(after + at))));
  }
  repeatEnds(line, width);
  const left = f32x4.splat(cositedAcross ? 0.25 : 0);
  const right = f32x4.splat(cositedAcross ? 0.25 : 0.5);
  const half = f32x4.splat(0.5);
  const slack = f32x4.splat(grain);
  const nothing = f32x4.splat(0);
  for (let at: usize = (<usize>first) << 2; at < (<usize>end) << 2; at += 16) {
    const from = line + 2 * at;
    const even = evens(from);
    const odd = odds(from);
    const last = v128.shuffle<f32>(v128.load(from - 4), v128.load(from + 12), 0, 2, 4, 6);
    const is = f32x4.add(f32x4.add(f32x4.mul(left, last), f32x4.mul(half, even)), f32x4.mul(right, odd));
    const d = f32x4.sub(v128.load(recorded + at), is);
    const beyond = f32x4.add(f32x4.pmax(f32x4.sub(d, slack), nothing), f32x4.pmin(f32x4.add(d, slack), nothing));
    v128.store(to + at, v128.and(beyond, f32x4.le(v128.load(least + at), v128.load(most + at))));
  }
}

/**
 * Brings a luma-sized plane of chroma one round back to what was recorded, where that has an edge; in place.
 * @param least, most, spans as {@link limitsAround} told them
 * @param missing a plane of chroma's size that is 0 but for what this step left in it
 * @param room four rows of luma's width, and 16 floats besides each
 * @param rows luma rows for one of chroma
 */
export function backToRecorded(
  fine: usize,
  recorded: usize,
  least: usize,
  most: usize,
  spans: usize,
  missing: usize,
  room: usize,
  width: i32,
  height: i32,
  cw: i32,
  ch: i32,
  rows: i32,
  cositedAcross: bool,
  cositedDown: bool,
  grain: f32,
): void {
  const row = (<usize>width) << 2;
  const small = (<usize>cw) << 2;
  const stride = ((row + 15) & ~15) + 64;
  const line = room + 16;
  const up = line + stride;
  const blend = up + stride;
  const done = blend + stride;
  for (let y = 0; y < ch; y++) {
    const first = load<i32>(spans + 8 * y);
    const end = load<i32>(spans + 8 * y, 4);
    const at = small * y;
    if (end > 0)
      missingRow(
        fine,
        recorded + at,
        least + at,
        most + at,
        missing + at,
        line,
        first,
        end,
        width,
        height,
        y,
        rows,
        cositedAcross,
        cositedDown,
        grain,
      );
  }
  for (let y = 0; y < height; y++) {
    const own = spans + 8 * (y / rows);
    const end = load<i32>(own, 4);
    if (end === 0) continue;
    // With four samples before and after, between which the ends' pixels lie.
    const first = max(0, load<i32>(own) - 4);
    const count = min(cw, end + 4) - first;
    const from = (<usize>first) << 2;
    const cy: f32 = rows === 1 ? <f32>y : cositedDown ? <f32>y / 2 : (<f32>y - 0.5) / 2;
    const y0 = <i32>floor(cy);
    const upper = missing + small * min(ch - 1, max(0, y0)) + from;
    const lower = missing + small * min(ch - 1, max(0, y0 + 1)) + from;
    chromaRow(upper, lower, cy - <f32>y0, blend, up + 2 * from, count, cositedAcross ? 0 : 0.25, cositedAcross ? 0.5 : 0.25, 2);
    const here = fine + row * y;
    const lows = least + small * (y / rows);
    const highs = most + small * (y / rows);
    const begin = (<usize>load<i32>(own)) << 2;
    for (let at: usize = begin; at < (<usize>end) << 2; at += 16) {
      const l = v128.load(lows + at);
      const m = v128.load(highs + at);
      correct(here + 2 * at, up + 2 * at, done + 2 * at, v128.shuffle<f32>(l, l, 0, 0, 1, 1), v128.shuffle<f32>(m, m, 0, 0, 1, 1));
      const next = 2 * at + 16;
      correct(here + next, up + next, done + next, v128.shuffle<f32>(l, l, 2, 2, 3, 3), v128.shuffle<f32>(m, m, 2, 2, 3, 3));
    }
    memory.copy(here + 2 * begin, done + 2 * begin, ((<usize>min(width, 2 * end)) << 2) - 2 * begin);
  }
}

/** Four samples moved by what is missing, within their limits; as they were where there is no edge. */
function correct(from: usize, by: usize, to: usize, least: v128, most: v128): void {
  const was = v128.load(from);
  const is = f32x4.pmin(f32x4.pmax(f32x4.add(was, v128.load(by)), least), most);
  v128.store(to, v128.bitselect(is, was, f32x4.le(least, most)));
}

/** Sizes of a cell's record in bytes: its number; both ends' first, the way between them; what a squared way counts; how far to go. */
const CELL: usize = 32;

/**
 * The two sides of every edge that is sharp: of 3 × 3 samples of chroma the two that differ most.
 * @param low luma at chroma's places
 * @param edge not 0 where colour has an edge
 * @param cells room for a record of eight words for each
 * @param gap codes by which the two must differ at the least
 * @param dark codes of luma between the two that halve what is asked: luma tells the edge there
 * @param soft, sharp share that the two differ by of what 5 × 5 do, from which on and at which an edge is sharp
 * @param pull how far a pixel goes to the nearer side in one round
 * @param little part of that under which a sample is left alone
 * @returns how many records were written
 */
export function sidesOfEdges(
  first: usize,
  second: usize,
  low: usize,
  edge: usize,
  cells: usize,
  cw: i32,
  ch: i32,
  gap: f32,
  dark: f32,
  soft: f32,
  sharp: f32,
  pull: f32,
  little: f32,
): i32 {
  let count = 0;
  for (let y = 0; y < ch; y++)
    for (let x = 0; x < cw; x++) {
      const cell = y * cw + x;
      if (load<f32>(edge + ((<usize>cell) << 2)) === 0) continue;
      let best: f32 = 0;
      let a: usize = 0;
      let b: usize = 0;
      for (let p = 0; p < 8; p++) {
        const from = near(x, y, p, cw, ch);
        const f = load<f32>(first + from);
        const s = load<f32>(second + from);
        for (let q = p + 1; q < 9; q++) {
          const to = near(x, y, q, cw, ch);
          const df = load<f32>(first + to) - f;
          const ds = load<f32>(second + to) - s;
          const d = df * df + ds * ds;
          if (d > best) {
            best = d;
            a = from;
            b = to;
          }
        }
      }
      if (best < gap * gap) continue;
      const share = sqrt(rangeAround(first, second, x, y, 1, cw, ch) / rangeAround(first, second, x, y, 2, cw, ch));
      const dl = (load<f32>(low + b) - load<f32>(low + a)) / dark;
      const part = min<f32>(1, max<f32>(0, (share - soft) / (sharp - soft))) / (1 + dl * dl);
      if (part < little) continue;
      const to = cells + CELL * count++;
      store<i32>(to, cell);
      store<f32>(to, load<f32>(first + a), 4);
      store<f32>(to, load<f32>(second + a), 8);
      store<f32>(to, load<f32>(first + b) - load<f32>(first + a), 12);
      store<f32>(to, load<f32>(second + b) - load<f32>(second + a), 16);
      store<f32>(to, 1 / best, 20);
      store<f32>(to, pull * part, 24);
    }
  return count;
}

/** Takes every sample out of the limits that has no record within 3 × 3. @param kept a plane of chroma's size */
export function limitsOnlyAt(cells: usize, count: i32, kept: usize, least: usize, most: usize, cw: i32, ch: i32): void {
  const size = (<usize>(cw * ch)) << 2;
  memory.fill(kept, 0, size);
  for (let n = 0; n < count; n++) {
    const cell = load<i32>(cells + CELL * n);
    for (let k = 0; k < 9; k++) store<i32>(kept + near(cell % cw, cell / cw, k, cw, ch), -1);
  }
  for (let at: usize = 0; at < size; at += 16) {
    const on = v128.load(kept + at);
    v128.store(least + at, v128.bitselect(v128.load(least + at), f32x4.splat(1), on));
    v128.store(most + at, v128.bitselect(v128.load(most + at), f32x4.splat(-1), on));
  }
}

/** How far into a plane one of 3 × 3 samples lies, in bytes; at the border the nearest. */
function near(x: i32, y: i32, k: i32, cw: i32, ch: i32): usize {
  const row = min(ch - 1, max(0, y + k / 3 - 1));
  return (<usize>(row * cw + min(cw - 1, max(0, x + (k % 3) - 1)))) << 2;
}

/** Square of the range of both planes within `radius` of a sample. */
function rangeAround(first: usize, second: usize, x: i32, y: i32, radius: i32, cw: i32, ch: i32): f32 {
  let low0: f32 = f32.MAX_VALUE;
  let low1 = low0;
  let high0: f32 = -f32.MAX_VALUE;
  let high1 = high0;
  for (let j = max(0, y - radius); j <= min(ch - 1, y + radius); j++)
    for (let k = max(0, x - radius); k <= min(cw - 1, x + radius); k++) {
      const at = (<usize>(j * cw + k)) << 2;
      const f = load<f32>(first + at);
      const s = load<f32>(second + at);
      low0 = min(low0, f);
      high0 = max(high0, f);
      low1 = min(low1, s);
      high1 = max(high1, s);
    }
  return (high0 - low0) * (high0 - low0) + (high1 - low1) * (high1 - low1);
}

/** Moves the pixels of every record's cell towards the nearer of its two sides, along the way between them: 3t² − 2t³. */
export function towardsSides(fine0: usize, fine1: usize, cells: usize, count: i32, width: i32, height: i32, cw: i32, rows: i32): void {
  for (let n = 0; n < count; n++) {
    const from = cells + CELL * n;
    const cell = load<i32>(from);
    const a0 = load<f32>(from, 4);
    const a1 = load<f32>(from, 8);
    const d0 = load<f32>(from, 12);
    const d1 = load<f32>(from, 16);
    const per = load<f32>(from, 20);
    const go = load<f32>(from, 24);
    const top = rows * (cell / cw);
    const left = 2 * (cell % cw);
    for (let y = top; y < min(height, top + rows); y++)
      for (let x = left; x < min(width, left + 2); x++) {
        const at = (<usize>(y * width + x)) << 2;
        const f = load<f32>(fine0 + at);
        const s = load<f32>(fine1 + at);
        const t = ((f - a0) * d0 + (s - a1) * d1) * per;
        const u = min<f32>(1, max<f32>(0, t));
        const m = go * (u * u * (3 - 2 * u) - t);
        store<f32>(fine0 + at, f + m * d0);
        store<f32>(fine1 + at, s + m * d1);
      }
  }
}
