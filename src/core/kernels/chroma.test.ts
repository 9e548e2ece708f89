import { describe, expect, it } from "vitest";
import { random } from "../image/random";
import { type BackToRecorded, backToRecorded, lumaAndChroma, sidesOf } from "./chroma";
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
  const told = {
    rounds: 1,
    sharpenings: 0,
    grain: 0,
    even: 4,
    spare: 0.1,
    gap: 12,
    dark: 15,
    soft: 0.65,
    sharp: 0.85,
    pull: 0.5,
    little: 0.25,
  };
  /** Two planes at once; the second is the first one upside down, so that both must come out alike. */
  const back = (fine: Float32Array, width: number, height: number, recorded: Float32Array, settings: BackToRecorded) => {
    const [cw, ch] = [Math.ceil(width / 2), recorded.length / Math.ceil(width / 2)];
    const other = fine.map((v) => 300 - v);
    const flat = new Float32Array(recorded.length);
    const planes = [recorded, recorded.map((v) => 300 - v)] as const;
    backToRecorded(
      [fine, other],
      width,
      height,
      planes,
      flat,
      flat.map(() => 1),
      cw,
      ch,
      settings,
    );
    fine.forEach((v, i) => {
      expect(other[i]).toBeCloseTo(300 - v, 3);
    });
  };
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
      const fine = truth.map((v) => 135 + 0.4 * (v - 135) + next());
      let before = distance(recordedOf(fine, width, height, siting), recorded);
      for (let k = 0; k < 4; k++) {
        back(fine, width, height, recorded, { ...siting, ...told });
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
    back(fine, 2, 2, Float32Array.of(60, 10), settings);
    // Recorded of 10, 20 is 12.5, so 47.5 is missing; of 30, 40 it is 32.5, 22.5 too much; none beyond 5 … 65.
    expect([...fine]).toEqual([57.5, 65, 7.5, 17.5]);
  });

  it("leaves what has no edge, and what lies within the grain", () => {
    const flat = Float32Array.of(1, 2, 3, 4);
    back(flat, 2, 2, Float32Array.of(100, 103), { ...SITINGS[3], ...told });
    expect([...flat]).toEqual([1, 2, 3, 4]);
    const near = Float32Array.of(59, 59, 11, 11);
    back(near, 2, 2, Float32Array.of(60, 10), { ...SITINGS[3], ...told, grain: 1 });
    expect([...near]).toEqual([59, 59, 11, 11]);
  });

  /** The row of an edge between 90 and 180 that is `soft` px wide, as one plane; recorded, and plainly brought to full width. */
  const [width, height] = [64, 12];
  const edgeOf = (soft: number) =>
    Float32Array.from({ length: width * height }, (_, i) => 90 + 90 * Math.min(1, Math.max(0, ((i % width) - 31.25) / soft + 0.5)));
  const plainly = (recorded: Float32Array, { rows, cositedAcross, cositedDown }: (typeof SITINGS)[number]) => {
    const [cw, ch] = [width / 2, recorded.length / (width / 2)];
    return Float32Array.from({ length: width * height }, (_, i) => {
      const x = ((i % width) - (cositedAcross ? 0 : 0.5)) / 2;
      const y = rows === 1 ? Math.floor(i / width) : (Math.floor(i / width) - (cositedDown ? 0 : 0.5)) / 2;
      const sample = (dx: number, dy: number) =>
        recorded[Math.min(ch - 1, Math.max(0, Math.floor(y) + dy)) * cw + Math.min(cw - 1, Math.max(0, Math.floor(x) + dx))]!;
      const [u, v] = [x - Math.floor(x), y - Math.floor(y)];
      return (1 - v) * ((1 - u) * sample(0, 0) + u * sample(1, 0)) + v * ((1 - u) * sample(0, 1) + u * sample(1, 1));
    });
  };
  const brought = (truth: Float32Array, siting: (typeof SITINGS)[number], settings: Partial<BackToRecorded>) => {
    const recorded = recordedOf(truth, width, height, siting);
    const fine = plainly(recorded, siting);
    back(fine, width, height, recorded, { ...siting, ...told, rounds: 3, ...settings });
    return fine;
  };

  it.each(SITINGS)("%o: an edge of one pixel that luma does not show comes out sharp, and is what was recorded", (siting) => {
    const truth = edgeOf(1);
    const [without, withThem] = [0, 4].map((sharpenings) => brought(truth, siting, { sharpenings }));
    expect(distance(withThem!, truth)).toBeLessThan(0.6 * distance(without!, truth));
    expect(distance(recordedOf(withThem!, width, height, siting), recordedOf(truth, width, height, siting))).toBeLessThan(2);
  });

  it.each(SITINGS)("%o: an edge of twelve pixels stays as soft as it is", (siting) => {
    const truth = edgeOf(12);
    const [without, withThem] = [0, 4].map((sharpenings) => brought(truth, siting, { sharpenings }));
    expect(distance(withThem!, without!)).toBeLessThan(0.2);
  });

  it("one sharpening, by plain loops: sides, how sharp, how far luma tells them apart", () => {
    const next = random(5);
    const [w, h, cw, ch] = [14, 10, 7, 5];
    const chroma = () => Float32Array.from({ length: cw * ch }, () => 100 + 60 * Math.round(next()) + 8 * next());
    const [first, second, low] = [chroma(), chroma(), Float32Array.from({ length: cw * ch }, () => 90 + 30 * next())];
    const edge = Float32Array.from({ length: cw * ch }, (_, i) => (i % 4 === 0 ? 0 : 1));
    const fine = [0, 1].map(() => Float32Array.from({ length: w * h }, () => 90 + 90 * next()));
    const wanted = fine.map((f) => f.slice());
    const settings = { ...SITINGS[0], ...told, rounds: 0, sharpenings: 1, grain: 1000, soft: 0.7, sharp: 1.2 };
    let moved = 0;
    for (let cell = 0; cell < cw * ch; cell++) {
      if (!edge[cell]) continue;
      const around = (radius: number) => {
        const places: number[] = [];
        for (let y = -radius; y <= radius; y++)
          for (let x = -radius; x <= radius; x++) {
            const [cx, cy] = [(cell % cw) + x, Math.floor(cell / cw) + y];
            if (cx >= 0 && cy >= 0 && cx < cw && cy < ch) places.push(cy * cw + cx);
          }
        return places;
      };
      const range = (c: Float32Array, places: number[]) => Math.max(...places.map((p) => c[p]!)) - Math.min(...places.map((p) => c[p]!));
      const both = (radius: number) => Math.hypot(range(first, around(radius)), range(second, around(radius)));
      const pairs = around(1).flatMap((p) => around(1).map((q) => [p, q] as const));
      const apart = ([p, q]: readonly [number, number]) => (first[p]! - first[q]!) ** 2 + (second[p]! - second[q]!) ** 2;
      const [a, b] = pairs.reduce((best, pair) => (apart(pair) > apart(best) ? pair : best));
      if (apart([a, b]) < 144) continue;
      const asked = Math.min(1, Math.max(0, (both(1) / both(2) - 0.7) / 0.5));
      const part = asked / (1 + ((low[b]! - low[a]!) / 15) ** 2);
      if (part < 0.25) continue;
      const go = 0.5 * part;
      for (const at of [0, 1, w, w + 1].map((k) => 2 * Math.floor(cell / cw) * w + 2 * (cell % cw) + k)) {
        const t =
          ((wanted[0]![at]! - first[a]!) * (first[b]! - first[a]!) + (wanted[1]![at]! - second[a]!) * (second[b]! - second[a]!)) /
          apart([a, b]);
        const u = Math.min(1, Math.max(0, t));
        const m = go * (u * u * (3 - 2 * u) - t);
        wanted[0]![at]! += m * (first[b]! - first[a]!);
        wanted[1]![at]! += m * (second[b]! - second[a]!);
        if (Math.abs(m) > 0.01) moved++;
      }
    }
    // What lies outside the limits is brought in: so wide that nothing is.
    backToRecorded([fine[0]!, fine[1]!], w, h, [first, second], low, edge, cw, ch, { ...settings, spare: 1000 });
    expect(moved).toBeGreaterThan(40);
    for (const k of [0, 1])
      wanted[k]!.forEach((v, i) => {
        expect(fine[k]![i]).toBeCloseTo(v, 2);
      });
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

describe("R'G'B' codes as luma and chroma", () => {
  const next = random(11);
  const codes = (n: number, top: number) => Uint16Array.from({ length: n }, () => 1 + Math.floor((top - 1) * next()));
  const read = (rgb: readonly [Uint16Array, Uint16Array, Uint16Array], top: number, scale: number, last: number) => {
    const n = rgb[0].length;
    const out = { luma: new Uint16Array(n), cb: new Float32Array(n), cr: new Float32Array(n), clipped: new Int32Array(n).fill(9) };
    const any = lumaAndChroma(rgb, out, { kr: 0.299, kb: 0.114, top, scale, last, cbScale: 0.564, crScale: 0.713 });
    return { ...out, any };
  };
  it.each([
    [1, 255, 4095 / 255],
    [6, 255, 4095 / 255],
    [13, 1023, 4],
    [16, 65535, 1],
  ])("%i of them up to %i equal plain arithmetic", (n, top, scale) => {
    const rgb = [codes(n, top), codes(n, top), codes(n, top)] as const;
    const { luma, cb, cr, clipped, any } = read(rgb, top, scale, 65535);
    expect(any).toBe(false);
    for (let i = 0; i < n; i++) {
      const [r, g, b] = rgb.map((c) => c[i]!) as [number, number, number];
      const y = 0.299 * r + 0.587 * g + 0.114 * b;
      expect(Math.abs(luma[i]! - y * scale)).toBeLessThan(0.51);
      expect(Math.abs(cb[i]! - 0.564 * (b - y))).toBeLessThan(1e-6 * top);
      expect(Math.abs(cr[i]! - 0.713 * (r - y))).toBeLessThan(1e-6 * top);
      expect(clipped[i]).toBe(0);
    }
  });
  it("tells what is clipped at either end, the last of an odd row with it, and keeps luma to its last code", () => {
    const [r, g, b] = [0, 1, 2].map(() => new Uint16Array(5).fill(100)) as [Uint16Array, Uint16Array, Uint16Array];
    expect(read([r, g, b], 255, 1, 90)).toMatchObject({ any: false, luma: new Uint16Array(5).fill(90) });
    r[1] = 0;
    b[4] = 255;
    const { clipped, any } = read([r, g, b], 255, 1, 255);
    expect(any).toBe(true);
    expect(Array.from(clipped, (v) => v !== 0)).toEqual([false, true, false, false, true]);
    // What an earlier, longer row left behind the end is no part of this one.
    const bright = () => new Uint16Array(9).fill(255);
    read([bright(), bright(), bright()], 255, 1, 255);
    r[1] = b[4] = 100;
    expect(read([r, g, b], 255, 1, 255).any).toBe(false);
  });
});
