import type { RawLayout } from "../../core/image/raw-frame";

/** How frames of a clip are fetched: the format asked of ffmpeg and how its planes lie. */
export interface Fetch {
  /** The decoder's own format where it is planar; else the planar one that holds the same samples. */
  readonly pixelFormat: string;
  readonly layout: RawLayout;
  /** Bytes a sample in what arrives. */
  readonly bytes: 1 | 2;
  /** Plane order for R, G, B (A): ffmpeg's planar RGB comes as G, B, R. */
  readonly order: readonly number[];
}

const depthOf = (name: string): number => Number(/p(9|10|12|14|16)(le|be)$/.exec(name)?.[1] ?? 8);

/** @returns undefined for formats whose samples are not read */
export function fetchFor(pixelFormat: string): Fetch | undefined {
  const same: Record<string, string> = {
    nv12: "yuv420p",
    nv16: "yuv422p",
    nv24: "yuv444p",
    p010le: "yuv420p10le",
    p210le: "yuv422p10le",
    yuyv422: "yuv422p",
    uyvy422: "yuv422p",
  };
  const name = (same[pixelFormat] ?? pixelFormat).replace(/be$/, "le");
  const yuv = /^yuv(j|a)?(420|422|444)p/.exec(name);
  if (yuv) {
    const bits = depthOf(name);
    const alpha = yuv[1] === "a";
    return {
      pixelFormat: name,
      layout: { kind: "ycbcr", subsampling: yuv[2] as "420" | "422" | "444", bits, alpha },
      bytes: bits > 8 ? 2 : 1,
      order: [0, 1, 2, 3],
    };
  }
  const alpha = /a(64|$)|rgba|bgra|argb|abgr|gbrap/.test(name);
  if (/^(rgb|bgr|gbr|0rgb|0bgr|argb|abgr|rgba|bgra|pal8|gray|monob|monow)/.test(name) && !/f32|f16/.test(name)) {
    const wide = /48|64|16|10|12|14/.test(name.replace(/^gbrap?/, "gbr"));
    return {
      pixelFormat: `gbr${alpha ? "a" : ""}p${wide ? "16le" : ""}`,
      layout: { kind: "rgb", bits: wide ? 16 : 8, alpha },
      bytes: wide ? 2 : 1,
      order: [2, 0, 1, 3],
    };
  }
  return undefined;
}
