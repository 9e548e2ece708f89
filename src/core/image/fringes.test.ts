import { describe, expect, it } from "vitest";
import { cornerOf, withoutFringes } from "./fringes";
import { makePicture } from "./plane";
import { random } from "./random";

const [width, height] = [61, 41];
const corner = cornerOf(width, height);
/** A picture whose red and blue are what a function says at places that are further out by some px at the corner. */
function drawn(of: (x: number, y: number) => number, red: number, blue: number) {
  const p = makePicture(width, height);
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const at = (px: number, i: number) => {
    const size = 1 + px / corner;
    return of(cx + ((i % width) - cx) / size, cy + (Math.floor(i / width) - cy) / size);
  };
  for (let i = 0; i < p.g.length; i++) [p.r[i], p.g[i], p.b[i]] = [at(red, i), at(0, i), at(blue, i)];
  return p;
}
/** Largest difference of a channel from green, away from the border, whose pixels repeat. */
const off = (p: ReturnType<typeof makePicture>, c: "r" | "b") =>
  Math.max(
    ...p.g.map((v, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return x < 4 || y < 4 || x > width - 5 || y > height - 5 ? 0 : Math.abs(v - (p[c][i] as number));
    }),
  );

describe("a lens's fringes", () => {
  it("go wholly from a picture whose light is a parabola, on which cubic convolution is exact (Keys 1981)", () => {
    const p = drawn((x, y) => 0.2 + 0.01 * x - 0.006 * y + 0.0002 * x * x - 0.0001 * y * y, 1.5, -2.2);
    expect(off(p, "r")).toBeGreaterThan(0.02);
    const out = withoutFringes(p, { red: 1.5, blue: -2.2 });
    expect(off(out, "r")).toBeLessThan(1e-6);
    expect(off(out, "b")).toBeLessThan(1e-6);
    expect(out.g).toBe(p.g);
  });
  it.each([
    [61, 41, 3],
    [7, 5, -1.5],
    [2, 1, 0.4],
    [64, 3, 9],
  ])("go as plain arithmetic says, ends repeated: %i×%i px, %f px", (w, h, px) => {
    const next = random(7);
    const p = makePicture(w, h);
    for (let i = 0; i < p.r.length; i++) p.r[i] = next();
    const kernel = (t: number) => {
      const x = Math.abs(t);
      return x < 1 ? 1.5 * x ** 3 - 2.5 * x ** 2 + 1 : x < 2 ? -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2 : 0;
    };
    const at = (x: number, y: number) => p.r[Math.min(h - 1, Math.max(0, y)) * w + Math.min(w - 1, Math.max(0, x))] as number;
    const larger = px / cornerOf(w, h);
    const out = withoutFringes(p, { red: px, blue: 0 });
    for (let i = 0; i < p.r.length; i++) {
      const [x, y] = [i % w, Math.floor(i / w)];
      const [u, v] = [x + larger * (x - (w - 1) / 2), y + larger * (y - (h - 1) / 2)];
      let sum = 0;
      for (let k = Math.floor(v) - 1; k <= Math.floor(v) + 2; k++)
        for (let j = Math.floor(u) - 1; j <= Math.floor(u) + 2; j++) sum += kernel(u - j) * kernel(v - k) * at(j, k);
      expect(out.r[i]).toBeCloseTo(sum, 5);
    }
  });
  it("are as much smaller in a copy at a smaller size", () => {
    const p = drawn((x, y) => 0.3 + 0.01 * x + 0.005 * y, 0.75, 0);
    expect(off(withoutFringes(p, { red: 1.5, blue: 0 }, 0.5), "r")).toBeLessThan(1e-6);
  });
  it("where there are none, leave every plane as it is", () => {
    const p = drawn((x) => x / width, 0, 0);
    const out = withoutFringes(p, { red: 0, blue: 0 });
    expect([out.r, out.g, out.b]).toEqual([p.r, p.g, p.b]);
    expect(out.r).toBe(p.r);
  });
});
