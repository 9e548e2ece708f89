import { describe, expect, it } from "vitest";
import { makePlane, type Plane } from "../image/plane";
import { random } from "../image/random";
import { closeDips } from "./dips";

const [W, H] = [60, 40];
/** A solid board from x 20 to 45, its rim a ramp of three pixels, before nothing. */
const board = (): Plane => {
  const plane = makePlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    plane.data[i] = Math.min(1, Math.max(0, (Math.min(x - 20, 45 - x, y - 6, 33 - y) + 1) / 4));
  }
  return plane;
};
const at = (x: number, y: number) => y * W + x;

describe("dips", () => {
  it("a place inside that is a little open is closed; the ramp of the rim stays as it is", () => {
    const plane = board();
    const before = plane.data.slice();
    for (const [x, y] of [
      [24, 20],
      [25, 20],
      [30, 27],
    ] as const)
      plane.data[at(x, y)] = 0.72;
    expect([...closeDips(plane, 0.4, 1).data]).toEqual([...before]);
  });
  it("one that reaches the outside is filled no higher than its lowest way out", () => {
    const plane = board();
    // A notch in the rim, and behind it a dip deeper than the notch.
    for (const [x, m] of [
      [21, 0.5],
      [22, 0.75],
      [23, 0.8],
      [24, 0.65],
    ] as const)
      plane.data[at(x, 20)] = m;
    const out = closeDips(plane, 0.4, 1).data;
    expect(out[at(24, 20)]).toBeCloseTo(0.8, 6);
    expect(out[at(23, 20)]).toBeCloseTo(0.8, 6);
    expect(out[at(22, 20)]).toBeCloseTo(0.75, 6);
  });
  it("deeper ones, true gaps and what lies at the frame's border stay", () => {
    const plane = board();
    plane.data[at(30, 20)] = 0.55;
    plane.data[at(34, 20)] = 0.65;
    const out = closeDips(plane, 0.3, 1).data;
    expect(out[at(30, 20)]).toBeCloseTo(0.55, 6);
    expect(out[at(34, 20)]).toBeCloseTo(0.65, 6);
    expect(closeDips(plane, 0.4, 1).data[at(34, 20)]).toBe(1);
    const full = makePlane(9, 9);
    full.data.fill(1);
    full.data[4] = 0.8;
    expect(closeDips(full, 0.4, 1).data[4]).toBeCloseTo(0.8, 6);
  });
  it("mesh stays: most around its openings is no solid place", () => {
    const plane = board();
    for (let y = 10; y < 30; y++) for (let x = 24; x < 42; x++) plane.data[at(x, y)] = x % 3 === 0 || y % 3 === 0 ? 0.9 : 0.7;
    const out = closeDips(plane, 0.4, 1).data;
    for (let y = 14; y < 26; y++) for (let x = 28; x < 38; x++) expect(out[at(x, y)]).toBe(plane.data[at(x, y)]);
  });
  it("as slow reconstruction fills them: eroded again and again, never under the matte", () => {
    const next = random(31);
    const plane = makePlane(W, H);
    // All but solid, so that the place around never stops it; nothing is under what counts as open but a border.
    for (let i = 0; i < W * H; i++) plane.data[i] = next() < 0.75 ? 1 : 0.61 + 0.38 * next();
    const border = (i: number) => i % W === 0 || i % W === W - 1 || i < W || i >= W * (H - 1);
    let fill = plane.data.map((m, i) => (border(i) ? m : 1));
    for (let changed = true; changed; ) {
      changed = false;
      const eroded = fill.map((v, i) =>
        border(i) ? v : Math.max(plane.data[i]!, Math.min(v, fill[i - 1]!, fill[i + 1]!, fill[i - W]!, fill[i + W]!)),
      );
      changed = eroded.some((v, i) => v !== fill[i]);
      fill = eroded;
    }
    const out = closeDips(plane, 1, 1).data;
    const own = { ...plane, data: plane.data.slice() };
    expect([...closeDips(own, 1, 1, () => own.data).data]).toEqual([...out]);
    let filled = 0;
    for (let i = 0; i < W * H; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      let solid = 0;
      let seen = 0;
      for (let j = Math.max(0, y - 3); j <= Math.min(H - 1, y + 3); j++)
        for (let k = Math.max(0, x - 3); k <= Math.min(W - 1, x + 3); k++) {
          seen++;
          if (plane.data[at(k, j)]! >= 0.995) solid++;
        }
      const closed = solid / seen > 0.5;
      expect(out[i]).toBeCloseTo(closed ? fill[i]! : plane.data[i]!, 6);
      if (closed && out[i]! > plane.data[i]!) filled++;
    }
    expect(filled).toBeGreaterThan(300);
  });
});
