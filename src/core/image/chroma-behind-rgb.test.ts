import sharp from "sharp";
import { describe, expect, it } from "vitest";
import { cameraReading, record } from "../simulate/camera";
import { makeCamera } from "../simulate/stage";
import { chromaBehindRgb, recordedBehindRgb } from "./chroma-behind-rgb";
import { decodeWithRebuiltChroma } from "./chroma-rebuild";
import { tellSiting } from "./chroma-siting";
import { normal } from "./normal";
import { makePicture, type Picture } from "./plane";
import { random } from "./random";
import { decodeRawFrame, type RawFrame } from "./raw-frame";

const [W, H] = [240, 160];
const SCREEN = { r: 0.05, g: 0.36, b: 0.08 };

/** Slanted strands of several colours before a green screen, and a solid place; linear light. */
function strands(apart = 9): Picture {
  const p = makePicture(W, H);
  const colours = [
    { r: 0.75, g: 0.6, b: 0.3 },
    { r: 0.35, g: 0.16, b: 0.1 },
    { r: 0.3, g: 0.3, b: 0.42 },
  ] as const;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const k = Math.floor((x + 0.37 * y) / apart);
      const at = x + 0.37 * y - apart * k;
      const a = y > 130 ? 1 : Math.max(0, Math.min(1, 1.6 - Math.abs(at - 4)));
      const f = colours[y > 130 ? 1 : k % 3] as (typeof colours)[number];
      for (const c of ["r", "g", "b"] as const) p[c][y * W + x] = a * f[c] + (1 - a) * SCREEN[c] * (0.9 + (0.2 * x) / W);
    }
  return p;
}

const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
function rgbOf(p: Picture, bits = 8): RawFrame {
  const top = 2 ** bits - 1;
  const planes = [p.r, p.g, p.b].map((c) => Uint16Array.from(c, (v) => Math.round(top * Math.min(1, Math.max(0, encode(v))))));
  return { width: p.width, height: p.height, layout: { kind: "rgb", bits, alpha: false }, planes };
}
function interleave({ planes }: RawFrame): Buffer {
  const [r, g, b] = planes as [Uint16Array, Uint16Array, Uint16Array];
  const out = Buffer.alloc(3 * r.length);
  for (let i = 0; i < r.length; i++) out.set([r[i]!, g[i]!, b[i]!], 3 * i);
  return out;
}
/** Through the JPEG encoder and decoder of a general-purpose library (ITU-T T.81; chroma between the columns and rows, JFIF 1.02). */
async function throughJpeg(frame: RawFrame, chromaSubsampling: string): Promise<RawFrame> {
  const raw = { width: frame.width, height: frame.height, channels: 3 as const };
  const file = await sharp(interleave(frame), { raw }).jpeg({ quality: 95, chromaSubsampling }).toBuffer();
  const codes = await sharp(file).raw().toBuffer();
  const planes = [0, 1, 2].map((k) => Uint16Array.from({ length: codes.length / 3 }, (_, i) => codes[3 * i + k] as number));
  return { ...frame, planes };
}

/**
 * R = Y + first Cr, G = Y − second Cb − third Cr, B = Y + fourth Cb. Sources: JFIF 1.02, which gives them; ITU-R BT.709-6, items 3.2
 * and 3.3: 2·(1 − 0.2126), 2·0.0722·(1 − 0.0722)/0.7152, 2·0.2126·(1 − 0.2126)/0.7152, 2·(1 − 0.0722).
 */
const TO_RGB = { bt601: [1.402, 0.34414, 0.71414, 1.772], bt709: [1.5748, 0.18732, 0.46812, 1.8556] } as const;

/** Y'CbCr, full range, turned into 8-bit RGB with its chroma enlarged along each axis by what `enlarge` makes of a line. */
function decoded(
  luma: Float32Array,
  cb: Float32Array,
  cr: Float32Array,
  enlarge: (line: number[]) => number[],
  tall: boolean,
  matrix: keyof typeof TO_RGB = "bt601",
): RawFrame {
  const cw = W / 2;
  const full = (c: Float32Array) => {
    const rows = Array.from({ length: tall ? H / 2 : H }, (_, y) => enlarge([...c.subarray(y * cw, (y + 1) * cw)]));
    if (!tall) return rows.flat();
    const columns = Array.from({ length: W }, (_, x) => enlarge(rows.map((row) => row[x] as number)));
    return Array.from({ length: W * H }, (_, i) => columns[i % W]![Math.floor(i / W)] as number);
  };
  const [u, v] = [full(cb), full(cr)];
  const code = (x: number) => Math.round(Math.min(255, Math.max(0, x)));
  const [rCr, gCb, gCr, bCb] = TO_RGB[matrix];
  const planes = [
    Uint16Array.from(luma, (y, i) => code(y + rCr * v[i]!)),
    Uint16Array.from(luma, (y, i) => code(y - gCb * u[i]! - gCr * v[i]!)),
    Uint16Array.from(luma, (y, i) => code(y + bCb * u[i]!)),
  ];
  return { width: W, height: H, layout: { kind: "rgb", bits: 8, alpha: false }, planes };
}
const at = (line: number[], k: number) => line[Math.min(line.length - 1, Math.max(0, k))] as number;
const twice = (line: number[], make: (k: number, second: boolean) => number) => line.flatMap((_, k) => [make(k, false), make(k, true)]);
const ENLARGE = {
  repeated: (line: number[]) => twice(line, (k) => at(line, k)),
  "linear, centred": (line: number[]) => twice(line, (k, s) => 0.75 * at(line, k) + 0.25 * at(line, s ? k + 1 : k - 1)),
  "linear, on even pixels": (line: number[]) => twice(line, (k, s) => (s ? (at(line, k) + at(line, k + 1)) / 2 : at(line, k))),
  // Keys 1981, half-way between samples: −1/16, 9/16, 9/16, −1/16.
  "cubic, on even pixels": (line: number[]) =>
    twice(line, (k, s) => (s ? (9 * (at(line, k) + at(line, k + 1)) - at(line, k - 1) - at(line, k + 2)) / 16 : at(line, k))),
};

describe("the recording behind an RGB frame", () => {
  const random1 = random(7);
  const ch = H / 2;
  const half = (tall: boolean) => (W / 2) * (tall ? ch : H);
  const patchy = (n: number) => Float32Array.from({ length: n }, (_, i) => 30 * Math.sin(i * 0.9) * Math.cos(i * 0.013) + 10 * random1());
  const luma = Float32Array.from({ length: W * H }, () => 110 + 30 * random1());

  it.each(Object.entries(ENLARGE).flatMap(([name, how]) => [true, false].map((tall) => [name, how, tall] as const)))(
    "is found where chroma was %s, and its samples come back to a code",
    (name, how, tall) => {
      const [cb, cr] = [patchy(half(tall)), patchy(half(tall))];
      const frame = decoded(luma, cb, cr, how, tall);
      expect(chromaBehindRgb(frame)).toBe(tall ? "4:2:0" : "4:2:2");
      const behind = recordedBehindRgb(frame, "srgb")!;
      expect(behind.reading).toMatchObject({ matrix: "bt601", range: "full", transfer: "srgb" });
      if (name !== "repeated") expect(behind.reading.siting).toBe(/even/.test(name) ? (tall ? "topleft" : "left") : "center");
      [cb, cr].forEach((wanted, k) => {
        const found = behind.raw.planes[k + 1] as Uint16Array;
        const error = Math.sqrt(found.reduce((s, v, i) => s + ((v - 2048) * (255 / 4095) - wanted[i]!) ** 2, 0) / found.length);
        expect(error).toBeLessThan(0.6);
      });
      const brightness = behind.raw.planes[0]!.reduce((s, v, i) => Math.max(s, Math.abs(v * (255 / 4095) - luma[i]!)), 0);
      expect(brightness).toBeLessThan(1);
    },
  );
  it.each([
    ["bt601", 255],
    ["bt709", 255],
    ["bt709", 219],
    ["bt601", 219],
  ] as const)("tells the matrix, %s, by luma that was recorded in whole codes, %i of them", (matrix, codes) => {
    const whole = luma.map((v) => (Math.round((v * codes) / 255) * 255) / codes);
    const frame = decoded(whole, patchy(half(true)), patchy(half(true)), ENLARGE["linear, centred"], true, matrix);
    expect(recordedBehindRgb(frame, "srgb")!.reading.matrix).toBe(matrix);
  });
  it("takes JPEG's matrix where luma was recorded finer", () => {
    const frame = decoded(luma, patchy(half(true)), patchy(half(true)), ENLARGE["linear, centred"], true, "bt709");
    expect(recordedBehindRgb(frame, "srgb")!.reading.matrix).toBe("bt601");
  });
  it("gets luma of clipped pixels from a channel that is not", () => {
    // So dark that red and blue fall under 0 wherever chroma is the screen's.
    const dark = Float32Array.from({ length: W * H }, (_, i) => (i % 7 < 2 ? 35 : 120));
    const [cb, cr] = [patchy(half(true)).map((v) => v - 45), patchy(half(true)).map((v) => v - 45)] as [Float32Array, Float32Array];
    const frame = decoded(dark, cb, cr, ENLARGE["linear, centred"], true);
    const clipped = frame.planes[0]!.reduce((s, v) => s + (v === 0 ? 1 : 0), 0);
    expect(clipped).toBeGreaterThan(0.1 * W * H);
    const behind = recordedBehindRgb(frame, "srgb")!;
    const plain = decoded(dark, cb, cr, ENLARGE["linear, centred"], true).planes;
    const errors = (lumaAt: (i: number) => number) => Math.sqrt(dark.reduce((s, y, i) => s + (lumaAt(i) - y) ** 2, 0) / (W * H));
    const found = errors((i) => behind.raw.planes[0]![i]! * (255 / 4095));
    expect(found).toBeLessThan(0.35 * errors((i) => 0.299 * plain[0]![i]! + 0.587 * plain[1]![i]! + 0.114 * plain[2]![i]!));
  });

  it("takes no screen's colour into clipped white beside it", () => {
    // A band of forty pixels is white and brighter than white, all else a green screen.
    const white = (x: number) => x >= 40 && x < 80;
    const bright = Float32Array.from({ length: W * H }, (_, i) => (white(i % W) ? 262 : 120));
    const green = () => patchy((W / 2) * ch).map((v, i) => (white(2 * (i % (W / 2))) ? 0 : v - 45));
    const frame = decoded(bright, green(), green(), ENLARGE["linear, centred"], true);
    const { planes } = recordedBehindRgb(frame, "srgb")!.raw;
    for (let y = 4; y < ch - 4; y++)
      for (let x = 23; x < 37; x++)
        for (const plane of planes.slice(1)) expect(Math.abs(plane[y * (W / 2) + x]! - 2048) * (255 / 4095)).toBeLessThan(1.5);
  });

  it("is found in a JPEG of 4:2:0, and none in one of 4:4:4 or in pixels that were never coarse", async () => {
    const frame = rgbOf(strands());
    const jpeg = await throughJpeg(frame, "4:2:0");
    expect(recordedBehindRgb(jpeg, "srgb")).toMatchObject({
      raw: { layout: { kind: "ycbcr", subsampling: "420", bits: 12 } },
      reading: { matrix: "bt601", siting: "center" },
    });
    expect(chromaBehindRgb(await throughJpeg(frame, "4:4:4"))).toBeNull();
    expect(chromaBehindRgb(frame)).toBeNull();
    expect(chromaBehindRgb(rgbOf(strands(), 16))).toBeNull();
  });
  it("is none where grain goes down to every pixel, where nothing is to be seen, and in tiny frames", () => {
    const next = normal(random(3));
    const grainy = strands();
    for (const c of [grainy.r, grainy.g, grainy.b]) for (let i = 0; i < c.length; i++) c[i] = Math.max(0, c[i]! + 0.01 * next());
    expect(chromaBehindRgb(rgbOf(grainy))).toBeNull();
    expect(chromaBehindRgb(rgbOf(makePicture(W, H)))).toBeNull();
    expect(chromaBehindRgb(rgbOf(makePicture(5, 3)))).toBeNull();
  });
  it("is told once for as long as the frame is kept", async () => {
    const jpeg = await throughJpeg(rgbOf(strands()), "4:2:0");
    const [first, again] = [recordedBehindRgb(jpeg, "srgb")!, recordedBehindRgb(jpeg, "gamma22")!];
    expect(again.raw).toBe(first.raw);
    expect([first.reading.transfer, again.reading.transfer]).toEqual(["srgb", "gamma22"]);
  });
  it("keeps alpha and odd sizes", async () => {
    const odd = rgbOf(strands());
    const [w, h] = [W - 1, H - 1];
    const cut = (p: Uint16Array) => Uint16Array.from({ length: w * h }, (_, i) => p[Math.floor(i / w) * W + (i % w)] as number);
    const jpeg = await throughJpeg({ ...odd, width: w, height: h, planes: odd.planes.map(cut) }, "4:2:0");
    const alpha = new Uint16Array(w * h).fill(77);
    const held: RawFrame = { ...jpeg, layout: { kind: "rgb", bits: 8, alpha: true }, planes: [...jpeg.planes, alpha] };
    expect(recordedBehindRgb(held, "srgb")!.raw.planes.map((p) => p.length)).toEqual([w * h, (W / 2) * (H / 2), (W / 2) * (H / 2)]);
    const picture = decodeWithRebuiltChroma(held, { transfer: "srgb", matrix: "bt709", range: "full", siting: "center" });
    expect(picture.a![1234]).toBeCloseTo(77 / 255, 6);
  });
  it("brings colour of a JPEG's strands back: error of the excess under 0.4 of the decoded file's", async () => {
    const light = strands();
    const jpeg = await throughJpeg(rgbOf(light), "4:2:0");
    const reading = { transfer: "srgb", matrix: "bt709", range: "full", siting: "center" } as const;
    const error = (p: Picture) => {
      const e = (q: Picture, i: number) => q.g[i]! - 0.5 * (q.r[i]! + q.b[i]!);
      return p.r.reduce((s, _, i) => s + (e(p, i) - e(light, i)) ** 2, 0);
    };
    expect(error(decodeWithRebuiltChroma(jpeg, reading))).toBeLessThan(0.4 * error(decodeRawFrame(jpeg, reading)));
  });
});

describe("where chroma lies", () => {
  it.each([
    ["left", "420", 8],
    ["center", "420", 8],
    ["left", "422", 10],
    ["center", "422", 10],
    ["left", "420", 10],
  ] as const)("%s in %s of %i bits is told by the pixels", (siting, subsampling, bits) => {
    expect(tellSiting(record(strands(24), makeCamera({ bits, subsampling, siting, shotNoise: 0.0004, readNoise: 0.0015 })))).toBe(siting);
  });
  it("is not told where there are no edges, and where chroma is as fine as luma", () => {
    const even = makePicture(W, H);
    for (const c of ["r", "g", "b"] as const) even[c].fill(SCREEN[c]);
    expect(tellSiting(record(even, makeCamera({ bits: 8, subsampling: "420" })))).toBeUndefined();
    expect(tellSiting(record(strands(), makeCamera({ bits: 8, subsampling: "444" })))).toBeUndefined();
    expect(cameraReading(makeCamera({ siting: "center" })).siting).toBe("center");
  });
});
