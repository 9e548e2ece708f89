import { describe, expect, it } from "vitest";
import { areaRuns } from "./components";
import { bothOf, maskOver, maskUnder, notOf } from "./mask";
import { random } from "./random";

const next = random(5);
const mask = (n: number, share: number) => Uint8Array.from({ length: n }, () => (next() < share ? 1 : 0));

describe("masks", () => {
  it.each([1, 3, 4, 4099])("of %i pixels are joined and turned round, wherever they lie in memory", (n) => {
    const [a, b] = [mask(n, 0.5), mask(n, 0.5)];
    // From the first and the second byte of a word.
    for (const shift of [0, 1]) {
      const moved = new Uint8Array(n + shift).subarray(shift);
      moved.set(b);
      expect([...bothOf(a, moved)]).toEqual([...a].map((v, i) => v & b[i]!));
      expect([...bothOf(moved, a)]).toEqual([...a].map((v, i) => v & b[i]!));
      expect([...notOf(moved)]).toEqual([...b].map((v) => 1 - v));
    }
  });

  it("are where values lie over a level, or under it", () => {
    const values = Float32Array.from({ length: 4099 }, () => next());
    values[0] = 0.5;
    expect([...maskOver(values, 0.5)]).toEqual([...values].map((v) => Number(v > 0.5)));
    expect([...maskUnder(values, 0.5)]).toEqual([...values].map((v) => Number(v < 0.5)));
  });

  it.each([0.01, 0.5])("are the same runs wherever they lie in memory, %d of them set", (share) => {
    const [w, h] = [37, 29];
    const here = mask(w * h, share);
    const moved = new Uint8Array(w * h + 1).subarray(1);
    moved.set(here);
    const { count, starts, ends } = areaRuns(here, w, h);
    const runs = (c: number, s: Int32Array, e: Int32Array) => Array.from({ length: c }, (_, k) => [s[k], e[k]]);
    const other = areaRuns(moved, w, h);
    expect(runs(count, starts, ends)).toEqual(runs(other.count, other.starts, other.ends));
    // Every set pixel is in one of them, and nothing else.
    const drawn = new Uint8Array(w * h);
    for (const [s, e] of runs(count, starts, ends)) drawn.fill(1, s, e);
    expect([...drawn]).toEqual([...here]);
  });
});
