import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { otherChannels } from "../screen/primary";
import { neutralLimit, type SpillSettings } from "../spill/limit";

/**
 * The subject's own colour in mixed pixels. A mixed pixel is C = α·F + (1−α)·B with a known screen B; taking the
 * share `amount` of the screen out gives F = (C − s·(1−α)·B) / (1 − s·(1−α)), s = amount. Solid pixels
 * (α = 1) are `treated`, the spill-limited plate, unchanged; mixed ones get the same spill limit after the screen is out.
 * Straight colour, linear light, not below 0 where the screen was taken out.
 * Source: Porter & Duff, "Compositing Digital Images", SIGGRAPH 1984, solved for F.
 */
export function edgeColour(
  plate: Picture,
  treated: Picture,
  matte: Plane,
  screen: Rgb,
  amount: number,
  spill: SpillSettings,
  allocate: Allocate = fresh,
): Picture {
  const { width, height } = plate;
  const n = matte.data.length;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const [un, vn] = otherChannels(spill.primary);
  const [P, U, V] = [plate[spill.primary], plate[un], plate[vn]];
  const [tp, tu, tv] = [treated[spill.primary], treated[un], treated[vn]];
  const [op, ou, ov] = [out[spill.primary], out[un], out[vn]];
  const [sp, su, sv] = [screen[spill.primary], screen[un], screen[vn]];
  for (let i = 0; i < n; i++) {
    const share = amount * (1 - (matte.data[i] as number));
    if (share <= 0) {
      op[i] = tp[i] as number;
      ou[i] = tu[i] as number;
      ov[i] = tv[i] as number;
      continue;
    }
    // Where nothing but screen is left, no colour can be told.
    const k = share < 0.9999 ? 1 / (1 - share) : 0;
    const u = Math.max(0, ((U[i] as number) - share * su) * k);
    const v = Math.max(0, ((V[i] as number) - share * sv) * k);
    const p = Math.max(0, ((P[i] as number) - share * sp) * k);
    const over = p - neutralLimit(u, v, spill.limit);
    op[i] = over > 0 ? p - spill.amount * over : p;
    ou[i] = u;
    ov[i] = v;
  }
  return out;
}
