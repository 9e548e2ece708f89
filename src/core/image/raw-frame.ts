import { halfToFloat } from "../color/half";
import { decodeTable, FINE_LOW, FINE_STEP, fineDecodeTable, type Transfer } from "../color/transfer";
import { codeScale, type Matrix, type Range, rgbFactors } from "../color/ycbcr";
import { checkSize, makePicture, type Picture, stopNotFinite } from "./plane";

export const SITINGS = ["left", "center", "topleft"] as const;
/** Where chroma samples lie: `left` between rows on even columns (MPEG-2, H.264 default), `center` between both (JPEG), `topleft` on even rows and columns. */
export type Siting = (typeof SITINGS)[number];

export const SUBSAMPLINGS = ["420", "422", "444"] as const;
export type Subsampling = (typeof SUBSAMPLINGS)[number];

/** How the samples of a raw frame are to be read. */
export type RawLayout =
  | { readonly kind: "ycbcr"; readonly subsampling: Subsampling; readonly bits: number; readonly alpha: boolean }
  | { readonly kind: "rgb"; readonly bits: number; readonly alpha: boolean }
  | { readonly kind: "half"; readonly alpha: boolean };

/**
 * A frame as its file holds it: planes of whole codes (or half-float bits) in 16-bit words.
 * Order: Y, Cb, Cr or R, G, B, then alpha when the layout has one. Rows are not padded.
 */
export interface RawFrame {
  readonly width: number;
  readonly height: number;
  readonly layout: RawLayout;
  readonly planes: readonly Uint16Array[];
}

/** What turns the codes into scene-linear light. */
export interface ColourReading {
  readonly transfer: Transfer;
  readonly matrix: Matrix;
  readonly range: Range;
  readonly siting: Siting;
}

/** Sizes of each plane of a layout, in samples. Odd sizes round chroma up, as codecs do. */
export function planeSizes(width: number, height: number, layout: RawLayout): { width: number; height: number }[] {
  const full = { width, height };
  const extra = layout.alpha ? [full] : [];
  if (layout.kind !== "ycbcr") return [full, full, full, ...extra];
  const chroma = {
    width: layout.subsampling === "444" ? width : (width + 1) >> 1,
    height: layout.subsampling === "420" ? (height + 1) >> 1 : height,
  };
  return [full, chroma, chroma, ...extra];
}

/** Reads a raw frame into scene-linear light. NaN and infinities of half-float files are stopped here. */
export function decodeRawFrame(raw: RawFrame, reading: ColourReading): Picture {
  checkSize(raw.width, raw.height);
  planeSizes(raw.width, raw.height, raw.layout).forEach((s, i) => {
    if (raw.planes[i]?.length !== s.width * s.height)
      throw new RangeError(`Plane ${i} of the frame holds ${raw.planes[i]?.length ?? 0} samples; ${s.width * s.height} are needed.`);
  });
  const picture =
    raw.layout.kind === "ycbcr" ? decodeYcbcr(raw, reading) : raw.layout.kind === "rgb" ? decodeRgb(raw, reading) : decodeHalf(raw);
  return raw.layout.alpha ? { ...picture, a: decodeAlpha(raw) } : picture;
}

/** Alpha of a frame whose layout has one, 0…1. */
export function decodeAlpha(raw: RawFrame): Float32Array {
  const source = raw.planes[3] as Uint16Array;
  const a = new Float32Array(source.length);
  if (raw.layout.kind === "half") for (let i = 0; i < a.length; i++) a[i] = halfToFloat(source[i] as number);
  else {
    const unit = 1 / (2 ** raw.layout.bits - 1);
    for (let i = 0; i < a.length; i++) a[i] = (source[i] as number) * unit;
  }
  stopNotFinite(a);
  return a;
}

function decodeRgb(raw: RawFrame, reading: ColourReading): Picture {
  const { bits } = raw.layout as Extract<RawLayout, { kind: "rgb" }>;
  const table = decodeTable(reading.transfer, bits);
  const top = table.length - 1;
  const out = makePicture(raw.width, raw.height);
  [out.r, out.g, out.b].forEach((channel, k) => {
    const source = raw.planes[k] as Uint16Array;
    for (let i = 0; i < source.length; i++) {
      const code = source[i] as number;
      channel[i] = table[code > top ? top : code] as number;
    }
  });
  return out;
}

let halfTable: Float32Array | undefined;
function decodeHalf(raw: RawFrame): Picture {
  halfTable ??= Float32Array.from({ length: 65536 }, (_, i) => halfToFloat(i));
  const out = makePicture(raw.width, raw.height);
  for (const [k, channel] of [out.r, out.g, out.b].entries()) {
    const source = raw.planes[k] as Uint16Array;
    for (let i = 0; i < source.length; i++) channel[i] = halfTable[source[i] as number] as number;
    stopNotFinite(channel);
  }
  return out;
}

/**
 * Fills `row` with one row of chroma at luma width, between the two chroma rows that enclose luma row `y`: bilinear between
 * the places that the siting says. `blend` is room for one row of chroma.
 */
export function chromaRow(
  row: Float32Array,
  blend: Float32Array,
  plane: Float32Array,
  cw: number,
  ch: number,
  y: number,
  layout: { subsampling: Subsampling },
  siting: Siting,
): void {
  const cy = layout.subsampling === "420" ? (siting === "topleft" ? y / 2 : (y - 0.5) / 2) : y;
  const y0 = Math.floor(cy);
  const fy = cy - y0;
  const top = Math.min(ch - 1, Math.max(0, y0)) * cw;
  const bottom = Math.min(ch - 1, Math.max(0, y0 + 1)) * cw;
  const rest = 1 - fy;
  for (let x = 0; x < cw; x++) blend[x] = rest * (plane[top + x] as number) + fy * (plane[bottom + x] as number);
  const width = row.length;
  if (layout.subsampling === "444") {
    row.set(blend.subarray(0, width));
    return;
  }
  // Chroma sample i lies on luma column 2i (co-sited) or 2i + 1/2 (centred).
  const centred = siting === "center";
  const before = centred ? 0.25 : 0;
  const own = 1 - before;
  const after = centred ? 0.25 : 0.5;
  let last = blend[0] as number;
  let here = last;
  const pairs = width >> 1;
  for (let i = 0, x = 0; i < pairs; i++, x += 2) {
    const next = i + 1 < cw ? (blend[i + 1] as number) : here;
    row[x] = before * last + own * here;
    row[x + 1] = (1 - after) * here + after * next;
    last = here;
    here = next;
  }
  if (width & 1) row[width - 1] = before * last + own * here;
}

function decodeYcbcr(raw: RawFrame, reading: ColourReading): Picture {
  const { width, height } = raw;
  const layout = raw.layout as Extract<RawLayout, { kind: "ycbcr" }>;
  const [, chroma] = planeSizes(width, height, layout) as [unknown, { width: number; height: number }];
  const [Cb, Cr] = [new Float32Array(raw.planes[1] as Uint16Array), new Float32Array(raw.planes[2] as Uint16Array)];
  const blend = new Float32Array(chroma.width);
  const [cb, cr] = [new Float32Array(width), new Float32Array(width)];
  return decodeRows(raw, reading, (y) => {
    chromaRow(cb, blend, Cb, chroma.width, chroma.height, y, layout, reading.siting);
    chromaRow(cr, blend, Cr, chroma.width, chroma.height, y, layout, reading.siting);
    return [cb, cr];
  });
}

/**
 * Luma of a frame and chroma from elsewhere to scene-linear light.
 * @param chroma gives Cb and Cr of a row at luma width, in codes of the frame's own bits
 */
export function decodeRows(
  raw: RawFrame,
  reading: ColourReading,
  chroma: (y: number) => readonly [cb: Float32Array, cr: Float32Array],
): Picture {
  const { width, height } = raw;
  const layout = raw.layout as Extract<RawLayout, { kind: "ycbcr" }>;
  const s = codeScale(reading.range, layout.bits);
  const f = rgbFactors(reading.matrix);
  const table = fineDecodeTable(reading.transfer);
  // Everything in steps of the table, so that a pixel costs three sums and three look-ups.
  const unit = 1 / FINE_STEP;
  const chromaUnit = s.cScale * unit;
  const factors: RowFactors = {
    luma: s.yScale * unit,
    zero: -(s.yOffset * s.yScale + FINE_LOW) * unit,
    centre: s.cOffset,
    rCr: f.rCr * chromaUnit,
    gCb: f.gCb * chromaUnit,
    gCr: f.gCr * chromaUnit,
    bCb: f.bCb * chromaUnit,
  };
  const Y = raw.planes[0] as Uint16Array;
  const out = makePicture(width, height);
  for (let y = 0; y < height; y++) {
    const [cb, cr] = chroma(y);
    decodeRow(Y, cb, cr, out, y * width, width, factors, table);
  }
  return out;
}

interface RowFactors {
  readonly luma: number;
  readonly zero: number;
  readonly centre: number;
  readonly rCr: number;
  readonly gCb: number;
  readonly gCr: number;
  readonly bCb: number;
}

/** One row of codes to light. */
function decodeRow(
  Y: Uint16Array,
  cbs: Float32Array,
  crs: Float32Array,
  out: Picture,
  at: number,
  width: number,
  { luma, zero, centre, rCr, gCb, gCr, bCb }: RowFactors,
  table: Float32Array,
): void {
  const { r, g, b } = out;
  const last = table.length - 2;
  for (let x = 0, i = at; x < width; x++, i++) {
    const l = (Y[i] as number) * luma + zero;
    const cb = (cbs[x] as number) - centre;
    const cr = (crs[x] as number) - centre;
    let t = l + rCr * cr;
    t = t < 0 ? 0 : t > last ? last : t;
    let k = t | 0;
    let v = table[k] as number;
    r[i] = v + ((table[k + 1] as number) - v) * (t - k);
    t = l + gCb * cb + gCr * cr;
    t = t < 0 ? 0 : t > last ? last : t;
    k = t | 0;
    v = table[k] as number;
    g[i] = v + ((table[k + 1] as number) - v) * (t - k);
    t = l + bCb * cb;
    t = t < 0 ? 0 : t > last ? last : t;
    k = t | 0;
    v = table[k] as number;
    b[i] = v + ((table[k + 1] as number) - v) * (t - k);
  }
}

/** One buffer for the wire: 4-byte header length, JSON header, then the planes as little-endian 16-bit words. */
export function packRawFrame(raw: RawFrame): Uint8Array {
  const json = JSON.stringify({ width: raw.width, height: raw.height, layout: raw.layout });
  // Padded so that the planes start on an even offset.
  const header = new TextEncoder().encode(json + (json.length % 2 ? " " : ""));
  const body = raw.planes.reduce((n, p) => n + p.byteLength, 0);
  const out = new Uint8Array(4 + header.length + body);
  new DataView(out.buffer).setUint32(0, header.length, true);
  out.set(header, 4);
  let at = 4 + header.length;
  for (const p of raw.planes) {
    out.set(new Uint8Array(p.buffer, p.byteOffset, p.byteLength), at);
    at += p.byteLength;
  }
  return out;
}

/** The inverse of {@link packRawFrame}. Throws RangeError when the buffer does not hold what its header says. */
export function unpackRawFrame(buffer: ArrayBuffer): RawFrame {
  const length = buffer.byteLength >= 4 ? new DataView(buffer).getUint32(0, true) : Number.POSITIVE_INFINITY;
  if (4 + length > buffer.byteLength) throw new RangeError("The frame arrived cut short; load it again.");
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as Omit<RawFrame, "planes">;
  checkSize(head.width, head.height);
  let at = 4 + length;
  const planes = planeSizes(head.width, head.height, head.layout).map((s) => {
    const n = s.width * s.height;
    if (at + n * 2 > buffer.byteLength) throw new RangeError("The frame arrived cut short; load it again.");
    const plane = new Uint16Array(buffer, at, n);
    at += n * 2;
    return plane;
  });
  return { ...head, planes };
}
