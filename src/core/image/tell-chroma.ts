import type { Matrix } from "../color/ycbcr";
import { bitsOf, chromaLines, fit, type Line, linesFor, type Room, roomFor } from "./chroma-lines";
import { ENLARGINGS, type Enlarging, enlargedLine } from "./enlarged-line";
import type { RawFrame } from "./raw-frame";

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
export interface Behind {
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

/** Looks at a frame of RGB; null when its chroma is as fine as the picture. */
export function tellBehind(raw: RawFrame): Behind | null {
  const across = tell(raw, "across");
  if (!across) return null;
  return { matrix: tellMatrix(raw), across, down: tell(raw, "down") };
}
