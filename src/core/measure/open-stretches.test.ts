import { describe, expect, it } from "vitest";
import { makePlane, type Plane } from "../image/plane";
import { random } from "../image/random";
import { rasterisePolygon } from "../matte/polygon";
import { openStretches } from "./open-stretches";

const [W, H] = [120, 90];
/** A torso of upright stripes 12 px wide from 24 to 96, from a third of the height down to the frame's border; empty around it. */
function torso(stripe: (x: number, y: number) => number): Plane {
  const plane = makePlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    if (x >= 24 && x < 96 && y >= 30) plane.data[i] = Math.floor(x / 12) % 2 === 0 ? 1 : stripe(x, y);
  }
  return plane;
}

describe("open stretches", () => {
  it("are stripes that stay evenly half open between solid ones, though they run out of the frame and meet the outline", () => {
    const next = random(3);
    const told = openStretches(
      torso(() => 0.4 + 0.03 * (next() - 0.5)),
      2,
    );
    // The outermost one has the clear screen at its side.
    expect(told.map(({ x, y }) => [x, y])).toEqual([
      [83, 121],
      [131, 121],
    ]);
    // Without its border: 8 px less 2 at each side, and not at the frame's.
    for (const { area } of told) expect(area).toBe(4 * 8 * 58);
    // A holdout closes the first from solid to solid and to the frame's border; at its end in the clear the edge stays the key's.
    const held = rasterisePolygon(told[0]!.outline, 2 * W, 2 * H).data;
    const at = (x: number, y: number) => held[2 * y * 2 * W + 2 * x];
    expect([at(37, 60), at(46, 60), at(41, 86), at(41, 34)]).toEqual([1, 1, 1, 1]);
    expect([at(41, 30), at(41, 27), at(33, 60), at(50, 60)]).toEqual([0, 0, 0, 0]);
  });
  it("are all of them, however many", () => {
    const striped = makePlane(240, H);
    for (let i = 0; i < striped.data.length; i++) striped.data[i] = Math.floor((i % 240) / 12) % 2 === 0 ? 1 : 0.4;
    expect(openStretches(striped, 1)).toHaveLength(10);
  });
  it("are no strands, no mesh and no blurred gap", () => {
    expect(
      openStretches(
        torso((x, y) => ((x + y) % 3 === 0 ? 0.8 : 0.4)),
        1,
      ),
    ).toEqual([]);
    expect(
      openStretches(
        torso((x) => 0.2 + 0.06 * (x % 12)),
        1,
      ),
    ).toEqual([]);
    expect(
      openStretches(
        torso(() => 0),
        1,
      ),
    ).toEqual([]);
  });
  it("are no smoke and no veil, which end in the clear", () => {
    const veil = makePlane(W, H);
    for (let i = 0; i < W * H; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      if (x >= 40 && x < 80) veil.data[i] = y < 20 || y >= 60 ? 1 : 0.4;
    }
    expect(openStretches(veil, 1)).toEqual([]);
    // The same between solid sides is one.
    for (let i = 0; i < W * H; i++) if ((i % W < 40 && i % W >= 30) || (i % W >= 80 && i % W < 90)) veil.data[i] = 1;
    expect(openStretches(veil, 1)).toHaveLength(1);
  });
});
