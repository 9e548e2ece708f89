import { spawn, spawnSync } from "node:child_process";
import { accessSync, constants, existsSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { Complaint } from "../files/complaint";

const require = createRequire(import.meta.url);
const found = new Map<string, string>();

/** `ffmpeg` or `ffprobe`: beside FFMPEG_PATH, then on PATH, then the packaged fallback. */
export function executable(name: "ffmpeg" | "ffprobe"): string {
  const known = found.get(name);
  if (known) return known;
  const candidates: (() => string | undefined)[] = [
    () => process.env.FFMPEG_PATH && path.join(path.dirname(process.env.FFMPEG_PATH), name),
    ...(process.env.PATH ?? "").split(path.delimiter).map((folder) => () => path.join(folder, name)),
    () => (require(`@${name}-installer/${name}`) as { path: string }).path,
  ];
  for (const candidate of candidates) {
    try {
      const file = candidate();
      if (!file || !existsSync(file)) continue;
      accessSync(file, constants.X_OK);
      if (spawnSync(file, ["-version"], { stdio: "ignore" }).status !== 0) continue;
      found.set(name, file);
      return file;
    } catch {
      // Not this one; the next is tried.
    }
  }
  throw new Complaint(500, `${name} was not found.`, "Install the Debian package ffmpeg or set FFMPEG_PATH, then try again.");
}

/** Only containers that hold their own pictures: a list that names other files or addresses is not opened. */
const CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mxf,mpegts,mpeg,ogg,yuv4mpegpipe,flv,asf";

/** Arguments that open one local file and nothing else. */
export const openArguments = (file: string): string[] => [
  "-protocol_whitelist",
  "file,pipe",
  "-format_whitelist",
  CONTAINERS,
  "-i",
  `file:${file}`,
];

export interface RunResult {
  readonly code: number;
  readonly stdout: Buffer;
  readonly stderr: string;
}

/** Runs ffmpeg or ffprobe with an argument array; no shell is involved. @param input written to its standard input */
export function run(
  name: "ffmpeg" | "ffprobe",
  args: readonly string[],
  options: { signal?: AbortSignal; maxBytes?: number } = {},
): Promise<RunResult> {
  return new Promise((resolve, reject) => {
    const child = spawn(executable(name), args, {
      stdio: ["ignore", "pipe", "pipe"],
      ...(options.signal ? { signal: options.signal } : {}),
    });
    const parts: Buffer[] = [];
    let bytes = 0;
    let stderr = "";
    child.stdout.on("data", (chunk: Buffer) => {
      bytes += chunk.length;
      if (options.maxBytes && bytes > options.maxBytes) child.kill("SIGKILL");
      else parts.push(chunk);
    });
    child.stderr.on("data", (chunk: Buffer) => {
      if (stderr.length < 20_000) stderr += chunk.toString();
    });
    child.on("error", reject);
    child.on("close", (code) => resolve({ code: code ?? -1, stdout: Buffer.concat(parts), stderr }));
  });
}
