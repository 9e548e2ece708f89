/**
 * Walks an OpenEXR file's header and line table within bounds before any decoder is let loose on it.
 * Source: "OpenEXR File Layout", openexr.com (magic number, version field, attributes, offset table, chunks).
 */

const MAGIC = 20000630;
const TILED = 0x200;
const DEEP_OR_PARTS = 0x800 | 0x1000;
/** Scanlines in a chunk by compression number: none, RLE, ZIPS, ZIP, PIZ, PXR24, B44, B44A, DWAA, DWAB. */
const LINES_PER_CHUNK = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
const LONGEST_NAME = 255;

export interface ExrHeader {
  readonly width: number;
  readonly height: number;
  /** x and y of red, green, blue and white, where the file states them. */
  readonly chromaticities: readonly number[] | undefined;
}

/** @throws RangeError that says what is wrong */
export function checkExr(file: Buffer): ExrHeader {
  if (file.length < 12 || file.readUInt32LE(0) !== MAGIC) throw new RangeError("It is no EXR file.");
  const version = file.readUInt32LE(4);
  if (version & DEEP_OR_PARTS) throw new RangeError("Deep and multi-part EXR are not read.");
  let at = 8;
  const name = (): string => {
    const end = file.indexOf(0, at);
    if (end < 0 || end - at > LONGEST_NAME) throw new RangeError("Its header is damaged.");
    const text = file.toString("latin1", at, end);
    at = end + 1;
    return text;
  };
  const values = new Map<string, Buffer>();
  for (let attribute = name(); attribute !== ""; attribute = name()) {
    name();
    if (at + 4 > file.length) throw new RangeError("Its header breaks off.");
    const size = file.readUInt32LE(at);
    at += 4;
    if (at + size > file.length) throw new RangeError("Its header breaks off.");
    values.set(attribute, file.subarray(at, at + size));
    at += size;
  }
  const window = values.get("dataWindow");
  const compression = values.get("compression")?.[0];
  if (!window || window.length < 16 || compression === undefined || !values.has("channels"))
    throw new RangeError("Its header is not complete.");
  const [x0, y0, x1, y1] = [0, 4, 8, 12].map((o) => window.readInt32LE(o)) as [number, number, number, number];
  const width = x1 - x0 + 1;
  const height = y1 - y0 + 1;
  if (width < 1 || height < 1) throw new RangeError("Its size is not positive.");
  const lines = LINES_PER_CHUNK[compression];
  if (!lines) throw new RangeError("Its compression is not known.");
  if (!(version & TILED))
    for (let i = 0; i < Math.ceil(height / lines); i++) {
      const entry = at + 8 * i;
      const chunk = entry + 8 <= file.length ? Number(file.readBigUInt64LE(entry)) : Number.POSITIVE_INFINITY;
      if (!(chunk + 8 <= file.length) || chunk + 8 + file.readUInt32LE(chunk + 4) > file.length)
        throw new RangeError("Its picture breaks off.");
    }
  const told = values.get("chromaticities");
  const chromaticities = told?.length === 32 ? Array.from({ length: 8 }, (_, k) => told.readFloatLE(4 * k)) : undefined;
  return { width, height, chromaticities };
}
