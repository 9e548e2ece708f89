import { luminance } from "../color/hue";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { wideBlur } from "../image/wide-blur";

/** Share of a pixel's luminance that was taken as spill: under the first its colour is trusted, over the second it is not. */
const TRUSTED = 0.03;
const DRAINED = 0.12;
/** Colourfulness over its surroundings' from which a place lacks nothing. */
const FULL = 0.8;
/** Least weight of trusted surroundings that tells a colour. */
const LEAST = 1e-3;

/**
 * Puts colour back into flat patches in which spill and surface cancelled out: where much light was taken and what is left is
 * greyer than its surroundings, which lost little. Their colour is carried in; the luminance stays. Linear light.
 * Common practice calls for colour to be put back there, not for more to be removed.
 * @param treated the picture after spill was taken
 * @param removed light taken from the screen primary
 * @param unit luminance of one unit of that primary
 * @param amount 0…1
 * @param reach how far surroundings are looked for, px of this picture
 */
export function refillColour(
  treated: Picture,
  removed: Float32Array,
  unit: number,
  amount: number,
  reach: number,
  allocate: Allocate = fresh,
): Picture {
  const { width, height, r, g, b } = treated;
  const n = r.length;
  const luma = new Float32Array(n);
  const trust = new Float32Array(n);
  const lost = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const y = Math.max(0, luminance({ r: r[i] as number, g: g[i] as number, b: b[i] as number }));
    luma[i] = y;
    const share = ((removed[i] as number) * unit) / Math.max(1e-5, y);
    trust[i] = y > 1e-3 ? Math.min(1, Math.max(0, (DRAINED - share) / (DRAINED - TRUSTED))) : 0;
    lost[i] = 1 - (trust[i] as number);
  }
  const blur = (c: Float32Array) => wideBlur(c, width, height, Math.max(1, reach));
  const around = (c: Float32Array) => blur(c.map((v, i) => v * (trust[i] as number)));
  const [ar, ag, ab, ay, weight] = [around(r), around(g), around(b), around(luma), blur(trust)];
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  for (let i = 0; i < n; i++) {
    const [pr, pg, pb] = [r[i] as number, g[i] as number, b[i] as number];
    out.r[i] = pr;
    out.g[i] = pg;
    out.b[i] = pb;
    const y = luma[i] as number;
    const wy = ay[i] as number;
    if ((lost[i] as number) === 0 || (weight[i] as number) < LEAST || y <= 1e-3 || wy <= 1e-6) continue;
    const [nr, ng, nb] = [((ar[i] as number) * y) / wy, ((ag[i] as number) * y) / wy, ((ab[i] as number) * y) / wy];
    const own = Math.max(pr, pg, pb) - Math.min(pr, pg, pb);
    const wanted = Math.max(nr, ng, nb) - Math.min(nr, ng, nb);
    const lacks = wanted > 1e-6 ? Math.min(1, Math.max(0, 1 - own / (FULL * wanted))) : 0;
    const k = amount * (lost[i] as number) * lacks;
    out.r[i] = pr + k * (nr - pr);
    out.g[i] = pg + k * (ng - pg);
    out.b[i] = pb + k * (nb - pb);
  }
  return out;
}
