import { describe, expect, it } from "vitest";
import { bt709ToLinear } from "../color/bt709";
import { floatToHalf } from "../color/half";
import { rgbToYcbcrCodes } from "../color/ycbcr";
import { type ColourReading, decodeRawFrame, packRawFrame, type RawFrame, type Siting, unpackRawFrame } from "./raw-frame";

const reading: ColourReading = { transfer: "bt709", matrix: "bt709", range: "limited", siting: "left" };

/** A flat 4:2:0 frame of one colour. */
function flat(rgb: [number, number, number], bits: number): RawFrame {
  const [y, cb, cr] = rgbToYcbcrCodes(rgb, "bt709", "limited", bits);
  return {
    width: 4,
    height: 4,
    layout: { kind: "ycbcr", subsampling: "420", bits, alpha: false },
    planes: [new Uint16Array(16).fill(y), new Uint16Array(4).fill(cb), new Uint16Array(4).fill(cr)],
  };
}

describe("decodeRawFrame", () => {
  it.each([8, 10])("reads %i-bit Y'CbCr into scene-linear light", (bits) => {
    const p = decodeRawFrame(flat([0.2, 0.6, 0.3], bits), reading);
    expect(p.r[5]).toBeCloseTo(bt709ToLinear(0.2), bits === 8 ? 1.7 : 2.5);
    expect(p.g[5]).toBeCloseTo(bt709ToLinear(0.6), bits === 8 ? 1.7 : 2.5);
  });

  /** A chroma ramp that is a straight line in luma positions must come back as that line, wherever the samples sit. */
  it.each(["left", "center", "topleft"] as Siting[])("puts 4:2:0 chroma where %s siting says", (siting) => {
    const [w, h] = [16, 16];
    const offX = siting === "center" ? 0.5 : 0;
    const offY = siting === "topleft" ? 0 : 0.5;
    const cb = Uint16Array.from({ length: 64 }, (_, i) => 400 + 8 * (2 * (i % 8) + offX) + 4 * (2 * Math.floor(i / 8) + offY));
    const raw: RawFrame = {
      width: w,
      height: h,
      layout: { kind: "ycbcr", subsampling: "420", bits: 10, alpha: false },
      planes: [new Uint16Array(w * h).fill(502), cb, new Uint16Array(64).fill(512)],
    };
    const p = decodeRawFrame(raw, { ...reading, transfer: "linear", siting });
    const luma = (502 - 64) / 876;
    for (const [x, y] of [
      [4, 4],
      [5, 4],
      [5, 7],
      [8, 9],
    ] as const) {
      const expected = luma + 1.8556 * ((400 + 8 * x + 4 * y - 512) / 896);
      expect(p.b[y * w + x]).toBeCloseTo(expected, 5);
    }
  });

  it("keeps 4:2:2 rows apart", () => {
    const raw: RawFrame = {
      width: 4,
      height: 2,
      layout: { kind: "ycbcr", subsampling: "422", bits: 8, alpha: false },
      planes: [new Uint16Array(8).fill(126), Uint16Array.of(128, 128, 200, 200), Uint16Array.of(128, 128, 128, 128)],
    };
    const p = decodeRawFrame(raw, { ...reading, transfer: "linear" });
    expect(p.b[1]).toBeCloseTo(110 / 219, 5);
    expect(p.b[5]).toBeCloseTo(110 / 219 + (1.8556 * 72) / 224, 5);
  });

  it("stops NaN and infinities of half-float files", () => {
    const plane = Uint16Array.of(floatToHalf(0.5), 0x7e00, 0x7c00, 0xfc00);
    const p = decodeRawFrame(
      { width: 2, height: 2, layout: { kind: "half", alpha: false }, planes: [plane, plane, plane] },
      { ...reading, transfer: "linear" },
    );
    expect([...p.r]).toEqual([0.5, 0, 65504, -65504]);
  });

  it("refuses planes of the wrong size", () => {
    const raw = flat([0.5, 0.5, 0.5], 8);
    expect(() => decodeRawFrame({ ...raw, planes: [raw.planes[0]!, new Uint16Array(3), raw.planes[2]!] }, reading)).toThrow(
      /Plane 1 of the frame holds 3 samples/,
    );
  });
});

describe("the wire format", () => {
  it("comes back as it went", () => {
    const raw = flat([0.1, 0.7, 0.2], 10);
    const packed = packRawFrame(raw);
    expect(unpackRawFrame(packed.buffer as ArrayBuffer)).toEqual(raw);
  });
  it("says when it was cut short", () => {
    const packed = packRawFrame(flat([0.1, 0.7, 0.2], 8));
    expect(() => unpackRawFrame(packed.slice(0, packed.length - 5).buffer as ArrayBuffer)).toThrow(/cut short/);
    expect(() => unpackRawFrame(new ArrayBuffer(2))).toThrow(/cut short/);
  });
});
