import { describe, expect, it } from "vitest";
import { luminance } from "../color/hue";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { limitSpill } from "./limit";
import { ownExcess } from "./own-colour";

const [W, H] = [240, 160];
const NAMES = ["r", "g", "b"] as const;
const plane = makePlane(W, H);
const deep = (x: number, y: number) => Math.min(x - 30, 210 - x, y - 20, 140 - y);
for (let i = 0; i < W * H; i++) plane.data[i] = deep(i % W, Math.floor(i / W)) > 0 ? 1 : 0;
const screen = { r: 0.03, g: 0.32, b: 0.06 };

/** A board of one surface before the screen, whose light falls on its rim and fades inwards over 3 px. */
function board(surface: { r: number; g: number; b: number }, light = 0.25): { lit: Picture; bare: Picture } {
  const [lit, bare] = [makePicture(W, H), makePicture(W, H)];
  for (let i = 0; i < W * H; i++) {
    const d = deep(i % W, Math.floor(i / W));
    for (const c of NAMES) {
      bare[c][i] = d > 0 ? surface[c] : screen[c];
      lit[c][i] = d > 0 ? surface[c] * (1 + light * (screen[c] / screen.g) * Math.exp(-d / 3)) : screen[c];
    }
  }
  return { lit, bare };
}
/** Mean error of the green channel on the subject, against the surface without spill. */
const off = (p: Picture, bare: Picture) => {
  let [sum, n] = [0, 0];
  for (let i = 0; i < W * H; i++)
    if (plane.data[i] === 1) {
      sum += Math.abs(p.g[i]! - bare.g[i]!);
      n++;
    }
  return sum / n;
};
const average = { primary: "g", limit: "average" } as const;
const settings = { ...average, amount: 1 } as const;

describe("surfaces' own colour", () => {
  const wood = { r: 0.5, g: 0.38, b: 0.18 };
  it("is read inside and carried to the rim: wood keeps its yellow and loses the screen's light", () => {
    const { lit, bare } = board(wood);
    const own = ownExcess(lit, plane, average)!;
    const share = (wood.g - 0.5 * (wood.r + wood.b)) / luminance(wood);
    expect(own[80 * W + 120]).toBeCloseTo(share, 2);
    expect(own[80 * W + 32]).toBeCloseTo(share, 2);
    const plain = limitSpill(lit, settings).picture;
    const kept = limitSpill(lit, settings, undefined, own).picture;
    expect(off(kept, bare)).toBeLessThan(0.15 * off(plain, bare));
    expect(off(kept, bare)).toBeLessThan(0.4 * off(lit, bare));
  });
  it("is nothing on neutral and on pinkish surfaces", () => {
    for (const surface of [
      { r: 0.4, g: 0.4, b: 0.4 },
      { r: 0.5, g: 0.3, b: 0.3 },
    ]) {
      const own = ownExcess(board(surface).lit, plane, average)!;
      expect(Math.max(...own)).toBeLessThan(0.01);
    }
  });
  it("does not take a glossy white lit green throughout for a green surface, unless it has the screen's own hue", () => {
    const tinged = { r: 0.5, g: 0.62, b: 0.5 };
    const { lit } = board(tinged, 0);
    expect(Math.max(...ownExcess(lit, plane, average)!)).toBeLessThan(0.01);
    const cloth = ownExcess(lit, plane, { ...average, nearScreen: new Float32Array(W * H).fill(1) })!;
    expect(cloth[80 * W + 120]).toBeCloseTo(0.12 / luminance(tinged), 2);
  });
  it("takes pale surfaces greener than straw and than lamps make them to be lit all over; straw, cream and saturated yellow stay", () => {
    const share = (c: { r: number; g: number; b: number }) => (c.g - 0.5 * (c.r + c.b)) / luminance(c);
    const read = (c: { r: number; g: number; b: number }) => ownExcess(board(c, 0).lit, plane, average)![80 * W + 120]!;
    // Hues of 40°, 54° and 56° in the hexcone model; the second pale.
    const straw = { r: 0.5, g: 0.4, b: 0.2 };
    const lit = { r: 0.5, g: 0.48, b: 0.3 };
    const lemon = { r: 0.6, g: 0.56, b: 0.03 };
    expect(read(straw)).toBeCloseTo(share(straw), 3);
    expect(read(lemon)).toBeCloseTo(share(lemon), 3);
    expect(read(lit)).toBeCloseTo(0.2 / 6 / luminance(lit), 3);
    expect(read(lit)).toBeLessThan(0.5 * share(lit));
    // As green as lamps make it: believed, though its hue lies beyond straw's.
    const cream = { r: 0.3, g: 0.29, b: 0.25 };
    expect(read(cream)).toBeCloseTo(share(cream), 3);
  });
  it("takes what pale cloth shows of the screen's light from the wood beside it too; not from cloth of the screen's own hue", () => {
    const cloth = { r: 0.55, g: 0.53, b: 0.49 };
    const sage = { r: 0.25, g: 0.34, b: 0.24 };
    const green = 1.12;
    const beside = (surface: typeof wood, other: typeof wood, light: number) => {
      const p = makePicture(W, H);
      for (let i = 0; i < W * H; i++) {
        const c = plane.data[i] === 0 ? screen : i % W < W / 2 ? surface : other;
        for (const k of NAMES) p[k][i] = c[k] * (k === "g" && plane.data[i] ? light : 1);
      }
      return p;
    };
    const share = (c: typeof wood) => (c.g - 0.5 * (c.r + c.b)) / luminance(c);
    const at = 80 * W + 70;
    const lit = { ...wood, g: green * wood.g };
    const alone = ownExcess(beside(wood, wood, green), plane, average)!;
    expect(alone[at]).toBeCloseTo(share(lit), 2);
    const told = ownExcess(beside(wood, cloth, green), plane, average)!;
    expect(Math.abs(told[at]! - share(wood))).toBeLessThan(0.4 * Math.abs(share(lit) - share(wood)));
    // Cloth that lamps alone light says nothing of it.
    expect(ownExcess(beside(lit, cloth, 1), plane, average)![at]).toBeCloseTo(share(lit), 2);
    const hue = { nearScreen: Float32Array.from({ length: W * H }, (_, i) => Number(i % W < W / 2)) };
    const kept = ownExcess(beside(sage, cloth, green), plane, { ...average, ...hue })!;
    expect(kept[at]).toBeCloseTo(share({ ...sage, g: green * sage.g }), 2);
  });
  it("believes the less lit parts of a surface whose light is uneven", () => {
    const { lit } = board(wood, 0);
    const patchy = { ...lit, g: lit.g.map((v, i) => (plane.data[i] && Math.floor((i % W) / 4) % 2 ? v * 1.15 : v)) };
    const own = ownExcess(patchy, plane, average)!;
    const share = (wood.g - 0.5 * (wood.r + wood.b)) / luminance(wood);
    expect(own[80 * W + 120]).toBeLessThan(1.35 * share);
  });
  it("is unknown where nothing of the subject lies deep", () => {
    expect(ownExcess(board(wood).lit, makePlane(W, H), average)).toBeNull();
  });
});
