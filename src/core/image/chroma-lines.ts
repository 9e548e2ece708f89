import { codeScale, LUMA, type Matrix } from "../color/ycbcr";
import { lumaAndChroma } from "../kernels/chroma";
import { type Enlarging, enlargedLine, PAD, samplesOf } from "./enlarged-line";
import type { RawFrame } from "./raw-frame";

/** Rounds in which chroma of clipped pixels is found from the samples beside them. */
const UNCLIPPING = 3;

/** A line with its clipped pixels, of which nothing is known, told by the samples of the others. */
export interface Line {
  readonly values: Float32Array;
  /** Not 0 where a channel of the pixel is at the bottom or top of its range. */
  readonly clipped: Int32Array;
  readonly anyClipped: boolean;
}

/** Where a line is told: the samples it was enlarged from, with {@link PAD} beyond either end, and what they enlarge to. */
export interface Room {
  readonly samples: Float32Array;
  readonly full: Float32Array;
}

/** Room for lines of so many pixels. */
export const roomFor = (length: number): Room => ({
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
export function fit(line: Line, { samples, full }: Room, how: Enlarging): void {
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
export interface Lines {
  readonly rgb: readonly [Uint16Array, Uint16Array, Uint16Array];
  readonly cb: Float32Array;
  readonly cr: Float32Array;
  readonly clipped: Int32Array;
}

export const linesFor = (length: number): Lines => ({
  rgb: [new Uint16Array(length), new Uint16Array(length), new Uint16Array(length)],
  cb: new Float32Array(length),
  cr: new Float32Array(length),
  clipped: new Int32Array(length),
});

/** Bits of the frame that is told: luma of 8-bit RGB falls between 8-bit codes. */
const BITS = 12;
export const bitsOf = (raw: RawFrame): number => Math.max(BITS, ownBits(raw));
/** Bits of the frame itself; 0 where it is not RGB. */
export const ownBits = ({ layout }: RawFrame): number => (layout.kind === "rgb" ? layout.bits : 0);

/** Reads one line of an RGB frame as Cb and Cr, in codes of 8 bits around 0, and its luma, in codes of {@link bitsOf}, where it is asked for. */
export function chromaLines(
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
