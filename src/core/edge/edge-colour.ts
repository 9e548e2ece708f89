import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { otherChannels } from "../screen/primary";
import { greyFor, neutralLimit, type SpillSettings, spillReach } from "../spill/limit";

const isPicture = (s: Picture | Rgb): s is Picture => (s as Picture).width !== undefined;

/**
 * The subject's own colour in mixed pixels. A mixed pixel is C = α·F + (1−α)·B with a known screen B; taking the
 * share `amount` of the screen out gives F = (C − s·(1−α)·B) / (1 − s·(1−α)), s = amount. Solid pixels
 * (α = 1) are `treated`, the spill-limited plate, unchanged; mixed ones get the same spill treatment after the screen is out.
 * Straight colour, linear light, not below 0 where the screen was taken out.
 * Source: Porter & Duff, "Compositing Digital Images", SIGGRAPH 1984, solved for F.
 * @param screen one colour, or the screen at every pixel
 * @param keep share of the excess that is the surface's own, 0…1
 */
export function edgeColour(
  plate: Picture,
  treated: Picture,
  matte: Plane,
  screen: Rgb | Picture,
  amount: number,
  spill: SpillSettings,
  allocate: Allocate = fresh,
  keep?: Float32Array,
): Picture {
  const { width, height } = plate;
  const n = matte.data.length;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const [un, vn] = otherChannels(spill.primary);
  const [P, U, V] = [plate[spill.primary], plate[un], plate[vn]];
  const [tp, tu, tv] = [treated[spill.primary], treated[un], treated[vn]];
  const [op, ou, ov] = [out[spill.primary], out[un], out[vn]];
  const back = isPicture(screen) ? [screen[spill.primary], screen[un], screen[vn]] : null;
  const one = isPicture(screen) ? [0, 0, 0] : [screen[spill.primary], screen[un], screen[vn]];
  const grey = greyFor(spill);
  for (let i = 0; i < n; i++) {
    const share = amount * (1 - (matte.data[i] as number));
    if (share <= 0) {
      op[i] = tp[i] as number;
      ou[i] = tu[i] as number;
      ov[i] = tv[i] as number;
      continue;
    }
    const sp = back ? (back[0]?.[i] as number) : (one[0] as number);
    const su = back ? (back[1]?.[i] as number) : (one[1] as number);
    const sv = back ? (back[2]?.[i] as number) : (one[2] as number);
    // Where nothing but screen is left, no colour can be told.
    const k = share < 0.9999 ? 1 / (1 - share) : 0;
    const u = Math.max(0, ((U[i] as number) - share * su) * k);
    const v = Math.max(0, ((V[i] as number) - share * sv) * k);
    const p = Math.max(0, ((P[i] as number) - share * sp) * k);
    const over = p - neutralLimit(u, v, spill.limit);
    const take = over > 0 ? spill.amount * (keep ? 1 - (keep[i] as number) : 1) * over * spillReach(p, u, v, spill) : 0;
    op[i] = p - take + grey * take;
    ou[i] = u + grey * take;
    ov[i] = v + grey * take;
  }
  return out;
}
