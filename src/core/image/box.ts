import { type Allocate, fresh } from "./plane";

/**
 * Mean over the square of side 2·radius + 1 around each pixel, only over what lies in the frame. Running sums, down the
 * columns and then along each row: the cost does not grow with the radius.
 */
export function boxMean(source: Float32Array, width: number, height: number, radius: number, allocate: Allocate = fresh): Float32Array {
  const r = Math.min(radius, Math.max(width, height) - 1);
  const out = allocate(source.length);
  if (r < 1) {
    out.set(source);
    return out;
  }
  const columns = new Float64Array(width);
  const first = Math.min(r, height - 1);
  for (let y = 0; y <= first; y++) addRow(columns, source, y * width, 1);
  for (let y = 0; y < height; y++) {
    const rows = Math.min(height - 1, y + r) - Math.max(0, y - r) + 1;
    alongRow(columns, out, y * width, r, rows);
    if (y + r + 1 < height) addRow(columns, source, (y + r + 1) * width, 1);
    if (y - r >= 0) addRow(columns, source, (y - r) * width, -1);
  }
  return out;
}

function addRow(columns: Float64Array, source: Float32Array, at: number, sign: number): void {
  for (let x = 0; x < columns.length; x++) columns[x] = (columns[x] as number) + sign * (source[at + x] as number);
}

/** One row of means from sums down its columns over `rows` rows. */
function alongRow(columns: Float64Array, out: Float32Array, at: number, r: number, rows: number): void {
  const width = columns.length;
  let sum = 0;
  for (let x = 0; x < Math.min(r, width); x++) sum += columns[x] as number;
  let x = 0;
  for (; x <= r && x < width; x++) {
    if (x + r < width) sum += columns[x + r] as number;
    out[at + x] = sum / (rows * (Math.min(width - 1, x + r) + 1));
  }
  // In the middle of the row every square is whole.
  const k = 1 / (rows * (2 * r + 1));
  for (; x + r < width; x++) {
    sum += (columns[x + r] as number) - (columns[x - r - 1] as number);
    out[at + x] = sum * k;
  }
  for (; x < width; x++) {
    sum -= columns[x - r - 1] as number;
    out[at + x] = sum / (rows * (width - x + r));
  }
}
