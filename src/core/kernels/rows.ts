import { kernels, memoryOf, places, type RowKernel } from "./module";

/** Where a frame is decoded, row by row, in the kernels' memory; valid until another step uses the kernels on planes. */
export interface RowRoom {
  /** A row of luma's codes. */
  readonly Y: Uint16Array;
  readonly YAt: number;
  /** Rows at luma's width, and where they lie. */
  readonly rows: readonly Float32Array[];
  readonly rowsAt: readonly number[];
  /** Where the planes of chroma's size lie, and a row to blend two of theirs in. */
  readonly planesAt: readonly number[];
  readonly blendAt: number;
  /** Eight numbers for `decodeRow`. */
  readonly told: Float32Array;
  readonly toldAt: number;
  readonly tableAt: number;
}

/**
 * Makes room for so many rows of `width`, with planes of chroma's size and the curve's table laid into it.
 * @param cw width of the planes
 */
export function rowRoom(width: number, rows: number, cw: number, planes: readonly Float32Array[], table: Float32Array | null): RowRoom {
  const { take, end } = places();
  const YAt = take(width / 2);
  const rowsAt = Array.from({ length: rows }, () => take(width + 1));
  const blendAt = take(cw + 4) + 16;
  const toldAt = take(8);
  const tableAt = take(table?.length ?? 0);
  const planesAt = planes.map((p) => take(p.length));
  const buffer = memoryOf(end());
  const floats = (at: number, n: number) => new Float32Array(buffer, at, n);
  planes.forEach((p, k) => {
    floats(planesAt[k] as number, p.length).set(p);
  });
  if (table) floats(tableAt, table.length).set(table);
  return {
    Y: new Uint16Array(buffer, YAt, width),
    YAt,
    rows: rowsAt.map((at) => floats(at, width)),
    rowsAt,
    planesAt,
    blendAt,
    told: floats(toldAt, 8),
    toldAt,
    tableAt,
  };
}

/** Runs a step of kernels/rows.ts on rows of a room. */
export const onRows = (kernel: RowKernel, ...numbers: readonly number[]): void => kernels()[kernel](...numbers);
