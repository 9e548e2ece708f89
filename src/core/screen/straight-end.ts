/** How far from a straight line the screen may begin and still lie along it, as a share of the depth, and least in px. */
const OFF = 1 / 200;
const LEAST_OFF = 1.5;
/** Lines across the frame at which the end is tried by pairs; least distance of such a pair, as a share of the border. */
const TRIED = 32;
const APART = 1 / 3;
/** Share of the border that must show screen, and of that what must lie along the line: a subject may stand before the rest. */
const SHOWN = 0.5;
const ALONG = 0.4;
/** Share over which the screen may go on beyond the line: the sheen of a wall. */
const OVER = 0.02;
/** How near the line must come to where the screen begins along the border, and to its other end, where a subject may stand, as shares of it. */
const NEAR_START = 0.06;
const NEAR_END = 0.6;
/** How far from the border such a line lies, as shares of the depth; and how much it may lean. */
const NEAREST = 0.01;
const FARTHEST = 1 / 3;
const LEAN = 0.2;

/**
 * The straight line along which a screen ends before a lit wall, whatever that looks like: a room beside a screen that hangs in it.
 * Source: the line by pairs that most agree with, Fischler & Bolles, "Random Sample Consensus", Communications of the ACM 24 (1981), all pairs of a few
 * places instead of random ones.
 * @param begins how far from the border the screen begins, px, for each line across the frame; `depth` where there is none
 * @returns how far from the border the wall reaches at most at each of these lines, px; null where the screen does not end so
 */
export function straightEnd(begins: readonly number[], depth: number): Float32Array | null {
  const count = begins.length;
  const shown = Array.from(begins.keys()).filter((k) => (begins[k] as number) < depth);
  if (shown.length < SHOWN * count) return null;
  const off = Math.max(LEAST_OFF, OFF * depth);
  const at = (k: number) => begins[k] as number;
  const tried = Array.from({ length: TRIED }, (_, j) => shown[Math.floor(((j + 0.5) * shown.length) / TRIED)] as number);
  let [slope, from, most] = [0, 0, 0];
  for (const a of tried)
    for (const b of tried) {
      if (b - a < APART * count) continue;
      const lean = (at(b) - at(a)) / (b - a);
      if (Math.abs(lean) > LEAN) continue;
      const agree = tried.filter((k) => Math.abs(at(a) + lean * (k - a) - at(k)) <= off).length;
      if (agree > most) [slope, from, most] = [lean, at(a) - lean * a, agree];
    }
  const line = Float32Array.from({ length: count }, (_, k) => from + slope * k);
  const along = shown.filter((k) => Math.abs(at(k) - (line[k] as number)) <= off);
  const over = shown.filter((k) => at(k) < (line[k] as number) - off);
  const [first, last] = [shown[0] as number, shown.at(-1) as number];
  if (along.length < ALONG * shown.length || over.length > OVER * shown.length) return null;
  if ((along[0] as number) > first + NEAR_START * count || (along.at(-1) as number) < last - NEAR_END * count) return null;
  for (const k of [first, last]) if ((line[k] as number) < NEAREST * depth || (line[k] as number) > FARTHEST * depth) return null;
  return line.map((v) => v + off);
}
