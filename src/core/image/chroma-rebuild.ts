import { boxMean } from "./box";
import { enlargeChannel } from "./fill-in";
import type { Picture } from "./plane";
import { type ColourReading, decodeRawFrame, planeSizes, type RawFrame, type RawLayout } from "./raw-frame";

/** Window in which colour is taken to follow luma in a straight line: radius in chroma samples. */
const RADIUS = 2;
/** Variance of luma, in 8-bit codes squared, under which it counts as grain. */
const FLAT = 6;
/** Most codes of colour that one code of luma may bring. */
const STEEPEST = 1.5;

/** Luma at the resolution and places of chroma. */
function lumaAtChroma(
  luma: Uint16Array,
  width: number,
  height: number,
  cw: number,
  ch: number,
  layout: { subsampling: string },
  siting: string,
): Float32Array {
  const out = new Float32Array(cw * ch);
  const cosited = siting !== "center";
  const tall = layout.subsampling === "420";
  for (let y = 0; y < ch; y++)
    for (let x = 0; x < cw; x++) {
      let sum = 0;
      let total = 0;
      const y0 = tall ? 2 * y : y;
      for (let dy = tall && siting === "topleft" ? -1 : 0; dy <= (tall ? 1 : 0); dy++) {
        const row = Math.min(height - 1, Math.max(0, y0 + dy)) * width;
        const wy = tall && siting === "topleft" && dy === 0 ? 2 : 1;
        for (let dx = cosited ? -1 : 0; dx <= 1; dx++) {
          const w = wy * (cosited && dx === 0 ? 2 : 1);
          sum += w * (luma[row + Math.min(width - 1, Math.max(0, 2 * x + dx))] as number);
          total += w;
        }
      }
      out[y * cw + x] = sum / total;
    }
  return out;
}

/**
 * Decodes a 4:2:0 or 4:2:2 frame with its chroma brought to full resolution along luma: in every small window colour is
 * a straight line of luma, so that the detail luma has beyond chroma's resolution moves colour along that line. Where luma
 * is flat, chroma stays as it is. Other frames decode as always. For the matte: the picture keeps its own pixels.
 * Source: the local linear model of He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), used for upsampling.
 */
export function decodeWithRebuiltChroma(raw: RawFrame, reading: ColourReading): Picture {
  if (raw.layout.kind !== "ycbcr" || raw.layout.subsampling === "444") return decodeRawFrame(raw, reading);
  const { width, height, layout } = raw;
  const size = planeSizes(width, height, layout)[1] as { width: number; height: number };
  const [cw, ch] = [size.width, size.height];
  const Y = raw.planes[0] as Uint16Array;
  const low = lumaAtChroma(Y, width, height, cw, ch, layout, reading.siting);
  const n = cw * ch;
  const mean = (c: Float32Array) => boxMean(c, cw, ch, RADIUS);
  const meanY = mean(low);
  const variance = mean(low.map((v) => v * v)).map((v, i) => Math.max(0, v - (meanY[i] as number) ** 2));
  const flat = FLAT * 4 ** (layout.bits - 8);
  // 4:4:4 in the same codes, with luma untouched.
  const same: RawLayout = { kind: "ycbcr", subsampling: "444", bits: layout.bits + 4, alpha: layout.alpha };
  const lumaUp = upsample(low, cw, ch, width, height, layout, reading.siting);
  const planes = [Y.map((v) => v << 4)];
  const top = 2 ** (layout.bits + 4) - 1;
  for (const k of [1, 2]) {
    const c = new Float32Array(raw.planes[k] as Uint16Array);
    const meanC = mean(c);
    const slope = mean(c.map((v, i) => v * (low[i] as number)));
    for (let i = 0; i < n; i++) {
      const a = ((slope[i] as number) - (meanY[i] as number) * (meanC[i] as number)) / ((variance[i] as number) + flat);
      slope[i] = Math.min(STEEPEST, Math.max(-STEEPEST, a));
    }
    const steep = upsample(mean(slope), cw, ch, width, height, layout, reading.siting);
    const base = upsample(c, cw, ch, width, height, layout, reading.siting);
    const out = new Uint16Array(width * height);
    for (let i = 0; i < out.length; i++) {
      const v = (base[i] as number) + (steep[i] as number) * ((Y[i] as number) - (lumaUp[i] as number));
      out[i] = Math.min(top, Math.max(0, Math.round(16 * v)));
    }
    planes.push(out);
  }
  if (layout.alpha) {
    const unit = top / (2 ** layout.bits - 1);
    planes.push((raw.planes[3] as Uint16Array).map((v) => Math.round(v * unit)));
  }
  return decodeRawFrame({ width, height, layout: same, planes }, reading);
}

/** A plane at chroma's resolution brought to luma's, bilinear between the places that the siting says. */
function upsample(
  source: Float32Array,
  cw: number,
  ch: number,
  width: number,
  height: number,
  layout: { subsampling: string },
  siting: string,
): Float32Array {
  const out = new Float32Array(width * height);
  if (siting === "center" && layout.subsampling === "420") {
    enlargeChannel(source, cw, ch, 2, width, height, out);
    return out;
  }
  const tall = layout.subsampling === "420";
  for (let y = 0; y < height; y++) {
    const cy = Math.min(ch - 1, Math.max(0, tall ? (siting === "topleft" ? y / 2 : (y - 0.5) / 2) : y));
    const y0 = Math.floor(cy);
    const fy = cy - y0;
    const upper = y0 * cw;
    const lower = Math.min(ch - 1, y0 + 1) * cw;
    for (let x = 0; x < width; x++) {
      const cx = Math.min(cw - 1, Math.max(0, siting === "center" ? (x - 0.5) / 2 : x / 2));
      const x0 = Math.floor(cx);
      const fx = cx - x0;
      const x1 = Math.min(cw - 1, x0 + 1);
      out[y * width + x] =
        (1 - fy) * ((1 - fx) * (source[upper + x0] as number) + fx * (source[upper + x1] as number)) +
        fy * ((1 - fx) * (source[lower + x0] as number) + fx * (source[lower + x1] as number));
    }
  }
  return out;
}
