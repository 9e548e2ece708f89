import type { Lab } from "./lab";

const RAD = Math.PI / 180;
const hueOf = (a: number, b: number): number => {
  if (a === 0 && b === 0) return 0;
  const h = Math.atan2(b, a) / RAD;
  return h < 0 ? h + 360 : h;
};
const P7 = 25 ** 7;

/**
 * Colour difference ΔE00 with kL = kC = kH = 1; about 1 is a just noticeable difference side by side.
 * Source: CIE 142-2001, written after G. Sharma, W. Wu & E. N. Dalal, "The CIEDE2000 Color-Difference Formula:
 * Implementation Notes, Supplementary Test Data, and Mathematical Observations", Color Research and Application 30 (2005).
 */
export function ciede2000(p: Lab, q: Lab): number {
  const meanC = (Math.hypot(p.a, p.b) + Math.hypot(q.a, q.b)) / 2;
  const c7 = meanC ** 7;
  const stretch = 1 + 0.5 * (1 - Math.sqrt(c7 / (c7 + P7)));
  const [a1, a2] = [p.a * stretch, q.a * stretch];
  const [c1, c2] = [Math.hypot(a1, p.b), Math.hypot(a2, q.b)];
  const [h1, h2] = [hueOf(a1, p.b), hueOf(a2, q.b)];
  const dl = q.l - p.l;
  const dc = c2 - c1;
  const grey = c1 * c2 === 0;
  let dh = grey ? 0 : h2 - h1;
  if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * RAD);
  const l = (p.l + q.l) / 2;
  const c = (c1 + c2) / 2;
  let h = h1 + h2;
  if (!grey) h = Math.abs(h1 - h2) <= 180 ? h / 2 : h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  const t =
    1 -
    0.17 * Math.cos((h - 30) * RAD) +
    0.24 * Math.cos(2 * h * RAD) +
    0.32 * Math.cos((3 * h + 6) * RAD) -
    0.2 * Math.cos((4 * h - 63) * RAD);
  const l50 = (l - 50) ** 2;
  const sl = 1 + (0.015 * l50) / Math.sqrt(20 + l50);
  const sc = 1 + 0.045 * c;
  const sh = 1 + 0.015 * c * t;
  const m7 = c ** 7;
  const rotation = -Math.sin(2 * 30 * Math.exp(-(((h - 275) / 25) ** 2)) * RAD) * 2 * Math.sqrt(m7 / (m7 + P7));
  return Math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dH / sh) ** 2 + rotation * (dc / sc) * (dH / sh));
}
