import { type ChangingKernel, kernels, memoryOf, type PlaneKernel, places } from "./module";

/**
 * Runs a step over whole planes (kernels/planes.ts, kernels/distance.ts) from one plane to another.
 * @param room bytes that it needs to work in, or what lies at their beginning
 * @param numbers what it is told besides
 */
export function onPlane(
  kernel: PlaneKernel,
  source: Float32Array | Uint8Array,
  out: Float32Array,
  room: number | Float32Array,
  ...numbers: readonly number[]
): Float32Array {
  return run(kernel, source, out, false, room, numbers);
}

/** Runs a step of kernels/known.ts that changes `plane` in place, and is told another besides. */
export function changePlane(
  kernel: ChangingKernel,
  other: Float32Array | Uint8Array,
  plane: Float32Array,
  room: number,
  ...numbers: readonly number[]
): void {
  run(kernel, other, plane, true, room, numbers);
}

function run(
  kernel: PlaneKernel | ChangingKernel,
  source: Float32Array | Uint8Array,
  out: Float32Array,
  changed: boolean,
  room: number | Float32Array,
  numbers: readonly number[],
): Float32Array {
  const { take, end } = places();
  const from = take(source.byteLength / 4);
  const to = take(out.length);
  const work = take(typeof room === "number" ? room / 4 : room.length);
  const buffer = memoryOf(end());
  if (source instanceof Uint8Array) new Uint8Array(buffer, from, source.length).set(source);
  else new Float32Array(buffer, from, source.length).set(source);
  if (changed) new Float32Array(buffer, to, out.length).set(out);
  if (typeof room !== "number") new Float32Array(buffer, work, room.length).set(room);
  kernels()[kernel](from, to, work, ...numbers);
  out.set(new Float32Array(buffer, to, out.length));
  return out;
}
