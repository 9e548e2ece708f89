import { halfToFloat } from "../color/half";
import { type Primaries, toBt709 } from "../color/primaries";
import { decodeTable, FINE_LOW, FINE_STEP, fineDecodeTable, type Transfer } from "../color/transfer";
import { codeScale, type Matrix, type Range, rgbFactors } from "../color/ycbcr";
import { onRows, type RowRoom, rowRoom } from "../kernels/rows";
import { type Allocate, checkSize, fresh, makePicture, type Picture, stopNotFinite } from "./plane";
import { type Turn, turnPicture } from "./turn";

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
  /** How the frame is to be turned to stand upright, as phones ask for; decoding does. */
  readonly turn?: Turn;
}

/** What turns the codes into scene-linear light. */
export interface ColourReading {
  readonly transfer: Transfer;
  readonly matrix: Matrix;
  readonly range: Range;
  readonly siting: Siting;
  /** BT.709's without it. */
  readonly primaries?: Primaries | undefined;
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

/** Reads a raw frame into scene-linear light, upright. NaN and infinities of half-float files are stopped here. */
export function decodeRawFrame(raw: RawFrame, reading: ColourReading): Picture {
  checkSize(raw.width, raw.height);
  planeSizes(raw.width, raw.height, raw.layout).forEach((s, i) => {
    if (raw.planes[i]?.length !== s.width * s.height)
      throw new RangeError(`Plane ${i} of the frame holds ${raw.planes[i]?.length ?? 0} samples; ${s.width * s.height} are needed.`);
  });
  const picture =
    raw.layout.kind === "ycbcr" ? decodeYcbcr(raw, reading) : raw.layout.kind === "rgb" ? decodeRgb(raw, reading) : decodeHalf(raw);
  return standUp(picture, raw, reading);
}

/** A decoded picture of a frame as everything works with it: of BT.709's primaries, with the frame's alpha, upright. Takes the picture. */
export function standUp(picture: Picture, raw: RawFrame, { primaries }: ColourReading, allocate: Allocate = fresh): Picture {
  const rows = toBt709(primaries);
  const { r, g, b } = picture;
  if (rows)
    for (let i = 0; i < r.length; i++) {
      const [x, y, z] = [r[i] as number, g[i] as number, b[i] as number];
      r[i] = rows[0][0] * x + rows[0][1] * y + rows[0][2] * z;
      g[i] = rows[1][0] * x + rows[1][1] * y + rows[1][2] * z;
      b[i] = rows[2][0] * x + rows[2][1] * y + rows[2][2] * z;
    }
  return turnPicture(raw.layout.alpha ? { ...picture, a: decodeAlpha(raw) } : picture, raw.turn, allocate);
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
 * Fills a row of `room` with one row of a chroma plane at luma width, between the two chroma rows that enclose luma row `y`:
 * bilinear between the places that the siting says.
 * @param plane which of the room's planes, of `cw` × `ch` @param row which of its rows
 */
export function chromaRow(
  room: RowRoom,
  plane: number,
  row: number,
  cw: number,
  ch: number,
  y: number,
  subsampling: Subsampling,
  siting: Siting,
): void {
  const cy = subsampling === "420" ? (siting === "topleft" ? y / 2 : (y - 0.5) / 2) : y;
  const y0 = Math.floor(cy);
  const at = (k: number) => (room.planesAt[plane] as number) + 4 * cw * Math.min(ch - 1, Math.max(0, k));
  // Chroma sample i lies on luma column 2i (co-sited) or 2i + 1/2 (centred).
  const centred = siting === "center";
  const step = subsampling === "444" ? 1 : 2;
  onRows(
    "chromaRow",
    at(y0),
    at(y0 + 1),
    cy - y0,
    room.blendAt,
    room.rowsAt[row] as number,
    cw,
    centred ? 0.25 : 0,
    centred ? 0.25 : 0.5,
    step,
  );
}

function decodeYcbcr(raw: RawFrame, reading: ColourReading): Picture {
  const { width, height } = raw;
  const layout = raw.layout as Extract<RawLayout, { kind: "ycbcr" }>;
  const [, { width: cw, height: ch }] = planeSizes(width, height, layout) as [unknown, { width: number; height: number }];
  const chroma = [1, 2].map((k) => new Float32Array(raw.planes[k] as Uint16Array));
  return decodeRows(raw, reading, cw, chroma, (room, y) => {
    for (const k of [0, 1]) chromaRow(room, k, k, cw, ch, y, layout.subsampling, reading.siting);
  });
}

/**
 * Luma of a frame and chroma from elsewhere to scene-linear light.
 * @param planes what `chroma` needs in the room, of chroma's width `cw`
 * @param chroma fills the room's first two rows with Cb and Cr of a row at luma width, in codes of the frame's own bits
 */
export function decodeRows(
  raw: RawFrame,
  reading: ColourReading,
  cw: number,
  planes: readonly Float32Array[],
  chroma: (room: RowRoom, y: number) => void,
  allocate: Allocate = fresh,
): Picture {
  const { width, height } = raw;
  const layout = raw.layout as Extract<RawLayout, { kind: "ycbcr" }>;
  const s = codeScale(reading.range, layout.bits);
  const f = rgbFactors(reading.matrix);
  const table = fineDecodeTable(reading.transfer);
  const room = rowRoom(width, 5, cw, planes, table);
  // Everything in steps of the table, so that a pixel costs three sums and three look-ups.
  const unit = 1 / FINE_STEP;
  const chromaUnit = s.cScale * unit;
  room.told.set([
    s.yScale * unit,
    -(s.yOffset * s.yScale + FINE_LOW) * unit,
    s.cOffset,
    f.rCr * chromaUnit,
    f.gCb * chromaUnit,
    f.gCr * chromaUnit,
    f.bCb * chromaUnit,
    table.length - 2,
  ]);
  const Y = raw.planes[0] as Uint16Array;
  const n = width * height;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const light = [out.r, out.g, out.b];
  const [cb, cr, ...to] = room.rowsAt as [number, number, number, number, number];
  for (let y = 0; y < height; y++) {
    const at = y * width;
    room.Y.set(Y.subarray(at, at + width));
    chroma(room, y);
    onRows("decodeRow", room.YAt, cb, cr, ...to, width, room.toldAt, room.tableAt);
    for (let k = 0; k < 3; k++) (light[k] as Float32Array).set(room.rows[2 + k] as Float32Array, at);
  }
  return out;
}

/** One buffer for the wire: 4-byte header length, JSON header, then the planes as little-endian 16-bit words. */
export function packRawFrame(raw: RawFrame): Uint8Array {
  const json = JSON.stringify({ width: raw.width, height: raw.height, layout: raw.layout, turn: raw.turn });
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
