/**
 * Steps over whole planes: AssemblyScript, compiled with kernels/pointwise.ts. Every function is given where its input, its
 * output and its working room lie, in bytes, and the plane's sides in pixels. What a step means and its source stand where
 * src/core calls it.
 */

import { double, repeatEnds, single } from "./lanes";

/** Sums down the columns, in double precision: one row added, one taken away; 0 for none. */
function slide(columns: usize, added: usize, taken: usize, width: i32): void {
  let x = 0;
  for (; x + 1 < width; x += 2) {
    const at = columns + ((<usize>x) << 3);
    let sum = v128.load(at);
    if (added) sum = f64x2.add(sum, f64x2.promote_low_f32x4(v128.load64_zero(added + ((<usize>x) << 2))));
    if (taken) sum = f64x2.sub(sum, f64x2.promote_low_f32x4(v128.load64_zero(taken + ((<usize>x) << 2))));
    v128.store(at, sum);
  }
  if (x < width) {
    let sum = double(columns, x);
    if (added) sum += <f64>single(added, x);
    if (taken) sum -= <f64>single(taken, x);
    store<f64>(columns + ((<usize>x) << 3), sum);
  }
}

/** Mean over squares of side 2·r + 1, only over what lies in the plane. Room: `width` doubles. */
export function boxMean(source: usize, out: usize, columns: usize, width: i32, height: i32, r: i32): void {
  const row = (<usize>width) << 2;
  memory.fill(columns, 0, (<usize>width) << 3);
  for (let y = 0; y <= min(r, height - 1); y++) slide(columns, source + row * y, 0, width);
  for (let y = 0; y < height; y++) {
    const rows = min(height - 1, y + r) - max(0, y - r) + 1;
    const to = out + row * y;
    let sum: f64 = 0;
    for (let x = 0; x < min(r, width); x++) sum += double(columns, x);
    let x = 0;
    for (; x <= r && x < width; x++) {
      if (x + r < width) sum += double(columns, x + r);
      store<f32>(to + ((<usize>x) << 2), <f32>(sum / <f64>(rows * (min(width - 1, x + r) + 1))));
    }
    // In the middle of the row every square is whole.
    const k: f64 = 1.0 / <f64>(rows * (2 * r + 1));
    for (; x + r < width; x++) {
      sum += double(columns, x + r) - double(columns, x - r - 1);
      store<f32>(to + ((<usize>x) << 2), <f32>(sum * k));
    }
    for (; x < width; x++) {
      sum -= double(columns, x - r - 1);
      store<f32>(to + ((<usize>x) << 2), <f32>(sum / <f64>(rows * (width - x + r))));
    }
    slide(columns, y + r + 1 < height ? source + row * (y + r + 1) : 0, y - r >= 0 ? source + row * (y - r) : 0, width);
  }
}

/** Means of blocks of `factor` × `factor`; the last of a row or column average what is there. Room: `width` floats and 12 bytes. */
export function shrink(source: usize, out: usize, line: usize, width: i32, height: i32, factor: i32): void {
  const row = (<usize>width) << 2;
  const w = (width + factor - 1) / factor;
  let to = out;
  for (let y0 = 0; y0 < height; y0 += factor) {
    const y1 = min(height, y0 + factor);
    memory.copy(line, source + row * y0, row);
    for (let y = y0 + 1; y < y1; y++) {
      const from = source + row * y;
      for (let at: usize = 0; at < row; at += 16) v128.store(line + at, f32x4.add(v128.load(line + at), v128.load(from + at)));
    }
    for (let ox = 0; ox < w; ox++) {
      const x1 = min(width, (ox + 1) * factor);
      let sum: f64 = 0;
      for (let x = ox * factor; x < x1; x++) sum += <f64>single(line, x);
      store<f32>(to, <f32>(sum / <f64>((y1 - y0) * (x1 - ox * factor))));
      to += 4;
    }
  }
}

/** One reduced row at full width. */
function widen(row: usize, to: usize, columns: usize, shares: usize, width: i32): void {
  for (let x = 0; x < width; x++) {
    const k = (<usize>x) << 2;
    const from = row + load<u32>(columns + k);
    const a = load<f32>(from);
    store<f32>(to + k, a + load<f32>(shares + k) * (load<f32>(from + 4) - a));
  }
}

/** A reduced plane at full size, bilinear. Room: four rows of floats and 48 bytes. */
export function enlarge(source: usize, out: usize, room: usize, w: i32, h: i32, width: i32, height: i32, factor: i32): void {
  const row = (<usize>width) << 2;
  const stride = (row + 31) & ~15;
  const columns = room;
  const shares = room + stride;
  let upper = room + 2 * stride;
  let lower = room + 3 * stride;
  const k: f64 = 1.0 / <f64>factor;
  for (let x = 0; x < width; x++) {
    const cx = min(<f64>(w - 1), max(0.0, (<f64>x + 0.5) * k - 0.5));
    // The last pixel is its left neighbour's end, so that there is always one to the right.
    const i = max(0, min(w - 2, <i32>floor(cx)));
    store<u32>(columns + ((<usize>x) << 2), (<u32>i) << 2);
    store<f32>(shares + ((<usize>x) << 2), w > 1 ? <f32>(cx - <f64>i) : 0);
  }
  const small = (<usize>w) << 2;
  widen(source, upper, columns, shares, width);
  widen(source + small * min(1, h - 1), lower, columns, shares, width);
  let last = 0;
  for (let y = 0; y < height; y++) {
    const cy = min(<f64>(h - 1), max(0.0, (<f64>y + 0.5) * k - 0.5));
    const y0 = <i32>floor(cy);
    for (; last < y0; last++) {
      const free = upper;
      upper = lower;
      lower = free;
      widen(source + small * min(h - 1, last + 2), lower, columns, shares, width);
    }
    const fy = f32x4.splat(<f32>(cy - <f64>y0));
    const to = out + row * y;
    // The end of a row may run into the next, which is written later.
    for (let at: usize = 0; at < row; at += 16) {
      const a = v128.load(upper + at);
      v128.store(to + at, f32x4.add(a, f32x4.mul(fy, f32x4.sub(v128.load(lower + at), a))));
    }
  }
}

/** Pixels of a line that are read beyond its ends, which repeat. */
const BESIDE: i32 = 3;

/**
 * A plane read between its pixels, by four along each axis. Room: for every column four weights; the first of the pixels that they are for, counted
 * from BESIDE before the row; for every row the same, counted from the first one; and a row with 2 · BESIDE floats beside it and 12 bytes.
 */
export function readBetween(source: usize, out: usize, room: usize, width: i32, height: i32): void {
  const row = (<usize>width) << 2;
  const columns = room + 4 * row;
  const weights = columns + row;
  const rows = weights + ((<usize>height) << 4);
  const line = rows + ((<usize>height) << 2);
  const start = line + ((<usize>BESIDE) << 2);
  for (let y = 0; y < height; y++) {
    const top = <i32>load<f32>(rows + ((<usize>y) << 2));
    const a = source + row * min(height - 1, max(0, top));
    const b = source + row * min(height - 1, max(0, top + 1));
    const c = source + row * min(height - 1, max(0, top + 2));
    const d = source + row * min(height - 1, max(0, top + 3));
    const shares = weights + ((<usize>y) << 4);
    const wa = v128.load32_splat(shares);
    const wb = v128.load32_splat(shares + 4);
    const wc = v128.load32_splat(shares + 8);
    const wd = v128.load32_splat(shares + 12);
    for (let at: usize = 0; at < row; at += 16)
      v128.store(
        start + at,
        f32x4.add(
          f32x4.add(f32x4.mul(wa, v128.load(a + at)), f32x4.mul(wb, v128.load(b + at))),
          f32x4.add(f32x4.mul(wc, v128.load(c + at)), f32x4.mul(wd, v128.load(d + at))),
        ),
      );
    for (let k = 0; k < BESIDE; k++) {
      store<f32>(line + ((<usize>k) << 2), load<f32>(start));
      store<f32>(start + row + ((<usize>k) << 2), load<f32>(start + row - 4));
    }
    const to = out + row * y;
    for (let x: usize = 0; x < row; x += 4) {
      const p = f32x4.mul(v128.load(line + ((<usize>load<f32>(columns + x)) << 2)), v128.load(room + (x << 2)));
      const q = f32x4.add(p, v128.shuffle<f32>(p, p, 2, 3, 0, 1));
      store<f32>(to + x, f32x4.extract_lane(q, 0) + f32x4.extract_lane(q, 1));
    }
  }
}

/**
 * Weighted mean over 2·radius + 1 pixels down and across, the plane's ends repeated. Room: the weights, and a row with `radius`
 * floats and four more on either side of it.
 */
export function weightedBlur(source: usize, out: usize, room: usize, width: i32, height: i32, radius: i32): void {
  const row = (<usize>width) << 2;
  const span = 2 * radius + 1;
  const pad = ((<usize>(radius + 4)) << 2) & ~15;
  const line = room + (((<usize>(span + 4)) << 2) & ~15) + pad;
  const before = (<usize>radius) << 2;
  for (let y = 0; y < height; y++) {
    memory.fill(line, 0, row);
    for (let k = 0; k < span; k++) {
      const from = source + row * min(height - 1, max(0, y + k - radius));
      const w = v128.load32_splat(room + ((<usize>k) << 2));
      for (let at: usize = 0; at < row; at += 16)
        v128.store(line + at, f32x4.add(v128.load(line + at), f32x4.mul(w, v128.load(from + at))));
    }
    const first = load<f32>(line);
    const last = load<f32>(line + row - 4);
    for (let k = 1; k <= radius; k++) {
      store<f32>(line - ((<usize>k) << 2), first);
      store<f32>(line + row - 4 + ((<usize>k) << 2), last);
    }
    const to = out + row * y;
    for (let at: usize = 0; at < row; at += 16) {
      let sum = f32x4.splat(0);
      for (let k = 0; k < span; k++)
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(room + ((<usize>k) << 2)), v128.load(line + at - before + ((<usize>k) << 2))));
      v128.store(to + at, sum);
    }
  }
}

/** The first and last row of a padded plane of rows of `lanes`, repeated beside them, two each. */
function padRows(samples: usize, row: usize, rows: i32): void {
  const first = samples + 2 * row;
  const last = samples + row * (<usize>rows + 1);
  memory.copy(samples, first, row);
  memory.copy(samples + row, first, row);
  memory.copy(last + row, last, row);
  memory.copy(last + 2 * row, last, row);
}

/**
 * Rows of half as many samples that rows were enlarged from by two mirrored weights, `lanes` in each: the mean of each two, and their blur
 * undone by turns, each from what the rows beside it are by then (Gauss–Seidel). The samples have two rows more at both ends.
 * Room: as many floats as samples.
 */
export function unblurred(
  source: usize,
  samples: usize,
  sums: usize,
  lanes: i32,
  height: i32,
  own: f32,
  near: f32,
  far: f32,
  rounds: i32,
): void {
  const row = (<usize>lanes) << 2;
  const half = (height + 1) >> 1;
  const start = 2 * row;
  const end = start + row * half;
  const k: f32 = 0.5 / own;
  for (let y = 0; y < half; y++) {
    const a = source + row * (2 * y);
    const b = 2 * y + 1 < height ? a + row : a;
    const to = start + row * y;
    for (let x = 0; x < lanes; x++) {
      const at = (<usize>x) << 2;
      const sum = load<f32>(a + at) + load<f32>(b + at);
      store<f32>(samples + to + at, <f32>0.5 * sum);
      store<f32>(sums + to + at, k * sum);
    }
  }
  const beside = f32x4.splat(near);
  const beyond = f32x4.splat(far);
  for (let round = 0; round < rounds; round++) {
    padRows(samples, row, half);
    if (lanes >= 4) {
      // Four at a time wait for none of themselves; what is written past the end is padded again.
      for (let at = start; at < end; at += 16) {
        const s = samples + at;
        const by1 = f32x4.mul(beside, f32x4.add(v128.load(s - row), v128.load(s + row)));
        const by2 = f32x4.mul(beyond, f32x4.add(v128.load(s - 2 * row), v128.load(s + 2 * row)));
        v128.store(s, f32x4.sub(f32x4.sub(v128.load(sums + at), by1), by2));
      }
    } else
      for (let l: usize = 0; l < row; l += 4) {
        // What the two before it have come to is kept at hand, and comes last: each waits for them alone.
        let two = load<f32>(samples + l);
        let one = load<f32>(samples + row + l);
        for (let at = start + l; at < end; at += row) {
          const s = samples + at;
          const after = load<f32>(sums + at) - near * load<f32>(s + row) - far * load<f32>(s + 2 * row);
          const own = after - far * two - near * one;
          store<f32>(s, own);
          two = one;
          one = own;
        }
      }
  }
  padRows(samples, row, half);
}

function middleOf3(a: v128, b: v128, c: v128): v128 {
  return f32x4.max(f32x4.min(a, b), f32x4.min(f32x4.max(a, b), c));
}

/**
 * The median of every 3 × 3; at the border the outermost stand for what is beyond. Of three columns put in order it is the middle one of their
 * greatest lowest, middle middle and least highest. Room: three rows, each with 12 floats beside it.
 */
export function medianOf9(source: usize, out: usize, room: usize, width: i32, height: i32): void {
  const row = (<usize>width) << 2;
  const lowest = room + 16;
  const middle = lowest + row + 48;
  const highest = middle + row + 48;
  for (let y = 0; y < height; y++) {
    const here = source + row * y;
    const above = y > 0 ? here - row : here;
    const below = y < height - 1 ? here + row : here;
    for (let at: usize = 0; at < row; at += 16) {
      const a = v128.load(above + at);
      const b = v128.load(here + at);
      const c = v128.load(below + at);
      v128.store(lowest + at, f32x4.min(f32x4.min(a, b), c));
      v128.store(middle + at, middleOf3(a, b, c));
      v128.store(highest + at, f32x4.max(f32x4.max(a, b), c));
    }
    repeatEnds(lowest, width);
    repeatEnds(middle, width);
    repeatEnds(highest, width);
    const to = out + row * y;
    for (let at: usize = 0; at < row; at += 16) {
      const l = lowest + at;
      const m = middle + at;
      const h = highest + at;
      v128.store(
        to + at,
        middleOf3(
          f32x4.max(f32x4.max(v128.load(l - 4), v128.load(l)), v128.load(l + 4)),
          middleOf3(v128.load(m - 4), v128.load(m), v128.load(m + 4)),
          f32x4.min(f32x4.min(v128.load(h - 4), v128.load(h)), v128.load(h + 4)),
        ),
      );
    }
  }
}
