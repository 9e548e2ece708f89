import { readFile } from "node:fs/promises";
import sharp from "sharp";
import { FloatType, HalfFloatType } from "three";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";
import { floatToHalf } from "../../core/color/half";
import { type Primaries, primariesOf } from "../../core/color/primaries";
import type { MediaInfo } from "../../core/documents/media-info";
import { chromaBehindRgb } from "../../core/image/chroma-behind-rgb";
import { MAX_PIXELS, MAX_SIDE } from "../../core/image/plane";
import type { RawFrame, RawLayout } from "../../core/image/raw-frame";
import { Complaint } from "../files/complaint";
import { type DpxHeader, decodeDpx, readDpxHeader } from "./dpx";
import { checkExr } from "./exr-header";
import { primariesOfProfile } from "./icc";

export type StillFormat = "png" | "jpeg" | "tiff" | "webp" | "exr" | "dpx";

/** Tells a still by its first bytes. */
export function stillFormat(head: Uint8Array): StillFormat | undefined {
  const starts = (...bytes: number[]) => bytes.every((b, i) => head[i] === b);
  if (starts(0x89, 0x50, 0x4e, 0x47)) return "png";
  if (starts(0xff, 0xd8, 0xff)) return "jpeg";
  if (starts(0x49, 0x49, 0x2a, 0) || starts(0x4d, 0x4d, 0, 0x2a)) return "tiff";
  if (starts(0x52, 0x49, 0x46, 0x46) && head[8] === 0x57 && head[9] === 0x45) return "webp";
  if (starts(0x76, 0x2f, 0x31, 0x01)) return "exr";
  if (starts(0x53, 0x44, 0x50, 0x58) || starts(0x58, 0x50, 0x44, 0x53)) return "dpx";
  return undefined;
}

const damaged = (format: string, detail = "") =>
  new Complaint(422, `The ${format.toUpperCase()} file cannot be read: it is damaged or cut short.${detail}`, "Copy or export it again.");

function checkStillSize(width: number, height: number): void {
  if (width > MAX_SIDE || height > MAX_SIDE || width * height > MAX_PIXELS)
    throw new Complaint(
      422,
      `A picture of ${width}×${height} is too large.`,
      `At most ${MAX_SIDE} px a side and ${MAX_PIXELS / 1e6} megapixels: scale it down first.`,
    );
}

const open = (file: string, ignoreIcc = false) =>
  sharp(file, { limitInputPixels: MAX_PIXELS * 64, failOn: "error", unlimited: false, ignoreIcc });

export async function probeStill(file: string, format: StillFormat): Promise<MediaInfo> {
  let width: number;
  let height: number;
  let layout: RawLayout;
  let chroma: ReturnType<typeof chromaBehindRgb> = null;
  let primaries: Primaries | undefined;
  let warning: string | null = null;
  let dpx: DpxHeader | undefined;
  if (format === "dpx") {
    dpx = await readDpxHeader(file);
    ({ width, height, layout, warning } = dpx);
    checkStillSize(width, height);
    chroma = chromaBehindRgb(await decodeDpx(file));
  } else if (format === "exr") {
    const bytes = await readFile(file);
    ({ width, height, layout } = decodeExr(bytes));
    const { chromaticities } = checkExr(bytes);
    primaries = chromaticities && primariesOf(chromaticities);
    if (chromaticities && !primaries)
      warning =
        "The file names primaries that are not read; BT.709's are assumed. Choose the nearest under Read as: the matte hardly changes.";
  } else {
    const meta = await open(file)
      .metadata()
      .catch(() => {
        throw damaged(format);
      });
    const turned = (meta.orientation ?? 1) >= 5;
    width = (turned ? meta.height : meta.width) ?? 0;
    height = (turned ? meta.width : meta.height) ?? 0;
    checkStillSize(width, height);
    layout = { kind: "rgb", bits: meta.depth === "ushort" ? 16 : 8, alpha: meta.hasAlpha === true };
    primaries = meta.icc && primariesOfProfile(meta.icc);
    // The header alone proves little: the pixels must decode too.
    chroma = chromaBehindRgb(await decodeStill(file, format));
  }
  return {
    kind: "still",
    format,
    codec: format,
    width,
    height,
    frames: 1,
    firstNumber: 1,
    rate: null,
    pixelFormat:
      layout.kind === "half" ? "rgb half float" : `rgb${layout.alpha ? "a" : ""} ${layout.kind === "rgb" ? layout.bits : 16} bit`,
    layout,
    reading: {
      transfer: dpx?.transfer ?? (format === "exr" ? "linear" : "srgb"),
      matrix: "bt709",
      range: "full",
      siting: "center",
      ...(primaries ? { primaries } : {}),
    },
    stated: { transfer: dpx?.stated ?? format === "exr", matrix: true, range: true, siting: true, primaries: primaries !== undefined },
    ...(chroma ? { told: { chroma } } : {}),
    pixelAspect: dpx?.pixelAspect ?? 1,
    fieldOrder: "progressive",
    timecode: dpx?.timecode ?? null,
    audio: null,
    warning,
  };
}

/** Parts interleaved samples into planes. */
function split(codes: Uint8Array | Uint16Array, channels: number, planes: number): Uint16Array[] {
  const n = codes.length / channels;
  return Array.from({ length: planes }, (_, k) => {
    const plane = new Uint16Array(n);
    // A grey picture has one channel for all three planes.
    const from = channels < 3 ? (k === 3 ? 1 : 0) : k;
    for (let i = 0; i < n; i++) plane[i] = codes[i * channels + from] as number;
    return plane;
  });
}

/** @throws Complaint for damaged and oversized files */
export async function decodeStill(file: string, format: StillFormat): Promise<RawFrame> {
  if (format === "exr") return decodeExr(await readFile(file));
  if (format === "dpx") return decodeDpx(file);
  try {
    const meta = await open(file).metadata();
    const wide = meta.depth === "ushort";
    // Codes of primaries that are read go as they are: converted, greens beyond sRGB's would be lost, and what they were recorded as with them.
    const asTheyAre = meta.icc !== undefined && primariesOfProfile(meta.icc) !== undefined;
    const { data, info } = await open(file, asTheyAre)
      .rotate()
      .toColourspace(wide ? "rgb16" : "srgb")
      .raw({ depth: wide ? "ushort" : "uchar" })
      .toBuffer({ resolveWithObject: true });
    const codes = wide ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data;
    const alpha = info.channels === 4 || info.channels === 2;
    return {
      width: info.width,
      height: info.height,
      layout: { kind: "rgb", bits: wide ? 16 : 8, alpha },
      planes: split(codes, info.channels, alpha ? 4 : 3),
    };
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw damaged(format);
  }
}

function decodeExr(file: Buffer): RawFrame {
  try {
    const size = checkExr(file);
    checkStillSize(size.width, size.height);
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw damaged("exr", ` ${(error as Error).message}`);
  }
  const loader = new EXRLoader();
  loader.setDataType(HalfFloatType);
  let texture: { data: ArrayLike<number>; width: number; height: number; type: number };
  try {
    const bytes = file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer;
    texture = loader.parse(bytes) as unknown as typeof texture;
  } catch {
    throw damaged("exr", " Only scanline and tiled EXR with RGB or RGBA channels is read.");
  }
  const { width, height, data } = texture;
  checkStillSize(width, height);
  const channels = data.length / (width * height);
  if (channels !== 4 && channels !== 1) throw damaged("exr", " It must hold RGB, RGBA or Y channels.");
  const bits = (v: number) => (texture.type === FloatType ? floatToHalf(v) : v);
  const planes = Array.from({ length: channels === 4 ? 4 : 3 }, (_, k) => {
    const plane = new Uint16Array(width * height);
    // The loader hands rows bottom first.
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = ((height - 1 - y) * width + x) * channels + (channels === 4 ? k : 0);
        plane[y * width + x] = bits(data[at] as number);
      }
    return plane;
  });
  return { width, height, layout: { kind: "half", alpha: channels === 4 }, planes };
}
