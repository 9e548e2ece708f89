import type { Transfer } from "../color/transfer";
import { codeScale, rgbFactors } from "../color/ycbcr";
import { bitsOf, chromaLines, fit, linesFor, ownBits, roomFor } from "./chroma-lines";
import { tellSiting } from "./chroma-siting";
import { type Enlarging, enlargedLine, PAD, pad, samplesOf } from "./enlarged-line";
import type { ColourReading, RawFrame, Siting } from "./raw-frame";
import { type Behind, tellBehind } from "./tell-chroma";

/** A frame's luma, in codes of {@link bitsOf}, and both chroma planes as they were before they were enlarged, in 8-bit codes around 0. */
interface Shrunk {
  readonly luma: Uint16Array;
  readonly chroma: readonly [Float32Array, Float32Array];
  /** Rows in which a pixel is clipped. */
  readonly clippedRows: readonly number[];
}

function shrunkChroma(raw: RawFrame, { matrix, across, down }: Behind): Shrunk {
  const { width, height } = raw;
  const cw = (width + 1) >> 1;
  const luma = new Uint16Array(width * height);
  const halves = [new Float32Array(cw * height), new Float32Array(cw * height)] as const;
  // 1 where both pixels that a sample became are clipped.
  const lost = new Uint8Array(cw * height);
  const clippedRows: number[] = [];
  const row = roomFor(width);
  const lines = linesFor(width);
  for (let y = 0; y < height; y++) {
    const read = chromaLines(raw, matrix, "across", y, lines, luma.subarray(y * width, (y + 1) * width));
    read.forEach((line, k) => {
      fit(line, row, across);
      (halves[k] as Float32Array).set(row.samples.subarray(PAD, PAD + cw), y * cw);
    });
    if (!read[0].anyClipped) continue;
    clippedRows.push(y);
    for (let x = 0; x < cw; x++) if (lines.clipped[2 * x] && lines.clipped[Math.min(width - 1, 2 * x + 1)]) lost[y * cw + x] = 1;
  }
  const shut = clippedRows.length > 0 ? columnsWith(lost, cw, height) : [];
  const chroma = down
    ? ([shrunkDown(halves[0], lost, shut, cw, height, down), shrunkDown(halves[1], lost, shut, cw, height, down)] as const)
    : halves;
  if (clippedRows.length > 0) withinRange(raw, matrix, chroma, lost, down !== null);
  return { luma, chroma, clippedRows };
}

/**
 * Chroma of samples whose pixels are all clipped is what those beside them tell, and may be the screen's beside a white coat. Their own pixels
 * tell that luma is no brighter than white and no darker than black: it is brought to the nearest that agrees.
 * @param chroma in 8-bit codes around 0, changed in place @param lost 1 where both pixels of a row that a sample became are clipped
 */
function withinRange(
  raw: RawFrame,
  matrix: Behind["matrix"],
  [cb, cr]: readonly [Float32Array, Float32Array],
  lost: Uint8Array,
  halved: boolean,
): void {
  const { width, height, planes } = raw;
  const cw = (width + 1) >> 1;
  const f = rgbFactors(matrix);
  const scale = 255 / (2 ** ownBits(raw) - 1);
  const [R, G, B] = planes as readonly Uint16Array[] as [Uint16Array, Uint16Array, Uint16Array];
  const within = (v: number, rgb: number, factor: number) => Math.min(rgb / factor, Math.max((rgb - 255) / factor, v));
  for (let s = 0; s < cb.length; s++) {
    const x = 2 * (s % cw);
    const y = Math.floor(s / cw) * (halved ? 2 : 1);
    const below = halved && y + 1 < height ? 1 : 0;
    if (!lost[y * cw + (x >> 1)] || !lost[(y + below) * cw + (x >> 1)]) continue;
    const right = x + 1 < width ? 1 : 0;
    let [r, g, b] = [0, 0, 0];
    for (const i of [y * width + x, y * width + x + right, (y + below) * width + x, (y + below) * width + x + right]) {
      r += (scale / 4) * (R[i] as number);
      g += (scale / 4) * (G[i] as number);
      b += (scale / 4) * (B[i] as number);
    }
    const u = within(cb[s] as number, b, f.bCb);
    const v = within(cr[s] as number, r, f.rCr);
    // Green falls where both rise: along the shortest way to what white and black allow.
    const green = f.gCb * u + f.gCr * v;
    const beyond = Math.max(g - 255 - green, Math.min(0, g - green)) / (f.gCb ** 2 + f.gCr ** 2);
    cb[s] = within(u + beyond * f.gCb, b, f.bCb);
    cr[s] = within(v + beyond * f.gCr, r, f.rCr);
  }
}

/** Columns of a mask in which any pixel is 1. */
function columnsWith(mask: Uint8Array, width: number, height: number): number[] {
  const any = new Uint8Array(width);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) any[x]! |= mask[y * width + x] as number;
  return Array.from(any.keys()).filter((x) => any[x]);
}

/**
 * What the columns of a plane were enlarged from.
 * @param lost 1 where nothing is known of the plane @param shut the columns in which that is so
 */
function shrunkDown(
  half: Float32Array,
  lost: Uint8Array,
  shut: readonly number[],
  cw: number,
  height: number,
  down: Enlarging,
): Float32Array {
  const ch = (height + 1) >> 1;
  const samples = new Float32Array((ch + 2 * PAD) * cw);
  samplesOf(half, samples, down, cw);
  const out = samples.subarray(PAD * cw, (PAD + ch) * cw);
  const column = roomFor(height);
  const line = { values: new Float32Array(height), clipped: new Int32Array(height), anyClipped: true };
  for (const x of shut) {
    for (let y = 0; y < height; y++) {
      line.values[y] = half[y * cw + x] as number;
      line.clipped[y] = lost[y * cw + x] as number;
    }
    fit(line, column, down);
    for (let y = 0; y < ch; y++) out[y * cw + x] = column.samples[PAD + y] as number;
  }
  return out;
}

/** Row y of an enlarged chroma plane; gone when the next is asked for. */
type Rows = (y: number) => Float32Array;
function enlargedRows(plane: Float32Array, width: number, height: number, { across, down }: Behind): Rows {
  const cw = (width + 1) >> 1;
  const tall = () => {
    if (!down) return plane;
    const samples = new Float32Array(plane.length + 2 * PAD * cw);
    samples.set(plane, PAD * cw);
    pad(samples, cw);
    const out = new Float32Array(cw * height);
    enlargedLine(samples, out, down, cw);
    return out;
  };
  const source = tall();
  const row = roomFor(width);
  return (y) => {
    row.samples.set(source.subarray(y * cw, (y + 1) * cw), PAD);
    pad(row.samples);
    enlargedLine(row.samples, row.full, across);
    return row.full;
  };
}

interface Recorded {
  readonly frame: RawFrame;
  readonly siting: Siting;
}

/** What was told of frames, and what it led to, for as long as they are kept: a frame is asked for again with every change to the matte's copy. */
const told = new WeakMap<RawFrame, Behind | null>();
const undone = new WeakMap<RawFrame, Recorded>();

/** How an RGB frame's chroma was enlarged; null when it is as fine as the picture, or the frame is not RGB of whole codes. */
function behindOf(raw: RawFrame): Behind | null {
  if (raw.layout.kind !== "rgb") return null;
  let behind = told.get(raw);
  if (behind === undefined) {
    behind = tellBehind(raw);
    told.set(raw, behind);
  }
  return behind;
}

/** Chroma that an RGB frame was recorded with; null when it is as fine as the picture, or the frame is not RGB of whole codes. */
export function chromaBehindRgb(raw: RawFrame): "4:2:2" | "4:2:0" | null {
  const behind = behindOf(raw);
  return behind && (behind.down ? "4:2:0" : "4:2:2");
}

/**
 * The Y'CbCr frame of halved chroma that an RGB frame was decoded from, or null when its chroma is as fine as the picture.
 * Most cameras and picture files record colour at half the resolution; turned into RGB, a file no longer says so, but its
 * pixels do: along rows (4:2:2) or rows and columns (4:2:0) their chroma is, to a code, what repeating, linear or cubic
 * enlarging makes of half as many samples. Those samples are found by undoing it. Pixels with a channel at the end of its
 * range tell nothing of chroma, and get their luma from a channel that is not. Alpha stays with the RGB frame.
 * @param raw RGB of whole codes; others give null
 */
export function recordedBehindRgb(raw: RawFrame, transfer: Transfer): { readonly raw: RawFrame; readonly reading: ColourReading } | null {
  const behind = behindOf(raw);
  if (!behind) return null;
  const recorded = undone.get(raw) ?? undo(raw, behind);
  undone.set(raw, recorded);
  return { raw: recorded.frame, reading: { transfer, matrix: behind.matrix, range: "full", siting: recorded.siting } };
}

function undo(raw: RawFrame, behind: Behind): Recorded {
  const { width, height } = raw;
  const [R, G, B] = raw.planes as readonly Uint16Array[] as [Uint16Array, Uint16Array, Uint16Array];
  const bits = bitsOf(raw);
  const scale = codeScale("full", bits);
  const last = 2 ** bits - 1;
  const code = (v: number) => (v <= 0 ? 0 : v >= last ? last : Math.round(v));
  const { luma: Y, chroma, clippedRows } = shrunkChroma(raw, behind);
  const f = rgbFactors(behind.matrix);
  const top = 2 ** ownBits(raw) - 1;
  const open = (v: number) => v > 0 && v < top;
  if (clippedRows.length > 0) {
    const [cbAt, crAt] = chroma.map((plane) => enlargedRows(plane, width, height, behind)) as [Rows, Rows];
    for (const y of clippedRows) {
      const [cb, cr] = [cbAt(y), crAt(y)];
      for (let x = 0, i = y * width; x < width; x++, i++) {
        const [r, g, b] = [R[i] as number, G[i] as number, B[i] as number];
        if (open(r) && open(g) && open(b)) continue;
        const [u, v] = [(cb[x] as number) / 255, (cr[x] as number) / 255];
        if (open(g)) Y[i] = code((g / top - f.gCb * u - f.gCr * v) / scale.yScale);
        else if (open(r)) Y[i] = code((r / top - f.rCr * v) / scale.yScale);
        else if (open(b)) Y[i] = code((b / top - f.bCb * u) / scale.yScale);
      }
    }
  }
  const planes = chroma.map((plane) => {
    const codes = new Uint16Array(plane.length);
    for (let i = 0; i < codes.length; i++) codes[i] = code((plane[i] as number) / 255 / scale.cScale + scale.cOffset);
    return codes;
  });
  const frame: RawFrame = {
    width,
    height,
    layout: { kind: "ycbcr", subsampling: behind.down ? "420" : "422", bits, alpha: false },
    planes: [Y, ...planes],
  };
  const { across, down } = behind;
  const repeated = across.centred && across.weights.length === 1;
  const placed: Siting = across.centred ? "center" : down?.centred === false ? "topleft" : "left";
  // Repeated samples do not say where they were taken; the picture does.
  const siting = repeated ? (tellSiting(frame) ?? placed) : placed;
  return { frame, siting };
}
