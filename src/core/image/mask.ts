/** 1 where `is` holds of a value, 0 elsewhere. A plain loop: `Uint8Array.from` takes about ten times as long. */
export function maskOf(values: ArrayLike<number>, is: (value: number, index: number) => boolean): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) if (is(values[i] as number, i)) mask[i] = 1;
  return mask;
}

/** 1 where a value is more than `level`, 0 elsewhere. Quicker than {@link maskOf}, which calls what it is given for each pixel. */
export function maskOver(values: Float32Array, level: number): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) mask[i] = (values[i] as number) > level ? 1 : 0;
  return mask;
}

/** 1 where a value is less than `level`, 0 elsewhere. */
export function maskUnder(values: Float32Array, level: number): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) mask[i] = (values[i] as number) < level ? 1 : 0;
  return mask;
}
