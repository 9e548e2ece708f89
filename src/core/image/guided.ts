import { boxMean } from "./box";

/**
 * Guided filter: smooths `source` so that it follows the guide's edges. In every square of side 2·radius + 1 the result is
 * the linear function of the guide that fits the source best.
 * Source: He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), eqs. 5–8.
 * @param epsilon squared contrast of the guide under which it is taken to be flat
 */
export function guidedFilter(
  source: Float32Array,
  guide: Float32Array,
  width: number,
  height: number,
  radius: number,
  epsilon: number,
): Float32Array {
  const n = source.length;
  const mean = (v: Float32Array) => boxMean(v, width, height, radius);
  const product = (p: Float32Array, q: Float32Array) => {
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) out[i] = (p[i] as number) * (q[i] as number);
    return out;
  };
  const [mi, mp] = [mean(guide), mean(source)];
  const [ii, ip] = [mean(product(guide, guide)), mean(product(guide, source))];
  const a = new Float32Array(n);
  const b = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const g = mi[i] as number;
    const slope = ((ip[i] as number) - g * (mp[i] as number)) / (Math.max(0, (ii[i] as number) - g * g) + epsilon);
    a[i] = slope;
    b[i] = (mp[i] as number) - slope * g;
  }
  const [ma, mb] = [mean(a), mean(b)];
  const out = new Float32Array(n);
  for (let i = 0; i < n; i++) out[i] = (ma[i] as number) * (guide[i] as number) + (mb[i] as number);
  return out;
}
