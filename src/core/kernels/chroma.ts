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
  readonly rounds: number;
  /** Difference that does not count, range under which there is no edge, in codes; share of the range to go beyond it. */
  readonly grain: number;
  readonly even: number;
  readonly spare: number;
}

/** Changes `fine`, of `width` × `height`, in place; `recorded` is of `cw` × `ch`. */
export function backToRecorded(
  fine: Float32Array,
  width: number,
  height: number,
  recorded: Float32Array,
  cw: number,
  ch: number,
  { rows, cositedAcross, cositedDown, rounds, grain, even, spare }: BackToRecorded,
): void {
  const { take, end } = places();
  const fineAt = take(fine.length);
  const [recordedAt, least, most, missing] = [0, 1, 2, 3].map(() => take(cw * ch)) as [number, number, number, number];
  const room = take(4 * (width + 32));
  const buffer = memoryOf(end());
  const plane = new Float32Array(buffer, fineAt, fine.length);
  plane.set(fine);
  new Float32Array(buffer, recordedAt, recorded.length).set(recorded);
  const numbers = [rows, Number(cositedAcross), Number(cositedDown), rounds, grain, even, spare];
  kernels().backToRecorded(fineAt, recordedAt, least, most, missing, room, width, height, cw, ch, ...numbers);
  fine.set(plane);
}
