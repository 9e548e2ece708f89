/**
 * What is known of a plane brought to where it is not: AssemblyScript, compiled with kernels/pointwise.ts. What a step means and its
 * source stand where src/core calls it. Arguments are as in kernels/planes.ts.
 */
import { evens, odds, single } from "./lanes";

/** Sums of 2 × 2 pixels, each as often as its weight says; of the weights themselves without a source. */
function overFours(source: usize, weight: usize, out: usize, width: i32, height: i32): void {
  const w = (width + 1) >> 1;
  const row = (<usize>width) << 2;
  const zero = f32x4.splat(0);
  for (let y = 0; y < height; y += 2) {
    const rows = min(2, height - y);
    const two = rows === 2;
    const to = out + ((<usize>(w * (y >> 1))) << 2);
    const k0 = weight + row * y;
    const k1 = k0 + row;
    const s0 = source + row * y;
    const s1 = s0 + row;
    let m = 0;
    for (; 2 * m + 8 <= width; m += 4) {
      const at = (<usize>m) << 3;
      let a = evens(k0 + at);
      let b = odds(k0 + at);
      let c = two ? evens(k1 + at) : zero;
      let d = two ? odds(k1 + at) : zero;
      if (source) {
        a = f32x4.mul(a, evens(s0 + at));
        b = f32x4.mul(b, odds(s0 + at));
        if (two) {
          c = f32x4.mul(c, evens(s1 + at));
          d = f32x4.mul(d, odds(s1 + at));
        }
      }
      v128.store(to + ((<usize>m) << 2), f32x4.add(f32x4.add(f32x4.add(a, b), c), d));
    }
    for (; m < w; m++) {
      let sum: f32 = 0;
      for (let v = 0; v < rows; v++)
        for (let x = 2 * m; x < min(width, 2 * m + 2); x++) {
          const k = single(v ? k1 : k0, x);
          sum += source ? k * single(v ? s1 : s0, x) : k;
        }
      store<f32>(to + ((<usize>m) << 2), sum);
    }
  }
}

/** What is missing of a plane, from the level above it, bilinear. Room: a row of the level above, with four floats beside it. */
function pushDown(coarse: usize, plane: usize, weight: usize, room: usize, width: i32, height: i32): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const row = (<usize>width) << 2;
  const wide = (<usize>w) << 2;
  const line = room + 16;
  const near = f32x4.splat(0.75);
  const far = f32x4.splat(0.25);
  const one = f32x4.splat(1);
  for (let y = 0; y < height; y++) {
    const own = coarse + wide * (y >> 1);
    const other = coarse + wide * (y & 1 ? min(h - 1, (y >> 1) + 1) : max(0, (y >> 1) - 1));
    for (let at: usize = 0; at < wide; at += 16)
      v128.store(line + at, f32x4.add(f32x4.mul(near, v128.load(own + at)), f32x4.mul(far, v128.load(other + at))));
    store<f32>(line - 4, load<f32>(line));
    store<f32>(line + wide, load<f32>(line + wide - 4));
    const to = plane + row * y;
    const share = weight + row * y;
    let m = 0;
    for (; 2 * m + 8 <= width; m += 4) {
      const at = (<usize>m) << 2;
      const here = f32x4.mul(near, v128.load(line + at));
      const even = f32x4.add(here, f32x4.mul(far, v128.load(line + at - 4)));
      const odd = f32x4.add(here, f32x4.mul(far, v128.load(line + at + 4)));
      fillFour(to + 2 * at, share + 2 * at, v128.shuffle<f32>(even, odd, 0, 4, 1, 5), one);
      fillFour(to + 2 * at + 16, share + 2 * at + 16, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), one);
    }
    for (let x = 2 * m; x < width; x++) {
      const k = single(share, x);
      const beside = single(line, x & 1 ? (x >> 1) + 1 : (x >> 1) - 1);
      const value = <f32>0.75 * single(line, x >> 1) + <f32>0.25 * beside;
      const at = to + ((<usize>x) << 2);
      store<f32>(at, k * load<f32>(at) + (1 - k) * value);
    }
  }
}

function fillFour(at: usize, share: usize, value: v128, one: v128): void {
  const k = v128.load(share);
  v128.store(at, f32x4.add(f32x4.mul(k, v128.load(at)), f32x4.mul(f32x4.sub(one, k), value)));
}

/**
 * What is not known of a plane, from what is: see src/core/image/fill-in.ts. In place. Room: every level of the pyramid above and its
 * weight, and a row with eight floats beside it.
 */
export function fillIn(weight: usize, plane: usize, room: usize, width: i32, height: i32): void {
  if (width <= 1 && height <= 1) return;
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const size = (((<usize>(w * h)) << 2) + 47) & ~15;
  const total = room + size;
  overFours(0, weight, total, width, height);
  overFours(plane, weight, room, width, height);
  const one = f32x4.splat(1);
  for (let at: usize = 0; at < (<usize>(w * h)) << 2; at += 16) {
    const k = v128.load(total + at);
    const sum = v128.load(room + at);
    v128.store(room + at, v128.bitselect(f32x4.div(sum, k), sum, f32x4.gt(k, f32x4.splat(0))));
    // One known pixel of four is enough for the level above.
    v128.store(total + at, f32x4.pmin(k, one));
  }
  const next = total + size;
  fillIn(total, room, next, w, h);
  pushDown(room, plane, weight, next, width, height);
}

/** A row of a plane where it is known, and as often; 0 elsewhere. @param known a byte each */
function knownRow(known: usize, plane: usize, values: usize, counts: usize, width: i32): void {
  for (let x = 0; x < width; x += 4) {
    const at = (<usize>x) << 2;
    const bytes = v128.load32_zero(known + <usize>x);
    const k = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(bytes)));
    v128.store(values + at, f32x4.mul(k, v128.load(plane + at)));
    v128.store(counts + at, k);
  }
}

function sumOfThree(rows: usize, stride: usize, out: usize, width: i32): void {
  for (let at: usize = 0; at < (<usize>width) << 2; at += 16)
    v128.store(out + at, f32x4.add(f32x4.add(v128.load(rows + at), v128.load(rows + stride + at)), v128.load(rows + 2 * stride + at)));
  store<f32>(out - 4, 0);
  store<f32>(out + ((<usize>width) << 2), 0);
}

function threeAcross(row: usize): v128 {
  return f32x4.add(f32x4.add(v128.load(row - 4), v128.load(row)), v128.load(row + 4));
}

/**
 * Mean of what is known in the 3 × 3 pixels around each; 0 where nothing is. In place.
 * @param known 1 or 0, a byte each
 * Room: eight rows with sixteen floats beside each.
 */
export function meanOfKnown(known: usize, plane: usize, room: usize, width: i32, height: i32): void {
  const row = (<usize>width) << 2;
  const stride = (row + 47) & ~15;
  const values = room;
  const counts = room + 3 * stride;
  const sums = room + 6 * stride + 16;
  const totals = sums + stride + 16;
  memory.fill(room, 0, 6 * stride);
  knownRow(known, plane, values, counts, width);
  for (let y = 0; y < height; y++) {
    const next = <usize>((y + 1) % 3) * stride;
    if (y + 1 < height) knownRow(known + <usize>(width * (y + 1)), plane + row * (y + 1), values + next, counts + next, width);
    else {
      memory.fill(values + next, 0, row);
      memory.fill(counts + next, 0, row);
    }
    sumOfThree(values, stride, sums, width);
    sumOfThree(counts, stride, totals, width);
    const to = plane + row * y;
    let at: usize = 0;
    for (; at + 16 <= row; at += 16) {
      const total = threeAcross(totals + at);
      v128.store(to + at, f32x4.div(threeAcross(sums + at), f32x4.pmax(total, f32x4.splat(1))));
    }
    // The row below is not read yet, so that the end of this one is written a pixel at a time.
    for (; at < row; at += 4) {
      const s = sums + at;
      const t = totals + at;
      const sum = load<f32>(s - 4) + load<f32>(s) + load<f32>(s + 4);
      store<f32>(to + at, sum / max(1, load<f32>(t - 4) + load<f32>(t) + load<f32>(t + 4)));
    }
  }
}
