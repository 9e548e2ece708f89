import { describe, expect, it } from "vitest";
import { random } from "../../core/image/random";
import { evenRate } from "./frame-rate";

const at = (n: number, rate: number, jitter = 0) => {
  const next = random(3);
  return Array.from({ length: n }, (_, i) => 1.4 + i / rate + jitter * (next() - 0.5));
};

describe("the rate of a clip", () => {
  it("is what its file states where the frames keep to it, also in containers that tell whole milliseconds", () => {
    const film = { num: 24_000, den: 1001 };
    const times = at(500, 24_000 / 1001).map((t) => Math.round(1000 * t) / 1000);
    expect(evenRate(times, film)).toEqual({ rate: film, even: true });
    expect(evenRate([0], { num: 25, den: 1 })).toEqual({ rate: { num: 25, den: 1 }, even: true });
  });

  it("is the frames' own where the file states a clock's, or one that they drift from", () => {
    for (const stated of [
      { num: 90_000, den: 1 },
      { num: 30, den: 1 },
      { num: 600, den: 1 },
    ])
      expect(evenRate(at(900, 30_000 / 1001, 0.004), stated)).toEqual({ rate: { num: 30_000, den: 1001 }, even: true });
  });

  it("is their mean, and told uneven, where they keep to none", () => {
    // Half of the shot at 30, half at 20 frames a second: 24 on average.
    const times = [...at(60, 30), ...at(60, 20).map((t) => t + 2)];
    const { rate, even } = evenRate(times, { num: 30, den: 1 });
    expect(even).toBe(false);
    expect(rate.num / rate.den).toBeCloseTo(119 / (times.at(-1)! - times[0]!), 2);
  });
});
