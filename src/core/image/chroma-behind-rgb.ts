import type { Transfer } from "../color/transfer";
import { codeScale, LUMA, type Matrix, rgbFactors } from "../color/ycbcr";
import { tellSiting } from "./chroma-siting";
import { ENLARGINGS, type Enlarging, enlargedLine, PAD, pad, samplesOf } from "./enlarged-line";
import type { ColourReading, RawFrame, Siting } from "./raw-frame";

const MATRICES: readonly Matrix[] = ["bt601", "bt709"];

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
  /** 1 where a channel of the pixel is at the bottom or top of its range. */
  readonly clipped: Uint8Array;
  readonly anyClipped: boolean;
}

interface Room {
  readonly samples: Float32Array;
  readonly sums: Float32Array;
  readonly full: Float32Array;
}

const roomFor = (length: number): Room => ({
  samples: new Float32Array(((length + 1) >> 1) + 2 * PAD),
  sums: new Float32Array(((length + 1) >> 1) + 2 * PAD),
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
function fit(line: Line, { samples, sums, full }: Room, how: Enlarging): void {
  const { values, clipped, anyClipped } = line;
  if (anyClipped) bridge(line);
  samplesOf(values, samples, sums, how);
  if (!anyClipped) return;
  for (let round = 0; round < UNCLIPPING; round++) {
    enlargedLine(samples, full, how);
    for (let i = 0; i < values.length; i++) if (clipped[i]) values[i] = full[i] as number;
    samplesOf(values, samples, sums, how);
  }
}

/** Lines of chroma of one length, to be read into. */
interface Lines {
  readonly cb: Float32Array;
  readonly cr: Float32Array;
  readonly clipped: Uint8Array;
}

const linesFor = (length: number): Lines => ({
  cb: new Float32Array(length),
  cr: new Float32Array(length),
  clipped: new Uint8Array(length),
});

/** Reads one line of an RGB frame as Cb and Cr, in codes of 8 bits around 0. */
function chromaLines(
  raw: RawFrame,
  matrix: Matrix,
  along: "across" | "down",
  at: number,
  { cb, cr, clipped }: Lines,
): readonly [Line, Line] {
  const { width } = raw;
  const top = raw.layout.kind === "rgb" ? 2 ** raw.layout.bits - 1 : 1;
  const from = along === "across" ? at * width : at;
  const step = along === "across" ? 1 : width;
  const [R, G, B] = raw.planes as readonly Uint16Array[] as [Uint16Array, Uint16Array, Uint16Array];
  const { kr, kb } = LUMA[matrix];
  const kg = 1 - kr - kb;
  const cbScale = 255 / top / (2 * (1 - kb));
  const crScale = 255 / top / (2 * (1 - kr));
  let anyClipped = false;
  for (let k = 0, i = from; k < clipped.length; k++, i += step) {
    const r = R[i] as number;
    const g = G[i] as number;
    const b = B[i] as number;
    const y = kr * r + kg * g + kb * b;
    cb[k] = (b - y) * cbScale;
    cr[k] = (r - y) * crScale;
    const shut = r === 0 || g === 0 || b === 0 || r === top || g === top || b === top;
    clipped[k] = shut ? 1 : 0;
    anyClipped ||= shut;
  }
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

/** Tells the way that explains lines along an axis best, for each matrix asked for. */
function tell(raw: RawFrame, along: "across" | "down", matrices: readonly Matrix[]): { matrix: Matrix; how: Enlarging } | null {
  const [count, length] = along === "across" ? [raw.height, raw.width] : [raw.width, raw.height];
  if (length < 8 || count < 8) return null;
  const room = roomFor(length);
  // All over the frame from the first few on.
  const places = Array.from({ length: Math.min(LINES, count) }, (_, k) => Math.floor(((k * GOLDEN) % 1) * count));
  let best: { matrix: Matrix; how: Enlarging; share: number } | null = null;
  for (const matrix of matrices) {
    const read: Line[] = [];
    const lines = function* () {
      yield* read;
      // Read on where the one before needed no more.
      while (next < places.length) {
        const at = places[next++] as number;
        for (const line of chromaLines(raw, matrix, along, at, linesFor(length))) {
          if (!tells(line)) continue;
          read.push(line);
          yield line;
        }
      }
    };
    let next = 0;
    for (const how of ENLARGINGS) {
      const share = explained(lines(), how, room);
      if (share >= AGREE && share > (best?.share ?? 0)) best = { matrix, how, share };
      // Nothing explains more than all.
      if (share === 1) return best;
    }
  }
  return best;
}

function tellBehind(raw: RawFrame): Behind | null {
  const across = tell(raw, "across", MATRICES);
  if (!across) return null;
  return { matrix: across.matrix, across: across.how, down: tell(raw, "down", [across.matrix])?.how ?? null };
}

/** Both chroma planes as they were before they were enlarged, in 8-bit codes around 0. */
function shrunkChroma(raw: RawFrame, { matrix, across, down }: Behind): readonly [Float32Array, Float32Array] {
  const { width, height } = raw;
  const cw = (width + 1) >> 1;
  const halves = [new Float32Array(cw * height), new Float32Array(cw * height)] as const;
  // 1 where both pixels that a sample became are clipped.
  const lost = new Uint8Array(cw * height);
  const row = roomFor(width);
  const lines = linesFor(width);
  for (let y = 0; y < height; y++) {
    const read = chromaLines(raw, matrix, "across", y, lines);
    read.forEach((line, k) => {
      fit(line, row, across);
      (halves[k] as Float32Array).set(row.samples.subarray(PAD, PAD + cw), y * cw);
    });
    if (read[0].anyClipped)
      for (let x = 0; x < cw; x++) lost[y * cw + x] = lines.clipped[2 * x]! & lines.clipped[Math.min(width - 1, 2 * x + 1)]!;
  }
  if (!down) return halves;
  const ch = (height + 1) >> 1;
  const column = roomFor(height);
  const lostOf = turned(lost, cw, height);
  const shrunk = (half: Float32Array) => {
    const out = new Float32Array(cw * ch);
    const columns = turned(half, cw, height);
    for (let x = 0; x < cw; x++) {
      const clipped = lostOf.subarray(x * height, (x + 1) * height);
      fit({ values: columns.subarray(x * height, (x + 1) * height), clipped, anyClipped: clipped.includes(1) }, column, down);
      out.set(column.samples.subarray(PAD, PAD + ch), x * ch);
    }
    return turned(out, ch, cw);
  };
  return [shrunk(halves[0]), shrunk(halves[1])];
}

/** Side of the tiles in which a plane is turned, px: a tile of both stays in the cache. */
const TILE = 32;

/** A plane with rows for columns. */
function turned<T extends Float32Array | Uint8Array>(plane: T, width: number, height: number): T {
  const out = plane.slice() as T;
  for (let y0 = 0; y0 < height; y0 += TILE)
    for (let x0 = 0; x0 < width; x0 += TILE)
      for (let y = y0; y < Math.min(height, y0 + TILE); y++)
        for (let x = x0; x < Math.min(width, x0 + TILE); x++) out[x * height + y] = plane[y * width + x] as number;
  return out;
}

/** Row y of an enlarged chroma plane; gone when the next is asked for. */
type Rows = (y: number) => Float32Array;
function enlargedRows(plane: Float32Array, width: number, height: number, { across, down }: Behind): Rows {
  const cw = (width + 1) >> 1;
  const tall = () => {
    if (!down) return plane;
    const ch = (height + 1) >> 1;
    const columns = turned(plane, cw, ch);
    const out = new Float32Array(cw * height);
    const column = roomFor(height);
    for (let x = 0; x < cw; x++) {
      column.samples.set(columns.subarray(x * ch, (x + 1) * ch), PAD);
      pad(column.samples);
      enlargedLine(column.samples, column.full, down);
      out.set(column.full, x * height);
    }
    return turned(out, height, cw);
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

/** Bits of the frame that is told: luma of 8-bit RGB falls between 8-bit codes. */
const BITS = 12;

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
  const rgb = raw.layout as Extract<RawFrame["layout"], { kind: "rgb" }>;
  const bits = Math.max(BITS, rgb.bits);
  const scale = codeScale("full", bits);
  const last = 2 ** bits - 1;
  const code = (v: number) => (v <= 0 ? 0 : v >= last ? last : Math.round(v));
  const chroma = shrunkChroma(raw, behind);
  const Y = new Uint16Array(width * height);
  const { kr, kb } = LUMA[behind.matrix];
  const f = rgbFactors(behind.matrix);
  const top = 2 ** rgb.bits - 1;
  const open = (v: number) => v > 0 && v < top;
  const clipped: number[] = [];
  for (let i = 0; i < Y.length; i++) {
    const r = R[i] as number;
    const g = G[i] as number;
    const b = B[i] as number;
    Y[i] = code((kr * r + (1 - kr - kb) * g + kb * b) / top / scale.yScale);
    if (!open(r) || !open(g) || !open(b)) clipped.push(i);
  }
  if (clipped.length > 0) {
    const [cbAt, crAt] = chroma.map((plane) => enlargedRows(plane, width, height, behind)) as [Rows, Rows];
    let row = -1;
    let [cb, cr] = [Y, Y] as [ArrayLike<number>, ArrayLike<number>];
    for (const i of clipped) {
      const y = Math.floor(i / width);
      if (y !== row) [row, cb, cr] = [y, cbAt(y), crAt(y)];
      const [u, v] = [(cb[i - y * width] as number) / 255, (cr[i - y * width] as number) / 255];
      const [r, g, b] = [R[i] as number, G[i] as number, B[i] as number];
      if (open(g)) Y[i] = code((g / top - f.gCb * u - f.gCr * v) / scale.yScale);
      else if (open(r)) Y[i] = code((r / top - f.rCr * v) / scale.yScale);
      else if (open(b)) Y[i] = code((b / top - f.bCb * u) / scale.yScale);
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
