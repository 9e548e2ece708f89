/** What a channel weight leaves of the screen: AssemblyScript, compiled with kernels/pointwise.ts. What it means stands in src/core/key/parting-weight.ts. */

/** The excess of four places, which goes with the weight in a straight line: at a weight of 0, and by how much it falls. */
function excess(none: usize, falls: usize, at: usize, weight: v128): v128 {
  return f32x4.sub(v128.load(none + at), f32x4.mul(weight, v128.load(falls + at)));
}

/**
 * Sum over places of (aim − left)², at most `most` each, where `left` is how much of the screen's excess is left, 0…1; 0 where it has none.
 * @param places how many: a multiple of four
 */
export function leftBy(
  none: usize,
  falls: usize,
  noneBehind: usize,
  fallsBehind: usize,
  places: i32,
  weight: f32,
  aim: f32,
  most: f32,
): f64 {
  const w = f32x4.splat(weight);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const aims = f32x4.splat(aim);
  const mosts = f32x4.splat(most);
  const least = f32x4.splat(1e-6);
  let sum = f64x2.splat(0);
  for (let at: usize = 0; at < (<usize>places) << 2; at += 16) {
    const whole = excess(noneBehind, fallsBehind, at, w);
    const part = f32x4.min(one, f32x4.max(zero, f32x4.div(excess(none, falls, at, w), whole)));
    const short = f32x4.sub(aims, v128.bitselect(part, zero, f32x4.gt(whole, least)));
    const cost = f32x4.min(mosts, f32x4.mul(short, short));
    sum = f64x2.add(sum, f64x2.promote_low_f32x4(cost));
    sum = f64x2.add(sum, f64x2.promote_low_f32x4(v128.shuffle<i32>(cost, cost, 2, 3, 0, 1)));
  }
  return f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1);
}
