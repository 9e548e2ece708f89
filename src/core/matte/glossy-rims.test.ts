import { describe, expect, it } from "vitest";
import { gaussianBlur } from "../image/blur";
import { makePlane, type Plane } from "../image/plane";
import { closeDips } from "./dips";
import { closeGlossyRims } from "./glossy-rims";

const [W, H] = [100, 60];
const LEFT = 20.4;
const RIGHT = 80.4;

/** Mean over 16 × 16 places of each pixel. */
function sampled(at: (x: number, y: number) => number): Plane {
  const plane = makePlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      let sum = 0;
      for (let v = 0; v < 16; v++) for (let u = 0; u < 16; u++) sum += at(x + (u + 0.5) / 16, y + (v + 0.5) / 16);
      plane.data[y * W + x] = sum / 256;
    }
  return plane;
}

/** Whether a place is on an upright cylinder, and how much of the screen it mirrors: R = (1 − cos θ)⁵, as glaze that mirrors next to nothing straight on. */
const radius = (RIGHT - LEFT) / 2;
const across = (x: number) => (x - (LEFT + RIGHT) / 2) / radius;
const covers = (x: number) => (Math.abs(across(x)) < 1 ? 1 : 0);
// Source: Schlick, "An Inexpensive BRDF Model for Physically-based Rendering", Computer Graphics Forum 13 (1994).
const mirrors = (x: number) => (1 - Math.sqrt(Math.max(0, 1 - across(x) ** 2))) ** 5;

const closed = (plane: Plane, depth = 15) => closeGlossyRims(plane, depth).data;

describe("glossy rims", () => {
  it("a cylinder that mirrors the screen by Schlick's law is made solid; its outline keeps its share of every pixel", () => {
    const truth = sampled(covers);
    const keyed = sampled((x) => covers(x) * (1 - mirrors(x)));
    const out = closed(keyed);
    const error = (data: Float32Array) => data.reduce((s, m, i) => s + Math.abs(m - (truth.data[i] as number)), 0) / H;
    // Just behind the outline it stood open by over a fifth; from there inwards nothing is left open.
    expect(keyed.data[30 * W + 21]).toBeLessThan(0.8);
    for (let x = 21; x < 80; x++) expect(out[30 * W + x]).toBeGreaterThanOrEqual(0.99);
    expect(error(out)).toBeLessThan(error(keyed.data) / 3);
    for (let x = 0; x < 20; x++) expect(out[30 * W + x]).toBe(0);
    // The pixel of the outline is closer to the part of it that is covered.
    const [was, is] = [keyed.data[30 * W + 20] as number, out[30 * W + 20] as number];
    expect(truth.data[30 * W + 20]).toBeCloseTo(0.6, 1);
    expect(Math.abs(is - 0.6)).toBeLessThan(Math.abs(was - 0.6));
  });
  it("through a lens, too, the outline keeps its share of every pixel it is spread over; where coarse chroma spreads it, all of it is closed", () => {
    for (const sigma of [0.6, 0.7]) {
      const blurred = (p: Plane): Plane => ({ ...p, data: gaussianBlur(p.data, W, H, sigma) });
      const truth = blurred(sampled(covers));
      // The screen's light on the outermost fifth.
      const keyed = blurred(sampled((x) => covers(x) * (x < LEFT + 12 ? 0.82 : 1)));
      const worst = (data: Float32Array) =>
        Math.max(
          ...Array.from({ length: 20 }, (_, k) => Math.abs((data[30 * W + 12 + k] as number) - (truth.data[30 * W + 12 + k] as number))),
        );
      const out = closed(keyed);
      expect(worst(keyed.data)).toBeGreaterThan(0.17);
      expect(worst(out), `${sigma}`).toBeLessThan(0.04);
      const coarse = closeGlossyRims(keyed, 15, null, undefined, { lens: false }).data;
      expect(worst(coarse)).toBeGreaterThan(0.06);
      for (let x = 22; x < 74; x++) expect(Math.min(out[30 * W + x] as number, coarse[30 * W + x] as number)).toBeGreaterThan(0.97);
    }
  });
  it("closing dips does not: the way out is open", () => {
    const keyed = sampled((x) => covers(x) * (1 - mirrors(x)));
    expect(closeDips(keyed, 0.4, 1).data[30 * W + 21]).toBeCloseTo(keyed.data[30 * W + 21] as number, 6);
  });

  const unchanged = (plane: Plane, depth = 15) => expect([...closed(plane, depth)]).toEqual([...plane.data]);
  it("blur, motion and plain edges stay: they climb evenly", () => {
    for (const width of [0.5, 1, 2, 4, 8, 16])
      unchanged(sampled((x) => Math.min(1, Math.max(0, 0.5 + (x - LEFT) / width)) * Math.min(1, Math.max(0, 0.5 + (RIGHT - x) / width))));
  });
  it("the sharp end of what moved past it stays: behind it the matte grows along the step, not away from it", () => {
    const across = (x: number) => Math.min(1, Math.max(0, (x - LEFT) / 24)) * Math.min(1, Math.max(0, (RIGHT - x) / 24));
    const end = (x: number, y: number) => across(x) * (y > 20.3 ? 1 : 0);
    unchanged(sampled(end));
    unchanged(sampled((x, y) => end(x, H - y)));
  });
  it("what is sheer in itself stays: nothing behind its edge is solid", () => {
    unchanged(sampled((x) => 0.75 * covers(x)));
    // Nor near enough.
    const rim = (deep: number) => sampled((x) => covers(x) * (x < LEFT + deep ? 0.75 : 1));
    unchanged(rim(24));
    expect(closed(rim(12))[30 * W + 25]).toBe(1);
    expect(closed(rim(12), 8)[30 * W + 25]).toBeCloseTo(0.75, 5);
  });
  it("so do mesh, strands and what is more open than nearly solid", () => {
    unchanged(sampled((x, y) => covers(x) * (x < LEFT + 10 ? (Math.floor(x) % 2 === 0 || Math.floor(y) % 2 === 0 ? 0.95 : 0.65) : 1)));
    unchanged(sampled((x) => covers(x) * (x < LEFT + 12 ? (Math.floor(x) % 5 < 2 ? 0.9 : 0.3) : 1)));
    unchanged(sampled((x) => covers(x) * (x < LEFT + 10 ? 0.5 : 1)));
  });
  it("screen in shade is no rim", () => {
    const keyed = sampled((x) => covers(x) * (x < LEFT + 8 ? 0.8 : 1));
    const shade = new Uint8Array(W * H).fill(1);
    expect([...closeGlossyRims(keyed, 15, shade).data]).toEqual([...keyed.data]);
    expect([...closeGlossyRims(keyed, 15, new Uint8Array(W * H)).data]).toEqual([...closed(keyed)]);
  });
  it("works in the matte's own memory as beside it, and leaves the matte alone otherwise", () => {
    const keyed = sampled((x) => covers(x) * (1 - mirrors(x)));
    const before = keyed.data.slice();
    const out = [...closed(keyed)];
    expect([...keyed.data]).toEqual([...before]);
    const own = { ...keyed, data: before.slice() };
    expect([...closeGlossyRims(own, 15, null, () => own.data).data]).toEqual(out);
    expect(out).not.toEqual([...before]);
  });
});
