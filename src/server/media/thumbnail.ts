import sharp from "sharp";
import { linearToSrgb } from "../../core/color/srgb";
import { decodeRawFrame } from "../../core/image/raw-frame";
import { shrinkPicture } from "../../core/image/resample";
import { getMedia, readerOf } from "./store";

/** A small JPEG of the frame in the middle of a plate. */
export async function thumbnail(id: string): Promise<Uint8Array> {
  const { info } = getMedia(id);
  const picture = decodeRawFrame(await readerOf(id).frame(Math.ceil(info.frames / 2)), info.reading);
  const small = shrinkPicture(picture, Math.max(1, Math.floor(picture.width / 480)));
  const codes = new Uint8Array(small.width * small.height * 3);
  for (let i = 0; i < small.r.length; i++) {
    codes[3 * i] = Math.min(255, Math.max(0, Math.round(255 * linearToSrgb(small.r[i] as number))));
    codes[3 * i + 1] = Math.min(255, Math.max(0, Math.round(255 * linearToSrgb(small.g[i] as number))));
    codes[3 * i + 2] = Math.min(255, Math.max(0, Math.round(255 * linearToSrgb(small.b[i] as number))));
  }
  return sharp(codes, { raw: { width: small.width, height: small.height, channels: 3 } })
    .jpeg({ quality: 85 })
    .toBuffer();
}
