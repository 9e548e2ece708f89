import { createHash } from "node:crypto";
import { constants, copyFileSync, createReadStream, createWriteStream, existsSync, mkdirSync, renameSync, rmSync, statSync } from "node:fs";
import path from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { desc, eq } from "drizzle-orm";
import { type Media, type MediaInfo, mediaInfoSchema } from "../../core/documents/media-info";
import { database } from "../db/open";
import { media } from "../db/schema";
import { Complaint } from "../files/complaint";
import { dataFolder } from "../files/folders";
import { partsOf } from "../files/parts";
import { FrameReader } from "./frames";
import { probeFile } from "./probe";
import { isPattern, patternFile, patternNumbers, probeSequence } from "./sequences";

/** Most bytes of one upload. */
export const MAX_UPLOAD = 64 * 1024 ** 3;

/** A file name without folders or control characters. */
export function cleanName(name: string): string {
  const base = path
    .basename(name.replaceAll("\\", "/"))
    .replace(/[\u0000-\u001f\u007f<>:"|?*]/g, "")
    .trim();
  return base.slice(0, 180) || "untitled";
}

const extensionOf = (name: string) => /\.[a-z0-9]{1,8}$/i.exec(name)?.[0].toLowerCase() ?? "";

async function hashFile(file: string, hash = createHash("sha256")): Promise<string> {
  await pipeline(createReadStream(file), async (source) => {
    for await (const chunk of source) hash.update(chunk as Buffer);
  });
  return hash.digest("hex");
}

function record(id: string, name: string, bytes: number, file: string, info: MediaInfo): Media {
  database().insert(media).values({ id, name, bytes, file, info, createdAt: Date.now() }).onConflictDoNothing().run();
  return { id, name, bytes, info };
}

export function findMedia(id: string): (Media & { file: string }) | undefined {
  const row = database().select().from(media).where(eq(media.id, id)).get();
  return (
    row && {
      id: row.id,
      name: row.name,
      bytes: row.bytes,
      info: mediaInfoSchema.parse(row.info),
      file: path.join(dataFolder("media"), row.file),
    }
  );
}

export function getMedia(id: string): Media & { file: string } {
  const found = findMedia(id);
  if (!found) throw new Complaint(404, "There is no such plate.", "Bring it in again.");
  return found;
}

/** A medium as threads read it. */
export function footageOf(id: string): { file: string; info: MediaInfo } {
  const { file, info } = getMedia(id);
  return { file, info };
}

/** Puts a finished file under its content hash. `take` moves or copies it there. */
async function settle(source: string, name: string, id: string, take: (target: string) => void): Promise<Media> {
  const known = findMedia(id);
  if (known && existsSync(known.file)) return { id, name: known.name, bytes: known.bytes, info: known.info };
  const info = await probeFile(source);
  const file = id + extensionOf(name);
  const { size } = statSync(source);
  take(path.join(dataFolder("media"), file));
  return record(id, name, size, file, info);
}

/** Takes an upload in, hashing while it arrives. Nothing is kept of one that breaks off or cannot be read. */
export async function takeUpload(body: ReadableStream<Uint8Array> | null, rawName: string): Promise<Media> {
  if (!body) throw new Complaint(400, "The upload holds no file.", "Choose a file and try again.");
  const name = cleanName(rawName);
  const part = path.join(dataFolder("incoming"), `${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}${extensionOf(name)}`);
  const hash = createHash("sha256");
  let bytes = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      hash.update(chunk);
      done(
        bytes > MAX_UPLOAD ? new Complaint(413, "The file is larger than 64 GB.", "Cut the shot to the frames that are used.") : null,
        chunk,
      );
    },
  });
  try {
    await pipeline(partsOf(body), meter, createWriteStream(part));
    return await settle(part, name, hash.digest("hex"), (target) => renameSync(part, target));
  } finally {
    rmSync(part, { force: true });
  }
}

/** Copies a file or a numbered sequence in from a path that was already checked. */
export async function takeFile(file: string, name = cleanName(file)): Promise<Media> {
  if (isPattern(file)) return takeSequence(file);
  if (!statSync(file).isFile()) throw new Complaint(422, "That path is a folder.", "Name a file, or a sequence like name.%04d.png.");
  const id = await hashFile(file);
  return settle(file, cleanName(name), id, (target) => {
    copyFileSync(file, `${target}.part`, constants.COPYFILE_FICLONE);
    renameSync(`${target}.part`, target);
  });
}

async function takeSequence(pattern: string): Promise<Media> {
  const info = await probeSequence(pattern);
  const numbers = patternNumbers(pattern);
  const hash = createHash("sha256");
  let bytes = 0;
  for (const n of numbers) {
    hash.update(await hashFile(patternFile(pattern, n)));
    bytes += statSync(patternFile(pattern, n)).size;
  }
  const id = hash.digest("hex");
  const known = findMedia(id);
  if (known) return known;
  const folder = path.join(dataFolder("media"), id);
  rmSync(`${folder}.part`, { recursive: true, force: true });
  mkdirSync(`${folder}.part`, { recursive: true });
  for (const n of numbers)
    copyFileSync(patternFile(pattern, n), patternFile(path.join(`${folder}.part`, path.basename(pattern)), n), constants.COPYFILE_FICLONE);
  rmSync(folder, { recursive: true, force: true });
  renameSync(`${folder}.part`, folder);
  return record(id, cleanName(pattern), bytes, path.join(id, path.basename(pattern)), info);
}

/** Joins stills that were uploaded one by one into a sequence, in the order of the numbers in their names. */
export async function joinSequence(ids: readonly string[]): Promise<Media> {
  const parts = ids.map(getMedia);
  const numbered = parts.map((m) => ({ m, number: Number(/(\d+)\.[a-z0-9]+$/i.exec(m.name)?.[1] ?? Number.NaN) }));
  if (numbered.some((p) => !Number.isFinite(p.number) || p.m.info.kind !== "still"))
    throw new Complaint(422, "Only stills with a number before the extension make a sequence.", "Name them like name.0001.png.");
  numbered.sort((a, b) => a.number - b.number);
  const first = numbered[0];
  if (!first || numbered.length < 2) throw new Complaint(422, "A sequence needs two stills or more.", "Choose all of its files.");
  const extension = extensionOf(first.m.name);
  const stem = first.m.name.replace(/\d+\.[a-z0-9]+$/i, "");
  const pattern = path.join(dataFolder("incoming"), `joining-${process.pid}-${Date.now()}`, `${stem}%04d${extension}`);
  const folder = path.dirname(pattern);
  mkdirSync(folder, { recursive: true });
  try {
    for (const { m, number } of numbered) copyFileSync(m.file, patternFile(pattern, number), constants.COPYFILE_FICLONE);
    return await takeSequence(pattern);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const readers = new Map<string, FrameReader>();
/** Plates kept open at once; each keeps its own share of decoded frames. */
const OPEN_PLATES = 4;

/** The reader of a plate's frames. */
export function readerOf(id: string): FrameReader {
  let reader = readers.get(id);
  if (reader) readers.delete(id);
  else {
    const found = getMedia(id);
    reader = new FrameReader(found.file, found.info);
  }
  readers.set(id, reader);
  for (const old of readers.keys()) {
    if (readers.size <= OPEN_PLATES) break;
    readers.delete(old);
  }
  return reader;
}

/** Everything that was brought in, newest first. */
export const listMedia = (): Media[] =>
  database()
    .select()
    .from(media)
    .orderBy(desc(media.createdAt))
    .all()
    .map((row) => ({ id: row.id, name: row.name, bytes: row.bytes, info: mediaInfoSchema.parse(row.info) }));
