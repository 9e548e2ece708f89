import sharp from "sharp";
import { linearToSrgb } from "../../core/color/srgb";
import type { Picture, Plane } from "../../core/image/plane";
import { decodeRawFrame } from "../../core/image/raw-frame";
import { shrinkPicture } from "../../core/image/resample";
import { getMedia, readerOf } from "./store";

/** A small JPEG of the frame in the middle of a plate. */
export async function thumbnail(id: string): Promise<Uint8Array> {
  const { info } = getMedia(id);
  const picture = decodeRawFrame(await readerOf(id).frame(Math.ceil(info.frames / 2)), info.reading);
  const small = shrinkPicture(picture, Math.max(1, Math.floor(picture.width / 480)));
  return jpegOfPicture(small);
}

const byte = (v: number): number => Math.min(255, Math.max(0, Math.round(255 * v)));

/** A linear picture as JPEG, sRGB-coded. */
export function jpegOfPicture({ width, height, r, g, b }: Picture): Promise<Uint8Array> {
  const codes = new Uint8Array(width * height * 3);
  for (let i = 0; i < r.length; i++) {
    codes[3 * i] = byte(linearToSrgb(r[i] as number));
    codes[3 * i + 1] = byte(linearToSrgb(g[i] as number));
    codes[3 * i + 2] = byte(linearToSrgb(b[i] as number));
  }
  return jpeg(codes, width, height, 3);
}

/** A matte as grey JPEG: coverage 0…1 on code 0…255. */
export const jpegOfMatte = ({ width, height, data }: Plane): Promise<Uint8Array> => jpeg(Uint8Array.from(data, byte), width, height, 1);

const jpeg = (codes: Uint8Array, width: number, height: number, parts: 1 | 3): Promise<Uint8Array> =>
  sharp(codes, { raw: { width, height, channels: parts } })
    .jpeg({ quality: 85 })
    .toBuffer();
