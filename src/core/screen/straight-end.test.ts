import { describe, expect, it } from "vitest";
import { normal } from "../image/normal";
import { random } from "../image/random";
import { straightEnd } from "./straight-end";

const [COUNT, DEPTH] = [200, 400];
/** A screen that begins 60 px from the border, aslant and not quite even; a subject that stands before it from a line on. */
const begins = (subjectFrom = COUNT, lean = 0.1) => {
  const wobble = normal(random(3));
  return Array.from({ length: COUNT }, (_, k) => (k < subjectFrom ? Math.round(60 + lean * k + 0.4 * wobble()) : 300 + Math.round(k / 9)));
};

describe("the straight line along which a screen ends", () => {
  it("is found aslant, and behind a subject that hides its lower half", () => {
    for (const from of [COUNT, 110]) {
      const end = straightEnd(begins(from), DEPTH)!;
      for (let k = 0; k < COUNT; k++) {
        expect(end[k]! - (60 + 0.1 * k)).toBeGreaterThan(0.5);
        expect(end[k]! - (60 + 0.1 * k)).toBeLessThan(5);
      }
    }
  });
  it("goes on where the screen is hidden altogether, and where it begins lower", () => {
    const hung = begins().map((v, k) => (k < 40 || k >= 170 ? DEPTH : v));
    expect(straightEnd(hung, DEPTH)![5]!).toBeCloseTo(60.5 + 2, 0);
  });
  it("is none where a subject stands at that side, round as it is; nor where the screen reaches the border, or shows beyond the line", () => {
    const round = Array.from({ length: COUNT }, (_, k) => Math.round(110 * Math.sin((Math.PI * (k + 20)) / 240)));
    expect(straightEnd(round, DEPTH)).toBeNull();
    expect(straightEnd(new Array(COUNT).fill(0), DEPTH)).toBeNull();
    expect(
      straightEnd(
        begins(110).map((v, k) => (k > 150 ? 0 : v)),
        DEPTH,
      ),
    ).toBeNull();
  });
  it("is none where it is seen in the middle alone, too far in, too steep, or in too few lines", () => {
    expect(
      straightEnd(
        begins().map((v, k) => (k < 30 ? 250 : v)),
        DEPTH,
      ),
    ).toBeNull();
    expect(
      straightEnd(
        begins().map((v) => v + 120),
        DEPTH,
      ),
    ).toBeNull();
    expect(straightEnd(begins(COUNT, 0.3), DEPTH)).toBeNull();
    expect(
      straightEnd(
        begins().map((v, k) => (k % 5 < 3 ? DEPTH : v)),
        DEPTH,
      ),
    ).toBeNull();
  });
});
