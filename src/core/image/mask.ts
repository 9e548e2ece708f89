import { pointwise } from "../kernels/pointwise";

/** 1 where `is` holds of a value, 0 elsewhere. A plain loop: `Uint8Array.from` takes about ten times as long. */
export function maskOf(values: ArrayLike<number>, is: (value: number, index: number) => boolean): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) if (is(values[i] as number, i)) mask[i] = 1;
  return mask;
}

/** 1 where a value is more than `level`, 0 elsewhere. Quicker than {@link maskOf}, which calls what it is given for each pixel. */
export function maskOver(values: Float32Array, level: number): Uint8Array<ArrayBuffer> {
  return between(values, level, Number.POSITIVE_INFINITY);
}

/** 1 where a value is less than `level`, 0 elsewhere. */
export function maskUnder(values: Float32Array, level: number): Uint8Array<ArrayBuffer> {
  return between(values, Number.NEGATIVE_INFINITY, level);
}

function between(values: Float32Array, low: number, high: number): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  pointwise("within", [low, high], [values], [mask]);
  return mask;
}

/** 1 where both masks of 1 and 0 are. */
export function bothOf(a: Uint8Array, b: Uint8Array): Uint8Array<ArrayBuffer> {
  const both = new Uint8Array(a);
  const [fours, others] = [foursOf(both), foursOf(b)];
  const whole = fours && others ? fours.length : 0;
  for (let k = 0; k < whole; k++) (fours as Uint32Array)[k]! &= (others as Uint32Array)[k] as number;
  for (let i = 4 * whole; i < both.length; i++) both[i]! &= b[i] as number;
  return both;
}

/** 1 where a mask of 1 and 0 is not. */
export function notOf(mask: Uint8Array): Uint8Array<ArrayBuffer> {
  const other = new Uint8Array(mask.length);
  const [fours, others] = [foursOf(mask), foursOf(other)];
  const whole = fours && others ? fours.length : 0;
  for (let k = 0; k < whole; k++) (others as Uint32Array)[k] = 0x01010101 ^ ((fours as Uint32Array)[k] as number);
  for (let i = 4 * whole; i < mask.length; i++) other[i] = 1 - (mask[i] as number);
  return other;
}

/** A mask four pixels at a time, as far as they go; null where it does not lie in memory so. */
export function foursOf(mask: Uint8Array): Uint32Array | null {
  return mask.byteOffset % 4 === 0 ? new Uint32Array(mask.buffer, mask.byteOffset, mask.length >> 2) : null;
}
