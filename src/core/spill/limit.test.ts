import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { limitSpill, spillReach } from "./limit";

function colours(n = 400): Picture {
  const p = makePicture(n, 1);
  const next = random(8);
  for (const c of [p.r, p.g, p.b]) for (let i = 0; i < n; i++) c[i] = next();
  return p;
}

describe("spill treatment", () => {
  it.each(["r", "g", "b"] as const)("neutral light put back keeps the luminance, for a %s screen", (primary) => {
    const p = colours();
    const { picture, removed } = limitSpill(p, { primary, limit: "average", amount: 1, replace: "neutral" });
    for (let i = 0; i < removed.length; i++) {
      const before = luminance({ r: p.r[i]!, g: p.g[i]!, b: p.b[i]! });
      expect(luminance({ r: picture.r[i]!, g: picture.g[i]!, b: picture.b[i]! })).toBeCloseTo(before, 5);
    }
    expect(removed.some((v) => v > 0)).toBe(true);
  });
  it("keeps the share of a surface's own colour", () => {
    const p = colours();
    const all = limitSpill(p, { primary: "g", limit: "average", amount: 1 }).removed;
    const kept = limitSpill(p, { primary: "g", limit: "average", amount: 1 }, undefined, new Float32Array(all.length).fill(0.75)).removed;
    for (let i = 0; i < all.length; i++) expect(kept[i]).toBeCloseTo(0.25 * all[i]!, 6);
  });
  it("reaches as far in hue as it is told, warm and cool apart", () => {
    const s = { primary: "g", limit: "average", amount: 1, reachWarm: 40, reachCool: 10 } as const;
    // Green itself; 40° towards yellow (hue 80); yellow (hue 60); 10° towards cyan; cyan (hue 180).
    expect(spillReach(1, 0, 0, s)).toBe(1);
    expect(spillReach(1, 2 / 3, 0, s)).toBe(1);
    expect(spillReach(1, 1, 0, s)).toBe(0);
    expect(spillReach(1, 0, 1 / 6, s)).toBe(1);
    expect(spillReach(1, 0, 1, s)).toBe(0);
    const shoulder = spillReach(1, 5 / 6, 0, s);
    expect(shoulder).toBeGreaterThan(0);
    expect(shoulder).toBeLessThan(1);
  });
});
