import { describe, expect, it } from "vitest";
import { closePattern } from "./close-pattern";

const [W, H] = [120, 80];
const REACH = 20;
/** A solid area from x = 20 on, in which a patch wavers; light of the patch's checks beside the screen's, 0.4. */
function closed({
  at,
  size = 20,
  first: wavers = 0.8,
  checks = 0.2,
  dot,
}: {
  at: number;
  size?: number;
  first?: number;
  checks?: number;
  dot?: number;
}) {
  const [firm, certain, first, light] = [
    new Uint8Array(W * H),
    new Uint8Array(W * H),
    new Float32Array(W * H),
    new Float32Array(W * H).fill(0.1),
  ];
  for (let y = 0; y < H; y++)
    for (let x = 20; x < W; x++) {
      const i = y * W + x;
      const patch = x >= at && x < at + size && y >= 50 - size && y < 50;
      first[i] = patch ? wavers : 1;
      firm[i] = certain[i] = patch ? 0 : 1;
      if (patch) light[i] = 0.1 + (((x >> 2) + (y >> 2)) % 2) * checks;
    }
  if (dot !== undefined) first[40 * W + at + 10] = dot;
  closePattern({ firm, certain }, first, { width: W, height: H, data: light }, 0.4, REACH);
  const inside = [...firm.keys()].filter((i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return x >= at && x < at + size && y >= 50 - size && y < 50;
  });
  expect(certain).toEqual(firm);
  return inside.filter((i) => firm[i]).length / inside.length;
}

describe("closing a pattern", () => {
  it("closes what wavers within the subject, far from all that is open", () => expect(closed({ at: 60 })).toBe(1));
  it("leaves what lies near the outline, where hair is as thin: of it, what is deep enough closes", () => {
    expect(closed({ at: 20 })).toBeGreaterThan(0.5);
    expect(closed({ at: 20 })).toBeLessThan(0.65);
  });
  it("leaves what is open somewhere: what shows there is no check", () => expect(closed({ at: 60, dot: 0.55 })).toBe(0));
  it("closes a large one though grain takes a single pixel under what a pattern has", () =>
    expect(closed({ at: 60, size: 40, dot: 0.55 })).toBe(1));
  it("leaves what has no pattern: a blurred edge climbs evenly", () => expect(closed({ at: 60, checks: 0 })).toBe(0));
});
