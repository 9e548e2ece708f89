/** 16-bit floats. Source: IEEE 754-2008, binary16. */

const f32 = new Float32Array(1);
const u32 = new Uint32Array(f32.buffer);

/** The value of a half-float's bits. */
export function halfToFloat(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 31;
  const fraction = bits & 1023;
  if (exponent === 0) return sign * fraction * 2 ** -24;
  if (exponent === 31) return fraction ? Number.NaN : sign * Number.POSITIVE_INFINITY;
  return sign * (1 + fraction / 1024) * 2 ** (exponent - 15);
}

/** The bits of the nearest half-float, ties to even; values beyond 65504 become infinity. */
export function floatToHalf(value: number): number {
  f32[0] = value;
  const x = u32[0] as number;
  const sign = (x >>> 16) & 0x8000;
  const exponent = (x >>> 23) & 255;
  const fraction = x & 0x7fffff;
  if (exponent === 255) return sign | 0x7c00 | (fraction ? 0x200 : 0);
  const e = exponent - 112;
  if (e >= 31) return sign | 0x7c00;
  // Below the smallest normal number, the hidden bit is shifted in.
  const shift = e <= 0 ? 14 - e : 13;
  if (shift > 24) return sign;
  const mantissa = e <= 0 ? fraction | 0x800000 : fraction;
  const kept = mantissa >>> shift;
  const rest = mantissa & ((1 << shift) - 1);
  const half = 1 << (shift - 1);
  const up = rest > half || (rest === half && (kept & 1) === 1) ? 1 : 0;
  return sign | ((e <= 0 ? kept : (e << 10) | kept) + up);
}
