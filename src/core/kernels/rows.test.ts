import { describe, expect, it } from "vitest";
import { random } from "../image/random";
import { type BackToRecorded, backToRecorded } from "./rows";

const SITINGS = [
  { rows: 2, cositedAcross: true, cositedDown: false },
  { rows: 2, cositedAcross: false, cositedDown: false },
  { rows: 2, cositedAcross: true, cositedDown: true },
  { rows: 1, cositedAcross: true, cositedDown: false },
] as const;

/** What a luma-sized plane is recorded as: 1-2-1 around even places or 1-1 between two, ends repeated. */
function recordedOf(fine: Float32Array, width: number, height: number, s: (typeof SITINGS)[number]): Float32Array {
  const [cw, ch] = [Math.ceil(width / 2), s.rows === 2 ? Math.ceil(height / 2) : height];
  const taps = (cosited: boolean) => (cosited ? [0.25, 0.5, 0.25] : [0, 0.5, 0.5]);
  const down = s.rows === 1 ? [0, 1, 0] : taps(s.cositedDown);
  return Float32Array.from({ length: cw * ch }, (_, i) => {
    let sum = 0;
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const y = Math.min(height - 1, Math.max(0, s.rows * Math.floor(i / cw) + dy));
        const x = Math.min(width - 1, Math.max(0, 2 * (i % cw) + dx));
        sum += down[dy + 1]! * taps(s.cositedAcross)[dx + 1]! * fine[y * width + x]!;
      }
    return sum;
  });
}

describe("chroma brought back to what was recorded", () => {
  const told = { rounds: 1, grain: 0, even: 4, spare: 0.1 };
  const distance = (a: Float32Array, b: Float32Array) => Math.sqrt(a.reduce((s, v, i) => s + (v - b[i]!) ** 2, 0) / a.length);

  for (const [width, height] of [
    [33, 21],
    [16, 8],
    [2, 3],
  ] as const)
    it.each(SITINGS)(`%o, ${width} × ${height}: every round lies nearer`, (siting) => {
      const next = random(9);
      // A slanting edge, recorded; then a guess that is blurred.
      const truth = Float32Array.from({ length: width * height }, (_, i) =>
        (i % width) + Math.floor(i / width) / 2 > width / 2 ? 180 : 90,
      );
      const recorded = recordedOf(truth, width, height, siting);
      const [cw, ch] = [Math.ceil(width / 2), recorded.length / Math.ceil(width / 2)];
      const fine = truth.map((v) => 135 + 0.4 * (v - 135) + next());
      let before = distance(recordedOf(fine, width, height, siting), recorded);
      for (let k = 0; k < 4; k++) {
        backToRecorded(fine, width, height, recorded, cw, ch, { ...siting, ...told });
        const now = distance(recordedOf(fine, width, height, siting), recorded);
        expect(now).toBeLessThan(before);
        before = now;
      }
      // Never farther than a tenth of the range beyond what was recorded; the smallest has places that no edge is near.
      if (width === 2) return;
      const [least, most] = [Math.min(...recorded), Math.max(...recorded)];
      expect(Math.min(...fine)).toBeGreaterThanOrEqual(least - 0.1 * (most - least) - 1e-3);
      expect(Math.max(...fine)).toBeLessThanOrEqual(most + 0.1 * (most - least) + 1e-3);
    });

  it("two columns by hand", () => {
    const fine = Float32Array.of(10, 20, 30, 40);
    const settings: BackToRecorded = { rows: 1, cositedAcross: true, cositedDown: false, ...told };
    backToRecorded(fine, 2, 2, Float32Array.of(60, 10), 1, 2, settings);
    // Recorded of 10, 20 is 12.5, so 47.5 is missing; of 30, 40 it is 32.5, 22.5 too much; none beyond 5 … 65.
    expect([...fine]).toEqual([57.5, 65, 7.5, 17.5]);
  });

  it("leaves what has no edge, and what lies within the grain", () => {
    const flat = Float32Array.of(1, 2, 3, 4);
    backToRecorded(flat, 2, 2, Float32Array.of(100, 103), 1, 2, { ...SITINGS[3], ...told });
    expect([...flat]).toEqual([1, 2, 3, 4]);
    const near = Float32Array.of(59, 59, 11, 11);
    backToRecorded(near, 2, 2, Float32Array.of(60, 10), 1, 2, { ...SITINGS[3], ...told, grain: 1 });
    expect([...near]).toEqual([59, 59, 11, 11]);
  });
});
