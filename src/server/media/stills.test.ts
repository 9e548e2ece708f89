import { copyFileSync, readFileSync, truncateSync, writeFileSync } from "node:fs";
import Color from "colorjs.io";
import sharp from "sharp";
import { describe, expect, it } from "vitest";
import { ffmpeg, scratchFolder } from "../../../tests/media-scratch";
import { encodeWith } from "../../core/color/transfer";
import { makePicture } from "../../core/image/plane";
import { decodeRawFrame } from "../../core/image/raw-frame";
import { encodePicture } from "./encode";
import { FrameReader } from "./frames";
import { primariesOfProfile } from "./icc";
import { probeFile } from "./probe";
import { probeSequence } from "./sequences";

const at = scratchFolder("sieve-stills-");

const [W, H] = [96, 64];
/** Thin strands before a green screen, 8 bits. */
const strands = Buffer.from(
  Array.from({ length: W * H * 3 }, (_, i) => (((i / 3) | 0) % 7 < 2 ? [220, 180, 120] : [30, 190, 50])[i % 3] as number),
);
const picture = (colour: string) => sharp(strands, { raw: { width: W, height: H, channels: 3 } }).withIccProfile(colour);

describe("stills with a profile", () => {
  it.each([
    ["p3", "p3"],
    ["srgb", undefined],
  ] as const)("%s of a phone is read in its own primaries, and what it was recorded as is told", async (profile, primaries) => {
    const name = `${profile}.jpg`;
    await picture(profile).jpeg({ quality: 92, chromaSubsampling: "4:2:0" }).toFile(at(name));
    const info = await probeFile(at(name));
    expect(info.reading.primaries ?? "bt709").toBe(primaries ?? "bt709");
    expect(info.stated.primaries).toBe(true);
    expect(info.told).toEqual({ chroma: "4:2:0" });
    // Its codes go as they are: what a general decoder has that looks at no profile.
    const raw = await new FrameReader(at(name), info).frame(1);
    const codes = await sharp(at(name), { ignoreIcc: true }).raw().toBuffer();
    expect(raw.planes.map((p) => p[W + 3])).toEqual([0, 1, 2].map((k) => codes[3 * (W + 3) + k]));
  });
  it("a green that sRGB has not keeps its hue: it goes under nothing in red, as an independent library has it", async () => {
    const green = [0, 230, 60];
    const raw = { width: 32, height: 32, channels: 3 as const };
    const flat = Buffer.from(Array.from({ length: 32 * 32 * 3 }, (_, i) => green[i % 3] as number));
    const named = await sharp(flat, { raw }).withIccProfile("p3").png().toBuffer();
    const codes = await sharp(named, { ignoreIcc: true }).raw().toBuffer();
    writeFileSync(at("green.png"), named);
    const info = await probeFile(at("green.png"));
    const light = decodeRawFrame(await new FrameReader(at("green.png"), info).frame(1), info.reading);
    const [r, g, b] = [0, 1, 2].map((k) => (codes[k] as number) / 255) as [number, number, number];
    const other = new Color("p3", [r, g, b]).to("srgb-linear").coords;
    for (const [k, c] of [light.r, light.g, light.b].entries()) expect(c[0]).toBeCloseTo(other[k] as number, 3);
  });
  it("profiles of other curves or primaries, and what is no profile, are left to be converted", async () => {
    await picture("p3").png().toFile(at("own.png"));
    const icc = (await sharp(at("own.png")).metadata()).icc as Buffer;
    expect(primariesOfProfile(icc)).toBe("p3");
    const changed = (name: string, by: number) => {
      const copy = Buffer.from(icc);
      const tag = copy.indexOf(name, 128);
      const from = copy.readUInt32BE(tag + 4);
      copy.writeInt32BE(Math.round(65536 * by), from + 12);
      return copy;
    };
    expect(primariesOfProfile(changed("rTRC", 1.8))).toBeUndefined();
    expect(primariesOfProfile(changed("gXYZ", 0.5))).toBeUndefined();
    expect(primariesOfProfile(icc.subarray(0, 200))).toBeUndefined();
    expect(primariesOfProfile(Buffer.alloc(4))).toBeUndefined();
  });
});

describe("EXR that names its primaries", () => {
  /** The file with one more attribute in its header. */
  async function withChromaticities(name: string, values: readonly number[]): Promise<string> {
    const p = makePicture(8, 4);
    p.g.fill(0.5);
    const file = Buffer.from(await encodePicture(p, "exr"));
    const body = Buffer.alloc(32);
    values.forEach((v, k) => {
      body.writeFloatLE(v, 4 * k);
    });
    const size = Buffer.alloc(4);
    size.writeUInt32LE(32);
    const attribute = Buffer.concat([Buffer.from("chromaticities\0chromaticities\0", "latin1"), size, body]);
    // Before the header's end: the table of offsets behind it moves, and its entries by as much.
    const end = headerEnd(file);
    const grown = Buffer.concat([file.subarray(0, end), attribute, file.subarray(end)]);
    const table = end + attribute.length + 1;
    const first = Number(file.readBigUInt64LE(end + 1));
    for (let k = 0; end + 1 + 8 * k < first; k++)
      grown.writeBigUInt64LE(file.readBigUInt64LE(end + 1 + 8 * k) + BigInt(attribute.length), table + 8 * k);
    writeFileSync(at(name), grown);
    return at(name);
  }
  function headerEnd(file: Buffer): number {
    let place = 8;
    while (file[place] !== 0) {
      for (let k = 0; k < 2; k++) place = file.indexOf(0, place) + 1;
      place += 4 + file.readUInt32LE(place);
    }
    return place;
  }
  it("is read in them: ACES' white is white, its green beyond BT.709's", async () => {
    const file = await withChromaticities("ap0.exr", [0.7347, 0.2653, 0, 1, 0.0001, -0.077, 0.32168, 0.33767]);
    const info = await probeFile(file);
    expect(info).toMatchObject({ reading: { transfer: "linear", primaries: "ap0" }, stated: { primaries: true }, warning: null });
    const light = decodeRawFrame(await new FrameReader(file, info).frame(1), info.reading);
    expect(light.r[3]).toBeLessThan(-0.3);
  });
  it("those that are not known are told of, and BT.709's assumed", async () => {
    const info = await probeFile(await withChromaticities("other.exr", [0.7, 0.3, 0.2, 0.7, 0.15, 0.06, 0.3127, 0.329]));
    expect(info.reading.primaries).toBeUndefined();
    expect(info.warning).toMatch(/primaries that are not read/);
  });
});

describe("DPX", () => {
  const codes = (n: number, top: number) => Uint16Array.from({ length: 3 * n }, (_, i) => (i * 37) % (top + 1));
  /** Written by a general converter from planar codes: G, B, R. */
  const write = (name: string, pixels: string, planes: Uint16Array | Uint8Array) =>
    ffmpeg(
      [
        "-f",
        "rawvideo",
        "-pix_fmt",
        pixels.replace("be", "le"),
        "-s",
        `${W}x${H}`,
        "-i",
        "pipe:0",
        "-frames:v",
        "1",
        "-pix_fmt",
        pixels,
        at(name),
      ],
      Buffer.from(planes.buffer),
    );
  it.each([
    ["gbrp10be", 10],
    ["gbrp12le", 12],
  ] as const)("%s comes in code for code", async (pixels, bits) => {
    const planes = codes(W * H, 2 ** bits - 1);
    const name = `${pixels}.dpx`;
    write(name, pixels, planes);
    const info = await probeFile(at(name));
    expect(info).toMatchObject({ kind: "still", format: "dpx", width: W, height: H, layout: { kind: "rgb", bits, alpha: false } });
    const raw = await new FrameReader(at(name), info).frame(1);
    const n = W * H;
    for (const [k, from] of [2 * n, 0, n].entries()) expect(raw.planes[k]).toEqual(planes.slice(from, from + n));
  });
  it("is read by the curve, timecode and shape of pixels that its header states; linear light in ten bits is doubted", async () => {
    write("plain.dpx", "gbrp10be", codes(W * H, 1023));
    const change = (name: string, transfer: number) => {
      const file = readFileSync(at("plain.dpx"));
      file[801] = transfer;
      file.writeUInt32BE(0x01023411, 1920);
      file.writeUInt32BE(2, 1628);
      writeFileSync(at(name), file);
      return probeFile(at(name));
    };
    expect(await change("film.dpx", 1)).toMatchObject({
      reading: { transfer: "film-density" },
      stated: { transfer: true },
      timecode: "01:02:34:11",
      pixelAspect: 2,
      warning: null,
    });
    expect(await change("video.dpx", 6)).toMatchObject({ reading: { transfer: "bt709" }, stated: { transfer: true } });
    const doubted = await change("linear.dpx", 2);
    expect(doubted).toMatchObject({ reading: { transfer: "bt709" }, stated: { transfer: false } });
    expect(doubted.warning).toMatch(/10-bit codes are linear light/);
    const film = await probeFile(at("film.dpx"));
    const raw = await new FrameReader(at("film.dpx"), film).frame(1);
    const light = decodeRawFrame(raw, film.reading);
    const back = encodeWith("film-density");
    for (const i of [0, 500, 4000]) expect(Math.round(1023 * back(light.g[i] as number))).toBe(raw.planes[1]![i]);
  });
  it("comes in as a numbered sequence", async () => {
    for (const n of [1, 2, 3]) copyFileSync(at("plain.dpx"), at(`frame.${String(n).padStart(4, "0")}.dpx`));
    const info = await probeSequence(at("frame.%04d.dpx"));
    expect(info).toMatchObject({ kind: "sequence", format: "dpx", frames: 3 });
    expect((await new FrameReader(at("frame.%04d.dpx"), info).frame(3)).width).toBe(W);
  });
  it("that is cut short, or of another kind, is refused in words", async () => {
    copyFileSync(at("plain.dpx"), at("short.dpx"));
    truncateSync(at("short.dpx"), 6000);
    await expect(probeFile(at("short.dpx"))).rejects.toThrow(/damaged or cut short/);
    truncateSync(at("short.dpx"), 900);
    await expect(probeFile(at("short.dpx"))).rejects.toThrow(/damaged or cut short/);
    const grey = readFileSync(at("plain.dpx"));
    grey[800] = 6;
    writeFileSync(at("grey.dpx"), grey);
    await expect(probeFile(at("grey.dpx"))).rejects.toThrow(/Only DPX of RGB/);
  });
});
