import type { Transfer } from "../color/transfer";
import { codeScale, LUMA, type Matrix, rgbFactors } from "../color/ycbcr";
import { lumaAndChroma } from "../kernels/chroma";
import { tellSiting } from "./chroma-siting";
import { ENLARGINGS, type Enlarging, enlargedLine, PAD, pad, samplesOf } from "./enlarged-line";
import type { ColourReading, RawFrame, Siting } from "./raw-frame";

const MATRICES: readonly Matrix[] = ["bt601", "bt709"];
/** JPEG's. Source: JFIF 1.02. */
const USUAL: Matrix = "bt601";
/** Codes from black to white that luma is recorded in: all of 8 bits, or video's. Source for those: ITU-R BT.601-7, 2.5.3. */
const LUMA_CODES = [255, 219];
/** How near luma must be to whole codes to tell the matrix, and how much nearer than by another. Rounded R'G'B' leaves a half. */
const ON_CODES = 0.15;
const CLEARER = 1.5;

/** Lines looked at along each axis, at most. */
const LINES = 200;
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** Step in the slope of chroma, in 8-bit codes, from which on a pixel tells how chroma was enlarged; how many must, and what share of them must agree. */
const TELLING = 4;
const ENOUGH = 150;
const AGREE = 0.85;
const HOPELESS = 0.7;
const PLENTY = 2000;
/** What rounding to 8 bits leaves of difference, in codes. */
const ROUNDING = 0.9;
/** Rounds in which chroma of clipped pixels is found from the samples beside them. */
const UNCLIPPING = 3;

/** A line with its clipped pixels, of which nothing is known, told by the samples of the others. */
interface Line {
  readonly values: Float32Array;
  /** Not 0 where a channel of the pixel is at the bottom or top of its range. */
  readonly clipped: Int32Array;
  readonly anyClipped: boolean;
}

interface Room {
  readonly samples: Float32Array;
  readonly full: Float32Array;
}

const roomFor = (length: number): Room => ({
  samples: new Float32Array(((length + 1) >> 1) + 2 * PAD),
  full: new Float32Array(length),
});

/** Clipped pixels from the unclipped ones beside them, in a straight line. */
function bridge({ values, clipped }: Line): void {
  const n = values.length;
  for (let i = 0; i < n; i++) {
    if (!clipped[i]) continue;
    let end = i;
    while (end < n && clipped[end]) end++;
    const before = i > 0 ? (values[i - 1] as number) : undefined;
    const after = end < n ? (values[end] as number) : undefined;
    if (before === undefined && after === undefined) return;
    const [a, b] = [before ?? (after as number), after ?? (before as number)];
    for (let k = i; k < end; k++) values[k] = a + ((b - a) * (k - i + 1)) / (end - i + 1);
    i = end;
  }
}

/** Fills `room.samples` with what the line was enlarged from; the line's clipped pixels are changed to what those samples tell. */
function fit(line: Line, { samples, full }: Room, how: Enlarging): void {
  const { values, clipped, anyClipped } = line;
  if (anyClipped) bridge(line);
  samplesOf(values, samples, how);
  if (!anyClipped) return;
  for (let round = 0; round < UNCLIPPING; round++) {
    enlargedLine(samples, full, how);
    for (let i = 0; i < values.length; i++) if (clipped[i]) values[i] = full[i] as number;
    samplesOf(values, samples, how);
  }
}

/** Lines of one length, to be read into. */
interface Lines {
  readonly rgb: readonly [Uint16Array, Uint16Array, Uint16Array];
  readonly cb: Float32Array;
  readonly cr: Float32Array;
  readonly clipped: Int32Array;
}

const linesFor = (length: number): Lines => ({
  rgb: [new Uint16Array(length), new Uint16Array(length), new Uint16Array(length)],
  cb: new Float32Array(length),
  cr: new Float32Array(length),
  clipped: new Int32Array(length),
});

/** Bits of the frame that is told: luma of 8-bit RGB falls between 8-bit codes. */
const BITS = 12;
const bitsOf = (raw: RawFrame): number => Math.max(BITS, ownBits(raw));
const ownBits = ({ layout }: RawFrame): number => (layout.kind === "rgb" ? layout.bits : 0);

/** Reads one line of an RGB frame as Cb and Cr, in codes of 8 bits around 0, and its luma, in codes of {@link bitsOf}, where it is asked for. */
function chromaLines(
  raw: RawFrame,
  matrix: Matrix,
  along: "across" | "down",
  at: number,
  lines: Lines,
  luma?: Uint16Array,
): readonly [Line, Line] {
  const { width } = raw;
  const { rgb, cb, cr, clipped } = lines;
  rgb.forEach((line, c) => {
    const plane = raw.planes[c] as Uint16Array;
    if (along === "across") line.set(plane.subarray(at * width, (at + 1) * width));
    else for (let k = 0, i = at; k < line.length; k++, i += width) line[k] = plane[i] as number;
  });
  const { kr, kb } = LUMA[matrix];
  const top = 2 ** ownBits(raw) - 1;
  const bits = bitsOf(raw);
  const anyClipped = lumaAndChroma(
    rgb,
    { cb, cr, clipped, ...(luma ? { luma } : {}) },
    {
      kr,
      kb,
      top,
      scale: 1 / (top * codeScale("full", bits).yScale),
      last: 2 ** bits - 1,
      cbScale: 255 / top / (2 * (1 - kb)),
      crScale: 255 / top / (2 * (1 - kr)),
    },
  );
  return [
    { values: cb, clipped, anyClipped },
    { values: cr, clipped, anyClipped },
  ];
}

/** Whether anything on a line tells how chroma was enlarged. */
function tells({ values }: Line): boolean {
  for (let i = 2; i < values.length - 2; i++) if (Math.abs(bendAt(values, i)) >= TELLING) return true;
  return false;
}

const bendAt = (v: Float32Array, i: number): number => (v[i - 1] as number) - 2 * (v[i] as number) + (v[i + 1] as number);

/** Share of the telling pixels of some lines that one way of enlarging explains; 0 when too few tell, or it is plain that it does not. */
function explained(lines: Iterable<Line>, how: Enlarging, room: Room): number {
  let told = 0;
  let agreed = 0;
  for (const line of lines) {
    const own = line.values;
    fit({ ...line, values: own.slice() }, room, how);
    enlargedLine(room.samples, room.full, how);
    for (let i = 2; i < own.length - 2; i++) {
      if (line.clipped[i - 1] || line.clipped[i] || line.clipped[i + 1]) continue;
      if (Math.abs(bendAt(own, i)) < TELLING) continue;
      told++;
      if (Math.abs((room.full[i] as number) - (own[i] as number)) <= ROUNDING) agreed++;
    }
    if (told >= ENOUGH && agreed < HOPELESS * told) return 0;
    if (told >= PLENTY) break;
  }
  return told < ENOUGH ? 0 : agreed / told;
}

/** How chroma of an RGB frame was enlarged, and by which matrix it was turned into RGB. */
interface Behind {
  readonly matrix: Matrix;
  readonly across: Enlarging;
  /** null for 4:2:2. */
  readonly down: Enlarging | null;
}

/** Lines to look at: all over the frame from the first few on. */
const placesOf = (count: number): number[] =>
  Array.from({ length: Math.min(LINES, count) }, (_, k) => Math.floor(((k * GOLDEN) % 1) * count));

/**
 * Tells the way that explains lines along an axis best. By whichever matrix chroma is read, grey has none, so that the planes of
 * one are sums of the other's, enlarged the same way.
 */
function tell(raw: RawFrame, along: "across" | "down"): Enlarging | null {
  const [count, length] = along === "across" ? [raw.height, raw.width] : [raw.width, raw.height];
  if (length < 8 || count < 8) return null;
  const room = roomFor(length);
  const places = placesOf(count);
  const read: Line[] = [];
  let next = 0;
  const lines = function* () {
    yield* read;
    // Read on where the one before needed no more.
    while (next < places.length) {
      const at = places[next++] as number;
      for (const line of chromaLines(raw, USUAL, along, at, linesFor(length))) {
        if (!tells(line)) continue;
        read.push(line);
        yield line;
      }
    }
  };
  let best: { how: Enlarging; share: number } | null = null;
  for (const how of ENLARGINGS) {
    const share = explained(lines(), how, room);
    if (share >= AGREE && share > (best?.share ?? 0)) best = { how, share };
    // Nothing explains more than all.
    if (share === 1) break;
  }
  return best?.how ?? null;
}

/**
 * How near luma is to whole codes of 8 bits, where chroma changes: 0 for anywhere, 1 for on them. Luma was recorded in whole codes, of
 * all the range or of video's; by another matrix than the recording's some of chroma gets into it, which after enlarging is
 * between codes.
 */
function onCodes(raw: RawFrame, matrix: Matrix): number {
  const { width, height } = raw;
  const lines = linesFor(width);
  const luma = new Uint16Array(width);
  const turn = (2 * Math.PI) / (2 ** bitsOf(raw) - 1);
  const sums = LUMA_CODES.map(() => ({ cos: 0, sin: 0 }));
  let told = 0;
  for (const at of placesOf(height)) {
    const [cb, cr] = chromaLines(raw, matrix, "across", at, lines, luma);
    for (let i = 1; i < width - 1; i++) {
      if (lines.clipped[i]) continue;
      if (Math.abs(bendAt(cb.values, i)) < TELLING && Math.abs(bendAt(cr.values, i)) < TELLING) continue;
      told++;
      sums.forEach((sum, k) => {
        const phase = turn * (LUMA_CODES[k] as number) * (luma[i] as number);
        sum.cos += Math.cos(phase);
        sum.sin += Math.sin(phase);
      });
    }
    if (told >= PLENTY) break;
  }
  return told < ENOUGH ? 0 : Math.max(...sums.map(({ cos, sin }) => Math.hypot(cos, sin) / told));
}

/** The matrix by which the frame's luma is on codes and by the others is not; JPEG's own where none is. */
function tellMatrix(raw: RawFrame): Matrix {
  const [first, second] = MATRICES.map((matrix) => ({ matrix, on: onCodes(raw, matrix) })).sort((a, b) => b.on - a.on) as [
    { matrix: Matrix; on: number },
    { matrix: Matrix; on: number },
  ];
  return first.on >= ON_CODES && first.on >= CLEARER * second.on ? first.matrix : USUAL;
}

function tellBehind(raw: RawFrame): Behind | null {
  const across = tell(raw, "across");
  if (!across) return null;
  return { matrix: tellMatrix(raw), across, down: tell(raw, "down") };
}

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
  return { luma, chroma, clippedRows };
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
