/**
 * Mixtures of subject and screen told by many colours at once: AssemblyScript, compiled with kernels/pointwise.ts. What a step means
 * and its source stand where src/core/key calls it. Doubles, two at a time, each with the sums of plain code in their order, so that
 * results are the same. Where numbers lie stands in src/core/kernels/mixtures.ts.
 */

function splat(at: usize, k: i32): v128 {
  return v128.load64_splat(at + ((<usize>k) << 3));
}

/** The sum of three products. */
function dot(a: v128, b: v128, c: v128, d: v128, e: v128, f: v128): v128 {
  return f64x2.add(f64x2.add(f64x2.mul(a, d), f64x2.mul(b, e)), f64x2.mul(c, f));
}

/** A row of colours laid out one after the other, R, G, B and whether it is known; black where it is not. @param row R of `width`, G, B, known */
export function layColours(row: usize, known: usize, to: usize, width: i32): void {
  const line = (<usize>width) << 2;
  for (let x: usize = 0; x < <usize>width; x++) {
    const some = load<u8>(known + x) !== 0;
    const from = row + (x << 2);
    const at = to + (x << 4);
    store<f32>(at, some ? load<f32>(from) : 0);
    store<f32>(at + 4, some ? load<f32>(from + line) : 0);
    store<f32>(at + 8, some ? load<f32>(from + 2 * line) : 0);
    store<f32>(at + 12, some ? 1 : 0);
  }
}

/**
 * How much of the screen a pixel holds at the most, as a mixture of it and a colour: for each of `rays` the most that its `steps`
 * colours tell; 0 where none explains the pixel.
 * @param told the pixel, the screen; the least and most that counts, how much shade may differ, the share of light unexplained, squared
 * @param here where the pixel's own colour is laid; @param away how far from there each colour is, bytes; an even number of `steps` for each ray
 */
export function mostBehind(told: usize, here: usize, away: usize, most: usize, rays: i32, steps: i32): void {
  const cr = splat(told, 0);
  const cg = splat(told, 1);
  const cb = splat(told, 2);
  const br = splat(told, 3);
  const bg = splat(told, 4);
  const bb = splat(told, 5);
  const least = splat(told, 6);
  const largest = splat(told, 7);
  const shade = splat(told, 8);
  const BB = dot(br, bg, bb, br, bg, bb);
  const CB = dot(cr, cg, cb, br, bg, bb);
  const unexplained = f64x2.mul(splat(told, 9), BB);
  const parallel = f64x2.splat(1e-3);
  const one = f64x2.splat(1);
  const none = f64x2.splat(0);
  const nearlyLeast = f64x2.mul(least, f64x2.splat(0.999));
  for (let ray = 0; ray < rays; ray++) {
    let found = f64x2.splat(0);
    for (let s = 0; s < steps; s += 2, away += 8) {
      const p = v128.load(here + load<i32>(away));
      const q = v128.load(here + load<i32>(away + 4));
      // Their fourth numbers: whether they are known.
      if (!v128.any_true(v128.shuffle<i32>(p, q, 3, 7, 3, 7))) continue;
      const rg = v128.shuffle<f32>(p, q, 0, 4, 1, 5);
      const fr = f64x2.promote_low_f32x4(rg);
      const fg = f64x2.promote_low_f32x4(v128.shuffle<f32>(rg, rg, 2, 3, 2, 3));
      const fb = f64x2.promote_low_f32x4(v128.shuffle<f32>(p, q, 2, 6, 2, 6));
      const FF = dot(fr, fg, fb, fr, fg, fb);
      const mixed = dot(fr, fg, fb, br, bg, bb);
      const CF = dot(cr, cg, cb, fr, fg, fb);
      const det = f64x2.sub(f64x2.mul(FF, BB), f64x2.mul(mixed, mixed));
      const over = f64x2.sub(f64x2.mul(CB, FF), f64x2.mul(CF, mixed));
      // Of most there is too little of the screen: told without a division.
      if (!v128.any_true(v128.and(f64x2.ge(over, f64x2.mul(nearlyLeast, det)), f64x2.gt(over, none)))) continue;
      const v = f64x2.div(over, det);
      const apart = v128.and(
        f64x2.ge(det, f64x2.mul(f64x2.mul(parallel, FF), BB)),
        v128.and(f64x2.ge(v, least), v128.and(f64x2.le(v, largest), f64x2.gt(v, found))),
      );
      if (!v128.any_true(apart)) continue;
      const u = f64x2.div(f64x2.sub(f64x2.mul(CF, BB), f64x2.mul(CB, mixed)), det);
      const rest = f64x2.sub(one, v);
      const alike = v128.and(f64x2.le(u, f64x2.mul(shade, rest)), f64x2.ge(f64x2.mul(shade, u), rest));
      const er = f64x2.sub(f64x2.sub(cr, f64x2.mul(u, fr)), f64x2.mul(v, br));
      const eg = f64x2.sub(f64x2.sub(cg, f64x2.mul(u, fg)), f64x2.mul(v, bg));
      const eb = f64x2.sub(f64x2.sub(cb, f64x2.mul(u, fb)), f64x2.mul(v, bb));
      const explained = f64x2.le(dot(er, eg, eb, er, eg, eb), unexplained);
      found = v128.bitselect(v, found, v128.and(apart, v128.and(alike, explained)));
    }
    const a = f64x2.extract_lane(found, 0);
    const b = f64x2.extract_lane(found, 1);
    store<f64>(most + ((<usize>ray) << 3), a > b ? a : b);
  }
}

/** Nearest whole number of what is no less than −16384. */
function rounded(v: f64): i32 {
  return <i32>(v + 16384.5) - 16384;
}

/**
 * Cover and error of a pixel as a mixture of the screen and the subject met first along each of `rays`; how many were met.
 * @param told the pixel less the screen, the screen; price of shade, least share, the screen's light that counts, 1 / tolerance²;
 *   how far the subject is looked for, and how much deeper its colour is read, px; then each ray's step across and down
 * @param distance to the nearest known colour, px, 0 where it is known; @param laid the frame's first colour, `width` of them to a row
 * @param met R, G, B of those met, covers, errors, how far away they are, and 1 where the subject does not go on: `rays` of each
 */
export function mixturesAlong(
  told: usize,
  distance: usize,
  laid: usize,
  met: usize,
  x: i32,
  y: i32,
  width: i32,
  height: i32,
  rays: i32,
): i32 {
  const longest = load<f64>(told + 80);
  const deeper = load<f64>(told + 88);
  const nearest = max<f64>(1, load<f32>(distance + ((<usize>(y * width + x)) << 2)));
  const plane = (<usize>rays) << 3;
  let count = 0;
  for (let k = 0; k < rays; k++) {
    const dx = load<f64>(told + 96 + ((<usize>k) << 4));
    const dy = load<f64>(told + 104 + ((<usize>k) << 4));
    // Steps of the known distance cannot jump over anything known.
    let t = nearest;
    let px = -1;
    let py = -1;
    let found = false;
    while (t <= longest) {
      px = rounded(<f64>x + t * dx);
      py = rounded(<f64>y + t * dy);
      if (px < 0 || py < 0 || px >= width || py >= height) break;
      const step = <f64>load<f32>(distance + ((<usize>(py * width + px)) << 2));
      if (step === 0) {
        found = true;
        break;
      }
      t += step > 1 ? step : 1;
    }
    if (!found) continue;
    const qx = rounded(<f64>x + (t + deeper) * dx);
    const qy = rounded(<f64>y + (t + deeper) * dy);
    const inside = qx >= 0 && qy >= 0 && qx < width && qy < height;
    const goesOn = inside && load<f32>(distance + ((<usize>(qy * width + qx)) << 2)) === 0;
    const from = laid + ((<usize>(goesOn ? qy * width + qx : py * width + px)) << 4);
    const at = met + ((<usize>count) << 3);
    store<f64>(at, load<f32>(from));
    store<f64>(at + plane, load<f32>(from + 4));
    store<f64>(at + 2 * plane, load<f32>(from + 8));
    store<f64>(at + 5 * plane, t);
    store<f64>(at + 6 * plane, goesOn ? 0 : 1);
    count++;
  }
  mixtures(told, met, plane, count);
  return count;
}

/** Cover and error of a mixture with the screen by each of `count` subject colours, which may be brighter or darker at a price. */
function mixtures(told: usize, colours: usize, plane: usize, count: i32): void {
  const cr = splat(told, 0);
  const cg = splat(told, 1);
  const cb = splat(told, 2);
  const br = splat(told, 3);
  const bg = splat(told, 4);
  const bb = splat(told, 5);
  const priceOfShade = splat(told, 6);
  const leastShare = splat(told, 7);
  const lightBehind = splat(told, 8);
  const perTolerance = splat(told, 9);
  const zero = f64x2.splat(0);
  const one = f64x2.splat(1);
  const same = f64x2.splat(1e-6);
  const never = f64x2.splat(Infinity);
  for (let at = colours; at < colours + ((<usize>count) << 3); at += 16) {
    const gr = v128.load(at);
    const gg = v128.load(at + plane);
    const gb = v128.load(at + 2 * plane);
    const fr = f64x2.sub(gr, br);
    const fg = f64x2.sub(gg, bg);
    const fb = f64x2.sub(gb, bb);
    const square = dot(fr, fg, fb, fr, fg, fb);
    const projected = dot(cr, cg, cb, fr, fg, fb);
    const share = v128.bitselect(one, f64x2.div(projected, square), f64x2.gt(projected, square));
    const about = v128.bitselect(leastShare, share, f64x2.lt(projected, f64x2.mul(leastShare, square)));
    const price = f64x2.div(f64x2.mul(priceOfShade, square), f64x2.mul(about, about));
    const own = f64x2.add(dot(gr, gg, gb, gr, gg, gb), price);
    const both = dot(fr, fg, fb, gr, gg, gb);
    const ofShade = dot(cr, cg, cb, gr, gg, gb);
    const solved = f64x2.div(
      f64x2.sub(f64x2.mul(projected, own), f64x2.mul(ofShade, both)),
      f64x2.sub(f64x2.mul(square, own), f64x2.mul(both, both)),
    );
    const a = v128.bitselect(zero, v128.bitselect(one, solved, f64x2.gt(solved, one)), f64x2.lt(solved, zero));
    const shade = f64x2.div(f64x2.sub(ofShade, f64x2.mul(a, both)), own);
    const er = f64x2.sub(f64x2.sub(cr, f64x2.mul(a, fr)), f64x2.mul(shade, gr));
    const eg = f64x2.sub(f64x2.sub(cg, f64x2.mul(a, fg)), f64x2.mul(shade, gg));
    const eb = f64x2.sub(f64x2.sub(cb, f64x2.mul(a, fb)), f64x2.mul(shade, gb));
    const dimmed = f64x2.add(f64x2.mul(f64x2.sub(one, a), f64x2.sqrt(f64x2.div(lightBehind, square))), a);
    const scale = v128.bitselect(dimmed, one, f64x2.lt(lightBehind, square));
    const error = f64x2.add(dot(er, eg, eb, er, eg, eb), f64x2.mul(f64x2.mul(price, shade), shade));
    const cost = f64x2.mul(f64x2.div(error, f64x2.mul(f64x2.mul(square, scale), scale)), perTolerance);
    v128.store(at + 3 * plane, a);
    v128.store(at + 4 * plane, v128.bitselect(never, cost, f64x2.lt(square, same)));
  }
}
