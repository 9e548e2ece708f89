/**
 * Keeps used channel buffers for the next frame, so that steady work allocates nothing.
 * A buffer that was given back must not be touched by its former owner.
 */
export class PlanePool {
  private readonly free = new Map<number, Float32Array[]>();
  private heldBytes = 0;
  /** Buffers allocated because none was free; flat in steady state. */
  allocated = 0;

  /** @param maxBytes most bytes kept while unused; what exceeds it is left to the garbage collector. */
  constructor(private readonly maxBytes = 512 * 1024 * 1024) {}

  /** A buffer of exactly `length` floats; its contents are whatever they were. */
  take(length: number): Float32Array {
    const list = this.free.get(length);
    const buffer = list?.pop();
    if (buffer) {
      this.heldBytes -= buffer.byteLength;
      return buffer;
    }
    this.allocated++;
    return new Float32Array(length);
  }

  give(...buffers: (Float32Array | undefined)[]): void {
    for (const buffer of buffers) {
      if (!buffer || buffer.byteLength + this.heldBytes > this.maxBytes) continue;
      const list = this.free.get(buffer.length);
      if (list) list.push(buffer);
      else this.free.set(buffer.length, [buffer]);
      this.heldBytes += buffer.byteLength;
    }
  }
}
