import { describe, expect, it } from "vitest";
import { decodeWithRebuiltChroma } from "./chroma-rebuild";
import { makePicture } from "./plane";
import { random } from "./random";
import { decodeRawFrame, packRawFrame, planeSizes, type RawFrame, type RawLayout, unpackRawFrame } from "./raw-frame";
import { type Turn, turnPicture } from "./turn";

const counted = (width: number, height: number) => {
  const p = makePicture(width, height);
  for (const [k, c] of [p.r, p.g, p.b].entries()) for (let i = 0; i < c.length; i++) c[i] = 100 * k + i;
  return { ...p, a: p.r.map((v) => v + 0.5) };
};

describe("a turned picture", () => {
  // 0 1 2
  // 3 4 5
  it.each([
    [0, 3, [0, 1, 2, 3, 4, 5]],
    [1, 2, [3, 0, 4, 1, 5, 2]],
    [2, 3, [5, 4, 3, 2, 1, 0]],
    [3, 2, [2, 5, 1, 4, 0, 3]],
  ] as const)("by %d quarters clockwise", (turn, width, order) => {
    const t = turnPicture(counted(3, 2), turn);
    expect([t.width, t.height]).toEqual([width, 6 / width]);
    expect([...t.r]).toEqual(order);
    expect([...t.b]).toEqual(order.map((v) => 200 + v));
    expect([...t.a!]).toEqual(order.map((v) => v + 0.5));
  });

  it("is the same after four quarters", () => {
    let p = counted(5, 3);
    for (let k = 0; k < 4; k++) p = turnPicture(p, 1) as typeof p;
    expect(p).toEqual(counted(5, 3));
  });
});

describe("a frame that asks to be turned", () => {
  const reading = { transfer: "bt709", matrix: "bt709", range: "limited", siting: "left" } as const;
  const frame = (layout: RawLayout): RawFrame => {
    const next = random(5);
    // A grey ramp with coloured noise: what luma says and what chroma says both differ from place to place.
    const planes = planeSizes(37, 22, layout).map((s, k) =>
      Uint16Array.from({ length: s.width * s.height }, (_, i) => (k === 0 ? 40 + 4 * (i % s.width) : 128) + Math.floor(30 * next())),
    );
    return { width: 37, height: 22, layout, planes };
  };
  it.each([1, 2, 3] as const)("is decoded and rebuilt as it was recorded, then turned by %d", (turn: Turn) => {
    const raw = frame({ kind: "ycbcr", subsampling: "420", bits: 8, alpha: true });
    for (const decode of [decodeRawFrame, decodeWithRebuiltChroma])
      expect(decode({ ...raw, turn }, reading)).toEqual(turnPicture(decode(raw, reading), turn));
    const rgb = frame({ kind: "rgb", bits: 8, alpha: false });
    expect(decodeRawFrame({ ...rgb, turn }, reading)).toEqual(turnPicture(decodeRawFrame(rgb, reading), turn));
  });

  it("asks for it still when it has gone over the wire", () => {
    const raw: RawFrame = { ...frame({ kind: "rgb", bits: 8, alpha: false }), turn: 3 };
    expect(unpackRawFrame(packRawFrame(raw).buffer as ArrayBuffer)).toEqual(raw);
  });
});
