/** 1 where `is` holds of a value, 0 elsewhere. A plain loop: `Uint8Array.from` takes about ten times as long. */
export function maskOf(values: ArrayLike<number>, is: (value: number, index: number) => boolean): Uint8Array<ArrayBuffer> {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) if (is(values[i] as number, i)) mask[i] = 1;
  return mask;
}
