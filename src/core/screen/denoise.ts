import { guidedFilter } from "../image/guided";
import { lumaOf } from "../image/luma";
import type { Picture } from "../image/plane";

export interface Denoise {
  /** Standard deviation of grain that is smoothed away, linear light; 0 leaves luma alone. */
  readonly luma: number;
  /** The same for colour, which bears more. */
  readonly chroma: number;
}

/** Half sides of the squares, px: colour is coarser than luma in most recordings. */
const LUMA_RADIUS = 2;
const CHROMA_RADIUS = 4;
/** Contrast over which an edge stays, in standard deviations. */
const KEEP = 1.5;

/**
 * Takes grain off a copy for the matte: luma and colour (each channel less luma) each guided by itself, so that edges stay
 * where the picture has them, isoluminant ones too. Contrast well under the given deviation is taken for grain. Linear light.
 * Source: He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), 3.4.
 */
export function denoise(picture: Picture, { luma, chroma }: Denoise): Picture {
  const { width, height } = picture;
  const y = lumaOf(picture).data;
  const smooth = luma > 0 ? guidedFilter(y, y, width, height, LUMA_RADIUS, (KEEP * luma) ** 2) : y;
  const channel = (c: Float32Array) => {
    const colour = new Float32Array(c.length);
    for (let i = 0; i < c.length; i++) colour[i] = (c[i] as number) - (y[i] as number);
    const calm = chroma > 0 ? guidedFilter(colour, colour, width, height, CHROMA_RADIUS, (KEEP * chroma) ** 2) : colour;
    const out = new Float32Array(c.length);
    for (let i = 0; i < c.length; i++) out[i] = (smooth[i] as number) + (calm[i] as number);
    return out;
  };
  return { width, height, r: channel(picture.r), g: channel(picture.g), b: channel(picture.b) };
}
