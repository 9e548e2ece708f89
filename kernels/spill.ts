/** Pointwise steps that take spill out of a picture, and the screen out of mixed pixels; see pointwise.ts. */
import { all, between, choose, least, most, number, operand, parameter, result, unit } from "./blocks";

/** Degrees of hue from the primary's: the hexcone model, as `hueOffset` of src/core/spill/limit.ts. */
function hueOffset(p: v128, u: v128, v: v128): v128 {
  const top = most(p, most(u, v));
  const span = f32x4.sub(top, least(p, least(u, v)));
  const k = f32x4.div(all(60), span);
  const first = f32x4.mul(k, f32x4.sub(u, v));
  const nearU = f32x4.sub(all(120), f32x4.mul(k, f32x4.sub(p, v)));
  const nearV = f32x4.sub(f32x4.mul(k, f32x4.sub(p, u)), all(120));
  const leads = v128.and(f32x4.ge(p, u), f32x4.ge(p, v));
  const offset = choose(first, choose(nearU, nearV, f32x4.gt(u, v)), leads);
  return choose(offset, all(0), f32x4.gt(span, all(0)));
}

/** What spill is: limit (0 mix, 1 maximum, 2 minimum), mix, amount, luminances of P, U, V; whether hue limits it. Read once a block. */
let kind: f32 = 0;
let mix: v128 = i32x4.splat(0);
let amount: v128 = i32x4.splat(0);
let lp: v128 = i32x4.splat(0);
let lu: v128 = i32x4.splat(0);
let lv: v128 = i32x4.splat(0);
let everywhere: bool = true;
/** What a unit of taken light changes P, U, V by, and how much of each a unit takes away. */
let kp: v128 = i32x4.splat(0);
let ku: v128 = i32x4.splat(0);
let kv: v128 = i32x4.splat(0);
let several: bool = false;

/** Parameters: 0 to 5 as above, 6 and 7 reach towards U and V, 8 its shoulder, 9 to 11 changes, 12 to 14 the most taken for P, U, V. */
function readSpill(): void {
  kind = number(0);
  mix = parameter(1);
  amount = parameter(2);
  lp = parameter(3);
  lu = parameter(4);
  lv = parameter(5);
  everywhere = number(6) >= 180 && number(7) >= 180;
  kp = parameter(9);
  ku = parameter(10);
  kv = parameter(11);
  several = number(13) > 0 || number(14) > 0;
}

/** Share of a pixel's excess that its hue lets count. */
function withinReach(p: v128, u: v128, v: v128): v128 {
  const offset = hueOffset(p, u, v);
  const reach = choose(parameter(6), parameter(7), f32x4.ge(offset, all(0)));
  const s = unit(f32x4.div(f32x4.sub(f32x4.abs(offset), reach), parameter(8)));
  return f32x4.sub(all(1), f32x4.mul(f32x4.mul(s, s), f32x4.sub(all(3), f32x4.add(s, s))));
}

/** The most that may be taken of a channel which loses `k` of each unit. */
function atMost(take: v128, channel: v128, k: v128): v128 {
  return choose(least(take, f32x4.div(most(channel, all(0)), k)), take, f32x4.gt(k, all(0)));
}

/** Light that is taken for spill. @param own excess of the surface's own, as a share of luminance */
function spillOf(p: v128, u: v128, v: v128, own: v128): v128 {
  const limit = kind === 0 ? between(v, u, mix) : kind === 1 ? most(u, v) : least(u, v);
  const luminance = f32x4.add(f32x4.add(f32x4.mul(lp, p), f32x4.mul(lu, u)), f32x4.mul(lv, v));
  let take = f32x4.mul(amount, most(f32x4.sub(f32x4.sub(p, limit), f32x4.mul(own, luminance)), all(0)));
  if (!everywhere) take = f32x4.mul(take, withinReach(p, u, v));
  // Light of the screen's own hue leaves several channels: none may fall under nothing.
  if (several) take = atMost(atMost(atMost(take, p, parameter(12)), u, parameter(13)), v, parameter(14));
  return take;
}

/** P, U, V and the surface's own excess; gives P, U, V with spill changed, and what was taken. */
export function limitSpill(bytes: i32): void {
  readSpill();
  for (let at = 0; at < bytes; at += 16) {
    const p = operand(0, at);
    const u = operand(1, at);
    const v = operand(2, at);
    const take = spillOf(p, u, v, operand(3, at));
    result(0, at, f32x4.add(p, f32x4.mul(kp, take)));
    result(1, at, f32x4.add(u, f32x4.mul(ku, take)));
    result(2, at, f32x4.add(v, f32x4.mul(kv, take)));
    result(3, at, take);
  }
}

/**
 * P, U, V of the plate, of the treated plate, the matte, P, U, V of the screen, own excess; parameter 15 is the share of the
 * screen that goes. Gives P, U, V and what was taken for spill from mixed pixels.
 */
export function screenOut(bytes: i32): void {
  readSpill();
  const out = parameter(15);
  const nothing = all(0);
  for (let at = 0; at < bytes; at += 16) {
    const share = f32x4.mul(out, f32x4.sub(all(1), operand(6, at)));
    // Where nothing but screen is left, no colour can be told.
    const some = f32x4.lt(share, all(0.9999));
    const mixed = v128.and(some, f32x4.gt(share, nothing));
    if (!v128.any_true(mixed)) {
      result(0, at, v128.and(some, operand(3, at)));
      result(1, at, v128.and(some, operand(4, at)));
      result(2, at, v128.and(some, operand(5, at)));
      result(3, at, nothing);
      continue;
    }
    const k = f32x4.div(all(1), f32x4.sub(all(1), share));
    const p = most(f32x4.mul(k, f32x4.sub(operand(0, at), f32x4.mul(share, operand(7, at)))), nothing);
    const u = most(f32x4.mul(k, f32x4.sub(operand(1, at), f32x4.mul(share, operand(8, at)))), nothing);
    const v = most(f32x4.mul(k, f32x4.sub(operand(2, at), f32x4.mul(share, operand(9, at)))), nothing);
    const take = v128.and(mixed, spillOf(p, u, v, operand(10, at)));
    result(0, at, v128.and(some, choose(f32x4.add(p, f32x4.mul(kp, take)), operand(3, at), mixed)));
    result(1, at, v128.and(some, choose(f32x4.add(u, f32x4.mul(ku, take)), operand(4, at), mixed)));
    result(2, at, v128.and(some, choose(f32x4.add(v, f32x4.mul(kv, take)), operand(5, at), mixed)));
    result(3, at, take);
  }
}
