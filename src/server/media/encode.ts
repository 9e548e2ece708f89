import sharp from "sharp";
import { DataTexture, FloatType, HalfFloatType, RGBAFormat } from "three";
import { EXRExporter, ZIP_COMPRESSION } from "three/examples/jsm/exporters/EXRExporter.js";
import { encodeWith, type NamedTransfer } from "../../core/color/transfer";
import type { Picture, Plane } from "../../core/image/plane";

export const FORMATS = ["png", "tiff", "exr"] as const;
export type StillOutput = (typeof FORMATS)[number];

const code16 = (v: number): number => (v <= 0 ? 0 : v >= 1 ? 65535 : Math.round(v * 65535));

/** A matte as 16-bit grey: linear coverage, 0…1 on 0…65535. */
export async function encodeMatte(matte: Plane, format: StillOutput): Promise<Uint8Array> {
  if (format === "exr") {
    const { width, height, data } = matte;
    return encodeExr({ width, height, r: data, g: data, b: data });
  }
  // A plain loop: `from` with a function lists all values first, at 4K a quarter of a gigabyte.
  const codes = new Uint16Array(matte.data.length);
  for (let i = 0; i < codes.length; i++) codes[i] = code16(matte.data[i] as number);
  const image = sharp(codes, { raw: { width: matte.width, height: matte.height, channels: 1 } }).toColourspace("grey16");
  return format === "png" ? image.png({ compressionLevel: 6 }).toBuffer() : image.tiff({ compression: "deflate" }).toBuffer();
}

const ENCODE_STEPS = 1 << 16;
const encoders = new Map<NamedTransfer, Uint16Array>();
/** 16-bit codes of linear light 0…1, tabled on the square root so that the dark end is as exact as the bright one. */
function coder(transfer: NamedTransfer): (v: number) => number {
  let table = encoders.get(transfer);
  if (!table) {
    const f = encodeWith(transfer);
    table = Uint16Array.from({ length: ENCODE_STEPS * 4 + 1 }, (_, i) => code16(f((i / (ENCODE_STEPS * 4)) ** 2)));
    encoders.set(transfer, table);
  }
  const t = table;
  return (v) => (v <= 0 ? 0 : v >= 1 ? 65535 : (t[Math.round(Math.sqrt(v) * ENCODE_STEPS * 4)] as number));
}

export type AlphaMode = "straight" | "premultiplied";

/** Interleaved 16-bit codes of a straight picture; with alpha when it has one. Premultiplying is done in linear light. */
export function interleave16(picture: Picture, alpha: AlphaMode, transfer: NamedTransfer): Uint16Array {
  const channels = picture.a ? 4 : 3;
  const out = new Uint16Array(picture.width * picture.height * channels);
  const encode = coder(transfer);
  for (let i = 0, o = 0; i < picture.r.length; i++, o += channels) {
    const a = picture.a ? (picture.a[i] as number) : 1;
    const k = alpha === "premultiplied" ? a : 1;
    out[o] = encode((picture.r[i] as number) * k);
    out[o + 1] = encode((picture.g[i] as number) * k);
    out[o + 2] = encode((picture.b[i] as number) * k);
    if (picture.a) out[o + 3] = code16(a);
  }
  return out;
}

/** A straight linear picture as a file. PNG and TIFF: 16 bit, sRGB-coded. EXR: scene-linear half float, premultiplied always. */
export async function encodePicture(picture: Picture, format: StillOutput, alpha: AlphaMode = "straight"): Promise<Uint8Array> {
  if (format === "exr") return encodeExr(picture);
  const codes = interleave16(picture, alpha, "srgb");
  const image = sharp(codes, { raw: { width: picture.width, height: picture.height, channels: picture.a ? 4 : 3 } }).toColourspace("rgb16");
  return format === "png" ? image.png({ compressionLevel: 6 }).toBuffer() : image.tiff({ compression: "deflate" }).toBuffer();
}

async function encodeExr(picture: Picture): Promise<Uint8Array> {
  const { width, height } = picture;
  const data = new Float32Array(width * height * 4);
  // The exporter wants rows bottom first.
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const o = ((height - 1 - y) * width + x) * 4;
      const a = picture.a ? (picture.a[i] as number) : 1;
      data[o] = (picture.r[i] as number) * a;
      data[o + 1] = (picture.g[i] as number) * a;
      data[o + 2] = (picture.b[i] as number) * a;
      data[o + 3] = a;
    }
  const texture = new DataTexture(data, width, height, RGBAFormat, FloatType);
  return new EXRExporter().parse(texture, { type: HalfFloatType, compression: ZIP_COMPRESSION });
}
