import { kernels, memoryOf, places } from "./module";
import { onRows } from "./rows";

/** Which samples of chroma are of one colour, and where it has an edge. */
export interface Sides {
  /** How far the luma that a sample stands for is even, 0…1. */
  readonly pure: Float32Array;
  /** 1 where the 3 × 3 around a sample has an edge in either plane. */
  readonly edge: Float32Array;
}

/**
 * @param Y luma's codes, `width` × `height`
 * @param planes both of chroma, `cw` × `ch`
 * @param rows luma rows for one of chroma
 * @param down luma rows, from the sample's own, that it stands for
 * @param cositedAcross whether it stands for columns −1, 0, 1; 0, 1 else
 * @param mixed spread of luma that halves and more what a sample counts, in codes
 * @param even range of chroma under which there is no edge, in codes
 */
export function sidesOf(
  Y: Uint16Array,
  width: number,
  height: number,
  planes: readonly [Float32Array, Float32Array],
  cw: number,
  ch: number,
  { rows, down, cositedAcross, mixed, even }: { rows: 1 | 2; down: readonly number[]; cositedAcross: boolean; mixed: number; even: number },
): Sides {
  const { take, end } = places();
  const lines = [0, 1, 2].map(() => take(width / 2));
  const [low, high] = [take(width + 8) + 16, take(width + 8) + 16];
  const [first, second, edge, pure] = [0, 1, 2, 3].map(() => take(cw * ch)) as [number, number, number, number];
  const stride = (cw + 32) * 4;
  const room = take(4 * (cw + 32));
  const buffer = memoryOf(end());
  const plane = (at: number) => new Float32Array(buffer, at, cw * ch);
  plane(first).set(planes[0]);
  plane(second).set(planes[1]);
  const views = lines.map((at) => new Uint16Array(buffer, at, width));
  for (let y = 0; y < ch; y++) {
    views.forEach((view, k) => {
      const from = Math.min(height - 1, Math.max(0, rows * y + (down[Math.min(k, down.length - 1)] as number))) * width;
      view.set(Y.subarray(from, from + width));
    });
    onRows("oneColour", ...lines, low, high, pure + 4 * y * cw, width, cw, Number(cositedAcross), 1 / (2 * mixed));
  }
  onRows("edgesOf", first, second, edge, room, stride, cw, ch, even);
  return { pure: plane(pure).slice(), edge: plane(edge).slice() };
}

/** How chroma was recorded from luma-sized samples, and how what was rebuilt is brought back to it. */
export interface BackToRecorded {
  /** Luma rows for one of chroma. */
  readonly rows: 1 | 2;
  /** Samples taken 1-2-1 around an even place; 1-1 between two places else. */
  readonly cositedAcross: boolean;
  readonly cositedDown: boolean;
  /** Difference that does not count, range under which there is no edge, in codes; share of the range to go beyond it. */
  readonly grain: number;
  readonly even: number;
  readonly spare: number;
  /** Rounds back; after them rounds in which edges are first sharpened. */
  readonly rounds: number;
  readonly sharpenings: number;
  /** Codes by which both sides of an edge differ at the least; codes of luma between them that halve the sharpening. */
  readonly gap: number;
  readonly dark: number;
  /** Share of the range of 5 × 5 samples that 3 × 3 have: from which on an edge is sharp, and at which wholly. */
  readonly soft: number;
  readonly sharp: number;
  /** How far a pixel goes to the nearer side in a round, 0…1; the part of it under which it is left alone. */
  readonly pull: number;
  readonly little: number;
}

/**
 * Changes both planes of `fine`, of `width` × `height`, in place.
 * @param recorded both of chroma, `cw` × `ch`; `low` luma at their places, `edge` not 0 where they have an edge
 */
export function backToRecorded(
  fine: readonly [Float32Array, Float32Array],
  width: number,
  height: number,
  recorded: readonly [Float32Array, Float32Array],
  low: Float32Array,
  edge: Float32Array,
  cw: number,
  ch: number,
  told: BackToRecorded,
): void {
  const { take, end } = places();
  const n = cw * ch;
  const fineAt = fine.map((f) => take(f.length)) as [number, number];
  const recordedAt = recorded.map(() => take(n)) as [number, number];
  const limits = recorded.map(() => ({ least: take(n), most: take(n), spans: take(2 * ch), missing: take(n) }));
  const [lowAt, edgeAt] = [take(n), take(n)];
  const room = take(4 * (width + 32));
  const cells = take(8 * edge.reduce((sum, e) => sum + e, 0));
  const buffer = memoryOf(end());
  const plane = (at: number, length: number) => new Float32Array(buffer, at, length);
  fine.forEach((f, k) => {
    plane(fineAt[k] as number, f.length).set(f);
    plane(recordedAt[k] as number, n).set(recorded[k] as Float32Array);
  });
  plane(lowAt, n).set(low);
  plane(edgeAt, n).set(edge);
  const k = kernels();
  limits.forEach(({ least, most, spans, missing }, i) => {
    plane(missing, n).fill(0);
    k.limitsAround(recordedAt[i] as number, least, most, spans, room, 4 * (cw + 32), cw, ch, told.even, told.spare);
  });
  const round = () =>
    limits.forEach(({ least, most, spans, missing }, i) => {
      const at = [fineAt[i] as number, recordedAt[i] as number, least, most, spans, missing, room];
      k.backToRecorded(...at, width, height, cw, ch, told.rows, Number(told.cositedAcross), Number(told.cositedDown), told.grain);
    });
  for (let r = 0; r < told.rounds; r++) round();
  const numbers = [cw, ch, told.gap, told.dark, told.soft, told.sharp, told.pull, told.little];
  const count = k.sidesOfEdges(...recordedAt, lowAt, edgeAt, cells, ...numbers);
  // Where luma tells the edge more rounds would only lean on the samples' own grain.
  for (const { least, most, missing } of limits) {
    k.limitsOnlyAt(cells, count, missing, least, most, cw, ch);
    plane(missing, n).fill(0);
  }
  for (let r = 0; r < told.sharpenings; r++) {
    k.towardsSides(...fineAt, cells, count, width, height, cw, told.rows);
    round();
  }
  fine.forEach((f, i) => {
    f.set(plane(fineAt[i] as number, f.length));
  });
}

/** How a row of R'G'B' codes is read as luma and chroma. */
export interface OfRgb {
  /** Luma's share of red and of blue. */
  readonly kr: number;
  readonly kb: number;
  /** The codes' last. */
  readonly top: number;
  /** Luma's codes for one of theirs, and its last. */
  readonly scale: number;
  readonly last: number;
  /** Of B' − Y' and R' − Y', each in their codes. */
  readonly cbScale: number;
  readonly crScale: number;
}

/**
 * Reads a row of R'G'B' codes as luma and chroma.
 * @param luma in whole codes, where it is asked for
 * @param clipped not 0 where a channel is at the bottom or top of its range
 * @returns whether any is clipped
 */
export function lumaAndChroma(
  rgb: readonly [Uint16Array, Uint16Array, Uint16Array],
  out: { readonly luma?: Uint16Array; readonly cb: Float32Array; readonly cr: Float32Array; readonly clipped: Int32Array },
  { kr, kb, top, scale, last, cbScale, crScale }: OfRgb,
): boolean {
  const width = rgb[0].length;
  const { take, end } = places();
  const codesAt = rgb.map(() => take(width / 2)) as [number, number, number];
  const lumaAt = take(width / 2);
  const rowsAt = [0, 1, 2].map(() => take(width)) as [number, number, number];
  const buffer = memoryOf(end());
  rgb.forEach((codes, k) => {
    new Uint16Array(buffer, codesAt[k], width).set(codes);
  });
  const any = kernels().lumaAndChroma(...codesAt, lumaAt, ...rowsAt, width, kr, kb, top, scale, last, cbScale, crScale);
  out.luma?.set(new Uint16Array(buffer, lumaAt, width));
  out.cb.set(new Float32Array(buffer, rowsAt[0], width));
  out.cr.set(new Float32Array(buffer, rowsAt[1], width));
  if (any) out.clipped.set(new Int32Array(buffer, rowsAt[2], width));
  else out.clipped.fill(0);
  return any !== 0;
}
