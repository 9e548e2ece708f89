import { describe, expect, it } from "vitest";
import { type Affine, movedBack, movedBy } from "../image/affine";
import { makePicture, type Picture } from "../image/plane";
import { followThrough } from "../matte/follow";
import { box, drawPlate, even } from "../simulate/draw-plate";
import { strokeFollowed, strokeGround } from "./follow-paint";
import { type PaintStroke, paintColour, strokeMotion } from "./paint";

const [WIDTH, HEIGHT, FRAMES] = [240, 135, 9];

/** How a wooden sleeve of a hive lies on frame n: it is pushed aside, turned and comes nearer. */
function motion(n: number): Affine {
  const t = n - 1;
  const [c, s] = [(1 + 0.015 * t) * Math.cos(0.025 * t), (1 + 0.015 * t) * Math.sin(0.025 * t)];
  return { a: c, b: -s, c: s, d: c, x: 90 + 4 * t - c * 90 + s * 65, y: 65 - t - s * 90 - c * 65 };
}
function sleeve(n: number): Picture {
  const toStart = movedBack(motion(n));
  const back = (x: number, y: number) => movedBy(toStart, { x, y });
  const shape = (x: number, y: number) => {
    const p = back(x, y);
    return box(50, 35, 130, 95)(p.x, p.y);
  };
  const wood = (x: number, y: number) => {
    const p = back(x, y);
    const grain = 0.35 + 0.08 * Math.sin(0.5 * p.x + 2 * Math.sin(0.15 * p.y)) + 0.05 * Math.sin(0.23 * p.y);
    return { r: grain, g: 0.7 * grain, b: 0.4 * grain };
  };
  return drawPlate(WIDTH, HEIGHT, [{ covers: shape, colour: wood }], even(0.05, 0.4, 0.08)).plate;
}
const stroke: PaintStroke = {
  first: 1,
  last: 1,
  points: [
    { x: 80, y: 60 },
    { x: 96, y: 66 },
  ],
  radius: 6,
  soft: 0.5,
  strength: 0.6,
  colour: { r: 0.3, g: 0.3, b: 0.3 },
  keys: [],
};
const followed = async (s: PaintStroke, from: number, to: number) => {
  const [found] = await followThrough(
    async (n) => sleeve(n),
    [strokeGround(s, from, HEIGHT)],
    from,
    to,
    async () => true,
  );
  return strokeFollowed(s, found!, HEIGHT);
};
const off = (s: PaintStroke, n: number, truth: (n: number) => Affine) =>
  Math.max(
    ...s.points.map((p) => {
      const [q, t] = [movedBy(strokeMotion(s, n), p), movedBy(truth(n), p)];
      return Math.hypot(q.x - t.x, q.y - t.y);
    }),
  );

describe("paint that goes with what lies under it", () => {
  it("pushed, turned and nearer: the stroke within a third of a pixel on every frame, with fewer keys than frames", async () => {
    const s = await followed(stroke, 1, FRAMES);
    expect([s.first, s.last]).toEqual([1, FRAMES]);
    for (let n = 1; n <= FRAMES; n++) expect(off(s, n, motion), `frame ${n}`).toBeLessThan(0.33);
    expect(off(stroke, FRAMES, motion)).toBeGreaterThan(25);
    const { a, b, c, d } = strokeMotion(s, FRAMES);
    expect(Math.sqrt(a * d - b * c)).toBeCloseTo(1 + 0.015 * (FRAMES - 1), 2);
  });
  it("from the middle to both ends it keeps the keys of the other side, and goes on from where it lies", async () => {
    const drawn = { ...stroke, first: 5, last: 5, points: stroke.points.map((p) => movedBy(motion(5), p)) };
    const on = await followed(drawn, 5, FRAMES);
    expect([on.first, on.last]).toEqual([5, FRAMES]);
    const both = await followed(on, 5, 1);
    expect([both.first, both.last]).toEqual([1, FRAMES]);
    expect(both.keys.filter((k) => k.frame > 5)).toEqual(on.keys.filter((k) => k.frame > 5));
    for (let n = 1; n <= FRAMES; n++)
      drawn.points.forEach((p, k) => {
        const [q, t] = [movedBy(strokeMotion(both, n), p), movedBy(motion(n), stroke.points[k]!)];
        expect(Math.hypot(q.x - t.x, q.y - t.y), `frame ${n}`).toBeLessThan(0.4);
      });
    // Followed anew from a frame it was brought to: it goes on from where it lies there.
    const again = await followed(both, 7, FRAMES);
    for (let n = 7; n <= FRAMES; n++)
      drawn.points.forEach((p, k) => {
        const [q, t] = [movedBy(strokeMotion(again, n), p), movedBy(motion(n), stroke.points[k]!)];
        expect(Math.hypot(q.x - t.x, q.y - t.y), `frame ${n} anew`).toBeLessThan(0.5);
      });
  });
  it("lost at once it stays as it was; lost later it shows as far as it was followed", async () => {
    const onScreen = { ...stroke, points: [{ x: 200, y: 20 }] };
    expect(await followed(onScreen, 1, FRAMES)).toBe(onScreen);
    const found = (
      await followThrough(
        async (n) => (n < 4 ? sleeve(n) : drawPlate(WIDTH, HEIGHT, [], even(0.05, 0.4, 0.08)).plate),
        [strokeGround(stroke, 1, HEIGHT)],
        1,
        FRAMES,
        async () => true,
      )
    )[0]!;
    expect(found.lost?.frame).toBe(4);
    expect(strokeFollowed({ ...stroke, last: FRAMES }, found, HEIGHT).last).toBe(3);
  });
  it("stopped short of keys it has from earlier, it goes on by those", async () => {
    const whole = await followed(stroke, 1, FRAMES);
    const [found] = await followThrough(
      async (n) => sleeve(n),
      [strokeGround(whole, 3, HEIGHT)],
      3,
      FRAMES,
      async (n) => n < 5,
    );
    const stopped = strokeFollowed(whole, found!, HEIGHT);
    expect(found!.outlines.map((o) => o.frame)).toEqual([3, 4, 5]);
    expect([stopped.first, stopped.last]).toEqual([1, FRAMES]);
    expect(off(stopped, FRAMES, motion)).toBeLessThan(0.33);
    expect(strokeFollowed({ ...stroke, last: FRAMES }, { outlines: found!.outlines }, HEIGHT).last).toBe(5);
  });
  it("is laid where it went, as large as what came nearer", () => {
    const grey = makePicture(WIDTH, HEIGHT);
    for (const c of ["r", "g", "b"] as const) grey[c].fill(0.2);
    const red = { ...stroke, soft: 0, strength: 1, colour: { r: 1, g: 0, b: 0 }, last: FRAMES, points: [{ x: 80, y: 60 }] };
    const moved = {
      ...red,
      keys: [
        { frame: 1, a: 1, b: 0, c: 0, d: 1, x: 0, y: 0 },
        { frame: 3, a: 2, b: 0, c: 0, d: 2, x: -20, y: -40 },
      ],
    };
    const area = (p: Picture) => p.r.reduce((n, v) => n + (v > 0.25 ? 1 : 0), 0);
    const [one, two, three] = [1, 2, 3].map((n) => paintColour(grey, [moved], n, 1)) as [Picture, Picture, Picture];
    expect(one.r).toEqual(paintColour(grey, [red], 1, 1).r);
    // Half way on frame 2: 1.5 times as large, around 110, 70; on frame 3 twice, around 140, 80.
    expect(two.r[70 * WIDTH + 110]).toBeGreaterThan(0.3);
    expect(three.r[80 * WIDTH + 140]).toBeGreaterThan(0.3);
    expect(three.r[60 * WIDTH + 80]).toBeCloseTo(0.2, 5);
    expect(area(two) / area(one)).toBeCloseTo(2.25, 0.5);
    expect(area(three) / area(one)).toBeCloseTo(4, 0.5);
  });
});
