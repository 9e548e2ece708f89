import type { Rgb } from "../color/hue";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";
import { otherChannels } from "../screen/primary";
import { evenPutBack, neutralLimit, putBack, type SpillSettings, spillReach, unitLuminance } from "../spill/limit";

/**
 * The subject's own colour in mixed pixels. A mixed pixel is C = α·F + (1−α)·B with a known screen B; taking the
 * share `amount` of the screen out gives F = (C − s·(1−α)·B) / (1 − s·(1−α)), s = amount. Solid pixels
 * (α = 1) are `treated`, the spill-limited plate, unchanged; mixed ones get the same spill treatment after the screen is out.
 * Straight colour, linear light, not below 0 where the screen was taken out.
 * Source: Porter & Duff, "Compositing Digital Images", SIGGRAPH 1984, solved for F.
 * @param screen one colour, or the screen at every pixel
 * @param ownShare excess that is the surface's own at each pixel, as a share of its luminance
 */
export function edgeColour(
  plate: Picture,
  treated: Picture,
  matte: Plane,
  screen: Rgb | Picture,
  amount: number,
  spill: SpillSettings,
  allocate: Allocate = fresh,
  ownShare?: Float32Array,
): Picture {
  const { width, height } = plate;
  const n = matte.data.length;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const [un, vn] = otherChannels(spill.primary);
  const P = plate[spill.primary];
  const U = plate[un];
  const V = plate[vn];
  const tp = treated[spill.primary];
  const tu = treated[un];
  const tv = treated[vn];
  const op = out[spill.primary];
  const ou = out[un];
  const ov = out[vn];
  const back = isPicture(screen) ? screen : null;
  const bp = back ? back[spill.primary] : P;
  const bu = back ? back[un] : U;
  const bv = back ? back[vn] : V;
  const one = back ? { p: 0, u: 0, v: 0 } : { p: screen[spill.primary] as number, u: screen[un] as number, v: screen[vn] as number };
  const even = evenPutBack(spill);
  const [gp, gu, gv] = even ? [even[spill.primary], even[un], even[vn]] : [0, 0, 0];
  const replace = even ? null : putBack(spill);
  const add = { r: 0, g: 0, b: 0 };
  const colour = { r: 0, g: 0, b: 0 };
  const taken = spill.replace === "original" ? 0 : spill.amount;
  const unit = { p: unitLuminance(spill.primary), u: unitLuminance(un), v: unitLuminance(vn) };
  const m = matte.data;
  for (let i = 0; i < n; i++) {
    const share = amount * (1 - (m[i] as number));
    if (share <= 0) {
      op[i] = tp[i] as number;
      ou[i] = tu[i] as number;
      ov[i] = tv[i] as number;
      continue;
    }
    // Where nothing but screen is left, no colour can be told.
    if (share >= 0.9999) {
      op[i] = 0;
      ou[i] = 0;
      ov[i] = 0;
      continue;
    }
    const k = 1 / (1 - share);
    const u = Math.max(0, ((U[i] as number) - share * (back ? (bu[i] as number) : one.u)) * k);
    const v = Math.max(0, ((V[i] as number) - share * (back ? (bv[i] as number) : one.v)) * k);
    const p = Math.max(0, ((P[i] as number) - share * (back ? (bp[i] as number) : one.p)) * k);
    let over = p - neutralLimit(u, v, spill.limit, spill.mix);
    if (ownShare) over -= (ownShare[i] as number) * (unit.p * p + unit.u * u + unit.v * v);
    const take = over > 0 ? taken * over * spillReach(p, u, v, spill) : 0;
    if (replace && take > 0) {
      colour[spill.primary] = p - take;
      colour[un] = u;
      colour[vn] = v;
      replace(add, take, colour, i);
      op[i] = p - take + add[spill.primary];
      ou[i] = u + add[un];
      ov[i] = v + add[vn];
    } else {
      op[i] = p - take + gp * take;
      ou[i] = u + gu * take;
      ov[i] = v + gv * take;
    }
  }
  return out;
}
