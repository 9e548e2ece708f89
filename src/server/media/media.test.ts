import { mkdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from "node:fs";
import { decode as decodePng } from "fast-png";
import sharp from "sharp";
import { describe, expect, it } from "vitest";
import { ffmpeg, scratchFolder } from "../../../tests/media-scratch";
import { turnedClip } from "../../../tests/turned-clip";
import { halfToFloat } from "../../core/color/half";
import { linearToSrgb } from "../../core/color/srgb";
import { makePicture, makePlane, type Picture } from "../../core/image/plane";
import { random } from "../../core/image/random";
import { decodeRawFrame, type RawFrame } from "../../core/image/raw-frame";
import { encodeMatte, encodePicture } from "./encode";
import { FrameReader } from "./frames";
import { fetchFor } from "./pixel-formats";
import { probeFile } from "./probe";
import { patternFile, patternNumbers, probeSequence } from "./sequences";
import { decodeStill } from "./stills";

const at = scratchFolder("sieve-media-");

const W = 128;
const H = 64;
const BITS = 8;
const FRAMES = 50;

/** A clip whose every frame carries its own number as eight black and white blocks: the burned-in counter. */
function counterFrames(): Buffer {
  const all = Buffer.alloc(FRAMES * W * H);
  for (let n = 1; n <= FRAMES; n++)
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const bit = Math.floor(x / (W / BITS));
        all[(n - 1) * W * H + y * W + x] = (n >> bit) & 1 ? 220 : 30;
      }
  return all;
}
const readCounter = (raw: RawFrame): number => {
  const luma = raw.planes[raw.layout.kind === "rgb" ? 1 : 0]!;
  const middle = raw.layout.kind === "half" ? 0.2 : 2 ** (raw.layout.bits - 1);
  let n = 0;
  for (let bit = 0; bit < BITS; bit++) if (luma[(H / 2) * W + bit * (W / BITS) + W / BITS / 2]! > middle) n |= 1 << bit;
  return n;
};

const CLIPS: readonly (readonly [string, string[]])[] = [
  ["h264-bframes.mp4", ["-c:v", "libx264", "-bf", "3", "-g", "12", "-pix_fmt", "yuv420p"]],
  ["h264-open-gop.mkv", ["-c:v", "libx264", "-bf", "2", "-g", "10", "-x264-params", "open-gop=1", "-pix_fmt", "yuv422p10le"]],
  ["hevc.mp4", ["-c:v", "libx265", "-x265-params", "keyint=12:bframes=4:log-level=error", "-pix_fmt", "yuv420p10le"]],
  ["vp9.webm", ["-c:v", "libvpx-vp9", "-b:v", "1M", "-cpu-used", "8", "-g", "16", "-pix_fmt", "yuv420p"]],
  ["prores.mov", ["-c:v", "prores_ks", "-profile:v", "3", "-pix_fmt", "yuv422p10le"]],
  ["rgb.mov", ["-c:v", "png", "-pix_fmt", "rgb24"]],
];

describe("clips", () => {
  it.each(CLIPS)("frame n of %s is frame n, in any order", async (name, codec) => {
    ffmpeg(
      ["-f", "rawvideo", "-pix_fmt", "gray", "-s", `${W}x${H}`, "-framerate", "24000/1001", "-i", "pipe:0", ...codec, at(name)],
      counterFrames(),
    );
    const info = await probeFile(at(name));
    expect(info).toMatchObject({ kind: "clip", width: W, height: H, frames: FRAMES });
    expect(info.rate!.num / info.rate!.den).toBeCloseTo(23.976, 2);
    const order = [30, 1, 50, 13, 12, 25, 24, 11, 49, 2, 37];
    for (const n of order) {
      // A new reader each time, so that nothing comes from memory.
      expect(readCounter(await new FrameReader(at(name), info).frame(n)), `frame ${n}`).toBe(n);
    }
    const few = new FrameReader(at(name), info, 24 * W * H);
    for (let n = 1; n <= FRAMES; n++) expect(readCounter(await few.frame(n))).toBe(n);
    for (let n = FRAMES; n >= 1; n--) expect(readCounter(await few.frame(n)), `frame ${n}, backwards`).toBe(n);
  });

  it("reads what the file says of colour, pixels, time and sound", async () => {
    ffmpeg([
      "-f",
      "lavfi",
      "-i",
      "testsrc=size=720x576:rate=25:duration=1",
      "-f",
      "lavfi",
      "-i",
      "sine=duration=1",
      "-vf",
      "setsar=16/15,setfield=tff,scale=out_color_matrix=bt601:out_range=tv",
      "-c:v",
      "libx264",
      "-flags",
      "+ildct",
      "-x264-params",
      "tff=1",
      "-pix_fmt",
      "yuv420p",
      "-colorspace",
      "smpte170m",
      "-color_trc",
      "smpte170m",
      "-color_primaries",
      "smpte170m",
      "-color_range",
      "tv",
      "-timecode",
      "10:00:00:00",
      "-c:a",
      "aac",
      at("sd.mov"),
    ]);
    const info = await probeFile(at("sd.mov"));
    expect(info.reading).toEqual({ transfer: "bt709", matrix: "bt601", range: "limited", siting: "center" });
    // The converter averages pairs of pixels, whatever the file says: its chroma lies between them.
    expect(info.told).toEqual({ siting: "center" });
    expect(info.stated).toMatchObject({ matrix: true, range: true });
    expect(info.pixelAspect).toBeCloseTo(16 / 15, 4);
    expect(info.fieldOrder).toMatch(/t/);
    expect(info.timecode).toBe("10:00:00:00");
    expect(info.audio).toMatchObject({ codec: "aac", channels: 1, sampleRate: 44100 });
  });

  it("decodes colour as an independent converter does", async () => {
    ffmpeg([
      "-f",
      "lavfi",
      "-i",
      "testsrc2=size=192x108:rate=24:duration=0.2",
      "-vf",
      "scale=out_color_matrix=bt709:out_range=tv",
      "-pix_fmt",
      "yuv444p10le",
      "-c:v",
      "ffv1",
      "-colorspace",
      "bt709",
      "-color_range",
      "tv",
      at("ref.mkv"),
    ]);
    const info = await probeFile(at("ref.mkv"));
    const ours = decodeRawFrame(await new FrameReader(at("ref.mkv"), info).frame(2), { ...info.reading, transfer: "linear" });
    const theirs = ffmpeg([
      "-i",
      at("ref.mkv"),
      "-vf",
      "select=eq(n\\,1),scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=accurate_rnd+full_chroma_inp+full_chroma_int,format=gbrp16le",
      "-frames:v",
      "1",
      "-f",
      "rawvideo",
      "pipe:1",
    ]);
    const codes = new Uint16Array(theirs.buffer, theirs.byteOffset, theirs.byteLength / 2);
    const n = 192 * 108;
    let [worst, sum] = [0, 0];
    for (let i = 0; i < n; i++)
      for (const [k, c] of [
        [2, ours.r],
        [0, ours.g],
        [1, ours.b],
      ] as const) {
        const clipped = Math.min(1, Math.max(0, c[i]!));
        const off = Math.abs(clipped - codes[k * n + i]! / 65535);
        worst = Math.max(worst, off);
        sum += off;
      }
    // The converter rounds its own tables to about a 1/256.
    expect(worst).toBeLessThan(0.005);
    expect(sum / (3 * n)).toBeLessThan(0.002);
  });

  it("brings high dynamic range of wide primaries to BT.709 light as an independent converter does", async () => {
    const file = at("hdr.mkv");
    const tags = ["-colorspace", "bt2020nc", "-color_trc", "smpte2084", "-color_primaries", "bt2020", "-color_range", "tv"];
    const source = ["-f", "lavfi", "-i", "testsrc2=size=192x108:rate=24:duration=0.1"];
    ffmpeg([...source, "-vf", "scale=out_color_matrix=bt2020:out_range=tv", "-pix_fmt", "yuv444p12le", "-c:v", "ffv1", ...tags, file]);
    const info = await probeFile(file);
    expect(info.reading).toEqual({ transfer: "pq", matrix: "bt2020", range: "limited", siting: "left", primaries: "bt2020" });
    expect(info.stated).toMatchObject({ transfer: true, matrix: true, primaries: true });
    const ours = decodeRawFrame(await new FrameReader(file, info).frame(1), info.reading);
    const convert = "zscale=transfer=linear:primaries=bt709:matrix=gbr:range=full:npl=203,format=gbrpf32le";
    const theirs = ffmpeg(["-i", file, "-vf", convert, "-frames:v", "1", "-f", "rawvideo", "pipe:1"]);
    const light = new Float32Array(theirs.buffer.slice(theirs.byteOffset, theirs.byteOffset + theirs.byteLength));
    let [worst, brightest] = [0, 0];
    for (const [k, c] of [ours.g, ours.b, ours.r].entries())
      for (let i = 0; i < c.length; i++) {
        const other = light[k * 192 * 108 + i]!;
        brightest = Math.max(brightest, other);
        worst = Math.max(worst, Math.abs(c[i]! - other) / Math.max(1, Math.abs(other)));
      }
    expect(brightest).toBeGreaterThan(10);
    expect(worst).toBeLessThan(0.01);
  });

  it.each([
    ["1280x536", "bt709"],
    ["720x576", "bt601"],
    ["640x480", "bt601"],
  ])("takes a clip of %s whose file names no matrix as %s (common practice)", async (size, matrix) => {
    const file = at(`unnamed-${size}.mkv`);
    ffmpeg(["-f", "lavfi", "-i", `testsrc2=size=${size}:rate=24:duration=0.1`, "-pix_fmt", "yuv422p", "-c:v", "ffv1", file]);
    const { reading, stated } = await probeFile(file);
    expect([reading.matrix, stated.matrix]).toEqual([matrix, false]);
  });

  it("names a curve that it does not read", async () => {
    const file = at("curve.mkv");
    const tags = ["-color_trc", "log100", "-colorspace", "bt709"];
    ffmpeg(["-f", "lavfi", "-i", "testsrc2=size=64x36:rate=24:duration=0.1", "-pix_fmt", "yuv422p10le", "-c:v", "ffv1", ...tags, file]);
    const info = await probeFile(file);
    expect(info.reading.transfer).toBe("bt709");
    expect(info.stated.transfer).toBe(false);
    expect(info.warning).toMatch(/log100/);
  });

  // Phones record lying frames and a note to turn them.
  it.each([90, 180, 270])("stands frames upright as an independent converter does, turned by %d°", async (degrees) => {
    const lying = at("lying.mp4");
    const source = "testsrc2=size=192x108:rate=24:duration=0.2,setsar=4/3";
    const colour = [
      "-vf",
      "scale=out_color_matrix=bt709:out_range=tv",
      "-pix_fmt",
      "yuv444p",
      "-colorspace",
      "bt709",
      "-color_range",
      "tv",
    ];
    ffmpeg(["-f", "lavfi", "-i", source, ...colour, "-c:v", "libx264", "-qp", "0", lying]);
    const file = at(`turned-${degrees}.mp4`);
    turnedClip(lying, file, degrees);
    const info = await probeFile(file);
    expect(info.turn).toBe(degrees / 90);
    const [width, height] = degrees === 180 ? [192, 108] : [108, 192];
    expect([info.width, info.height]).toEqual([width, height]);
    expect(info.pixelAspect).toBeCloseTo(degrees === 180 ? 4 / 3 : 3 / 4, 4);
    const ours = decodeRawFrame(await new FrameReader(file, info).frame(2), { ...info.reading, transfer: "linear" });
    expect([ours.width, ours.height]).toEqual([width, height]);
    const convert = "select=eq(n\\,1),scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=accurate_rnd,format=gbrp";
    const theirs = ffmpeg(["-i", file, "-vf", convert, "-frames:v", "1", "-f", "rawvideo", "pipe:1"]);
    let worst = 0;
    for (const [k, c] of [ours.g, ours.b, ours.r].entries())
      for (let i = 0; i < c.length; i++)
        worst = Math.max(worst, Math.abs(Math.min(1, Math.max(0, c[i]!)) - theirs[k * width! * height! + i]! / 255));
    expect(worst).toBeLessThan(0.012);
  });

  it("keeps the bytes of decoded frames within their bound", async () => {
    const info = await probeFile(at("h264-bframes.mp4"));
    const reader = new FrameReader(at("h264-bframes.mp4"), info, 4 * W * H * 3);
    for (let n = 1; n <= 40; n++) await reader.frame(n);
    expect((reader as unknown as { keptBytes: number }).keptBytes).toBeLessThanOrEqual(4 * W * H * 3);
  });

  it.each([0, 51, 1.5, Number.NaN])("says that there is no frame %d", async (n) => {
    const info = await probeFile(at("h264-bframes.mp4"));
    await expect(new FrameReader(at("h264-bframes.mp4"), info).frame(n)).rejects.toThrow(/There is no frame/);
  });

  it.each([
    ["yuv420p", "420", 8],
    ["yuvj422p", "422", 8],
    ["yuva444p10le", "444", 10],
    ["p010le", "420", 10],
    ["nv12", "420", 8],
  ] as const)("%s is fetched as planar %s with %i bits", (format, subsampling, bits) =>
    expect(fetchFor(format)?.layout).toMatchObject({ kind: "ycbcr", subsampling, bits }),
  );
  it.each([
    ["rgb24", 8, false],
    ["rgba64le", 16, true],
    ["gbrp10le", 16, false],
    ["gray", 8, false],
  ] as const)("%s is fetched as RGB with %i bits", (format, bits, alpha) =>
    expect(fetchFor(format)?.layout).toEqual({ kind: "rgb", bits, alpha }),
  );
});

function gradient(): Picture {
  const p = makePicture(40, 30);
  const next = random(21);
  for (let i = 0; i < p.r.length; i++) {
    p.r[i] = next();
    p.g[i] = next() * 4;
    p.b[i] = next() * 0.01;
  }
  return { ...p, a: Float32Array.from({ length: p.r.length }, next) };
}

describe("stills", () => {
  it("writes mattes as 16-bit grey that another reader reads exactly", async () => {
    const m = makePlane(64, 8);
    const next = random(2);
    for (let i = 0; i < m.data.length; i++) m.data[i] = i === 0 ? 0 : i === 1 ? 1 : next();
    const png = decodePng(await encodeMatte(m, "png"));
    expect([png.depth, png.channels]).toEqual([16, 1]);
    expect([...png.data]).toEqual(Array.from(m.data, (v) => Math.round(v * 65535)));
  });
  it("writes foregrounds as straight 16-bit RGBA, sRGB-coded, without touching alpha", async () => {
    const p = gradient();
    const png = decodePng(await encodePicture(p, "png", "straight"));
    expect([png.depth, png.channels]).toEqual([16, 4]);
    for (let i = 0; i < p.r.length; i++) {
      expect(png.data[4 * i + 3]).toBe(Math.round(p.a![i]! * 65535));
      expect(Math.abs(png.data[4 * i]! - 65535 * linearToSrgb(p.r[i]!))).toBeLessThan(1.01);
      expect(Math.abs(png.data[4 * i + 2]! - 65535 * linearToSrgb(p.b[i]!))).toBeLessThan(1.01);
    }
  });
  it("premultiplies in linear light when asked", async () => {
    const p = gradient();
    const png = decodePng(await encodePicture(p, "png", "premultiplied"));
    for (const i of [5, 99, 700]) expect(Math.abs(png.data[4 * i]! - 65535 * linearToSrgb(p.r[i]! * p.a![i]!))).toBeLessThan(1.01);
  });
  it("writes half-float EXR, premultiplied, that ffmpeg reads back", async () => {
    const p = gradient();
    writeFileSync(at("out.exr"), await encodePicture(p, "exr"));
    const raw = ffmpeg(["-i", at("out.exr"), "-f", "rawvideo", "-pix_fmt", "gbrapf32le", "pipe:1"]);
    const floats = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
    const n = 40 * 30;
    expect(floats).toHaveLength(4 * n);
    for (let i = 0; i < n; i++) {
      const want = p.g[i]! * p.a![i]!;
      expect(Math.abs(floats[i]! - want)).toBeLessThanOrEqual(Math.abs(want) * 2 ** -10 + 1e-6);
      expect(Math.abs(floats[3 * n + i]! - p.a![i]!)).toBeLessThan(2 ** -10);
    }
  });
  it("reads its own EXR in the right way up", async () => {
    const p = makePicture(5, 3);
    p.r.set(Float32Array.from({ length: 15 }, (_, i) => i));
    writeFileSync(at("up.exr"), await encodePicture(p, "exr"));
    const raw = await decodeStill(at("up.exr"), "exr");
    expect([...raw.planes[0]!].map(halfToFloat)).toEqual([...p.r]);
    expect(await probeFile(at("up.exr"))).toMatchObject({ width: 5, height: 3, reading: { transfer: "linear" } });
  });
  it.each(["png", "tiff", "webp", "jpeg"] as const)("reads %s", async (format) => {
    const codes = Buffer.alloc(16 * 12 * 3, 90);
    await sharp(codes, { raw: { width: 16, height: 12, channels: 3 } })
      [format]({ quality: 100 })
      .toFile(at(`s.${format}`));
    const info = await probeFile(at(`s.${format}`));
    expect(info).toMatchObject({ kind: "still", format, width: 16, height: 12, frames: 1 });
    expect(Math.abs((await decodeStill(at(`s.${format}`), format)).planes[1]![50]! - 90)).toBeLessThan(2);
  });
  it("tells the chroma that a still was recorded with, also once it is a PNG", async () => {
    const strands = Buffer.from(
      Array.from({ length: 64 * 200 * 3 }, (_, i) => (((i / 3) | 0) % 7 < 2 ? [220, 180, 120] : [60, 170, 80])[i % 3]!),
    );
    const raw = { width: 200, height: 64, channels: 3 as const };
    for (const [chroma, told] of [
      ["4:2:0", { chroma: "4:2:0" }],
      ["4:4:4", undefined],
    ] as const) {
      await sharp(strands, { raw }).jpeg({ quality: 92, chromaSubsampling: chroma }).toFile(at("strands.jpeg"));
      await sharp(at("strands.jpeg")).png().toFile(at("strands.png"));
      for (const name of ["strands.jpeg", "strands.png"]) expect((await probeFile(at(name))).told).toEqual(told);
    }
  });
  it("reads 16-bit PNG code for code", async () => {
    const codes = Uint16Array.from({ length: 60 }, (_, i) => i * 1111);
    await sharp(codes, { raw: { width: 5, height: 4, channels: 3 } })
      .toColourspace("rgb16")
      .png()
      .toFile(at("deep.png"));
    const raw = await decodeStill(at("deep.png"), "png");
    expect(raw.layout).toEqual({ kind: "rgb", bits: 16, alpha: false });
    expect(raw.planes[2]![7]).toBe(codes[23]);
  });
});

describe("sequences", () => {
  it("takes numbered files from any number on, and names a gap", async () => {
    const pattern = at("seq.%04d.png");
    for (const n of [7, 8, 9])
      await sharp({ create: { width: 8, height: 6, channels: 3, background: { r: 10 * n, g: 0, b: 0 } } })
        .png()
        .toFile(patternFile(pattern, n));
    const info = await probeSequence(pattern);
    expect(info).toMatchObject({ kind: "sequence", frames: 3, firstNumber: 7 });
    const reader = new FrameReader(pattern, info);
    expect((await reader.frame(2)).planes[0]![0]).toBe(80);
    expect(patternNumbers(pattern)).toEqual([7, 8, 9]);
    rmSync(patternFile(pattern, 8));
    await expect(probeSequence(pattern)).rejects.toThrow(/number 8 missing/);
    await expect(new FrameReader(pattern, info).frame(2)).rejects.toThrow(/Frame 2 is missing on disk/);
  });
  it("says which frame cannot be read, and why", async () => {
    const pattern = at("cut.%04d.png");
    for (const n of [7, 8, 9])
      await sharp({ create: { width: 40, height: 30, channels: 3, background: "#000", noise: { type: "gaussian", mean: 128, sigma: 30 } } })
        .png()
        .toFile(patternFile(pattern, n));
    const info = await probeSequence(pattern);
    const second = () => new FrameReader(pattern, info).frame(2);
    const whole = readFileSync(patternFile(pattern, 8));
    writeFileSync(patternFile(pattern, 8), whole.subarray(0, 200));
    await expect(second()).rejects.toThrow(/^Frame 2 \(cut\.0008\.png\): The PNG file cannot be read: it is damaged or cut short/);
    for (const content of ["", "no picture"]) {
      writeFileSync(patternFile(pattern, 8), content);
      await expect(second()).rejects.toThrow(/^Frame 2 \(cut\.0008\.png\): The file holds no picture/);
    }
    rmSync(patternFile(pattern, 8));
    mkdirSync(patternFile(pattern, 8));
    await expect(second()).rejects.toThrow(/Frame 2 is missing on disk/);
    writeFileSync(patternFile(pattern, 9), "no picture");
    await expect(probeSequence(pattern)).rejects.toThrow(/^cut\.0009\.png: /);
  });
  it("refuses frames of another size", async () => {
    const pattern = at("odd.%03d.png");
    for (const n of [1, 2])
      await sharp({ create: { width: 8 * n, height: 6, channels: 3, background: "#000" } })
        .png()
        .toFile(patternFile(pattern, n));
    await expect(probeSequence(pattern)).rejects.toThrow(/differ in size/);
  });
});

/** A PNG of which only the header is there, claiming a size. */
function pngHeader(width: number, height: number): Buffer {
  const b = Buffer.from("89504e470d0a1a0a0000000d49484452000000000000000008020000000000000000000049454e44", "hex");
  b.writeUInt32BE(width, 16);
  b.writeUInt32BE(height, 20);
  return b;
}

describe("bad input", () => {
  it("text renamed to .mp4", async () => {
    writeFileSync(at("text.mp4"), "just some words\n".repeat(50));
    await expect(probeFile(at("text.mp4"))).rejects.toThrow(/not a clip that can be read/);
  });
  it("a list that points at other files", async () => {
    writeFileSync(at("list.mp4"), `#EXTM3U\n#EXTINF:1,\nfile://${at("h264-bframes.mp4")}\n#EXT-X-ENDLIST\n`);
    await expect(probeFile(at("list.mp4"))).rejects.toThrow();
    writeFileSync(at("list.mkv"), `ffconcat version 1.0\nfile ${at("h264-bframes.mp4")}\n`);
    await expect(probeFile(at("list.mkv"))).rejects.toThrow();
  });
  it("a truncated MOV", async () => {
    ffmpeg(["-f", "lavfi", "-i", "testsrc=size=64x48:rate=24:duration=2", "-c:v", "prores_ks", at("cut.mov")]);
    truncateSync(at("cut.mov"), 20_000);
    await expect(probeFile(at("cut.mov"))).rejects.toThrow(/damaged, cut short/);
  });
  it("a MOV whose end is gone but whose index is there", async () => {
    ffmpeg(["-f", "lavfi", "-i", "testsrc=size=64x48:rate=24:duration=2", "-c:v", "prores_ks", "-movflags", "+faststart", at("tail.mov")]);
    truncateSync(at("tail.mov"), 30_000);
    const info = await probeFile(at("tail.mov"));
    expect(info.frames).toBeLessThan(48);
    expect(info.warning).toMatch(/cut short/);
  });
  it("a 0-byte PNG", async () => {
    writeFileSync(at("empty.png"), "");
    await expect(probeFile(at("empty.png"))).rejects.toThrow(/empty \(0 bytes\)/);
  });
  it("a PNG that claims 40 000 × 40 000", async () => {
    writeFileSync(at("huge.png"), pngHeader(40_000, 40_000));
    await expect(probeFile(at("huge.png"))).rejects.toThrow(/too large|damaged/);
  });
  it("a PNG that breaks off", async () => {
    writeFileSync(at("half.png"), (await encodePicture(gradient(), "png")).subarray(0, 2000));
    await expect(probeFile(at("half.png"))).rejects.toThrow(/damaged or cut short/);
  });
  it("an EXR that breaks off", async () => {
    writeFileSync(at("short.exr"), (await encodePicture(gradient(), "exr")).subarray(0, 1500));
    await expect(probeFile(at("short.exr"))).rejects.toThrow(/picture breaks off/);
  });
  it("an EXR of noise", async () => {
    writeFileSync(at("noise.exr"), Buffer.concat([Buffer.from([0x76, 0x2f, 0x31, 0x01]), Buffer.alloc(200, 7)]));
    await expect(probeFile(at("noise.exr"))).rejects.toThrow(/damaged or cut short/);
  });
});
