import { describe, expect, it } from "vitest";
import { makePlane } from "../image/plane";
import { nothingOccupied, occupy, tightestSafe } from "./tightest";

const W = 200;
const H = 120;
/** A disc of the subject, on a frame reduced to half. */
function disc(cx: number, cy: number, r: number) {
  const m = makePlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) m.data[y * W + x] = Math.hypot(x + 0.5 - cx / 2, y + 0.5 - cy / 2) <= r / 2 ? 1 : 0;
  return m;
}
/** The subject walks from x = 150 on frame 1 to x = 250 on frame 3; radius 40, full px. */
function walk() {
  const o = nothingOccupied(W, H, 0.5);
  for (const [k, x] of [150, 200, 250].entries()) occupy(o, disc(x, 120, 40), k + 1);
  return o;
}
const box = (left: number, top: number, right: number, bottom: number) => [
  { x: left, y: top },
  { x: right, y: top },
  { x: right, y: bottom },
  { x: left, y: bottom },
];

describe("the tightest safe garbage outline", () => {
  it("brings every side of a box to the margin, and names the frame that decides it", () => {
    const found = tightestSafe({ points: box(20, 10, 380, 230), smooth: false, out: "outside" }, walk(), 10);
    // The subject spans 110…290 across and 80…160 down over the shot.
    const expected = [100, 70, 300, 170];
    const [a, , c] = found.points;
    [a!.x, a!.y, c!.x, c!.y].forEach((v, k) => {
      expect(Math.abs(v - expected[k]!)).toBeLessThan(3);
    });
    expect(found.after).toBeGreaterThanOrEqual(10);
    expect(found.before).toBeGreaterThan(60);
    const frameOf = (side: number) => found.deciders.find((d) => d.side === side)!.frame;
    // Sides run top, right, bottom, left.
    expect(frameOf(1)).toBe(3);
    expect(frameOf(3)).toBe(1);
  });

  it("leaves sides on the frame's border, where the subject may be cut by it", () => {
    const o = nothingOccupied(W, H, 0.5);
    occupy(o, disc(200, 240, 60), 1);
    const found = tightestSafe({ points: box(20, 10, 380, 240), smooth: false, out: "outside" }, o, 8);
    expect(found.moved[2]).toBe(0);
    expect(found.points[2]!.y).toBe(240);
    expect(found.points[0]!.y).toBeGreaterThan(165);
    expect(found.points[0]!.y).toBeLessThan(173);
  });

  it("grows a shape that throws its inside away, towards the subject", () => {
    const found = tightestSafe({ points: box(320, 100, 340, 140), smooth: false, out: "inside" }, walk(), 10);
    expect(found.points[0]!.x).toBeLessThan(304);
    expect(found.points[0]!.x).toBeGreaterThan(296);
  });

  it("never leaps over thin parts of the subject", () => {
    const o = nothingOccupied(W, H, 0.5);
    const m = disc(200, 120, 20);
    // A rod, two pixels thin, far to the left of the body.
    for (let y = 50; y < 70; y++) for (let x = 20; x < 22; x++) m.data[y * W + x] = 1;
    occupy(o, m, 1);
    const found = tightestSafe({ points: box(4, 4, 396, 236), smooth: false, out: "outside" }, o, 6);
    expect(found.points[0]!.x).toBeLessThanOrEqual(40 - 6 + 0.5);
    expect(found.points[0]!.x).toBeGreaterThan(30);
  });

  it("leaves a side that is too near already, and passes specks over", () => {
    const near = tightestSafe({ points: box(105, 10, 380, 230), smooth: false, out: "outside" }, walk(), 10);
    expect(near.moved[3]).toBe(0);
    expect(near.before).toBeLessThan(10);
    expect(near.deciders.find((d) => d.side === 3)!.frame).toBe(1);
    // The other sides have room, and take none of the near one's.
    expect(near.moved[0]).toBeGreaterThan(50);
    expect(near.after).toBeGreaterThanOrEqual(near.before);
    const o = nothingOccupied(W, H, 0.5);
    const speck = makePlane(W, H);
    speck.data[10 * W + 10] = 1;
    occupy(o, speck, 1);
    expect(o.frames.every((f) => f === 0)).toBe(true);
    expect(() => occupy(o, makePlane(3, 3), 1)).toThrow(RangeError);
  });
});
