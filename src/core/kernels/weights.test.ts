import { describe, expect, it } from "vitest";
import { makePicture } from "../image/plane";
import { random } from "../image/random";
import { costsByWeight } from "./weights";

describe("what channel weights cost", () => {
  const next = random(11);
  const lit = () => {
    const picture = makePicture(23, 17);
    for (const c of ["r", "g", "b"] as const) for (let i = 0; i < picture[c].length; i++) picture[c][i] = (c === "g" ? 0.5 : 0.3) * next();
    return picture;
  };
  const [plate, screen] = [lit(), lit()];
  const some = (count: number, from: number) => Uint32Array.from({ length: count }, (_, k) => (from + 7 * k) % (23 * 17));

  it("is what plain arithmetic makes of it, over any number of places, none among them", () => {
    const asked = [
      { places: some(101, 3), aim: 0, most: 0.04 },
      { places: some(7, 200), aim: 1, most: 1 },
      { places: some(1, 5), aim: 1, most: 0.5 },
      { places: new Uint32Array(0), aim: 0, most: 1 },
    ];
    const costs = costsByWeight(plate, screen, ["g", "r", "b"], asked);
    for (const weight of [-1, 0, 0.35, 0.5, 1, 2]) {
      const excess = (p: typeof plate, i: number) => p.g[i]! - weight * p.r[i]! - (1 - weight) * p.b[i]!;
      const plain = asked.map(({ places, aim, most }) =>
        places.reduce((sum, i) => {
          const behind = excess(screen, i);
          const left = behind > 1e-6 ? Math.min(1, Math.max(0, excess(plate, i) / behind)) : 0;
          return sum + Math.min(most, (aim - left) ** 2);
        }, 0),
      );
      expect(plain[0]).toBeGreaterThan(0.1);
      costs(weight).forEach((cost, k) => {
        expect(cost, `set ${k} at ${weight}`).toBeCloseTo(plain[k]!, 4);
      });
    }
  });
});
