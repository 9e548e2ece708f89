/** What several kernels share; nothing of it is called from outside. */

/** Four whole codes of 16 bits as floats. */
export function codes(at: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(at)));
}

/** Every other of eight floats. */
export function evens(at: usize): v128 {
  return v128.shuffle<f32>(v128.load(at), v128.load(at + 16), 0, 2, 4, 6);
}

export function odds(at: usize): v128 {
  return v128.shuffle<f32>(v128.load(at), v128.load(at + 16), 1, 3, 5, 7);
}

/** A row's first and last sample repeated at its ends. */
export function repeatEnds(row: usize, width: i32): void {
  const end = row + ((<usize>width) << 2);
  store<f32>(row - 4, load<f32>(row));
  store<f32>(end, load<f32>(end - 4));
}

/** Least (or most) of a sample and its neighbours in a row. */
export function leastOf3(row: usize): v128 {
  return f32x4.pmin(f32x4.pmin(v128.load(row - 4), v128.load(row + 4)), v128.load(row));
}

export function mostOf3(row: usize): v128 {
  return f32x4.pmax(f32x4.pmax(v128.load(row - 4), v128.load(row + 4)), v128.load(row));
}

/** Least and most of three rows, with their ends repeated. */
export function rangeOfThree(above: usize, here: usize, below: usize, low: usize, high: usize, cw: i32): void {
  for (let at: usize = 0; at < (<usize>cw) << 2; at += 16) {
    const a = v128.load(above + at);
    const b = v128.load(here + at);
    const c = v128.load(below + at);
    v128.store(low + at, f32x4.pmin(f32x4.pmin(a, c), b));
    v128.store(high + at, f32x4.pmax(f32x4.pmax(a, c), b));
  }
  repeatEnds(low, cw);
  repeatEnds(high, cw);
}

/** The k-th float. */
export function single(at: usize, k: i32): f32 {
  return load<f32>(at + ((<usize>k) << 2));
}

/** The k-th double. */
export function double(at: usize, k: i32): f64 {
  return load<f64>(at + ((<usize>k) << 3));
}
