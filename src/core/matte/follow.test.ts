import { describe, expect, it } from "vitest";
import { movedBack, movedBy } from "../image/affine";
import type { Picture } from "../image/plane";
import { box, drawPlate, even } from "../simulate/draw-plate";
import { type FollowedGround, fewKeys, followThrough, shapeKeysFollowed } from "./follow";
import { outlineAt } from "./keys";
import type { Point } from "./polygon";

const [WIDTH, HEIGHT] = [240, 135];
const LID: Point[] = [
  { x: 70, y: 50 },
  { x: 110, y: 50 },
  { x: 110, y: 80 },
  { x: 70, y: 80 },
];
const SCREEN = even(0.05, 0.4, 0.08);

/** A brass lid with a band and rivets before the screen on frame n; it is lifted and turned. */
function lid(n: number, { even: plain = false, speed = 1, hand = false } = {}): Picture {
  const toStart = movedBack(motion(n, speed));
  const back = (x: number, y: number) => movedBy(toStart, { x, y });
  const shape = (x: number, y: number) => {
    const p = back(x, y);
    return box(60, 40, 125, 90)(p.x, p.y);
  };
  const brass = (x: number, y: number) => {
    const p = back(x, y);
    if (plain) return { r: 0.3, g: 0.2, b: 0.1 };
    const band = p.y > 60 && p.y < 67 ? 0.4 : 1;
    const rivet = Math.hypot(((p.x + 4) % 17) - 8, p.y - 73) < 3.5 ? 1.7 : 1;
    const light = 0.6 + 0.005 * (p.x - 60) + 0.1 * Math.sin(0.3 * p.x + 0.1 * p.y);
    return { r: 0.4 * light * band * rivet, g: 0.3 * light * band * rivet, b: 0.15 * light * rivet };
  };
  const things = [{ covers: shape, colour: brass }];
  if (hand) things.push({ covers: box(0, 0, 240, 135), colour: (x, y) => ({ r: 0.3 + 0.1 * Math.sin(x * y * 0.01), g: 0.2, b: 0.15 }) });
  return drawPlate(WIDTH, HEIGHT, things, SCREEN).plate;
}
function motion(n: number, speed = 1) {
  const t = speed * (n - 1);
  const [c, s] = [Math.cos(0.03 * t), Math.sin(0.03 * t)];
  return { a: c, b: -s, c: s, d: c, x: 90 + 3.1 * t - c * 90 + s * 65, y: 65 - 0.2 * t * t - s * 90 - c * 65 };
}
const truth = (n: number, speed = 1) => LID.map((p) => movedBy(motion(n, speed), p));
const apart = (a: readonly Point[], b: readonly Point[]) => Math.max(...a.map((p, i) => Math.hypot(p.x - b[i]!.x, p.y - b[i]!.y)));
const shape = { points: LID, outline: LID };
const always = async () => true;
const frame = async (n: number) => lid(n);

describe("following what lies under a shape", () => {
  it("lifted and turned: its corners within 0.15 px on every frame, both ways", async () => {
    const on = (await followThrough(frame, [shape], 1, 9, always))[0]!;
    expect(on.lost).toBeNull();
    expect(on.outlines.map((o) => o.frame)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
    for (const o of on.outlines) expect(apart(o.points, truth(o.frame)), `frame ${o.frame}`).toBeLessThan(0.15);
    expect(apart(truth(9), LID)).toBeGreaterThan(25);
    const back = (await followThrough(frame, [{ points: truth(9), outline: truth(9) }], 9, 5, always))[0]!;
    expect(back.outlines.map((o) => o.frame)).toEqual([9, 8, 7, 6, 5]);
    for (const o of back.outlines) expect(apart(o.points, truth(o.frame)), `frame ${o.frame}`).toBeLessThan(0.15);
  });
  it("stops where it is told to, with what it has", async () => {
    const told: number[] = [];
    const found = (await followThrough(frame, [shape], 1, 9, async (n) => told.push(n) < 3))[0]!;
    expect(told).toEqual([2, 3, 4]);
    expect(found.outlines).toHaveLength(4);
    expect(found.lost).toBeNull();
  });
  it("says on which frame it was lost, and why", async () => {
    const leaves = (await followThrough(async (n) => lid(n, { speed: 2 }), [shape], 1, 30, always))[0]!;
    expect(leaves.lost?.why).toBe("it leaves the frame");
    const last = leaves.outlines.at(-1)!;
    expect(leaves.lost?.frame).toBe(last.frame + 1);
    expect(last.frame).toBeGreaterThan(4);
    expect(apart(last.points, truth(last.frame, 2))).toBeLessThan(1);
    const hidden = (await followThrough(async (n) => lid(n, { hand: n >= 4 }), [shape], 1, 9, always))[0]!;
    expect(hidden.lost?.frame).toBe(4);
    expect(hidden.lost?.why).toMatch(/no longer looks the same|hidden|too even/);
  });
  it("what is even all over is not followed", async () => {
    const inside = [
      { x: 80, y: 55 },
      { x: 100, y: 55 },
      { x: 100, y: 75 },
      { x: 80, y: 75 },
    ];
    const found = (await followThrough(async (n) => lid(n, { even: true }), [{ points: inside, outline: inside }], 1, 3, always))[0]!;
    expect(found.lost).toEqual({ frame: 2, why: "it is too even to be followed" });
  });
  it("several are followed in one reading, each as far as it goes", async () => {
    const off = LID.map((p) => ({ x: p.x + 400, y: p.y }));
    const screen = LID.map((p) => ({ x: p.x + 90, y: p.y - 20 }));
    const read: number[] = [];
    const found = await followThrough(
      async (n) => {
        read.push(n);
        return lid(n);
      },
      [off, LID, screen].map((points) => ({ points, outline: points })),
      1,
      5,
      always,
    );
    expect(read).toEqual([1, 2, 3, 4, 5]);
    expect(found.map((f) => f.lost)).toEqual([
      { frame: 1, why: "it lies outside the frame" },
      null,
      { frame: 2, why: "it is too even to be followed" },
    ]);
    expect(found.map((f) => f.outlines.length)).toEqual([1, 5, 1]);
    const alone = await followThrough(frame, [shape], 1, 5, always);
    expect(found[1]).toEqual(alone[0]);
  });
});

describe("keys of a followed shape", () => {
  const at = (n: number, x: number): { frame: number; points: Point[] } => ({
    frame: n,
    points: [
      { x, y: 0 },
      { x: x + 10, y: 0 },
      { x, y: 10 },
    ],
  });

  it("are as few as hold every outline within a pixel at 1080 lines", () => {
    const even = [1, 2, 3, 4, 5, 6].map((n) => at(n, 3 * n));
    expect(fewKeys(even, 1080, 500).map((k) => k.frame)).toEqual([1, 6]);
    const bent = [1, 2, 3, 4, 5, 6].map((n) => at(n, n < 4 ? 0 : 5 * (n - 3)));
    expect(fewKeys(bent, 1080, 500).map((k) => k.frame)).toEqual([1, 3, 6]);
    const shaken = Array.from({ length: 60 }, (_, k) => at(k + 1, 6 * Math.sin(0.4 * k)));
    const keys = fewKeys(shaken, 1080, 500);
    expect(keys.length).toBeLessThan(40);
    for (const o of shaken) expect(apart(outlineAt({ points: [], keys }, o.frame), o.points)).toBeLessThanOrEqual(1);
    // In a frame of a quarter of the lines, a quarter of that.
    for (const o of shaken)
      expect(apart(outlineAt({ points: [], keys: fewKeys(shaken, 270, 500) }, o.frame), o.points)).toBeLessThanOrEqual(0.25);
  });
  it("are no more than a shape may have", () => {
    const shaken = Array.from({ length: 60 }, (_, k) => at(k + 1, k % 2 ? 50 : 0));
    expect(fewKeys(shaken, 1080, 500)).toHaveLength(60);
    expect(fewKeys(shaken, 1080, 20).length).toBeLessThanOrEqual(20);
  });
  it("take the place of those on the side it was followed to; the others stay", () => {
    const keys = [at(1, 0), at(5, 1), at(8, 2), at(20, 3)];
    const followed: Pick<FollowedGround, "outlines"> = { outlines: [at(5, 1), at(6, 10.1234), at(7, 30), at(8, 31), at(9, 31)] };
    const got = shapeKeysFollowed(keys, followed, 1080);
    expect(got.map((k) => k.frame)).toEqual([1, 5, 6, 7, 9, 20]);
    expect(got[2]!.points[0]).toEqual({ x: 10.12, y: 0 });
    const backwards = shapeKeysFollowed(keys, { outlines: [at(8, 2), at(7, 2), at(6, 2)] }, 1080);
    expect(backwards.map((k) => k.frame)).toEqual([1, 5, 6, 8, 20]);
  });
});
