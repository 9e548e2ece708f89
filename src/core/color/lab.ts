import type { Rgb } from "./hue";

/** CIE 1976 L*a*b*, L* 0…100. */
export interface Lab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

/** Linear BT.709 / sRGB primaries to CIE XYZ, D65, Y of white 1. Source: IEC 61966-2-1:1999. */
const M = [
  [0.4124, 0.3576, 0.1805],
  [0.2126, 0.7152, 0.0722],
  [0.0193, 0.1192, 0.9505],
] as const;
/** White is R = G = B = 1 itself, so that neutrals have a* = b* = 0. */
const WHITE = M.map(([r, g, b]) => r + g + b) as [number, number, number];

const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;
const f = (t: number): number => (t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116);

/** Linear light to L*a*b*. Source: CIE 15:2004, 8.2.1; the constants as exact fractions. */
export function linearToLab({ r, g, b }: Rgb): Lab {
  const x = f((M[0][0] * r + M[0][1] * g + M[0][2] * b) / WHITE[0]);
  const y = f((M[1][0] * r + M[1][1] * g + M[1][2] * b) / WHITE[1]);
  const z = f((M[2][0] * r + M[2][1] * g + M[2][2] * b) / WHITE[2]);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}
