import type { Transfer } from "../color/transfer";
import { codeScale, LUMA, type Matrix, rgbFactors } from "../color/ycbcr";
import { tellSiting } from "./chroma-siting";
import type { ColourReading, RawFrame, Siting } from "./raw-frame";

/**
 * How a line of half as many samples was brought to full length. `centred` samples lie between two pixels, whose first takes
 * `weights` from the samples at 0, −1, +1, −2 and the second the mirrored ones; others lie on every first pixel, and every
 * second is the sum of its neighbours at ∓½, ∓1½.
 */
interface Enlarging {
  readonly centred: boolean;
  readonly weights: readonly number[];
}

/** Cubic convolution, by its free parameter. Source: Keys, IEEE Trans. ASSP 29 (1981), eq. 15 with a = −1/2; general a as in Mitchell & Netravali 1988 with B = 0. */
function cubic(a: number, at: number): number {
  const x = Math.abs(at);
  if (x < 1) return (a + 2) * x ** 3 - (a + 3) * x ** 2 + 1;
  return x < 2 ? a * (x ** 3 - 5 * x ** 2 + 8 * x - 4) : 0;
}

/** Repeated, linear (the "fancy" one of JPEG decoders among them), and cubic with the three usual parameters; centred and not. */
const ENLARGINGS: readonly Enlarging[] = [
  { centred: true, weights: [1] },
  { centred: true, weights: [0.75, 0.25] },
  { centred: false, weights: [0.5] },
  ...[-0.5, -0.6, -0.75].flatMap((a) => [
    { centred: true, weights: [0.25, 0.75, 1.25, 1.75].map((d) => cubic(a, d)) },
    { centred: false, weights: [0.5, 1.5].map((d) => cubic(a, d)) },
  ]),
];
const MATRICES: readonly Matrix[] = ["bt601", "bt709"];

/** Lines looked at along each axis. */
const LINES = 64;
/** Step in the slope of chroma, in 8-bit codes, from which on a pixel tells how chroma was enlarged; how many must, and what share of them must agree. */
const TELLING = 4;
const ENOUGH = 150;
const AGREE = 0.85;
const HOPELESS = 0.7;
/** What rounding to 8 bits leaves of difference, in codes. */
const ROUNDING = 0.9;
/** Rounds in which centred samples are found: what is left of the finest detail is under 1 %. */
const ROUNDS = 8;
/** Rounds in which chroma of clipped pixels is found from the samples beside them. */
const UNCLIPPING = 3;

/** Samples of a line, with room beside both ends for what kernels reach beyond them. */
const PAD = 2;

/** Repeats the first and last sample beside the ends. */
function pad(samples: Float32Array): void {
  const last = samples.length - PAD - 1;
  samples.fill(samples[PAD] as number, 0, PAD);
  samples.fill(samples[last] as number, last + 1);
}

/** The samples that a line of twice as many pixels (or one less) was enlarged from. `samples` is padded; `sums` is room of its size. */
function samplesOf(line: Float32Array, samples: Float32Array, sums: Float32Array, { centred, weights: w }: Enlarging): void {
  const half = samples.length - 2 * PAD;
  const last = line.length - 1;
  if (centred) {
    // Both pixels of a sample take mirrored weights, so their mean is a symmetric blur of the samples; it is undone by turns.
    for (let k = 0, i = 0; k < half; k++, i += 2)
      sums[k + PAD] = samples[k + PAD] = ((line[i] as number) + (line[i < last ? i + 1 : last] as number)) / 2;
    const own = w[0] as number;
    const near = ((w[1] ?? 0) + (w[2] ?? 0)) / 2 / own;
    const far = (w[3] ?? 0) / 2 / own;
    for (let round = 0; near !== 0 && round < ROUNDS; round++) {
      pad(samples);
      // In place: each sample from what its neighbours are by then (Gauss–Seidel).
      for (let k = PAD; k < half + PAD; k++)
        samples[k] =
          (sums[k] as number) / own -
          near * ((samples[k - 1] as number) + (samples[k + 1] as number)) -
          far * ((samples[k - 2] as number) + (samples[k + 2] as number));
    }
  } else for (let k = 0; k < half; k++) samples[k + PAD] = line[2 * k] as number;
  pad(samples);
}

/** A line of padded samples at full length. */
function enlargedLine(samples: Float32Array, out: Float32Array, { centred, weights }: Enlarging): void {
  const w0 = weights[0] as number;
  const [w1, w2, w3] = [weights[1] ?? 0, weights[2] ?? 0, weights[3] ?? 0];
  const n = out.length;
  for (let i = 0, k = PAD; i < n; i += 2, k++) {
    const [b, c, d] = [samples[k - 1] as number, samples[k] as number, samples[k + 1] as number];
    if (centred) {
      out[i] = w0 * c + w1 * b + w2 * d + w3 * (samples[k - 2] as number);
      if (i + 1 < n) out[i + 1] = w0 * c + w1 * d + w2 * b + w3 * (samples[k + 2] as number);
    } else {
      out[i] = c;
      if (i + 1 < n) out[i + 1] = w0 * (c + d) + w1 * (b + (samples[k + 2] as number));
    }
  }
}

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

/** Reads one line of an RGB frame as chroma, in codes of 8 bits around 0. */
function chromaLine(raw: RawFrame, matrix: Matrix, along: "across" | "down", at: number, which: "cb" | "cr"): Line {
  const { width, height } = raw;
  const top = raw.layout.kind === "rgb" ? 2 ** raw.layout.bits - 1 : 1;
  const n = along === "across" ? width : height;
  const from = along === "across" ? at * width : at;
  const step = along === "across" ? 1 : width;
  const [R, G, B] = raw.planes as readonly Uint16Array[] as [Uint16Array, Uint16Array, Uint16Array];
  const { kr, kb } = LUMA[matrix];
  const scale = 255 / top / (2 * (1 - (which === "cb" ? kb : kr)));
  const values = new Float32Array(n);
  const clipped = new Uint8Array(n);
  let anyClipped = false;
  for (let k = 0; k < n; k++) {
    const i = from + k * step;
    const [r, g, b] = [R[i] as number, G[i] as number, B[i] as number];
    const y = kr * r + (1 - kr - kb) * g + kb * b;
    values[k] = ((which === "cb" ? b : r) - y) * scale;
    if (r === 0 || g === 0 || b === 0 || r === top || g === top || b === top) {
      clipped[k] = 1;
      anyClipped = true;
    }
  }
  return { values, clipped, anyClipped };
}

/** Share of the telling pixels of some lines that one way of enlarging explains; 0 when too few tell, or it is plain that it does not. */
function explained(lines: readonly Line[], how: Enlarging, room: Room): number {
  let told = 0;
  let agreed = 0;
  for (const line of lines) {
    const own = line.values;
    fit({ ...line, values: own.slice() }, room, how);
    enlargedLine(room.samples, room.full, how);
    for (let i = 2; i < own.length - 2; i++) {
      if (line.clipped[i - 1] || line.clipped[i] || line.clipped[i + 1]) continue;
      const bend = (own[i - 1] as number) - 2 * (own[i] as number) + (own[i + 1] as number);
      if (Math.abs(bend) < TELLING) continue;
      told++;
      if (Math.abs((room.full[i] as number) - (own[i] as number)) <= ROUNDING) agreed++;
    }
    if (told >= ENOUGH && agreed < HOPELESS * told) return 0;
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
  const places = Array.from({ length: Math.min(LINES, count) }, (_, k, n = Math.min(LINES, count)) => Math.floor(((k + 0.5) * count) / n));
  let best: { matrix: Matrix; how: Enlarging; share: number } | null = null;
  for (const matrix of matrices) {
    const lines = places.flatMap((at) => (["cb", "cr"] as const).map((which) => chromaLine(raw, matrix, along, at, which)));
    for (const how of ENLARGINGS) {
      const share = explained(lines, how, room);
      if (share >= AGREE && share > (best?.share ?? 0)) best = { matrix, how, share };
    }
  }
  return best;
}

function tellBehind(raw: RawFrame): Behind | null {
  const across = tell(raw, "across", MATRICES);
  if (!across) return null;
  return { matrix: across.matrix, across: across.how, down: tell(raw, "down", [across.matrix])?.how ?? null };
}

/** One chroma plane as it was before it was enlarged, in 8-bit codes around 0. */
function shrunkChroma(raw: RawFrame, { matrix, across, down }: Behind, which: "cb" | "cr"): Float32Array {
  const { width, height } = raw;
  const cw = (width + 1) >> 1;
  const half = new Float32Array(cw * height);
  // 1 where both pixels that a sample became are clipped.
  const lost = new Uint8Array(cw * height);
  const row = roomFor(width);
  for (let y = 0; y < height; y++) {
    const line = chromaLine(raw, matrix, "across", y, which);
    fit(line, row, across);
    half.set(row.samples.subarray(PAD, PAD + cw), y * cw);
    if (line.anyClipped)
      for (let x = 0; x < cw; x++) lost[y * cw + x] = line.clipped[2 * x]! & line.clipped[Math.min(width - 1, 2 * x + 1)]!;
  }
  if (!down) return half;
  const ch = (height + 1) >> 1;
  const out = new Float32Array(cw * ch);
  const column = roomFor(height);
  const values = new Float32Array(height);
  const clipped = new Uint8Array(height);
  for (let x = 0; x < cw; x++) {
    let anyClipped = false;
    for (let y = 0; y < height; y++) {
      values[y] = half[y * cw + x] as number;
      clipped[y] = lost[y * cw + x] as number;
      anyClipped ||= clipped[y] === 1;
    }
    fit({ values, clipped, anyClipped }, column, down);
    for (let y = 0; y < ch; y++) out[y * cw + x] = column.samples[y + PAD] as number;
  }
  return out;
}

/** Gives rows of an enlarged chroma plane, top to bottom. */
function enlargedRows(plane: Float32Array, width: number, height: number, { across, down }: Behind): (y: number) => Float32Array {
  const cw = (width + 1) >> 1;
  const tall = new Float32Array(cw * height);
  const column = roomFor(height);
  for (let x = 0; x < cw; x++) {
    if (!down) break;
    for (let y = 0; y < column.samples.length - 2 * PAD; y++) column.samples[y + PAD] = plane[y * cw + x] as number;
    pad(column.samples);
    enlargedLine(column.samples, column.full, down);
    for (let y = 0; y < height; y++) tall[y * cw + x] = column.full[y] as number;
  }
  const source = down ? tall : plane;
  const row = roomFor(width);
  return (y) => {
    row.samples.set(source.subarray(y * cw, (y + 1) * cw), PAD);
    pad(row.samples);
    enlargedLine(row.samples, row.full, across);
    return row.full;
  };
}

/** Chroma that an RGB frame was recorded with; null when it is as fine as the picture, or the frame is not RGB of whole codes. */
export function chromaBehindRgb(raw: RawFrame): "4:2:2" | "4:2:0" | null {
  const behind = raw.layout.kind === "rgb" ? tellBehind(raw) : null;
  return behind && (behind.down ? "4:2:0" : "4:2:2");
}

/** Bits of the frame that is told: luma of 8-bit RGB falls between 8-bit codes. */
const BITS = 12;

/**
 * The Y'CbCr frame of halved chroma that an RGB frame was decoded from, or null when its chroma is as fine as the picture.
 * Most cameras and picture files record colour at half the resolution; turned into RGB, a file no longer says so, but its
 * pixels do: along rows (4:2:2) or rows and columns (4:2:0) their chroma is, to a code, what repeating, linear or cubic
 * enlarging makes of half as many samples. Those samples are found by undoing it. Pixels with a channel at the end of its
 * range tell nothing of chroma, and get their luma from a channel that is not.
 * @param raw RGB of whole codes; others give null
 */
export function recordedBehindRgb(raw: RawFrame, transfer: Transfer): { readonly raw: RawFrame; readonly reading: ColourReading } | null {
  if (raw.layout.kind !== "rgb") return null;
  const behind = tellBehind(raw);
  if (!behind) return null;
  const { width, height } = raw;
  const [R, G, B] = raw.planes as readonly Uint16Array[] as [Uint16Array, Uint16Array, Uint16Array];
  const bits = Math.max(BITS, raw.layout.bits);
  const scale = codeScale("full", bits);
  const last = 2 ** bits - 1;
  const code = (v: number) => Math.min(last, Math.max(0, Math.round(v)));
  const chroma = (["cb", "cr"] as const).map((which) => shrunkChroma(raw, behind, which));
  const [cbAt, crAt] = chroma.map((plane) => enlargedRows(plane, width, height, behind)) as [
    (y: number) => Float32Array,
    (y: number) => Float32Array,
  ];
  const Y = new Uint16Array(width * height);
  const { kr, kb } = LUMA[behind.matrix];
  const f = rgbFactors(behind.matrix);
  const top = 2 ** raw.layout.bits - 1;
  const open = (v: number) => v > 0 && v < top;
  for (let y = 0; y < height; y++) {
    const [cb, cr] = [cbAt(y), crAt(y)];
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const [r, g, b] = [R[i] as number, G[i] as number, B[i] as number];
      let luma = (kr * r + (1 - kr - kb) * g + kb * b) / top;
      const whole = open(r) && open(g) && open(b);
      if (!whole) {
        const [u, v] = [(cb[x] as number) / 255, (cr[x] as number) / 255];
        if (open(g)) luma = g / top - f.gCb * u - f.gCr * v;
        else if (open(r)) luma = r / top - f.rCr * v;
        else if (open(b)) luma = b / top - f.bCb * u;
      }
      Y[i] = code(luma / scale.yScale);
    }
  }
  const planes = chroma.map((plane) => Uint16Array.from(plane, (c) => code(c / 255 / scale.cScale + scale.cOffset)));
  const frame: RawFrame = {
    width,
    height,
    layout: { kind: "ycbcr", subsampling: behind.down ? "420" : "422", bits, alpha: raw.layout.alpha },
    planes: [Y, ...planes, ...(raw.layout.alpha ? [raw.planes[3] as Uint16Array] : [])],
  };
  const siting: Siting =
    behind.across.weights.length === 1
      ? (tellSiting(frame) ?? "center")
      : behind.across.centred
        ? "center"
        : behind.down?.centred === false
          ? "topleft"
          : "left";
  return { raw: frame, reading: { transfer, matrix: behind.matrix, range: "full", siting } };
}
