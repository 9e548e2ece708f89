import { guidedByItself, guidedFilter } from "../image/guided";
import { LUMA, lumaOf } from "../image/luma";
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
 * Takes grain off a copy for the matte: luma and colour (red and blue less luma; luma tells green) each guided by itself, so that
 * edges stay where the picture has them, isoluminant ones too. Contrast well under the given deviation is taken for grain. Linear light.
 * Source: He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), 3.4.
 */
export function denoise(picture: Picture, { luma, chroma }: Denoise): Picture {
  const { width, height } = picture;
  const n = picture.r.length;
  const y = lumaOf(picture).data;
  const smooth = luma > 0 ? guidedFilter(y, y, width, height, LUMA_RADIUS, (KEEP * luma) ** 2) : y;
  const channel = (c: Float32Array) => {
    const colour = new Float32Array(n);
    for (let i = 0; i < n; i++) colour[i] = (c[i] as number) - (y[i] as number);
    const calm = chroma > 0 ? guidedByItself(colour, width, height, CHROMA_RADIUS, (KEEP * chroma) ** 2) : colour;
    for (let i = 0; i < n; i++) calm[i] = (calm[i] as number) + (smooth[i] as number);
    return calm;
  };
  const [r, b] = [channel(picture.r), channel(picture.b)];
  const g = new Float32Array(n);
  for (let i = 0; i < n; i++) g[i] = ((smooth[i] as number) - LUMA.r * (r[i] as number) - LUMA.b * (b[i] as number)) / LUMA.g;
  return { width, height, r, g, b };
}
