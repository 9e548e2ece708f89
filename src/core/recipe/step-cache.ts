import { channels, type Picture, type Plane } from "../image/plane";
import { PlanePool } from "../image/pool";

interface Entry {
  value: unknown;
  owned: readonly Float32Array[];
  bytes: number;
  /** How many frames had been left when it was last used. */
  frame: number;
}

/**
 * Results of steps by key, least recently used first to go; memory of what goes returns to the pool.
 * Results handed out stay valid until {@link trim} is next called, which evaluate does when it starts.
 */
export class StepCache {
  readonly pool: PlanePool;
  private readonly entries = new Map<string, Entry>();
  private bytes = 0;
  private frame = 0;
  /** Steps computed since the start, by name: for tests and for showing what a change cost. */
  readonly computed: Record<string, number> = {};

  /**
   * @param lasting names of steps whose results other frames need too
   * @param unusedBytes most that is kept of memory that no step needs for now
   * @param frugal whether a step is let go as soon as no other of its frame looks at it
   */
  constructor(
    private readonly maxBytes = 768 * 1024 * 1024,
    private readonly lasting: ReadonlySet<string> = new Set(),
    unusedBytes = 512 * 1024 * 1024,
    private readonly frugal = false,
  ) {
    this.pool = new PlanePool(unusedBytes);
  }

  /**
   * The value for `name` and `key`, computed when it is not at hand.
   * @param compute returns the value and the buffers that belong to it alone
   */
  step<T>(name: string, key: string, compute: () => { value: T; owned: readonly Float32Array[] }): T {
    const full = `${name}:${key}`;
    const found = this.entries.get(full);
    if (found) {
      this.entries.delete(full);
      this.entries.set(full, found);
      found.frame = this.frame;
      return found.value as T;
    }
    this.computed[name] = (this.computed[name] ?? 0) + 1;
    const { value, owned } = compute();
    const bytes = owned.reduce((n, b) => n + b.byteLength, 0);
    this.entries.set(full, { value, owned, bytes, frame: this.frame });
    this.bytes += bytes;
    return value;
  }

  /** A step that makes one plane. */
  plane(name: string, key: string, make: () => Plane): Plane {
    return this.step(name, key, () => {
      const value = make();
      return { value, owned: [value.data] };
    });
  }

  /** A step that makes one picture, all of its channels its own. */
  picture(name: string, key: string, make: () => Picture): Picture {
    return this.step(name, key, () => {
      const value = make();
      return { value, owned: channels(value) };
    });
  }

  /** No further step of the frame looks at those of these names: where memory is short they are let go, but for what lasts. */
  spent(...names: string[]): void {
    if (!this.frugal) return;
    for (const [key, entry] of this.entries) {
      const name = key.slice(0, key.indexOf(":"));
      if (names.includes(name) && !this.lasting.has(name)) this.drop(key, entry);
    }
  }

  /** Lets go of what exceeds the bound. */
  trim(): void {
    for (const [key, entry] of this.entries) {
      if (this.bytes <= this.maxBytes) break;
      this.drop(key, entry);
    }
  }

  /** Lets go of all that the next frame does not need: what lasts stays, when it was used for the one that is left. */
  leaveFrame(): void {
    // The last first: they make up the result, whose memory is best used again, as it is in hand still.
    for (const [key, entry] of [...this.entries].reverse())
      if (entry.frame < this.frame || !this.lasting.has(key.slice(0, key.indexOf(":")))) this.drop(key, entry);
    this.frame++;
  }

  private drop(key: string, entry: Entry): void {
    this.entries.delete(key);
    this.bytes -= entry.bytes;
    this.pool.give(...entry.owned);
  }
}
