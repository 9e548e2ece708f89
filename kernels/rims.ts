/**
 * The colour of rims, a row at a time: AssemblyScript, compiled with kernels/pointwise.ts. What a step means and its source stand
 * in src/core/edge/rim-chroma.ts. Rows have room for eight floats on either side of them.
 */

const ZERO = f32x4.splat(0);

function root(v: v128): v128 {
  return f32x4.sqrt(f32x4.pmax(v, ZERO));
}

function luma(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(0.2126), root(r)), f32x4.mul(f32x4.splat(0.7152), root(g))),
    f32x4.mul(f32x4.splat(0.0722), root(b)),
  );
}

/** Luma of linear light, square roots standing for the camera's curve. */
export function lumaOfLight(r: usize, g: usize, b: usize, to: usize, width: i32): void {
  for (let at: usize = 0; at < (<usize>width) << 2; at += 16)
    v128.store(to + at, luma(v128.load(r + at), v128.load(g + at), v128.load(b + at)));
}

/**
 * Rows of a window of `count`, each `stride` bytes after the last: luma, distance from screen, R, G, B, each `line` bytes after the
 * last. `top` is the place of the window's first row, as they are laid in turn.
 * @param told nine floats as src/core/kernels/rims.ts tells them, and the weights by distance down and across, `count` of them
 * @param r of the plate, changed in place, as g and b are
 */
export function rimRow(
  window: usize,
  stride: usize,
  line: usize,
  count: i32,
  top: i32,
  told: usize,
  matte: usize,
  r: usize,
  g: usize,
  b: usize,
  width: i32,
): void {
  const amount = v128.load32_splat(told);
  const end = v128.load32_splat(told + 4);
  const fading = v128.load32_splat(told + 8);
  const pure = v128.load32_splat(told + 12);
  const purer = v128.load32_splat(told + 16);
  const empty = v128.load32_splat(told + 20);
  const nearlySolid = v128.load32_splat(told + 24);
  const steep = v128.load32_splat(told + 28);
  const doubt = v128.load32_splat(told + 32);
  const places = told + 36;
  const reach = count >> 1;
  const middle = window + <usize>((top + reach) % count) * stride;
  const one = f32x4.splat(1);
  for (let at: usize = 0; at < (<usize>width) << 2; at += 16) {
    const m = v128.load(matte + at);
    const left = f32x4.sub(end, v128.load(middle + line + at));
    const rim = v128.and(f32x4.gt(m, empty), f32x4.gt(left, ZERO));
    if (!v128.any_true(rim)) continue;
    const far = f32x4.mul(amount, f32x4.pmin(f32x4.mul(left, fading), one));
    let red = v128.load(middle + 2 * line + at);
    let green = v128.load(middle + 3 * line + at);
    let blue = v128.load(middle + 4 * line + at);
    const wanted = v128.and(rim, f32x4.ge(m, nearlySolid));
    if (v128.any_true(wanted)) {
      const here = v128.load(middle + at);
      let weight = ZERO;
      let reds = ZERO;
      let greens = ZERO;
      let blues = ZERO;
      for (let k = 0; k < count; k++) {
        const row = window + <usize>((top + k) % count) * stride + at - ((<usize>reach) << 2);
        const down = load<f32>(places + ((<usize>k) << 2));
        for (let l = 0; l < count; l++) {
          const from = row + ((<usize>l) << 2);
          const clear = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(from + line), pure), purer), ZERO), one);
          if (!v128.any_true(clear)) continue;
          const d = f32x4.sub(v128.load(from), here);
          const alike = f32x4.pmax(f32x4.sub(one, f32x4.mul(steep, f32x4.mul(d, d))), ZERO);
          const place = f32x4.splat(down * load<f32>(places + ((<usize>l) << 2)));
          const w = f32x4.mul(f32x4.mul(clear, place), f32x4.mul(alike, alike));
          weight = f32x4.add(weight, w);
          reds = f32x4.add(reds, f32x4.mul(w, v128.load(from + 2 * line)));
          greens = f32x4.add(greens, f32x4.mul(w, v128.load(from + 3 * line)));
          blues = f32x4.add(blues, f32x4.mul(w, v128.load(from + 4 * line)));
        }
      }
      const some = v128.and(f32x4.gt(weight, ZERO), wanted);
      const each = f32x4.div(one, weight);
      const mean = luma(f32x4.mul(reds, each), f32x4.mul(greens, each), f32x4.mul(blues, each));
      const k = f32x4.div(here, f32x4.pmax(mean, f32x4.splat(1e-4)));
      const shade = f32x4.mul(f32x4.mul(k, k), each);
      const trust = f32x4.div(weight, f32x4.add(weight, doubt));
      red = v128.bitselect(f32x4.add(red, f32x4.mul(trust, f32x4.sub(f32x4.mul(shade, reds), red))), red, some);
      green = v128.bitselect(f32x4.add(green, f32x4.mul(trust, f32x4.sub(f32x4.mul(shade, greens), green))), green, some);
      blue = v128.bitselect(f32x4.add(blue, f32x4.mul(trust, f32x4.sub(f32x4.mul(shade, blues), blue))), blue, some);
    }
    move(r + at, red, far, rim);
    move(g + at, green, far, rim);
    move(b + at, blue, far, rim);
  }
}

function move(at: usize, to: v128, far: v128, where: v128): void {
  const from = v128.load(at);
  v128.store(at, v128.bitselect(f32x4.add(from, f32x4.mul(far, f32x4.sub(to, from))), from, where));
}
