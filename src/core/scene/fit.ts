import type { Placement } from "../image/resample";

export const FITS = ["fill", "whole", "stretch", "pixels"] as const;
/** `fill` covers the frame, `whole` shows all of the background, `stretch` fits both sides, `pixels` keeps its own size. */
export type Fit = (typeof FITS)[number];

export interface BackgroundFit {
  readonly fit: Fit;
  /** Extra enlargement, 1 for none. */
  readonly scale: number;
  /** Shift of the background, in pixels of the full frame. */
  readonly x: number;
  readonly y: number;
}

/** Placement of a background of `bw` × `bh` in a frame of `fw` × `fh` full-size pixels. */
export function fitPlacement(bw: number, bh: number, fw: number, fh: number, f: BackgroundFit): Placement {
  const kx = fw / bw;
  const ky = fh / bh;
  const even = f.fit === "fill" ? Math.max(kx, ky) : f.fit === "whole" ? Math.min(kx, ky) : 1;
  const scaleX = (f.fit === "stretch" ? kx : even) * f.scale;
  const scaleY = (f.fit === "stretch" ? ky : even) * f.scale;
  return { scaleX, scaleY, offsetX: (fw - bw * scaleX) / 2 + f.x, offsetY: (fh - bh * scaleY) / 2 + f.y };
}
