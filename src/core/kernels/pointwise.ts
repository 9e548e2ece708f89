import { type BlockKernel, kernels, memoryOf } from "./module";

/** A plane, or one value for all of it. */
export type Operand = Float32Array | number;

/** Bytes before the first slot, floats and bytes of a slot, and the first slot that is written: as in kernels/pointwise.ts. */
const SLOTS = 1024;
const BLOCK = 4096;
const STRIDE = 4 * BLOCK;
const FIRST_OUT = 12;

interface Slots {
  readonly buffer: ArrayBuffer;
  readonly parameters: Float32Array;
  readonly slots: readonly Float32Array[];
  /** The same memory, for results that are masks. */
  readonly masks: readonly Uint8Array[];
}

let held: Slots | undefined;
/** Views on the slots; new ones when the memory has grown. */
function slotViews(): Slots {
  const buffer = memoryOf(0);
  if (held?.buffer !== buffer)
    held = {
      buffer,
      parameters: new Float32Array(buffer, 0, SLOTS / 4),
      slots: Array.from({ length: FIRST_OUT + 4 }, (_, k) => new Float32Array(buffer, SLOTS + k * STRIDE, BLOCK)),
      masks: Array.from({ length: FIRST_OUT + 4 }, (_, k) => new Uint8Array(buffer, SLOTS + k * STRIDE, BLOCK)),
    };
  return held;
}

/**
 * Runs a step of kernels/pointwise.ts over planes of one size, four pixels at a time, in blocks that stay in the processor's
 * cache. Arithmetic is in single precision.
 * @param inputs in the kernel's order; a number stands for a plane that holds it everywhere
 * @param outputs written whole; may be among the inputs; bytes where the kernel tells 1 or 0
 * @throws RangeError when sizes differ
 */
export function pointwise(
  kernel: BlockKernel,
  parameters: readonly number[],
  inputs: readonly Operand[],
  outputs: readonly (Float32Array | Uint8Array | null)[],
): void {
  const { slots, masks, parameters: told } = slotViews();
  const run = kernels()[kernel];
  const n = outputs.find((o) => o !== null)?.length ?? 0;
  // What a caller forgets is nothing, and never what another call left.
  told.fill(Number.NaN);
  told.set(parameters);
  const planes: { slot: Float32Array; plane: Float32Array }[] = [];
  const results: { slot: Float32Array | Uint8Array; plane: Float32Array | Uint8Array }[] = [];
  inputs.forEach((operand, k) => {
    const slot = slots[k] as Float32Array;
    if (typeof operand === "number") slot.fill(operand);
    else planes.push({ slot, plane: operand });
  });
  outputs.forEach((plane, k) => {
    const views = plane instanceof Uint8Array ? masks : slots;
    if (plane) results.push({ slot: views[FIRST_OUT + k] as Float32Array | Uint8Array, plane });
  });
  for (const { plane } of [...planes, ...results])
    if (plane.length !== n) throw new RangeError(`A plane holds ${plane.length} pixels, another ${n}.`);
  for (let from = 0; from < n; from += BLOCK) {
    const to = Math.min(n, from + BLOCK);
    for (const { slot, plane } of planes) slot.set(plane.subarray(from, to));
    run(4 * (to - from));
    for (const { slot, plane } of results) plane.set(to - from === BLOCK ? slot : slot.subarray(0, to - from), from);
  }
}
