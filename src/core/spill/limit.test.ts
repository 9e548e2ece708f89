import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { limitSpill, type SpillSettings } from "./limit";

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
    const kept = limitSpill(p, { primary: "g", limit: "average", amount: 1 }, undefined, new Float32Array(all.length).fill(0.2)).removed;
    for (let i = 0; i < all.length; i++) {
      const y = luminance({ r: p.r[i]!, g: p.g[i]!, b: p.b[i]! });
      expect(kept[i]).toBeCloseTo(Math.max(0, all[i]! - 0.2 * y), 6);
    }
  });
  it("reaches as far in hue as it is told, warm and cool apart", () => {
    const s = { primary: "g", limit: "average", amount: 1, reachWarm: 40, reachCool: 10 } as const;
    // Green itself; 40° towards yellow (hue 80); yellow (hue 60); 10° towards cyan; cyan (hue 180); within the shoulder.
    const p = makePicture(6, 1);
    [0, 2 / 3, 1, 0, 0, 5 / 6].forEach((v, i) => {
      p.r[i] = v;
    });
    [0, 0, 0, 1 / 6, 1, 0].forEach((v, i) => {
      p.b[i] = v;
    });
    p.g.fill(1);
    const all = limitSpill(p, { primary: "g", limit: "average", amount: 1 }).removed;
    const share = limitSpill(p, s).removed.map((v, i) => v / all[i]!);
    [1, 1, 0, 1, 0].forEach((wanted, i) => {
      expect(share[i]).toBeCloseTo(wanted, 6);
    });
    expect(share[5]).toBeGreaterThan(0);
    expect(share[5]).toBeLessThan(1);
  });
});

describe("what goes back", () => {
  const [width, height] = [8, 1];
  const at = { r: 0.3, g: 0.42, b: 0.24 };
  const picture = makePicture(width, height);
  for (const c of ["r", "g", "b"] as const) picture[c].fill(at[c]);
  const screen = { r: 0.04, g: 0.35, b: 0.06 };
  const treat = (s: Partial<SpillSettings>) => {
    const { picture: p, removed } = limitSpill(picture, { primary: "g", limit: "average", amount: 1, screen, ...s });
    return { colour: { r: p.r[0]!, g: p.g[0]!, b: p.b[0]! }, removed: removed[0]! };
  };
  const light = makePicture(width, height);
  light.r.fill(0.5);
  light.g.fill(0.2);
  light.b.fill(0.1);
  it.each(["neutral", "surface", "muted", "background"] as const)("%s keeps the luminance", (replace) => {
    expect(luminance(treat({ replace, light }).colour)).toBeCloseTo(luminance(at), 5);
  });
  it("nothing takes it away; the original stays as it is and nothing is counted as taken", () => {
    expect(luminance(treat({ replace: "nothing" }).colour)).toBeLessThan(luminance(at) - 0.05);
    const kept = treat({ replace: "original" });
    expect(kept.colour.g).toBeCloseTo(at.g, 6);
    expect(kept.removed).toBe(0);
  });
  it("the surface's colour keeps the ratio of what is left of it", () => {
    const { colour } = treat({ replace: "surface" });
    expect(colour.r / colour.b).toBeCloseTo(0.3 / 0.24, 5);
    expect(colour.g / colour.r).toBeCloseTo(0.27 / 0.3, 5);
  });
  it("a muted hue leans to the screen's, the background's light to the background", () => {
    const [muted, lit, grey] = (["muted", "background", "neutral"] as const).map((replace) => treat({ replace, light }).colour);
    expect(muted!.g).toBeGreaterThan(grey!.g);
    expect(lit!.r).toBeGreaterThan(grey!.r);
    expect(lit!.b).toBeLessThan(grey!.b);
  });
  it("without a background its light is neutral", () => expect(treat({ replace: "background" })).toEqual(treat({ replace: "neutral" })));
  it("a mix limits to the weighted others", () => {
    for (const mix of [0, 0.25, 1]) expect(treat({ limit: "mix", mix }).colour.g).toBeCloseTo(mix * 0.3 + (1 - mix) * 0.24, 6);
  });
  it("beyond the other channels it takes the screen's own light: white lit by magenta comes back grey, wood keeps its warmth", () => {
    const magenta = { r: 0.4, g: 0.04, b: 0.2 };
    const p = makePicture(2, 1);
    // White with a tenth of the screen's light on it; wood without.
    [p.r[0], p.g[0], p.b[0]] = [0.5 + 0.1 * magenta.r, 0.5 + 0.1 * magenta.g, 0.5 + 0.1 * magenta.b];
    [p.r[1], p.g[1], p.b[1]] = [0.6, 0.45, 0.3];
    const { picture: out } = limitSpill(p, { primary: "r", limit: "mix", mix: 2, amount: 1, replace: "nothing", screen: magenta });
    expect(out.r[0]).toBeCloseTo(0.504, 5);
    expect(out.g[0]).toBeCloseTo(0.504, 5);
    expect(out.b[0]).toBeCloseTo(0.504, 5);
    expect([out.r[1], out.g[1], out.b[1]].map((v) => Number(v!.toFixed(5)))).toEqual([0.6, 0.45, 0.3]);
    // A plain limit turns the wood green.
    expect(limitSpill(p, { primary: "r", limit: "average", amount: 1, replace: "nothing" }).picture.r[1]).toBeCloseTo(0.375, 5);
    const neutral = limitSpill(p, { primary: "r", limit: "mix", mix: 2, amount: 1, replace: "neutral", screen: magenta }).picture;
    expect(luminance({ r: neutral.r[0]!, g: neutral.g[0]!, b: neutral.b[0]! })).toBeCloseTo(
      luminance({ r: p.r[0]!, g: p.g[0]!, b: p.b[0]! }),
      6,
    );
  });
  it("takes no more of any channel than there is: pure red before magenta", () => {
    const p = makePicture(1, 1);
    p.r[0] = 0.8;
    const { picture: out, removed } = limitSpill(p, {
      primary: "r",
      limit: "mix",
      mix: 2,
      amount: 1,
      replace: "nothing",
      screen: { r: 0.4, g: 0.04, b: 0.2 },
    });
    // There is no blue to leave, so none of the screen's light is on it.
    expect(removed[0]).toBe(0);
    expect([out.r[0], out.g[0], out.b[0]]).toEqual([p.r[0], 0, 0]);
  });
});
