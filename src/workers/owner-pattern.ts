/** Period of the patterns, px of what is drawn. */
const PERIOD = 8;

/** Tells passes apart without hue: whether the pattern of the k-th pass (from 1) is dark at a pixel. The first one is plain. */
export function ownerPattern(k: number, x: number, y: number): boolean {
  const u = ((x % PERIOD) + PERIOD) % PERIOD;
  const v = ((y % PERIOD) + PERIOD) % PERIOD;
  const half = PERIOD / 2;
  switch ((k - 1) % 8) {
    case 0:
      return false;
    case 1:
      return (u + v) % PERIOD < 3;
    case 2:
      return u % half < 2 && v % half < 2;
    case 3:
      return v < 3;
    case 4:
      return u < 3;
    case 5:
      return (u - v + PERIOD) % PERIOD < 3;
    case 6:
      return u < 2 || v < 2;
    default:
      return u < half === v < half;
  }
}
