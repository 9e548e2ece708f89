import { spawn } from "node:child_process";
import { createReadStream, renameSync, rmSync } from "node:fs";
import { Complaint } from "../files/complaint";
import { executable, openArguments } from "../media/ffmpeg";

export interface ProresJob {
  /** Raw rgba64le frames with BT.709-coded colour, in order. */
  readonly frames: readonly string[];
  readonly width: number;
  readonly height: number;
  readonly rate: { readonly num: number; readonly den: number };
  readonly target: string;
  /** Plate to take the sound from, and the times it is cut to, in seconds. */
  readonly sound: { readonly file: string; readonly start: number; readonly duration: number } | null;
  /** Width of a pixel over its height. */
  readonly pixelAspect: number;
  /** Of the first frame; none where the plate has none. */
  readonly timecode: string | null;
  readonly signal: AbortSignal;
}

/** Writes a ProRes 4444 MOV with 16-bit alpha, BT.709, with the plate's shape of pixels and timecode, and its sound as PCM. */
export async function writeProres(job: ProresJob): Promise<void> {
  const part = `${job.target}.part`;
  const args = [
    "-v",
    "error",
    "-nostdin",
    "-y",
    "-f",
    "rawvideo",
    "-pix_fmt",
    "rgba64le",
    "-s",
    `${job.width}x${job.height}`,
    "-framerate",
    `${job.rate.num}/${job.rate.den}`,
    "-i",
    "pipe:0",
    ...(job.sound ? ["-ss", String(job.sound.start), "-t", String(job.sound.duration), ...openArguments(job.sound.file)] : []),
    "-map",
    "0:v:0",
    ...(job.sound ? ["-map", "1:a:0", "-c:a", "pcm_s16le"] : []),
    "-vf",
    // Frames come out of the filter with their colour named, or the encoder leaves it unsaid.
    `scale=in_range=full:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bitexact,format=yuva444p10le,setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709:range=tv,setsar=sar=${job.pixelAspect}:max=1000`,
    "-c:v",
    "prores_ks",
    "-profile:v",
    "4444",
    "-pix_fmt",
    "yuva444p10le",
    "-alpha_bits",
    "16",
    "-vendor",
    "apl0",
    "-color_primaries",
    "bt709",
    "-color_trc",
    "bt709",
    "-colorspace",
    "bt709",
    "-color_range",
    "tv",
    "-movflags",
    "+write_colr",
    ...(job.timecode ? ["-timecode", job.timecode] : []),
    "-f",
    "mov",
    part,
  ];
  const child = spawn(executable("ffmpeg"), args, { stdio: ["pipe", "ignore", "pipe"], signal: job.signal });
  let stderr = "";
  child.stderr.on("data", (c: Buffer) => {
    if (stderr.length < 4000) stderr += c.toString();
  });
  const ended = new Promise<number>((resolve, reject) => {
    child.on("error", reject);
    child.on("close", (code) => resolve(code ?? -1));
  });
  child.stdin.on("error", () => {}); // The exit code tells why it closed.
  try {
    for (const file of job.frames)
      for await (const chunk of createReadStream(file))
        if (!child.stdin.write(chunk)) await Promise.race([new Promise((r) => child.stdin.once("drain", r)), ended]);
    child.stdin.end();
    if ((await ended) !== 0)
      throw new Complaint(
        500,
        `The clip could not be encoded: ${stderr.trim().split("\n").at(-1) ?? "ffmpeg stopped"}.`,
        "Deliver it as a PNG sequence, or check the disk's free space.",
      );
    renameSync(part, job.target);
  } finally {
    rmSync(part, { force: true });
  }
}
