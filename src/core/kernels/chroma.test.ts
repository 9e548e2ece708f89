import { describe, expect, it } from "vitest";
import { random } from "../image/random";
import { type BackToRecorded, backToRecorded, sidesOf } from "./chroma";
import { onRows, rowRoom } from "./rows";

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

/** About e to the power of −v. */
const fade = (v: number) => Math.max(0, 1 - v / 8) ** 8;

describe("samples of one colour", () => {
  for (const [width, height] of [
    [33, 21],
    [16, 8],
    [5, 2],
  ] as const)
    it.each(SITINGS)(`%o, ${width} × ${height}: spread of luma and range of chroma, as plain loops tell them`, (siting) => {
      const next = random(17);
      const { rows, cositedAcross, cositedDown } = siting;
      const [cw, ch] = [Math.ceil(width / 2), rows === 2 ? Math.ceil(height / 2) : height];
      const Y = Uint16Array.from({ length: width * height }, () => 60 + 40 * next());
      const chroma = () => Float32Array.from({ length: cw * ch }, () => 100 + 9 * next());
      const planes = [chroma(), chroma()] as const;
      const down = rows === 1 ? [0] : cositedDown ? [-1, 0, 1] : [0, 1];
      const { pure, edge } = sidesOf(Y, width, height, planes, cw, ch, { rows, down, cositedAcross, mixed: 12, even: 8 });
      const within = (v: number, n: number) => Math.min(n - 1, Math.max(0, v));
      for (let i = 0; i < cw * ch; i++) {
        const [x, y] = [i % cw, Math.floor(i / cw)];
        const luma = down.flatMap((dy) =>
          (cositedAcross ? [-1, 0, 1] : [0, 1]).map((dx) => Y[within(rows * y + dy, height) * width + within(2 * x + dx, width)]!),
        );
        expect(pure[i]).toBeCloseTo(fade(((Math.max(...luma) - Math.min(...luma)) / 24) ** 2), 5);
        const range = (c: Float32Array) => {
          const around = [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => c[within(y + dy, ch) * cw + within(x + dx, cw)]!));
          return Math.max(...around) - Math.min(...around);
        };
        expect(edge[i]).toBe(Math.max(range(planes[0]), range(planes[1])) > 8 ? 1 : 0);
      }
    });

  it("a row is mixed with the samples of its own luma around it, by plain arithmetic; where there is no edge it stays", () => {
    const [cw, width] = [9, 18];
    const next = random(23);
    const framed = (value: () => number) => Float32Array.from({ length: 3 * (cw + 2) }, value);
    const [low, first, second, pure] = [framed(() => 70 + 20 * next()), framed(() => 90 * next()), framed(() => 90 * next()), framed(next)];
    // No edge over the last three samples.
    const edge = Float32Array.from({ length: 3 * (cw + 2) }, (_, i) => (i % (cw + 2) > cw - 3 ? 0 : 1));
    const room = rowRoom(width, 2, cw, [low, first, second, pure, edge], null);
    const Y = Uint16Array.from({ length: width }, () => 70 + 20 * next());
    room.Y.set(Y);
    const before = room.rows.map((row) => {
      row.set(Float32Array.from({ length: width }, () => 50 * next()));
      return row.slice();
    });
    const stride = 4 * (cw + 2);
    const [dx, dy, step, near, like, doubt] = [0.5, -0.5, 2, 0.4, 0.01, 0.2];
    onRows("ownSide", room.YAt, ...room.planesAt, 0, stride, 2 * stride, ...room.rowsAt, width, dx, dy, step, near, like, doubt);
    for (let x = 0; x < width; x++) {
      const cx = x >> 1;
      // Columns are worked on by fours, which lie over two samples.
      const flat = edge[cw + 2 + 1 + 2 * (x >> 2)] === 0 && edge[cw + 2 + 2 + 2 * (x >> 2)] === 0;
      let [all, weight] = [0, 0];
      const sums = [0, 0];
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++) {
          const i = (j + 1) * (cw + 2) + cx + 1 + k;
          const place = near * ((dx - (x & 1) + 2 * k) ** 2 + (dy + step * j) ** 2);
          const w = fade(place + like * (Y[x]! - low[i]!) ** 2) * pure[i]!;
          all += fade(place);
          weight += w;
          sums[0]! += w * first[i]!;
          sums[1]! += w * second[i]!;
        }
      const sure = weight / all;
      const t = sure / (sure + doubt * (1 - sure) ** 2);
      [0, 1].forEach((k) => {
        const was = before[k]![x]!;
        expect(room.rows[k]![x]).toBeCloseTo(flat ? was : was + t * (sums[k]! / (weight + 1e-12) - was), 3);
      });
    }
  });
});
