import { statSync } from "node:fs";
import { open } from "node:fs/promises";
import { z } from "zod";
import type { Primaries } from "../../core/color/primaries";
import type { NamedTransfer } from "../../core/color/transfer";
import type { Matrix } from "../../core/color/ycbcr";
import type { MediaInfo } from "../../core/documents/media-info";
import { tellSiting } from "../../core/image/chroma-siting";
import { MAX_PIXELS, MAX_SIDE } from "../../core/image/plane";
import type { Siting } from "../../core/image/raw-frame";
import { swapsSides, type Turn } from "../../core/image/turn";
import { Complaint } from "../files/complaint";
import { decodeClipFrames } from "./clips";
import { openArguments, run } from "./ffmpeg";
import { evenRate } from "./frame-rate";
import { fetchFor } from "./pixel-formats";
import { probeStill, stillFormat } from "./stills";

const READS = "Stills: PNG, JPEG, TIFF, WebP, EXR, DPX. Clips: H.264, HEVC, ProRes, VP9 and others in MP4, MOV, WebM or MKV.";

/** Tells a file by its content, not its name. @throws Complaint for what cannot be read */
export async function probeFile(file: string): Promise<MediaInfo> {
  const handle = await open(file, "r");
  let head: Buffer;
  try {
    const { size } = await handle.stat();
    if (size === 0) throw new Complaint(422, "The file is empty (0 bytes).", "Copy it again from its source.");
    head = Buffer.alloc(16);
    await handle.read(head, 0, 16, 0);
  } finally {
    await handle.close();
  }
  const format = stillFormat(head);
  return format ? probeStill(file, format) : probeClip(file);
}

const probeSchema = z.object({
  streams: z.array(
    z.object({
      codec_type: z.string().optional(),
      codec_name: z.string().optional(),
      width: z.number().optional(),
      height: z.number().optional(),
      pix_fmt: z.string().optional(),
      r_frame_rate: z.string().optional(),
      avg_frame_rate: z.string().optional(),
      nb_frames: z.string().optional(),
      sample_aspect_ratio: z.string().optional(),
      field_order: z.string().optional(),
      color_transfer: z.string().optional(),
      color_space: z.string().optional(),
      color_primaries: z.string().optional(),
      color_range: z.string().optional(),
      chroma_location: z.string().optional(),
      channels: z.number().optional(),
      sample_rate: z.string().optional(),
      tags: z.record(z.string(), z.string()).optional(),
      side_data_list: z.array(z.object({ rotation: z.number().optional() })).optional(),
    }),
  ),
  format: z.object({ format_name: z.string(), start_time: z.string().optional(), tags: z.record(z.string(), z.string()).optional() }),
});

const ratio = (text: string | undefined, by: RegExp): { num: number; den: number } | undefined => {
  const [num, den] = (text ?? "").split(by).map(Number);
  return num && den && Number.isFinite(num) && Number.isFinite(den) ? { num, den } : undefined;
};

/** Quarter turns clockwise from what a file asks for: degrees counter-clockwise, as ffprobe tells its display matrix. */
function turnOf(degrees: number): MediaInfo["turn"] {
  const quarters = (((Math.round(-degrees / 90) % 4) + 4) % 4) as Turn;
  return quarters || undefined;
}

const TRANSFER_NAMES: Record<string, NamedTransfer> = {
  bt709: "bt709",
  smpte170m: "bt709",
  "bt2020-10": "bt709",
  "bt2020-12": "bt709",
  "iec61966-2-1": "srgb",
  gamma22: "gamma22",
  bt470m: "gamma22",
  linear: "linear",
  smpte2084: "pq",
  "arib-std-b67": "hlg",
};
const PRIMARIES_NAMES: Record<string, Primaries> = { bt709: "bt709", bt2020: "bt2020", smpte432: "p3" };
const MATRIX_NAMES: Record<string, Matrix> = { bt709: "bt709", smpte170m: "bt601", bt470bg: "bt601", bt2020nc: "bt2020" };
const SITING_NAMES: Record<string, Siting> = { left: "left", center: "center", topleft: "topleft" };

/** Times of every frame in showing order, and the key frames decoding can begin at. */
export interface FrameIndex {
  /** Seconds, as in the container. */
  readonly times: readonly number[];
  /** In showing order: when each is shown, and when it is decoded. */
  readonly keys: readonly { readonly shown: number; readonly decoded: number }[];
  /** The container's own start, which seek positions count from. */
  readonly start: number;
}

async function ffprobeJson(file: string) {
  const result = await run("ffprobe", ["-v", "error", "-show_streams", "-show_format", "-of", "json", ...openArguments(file)]);
  if (result.code !== 0) {
    const cut = /moov atom not found|Invalid data|End of file|EBML|truncat/i.test(result.stderr);
    throw new Complaint(
      422,
      cut
        ? "This is not a clip that can be read: its content is damaged, cut short, or not video at all."
        : "The file cannot be read as a clip.",
      `Copy or export it again. ${READS}`,
    );
  }
  return probeSchema.parse(JSON.parse(result.stdout.toString()));
}

/** Reads the packets' times: what makes random access exact with B-frames, edit lists and uneven rates. */
async function indexFrames(file: string): Promise<FrameIndex> {
  const result = await run("ffprobe", [
    "-v",
    "error",
    "-select_streams",
    "v:0",
    "-show_entries",
    "packet=pts_time,dts_time,flags:format=start_time",
    "-of",
    "json",
    ...openArguments(file),
  ]);
  const text = z
    .object({
      packets: z
        .array(z.object({ pts_time: z.string().optional(), dts_time: z.string().optional(), flags: z.string().optional() }))
        .optional(),
      format: z.object({ start_time: z.string().optional() }).optional(),
    })
    .parse(JSON.parse(result.stdout.toString() || "{}"));
  const packets = (text.packets ?? [])
    .filter((p) => !p.flags?.includes("D"))
    .map((p) => ({
      shown: Number(p.pts_time ?? p.dts_time),
      decoded: Number(p.dts_time ?? p.pts_time),
      key: p.flags?.includes("K") ?? false,
    }))
    .filter((p) => Number.isFinite(p.shown))
    .sort((a, b) => a.shown - b.shown);
  return {
    times: packets.map((p) => p.shown),
    keys: packets.filter((p) => p.key).map(({ shown, decoded }) => ({ shown, decoded })),
    start: Number(text.format?.start_time ?? 0) || 0,
  };
}

/** Indexes kept, of the files asked for last. */
const KEPT = 16;
const indices = new Map<string, Promise<FrameIndex>>();

/** The index of a file, read once for as long as the file stays as it is. */
export function frameIndex(file: string): Promise<FrameIndex> {
  const { size, mtimeMs } = statSync(file);
  const key = `${size}/${mtimeMs}/${file}`;
  const found = indices.get(key) ?? indexFrames(file);
  indices.delete(key);
  indices.set(key, found);
  found.catch(() => indices.delete(key));
  if (indices.size > KEPT) indices.delete(indices.keys().next().value as string);
  return found;
}

type Stream = z.infer<typeof probeSchema>["streams"][number];

/** What turns a clip's codes into light, as far as its file says, else as such files usually mean; and the curve it names where that is not read. */
function colourOf(video: Stream, isRgb: boolean): Pick<MediaInfo, "reading" | "stated"> & { readonly unread: string | undefined } {
  const curve = video.color_transfer === "unknown" ? undefined : video.color_transfer;
  const transfer = TRANSFER_NAMES[curve ?? ""];
  const matrix = MATRIX_NAMES[video.color_space ?? ""];
  const primaries = PRIMARIES_NAMES[video.color_primaries ?? ""];
  const siting = SITING_NAMES[video.chroma_location ?? ""];
  const full = video.color_range === "pc" || /^yuvj/.test(video.pix_fmt ?? "");
  // As players do: all that is larger than standard definition, a wide picture without its bars too.
  const large = (video.width ?? 0) >= 1280 || (video.height ?? 0) > 576;
  return {
    reading: {
      transfer: transfer ?? (isRgb ? "srgb" : "bt709"),
      matrix: matrix ?? (large ? "bt709" : "bt601"),
      range: isRgb || full ? "full" : "limited",
      siting: siting ?? "left",
      ...(primaries ? { primaries } : {}),
    },
    stated: {
      transfer: !!transfer,
      matrix: !!matrix,
      range: video.color_range !== undefined || full,
      siting: !!siting,
      primaries: !!primaries,
    },
    unread: transfer ? undefined : curve,
  };
}

async function probeClip(file: string): Promise<MediaInfo> {
  const probe = await ffprobeJson(file);
  const video = probe.streams.find((s) => s.codec_type === "video" && s.width && s.height);
  if (!video?.width || !video.height) throw new Complaint(422, "The file holds no pictures.", READS);
  if (video.width > MAX_SIDE || video.height > MAX_SIDE || video.width * video.height > MAX_PIXELS)
    throw new Complaint(
      422,
      `Frames of ${video.width}×${video.height} are too large.`,
      `At most ${MAX_SIDE} px a side and ${MAX_PIXELS / 1e6} megapixels.`,
    );
  const fetch = fetchFor(video.pix_fmt ?? "");
  if (!fetch)
    throw new Complaint(
      422,
      `The pixel format ${video.pix_fmt ?? "of this file"} is not read.`,
      "Export the clip as 4:2:0, 4:2:2, 4:4:4 Y'CbCr or RGB with 8 to 16 bits.",
    );
  const { times } = await frameIndex(file);
  if (times.length === 0) throw new Complaint(422, "No frame of the clip can be read.", "Copy or export it again.");
  const promised = Number(video.nb_frames ?? 0);
  const { rate, even } = evenRate(times, ratio(video.r_frame_rate, /\//) ?? ratio(video.avg_frame_rate, /\//) ?? { num: 25, den: 1 });
  const aspect = ratio(video.sample_aspect_ratio, /:/);
  const audio = probe.streams.find((s) => s.codec_type === "audio");
  const { reading, stated, unread } = colourOf(video, fetch.layout.kind === "rgb");
  const timecode = [video.tags, probe.format.tags, ...probe.streams.map((s) => s.tags)].map((t) => t?.timecode).find(Boolean) ?? null;
  const turn = turnOf(video.side_data_list?.find((d) => d.rotation !== undefined)?.rotation ?? 0);
  const upright = swapsSides(turn) ? { width: video.height, height: video.width } : { width: video.width, height: video.height };
  const warnings = [
    promised > times.length && `The file promises ${promised} frames but only ${times.length} are there: it was cut short.`,
    unread && `The file names a curve that is not read (${unread}); another is assumed. Choose the nearest under Read as.`,
    !even &&
      "Frames follow each other unevenly: they are delivered at their mean rate. Convert the clip to an even rate first where its sound must stay in step.",
  ].filter((w) => w);
  const info: MediaInfo = {
    kind: "clip",
    format: probe.format.format_name.split(",")[0] as string,
    codec: video.codec_name ?? "unknown",
    ...upright,
    ...(turn ? { turn } : {}),
    frames: times.length,
    firstNumber: 1,
    rate,
    pixelFormat: video.pix_fmt ?? "",
    layout: fetch.layout,
    reading,
    stated,
    pixelAspect: aspect ? (swapsSides(turn) ? aspect.den / aspect.num : aspect.num / aspect.den) : 1,
    fieldOrder: video.field_order ?? "unknown",
    timecode,
    audio: audio
      ? { codec: audio.codec_name ?? "unknown", channels: audio.channels ?? 0, sampleRate: Number(audio.sample_rate ?? 0) }
      : null,
    warning: warnings.length ? warnings.join(" ") : null,
  };
  const told = await sitingOf(file, info);
  if (!told || (told === "left" && reading.siting === "topleft")) return info;
  return { ...info, reading: { ...info.reading, siting: told }, told: { siting: told } };
}

/** Where chroma lies by the clip's own pixels: its first frame, or the middle one when there is too little in the first. */
async function sitingOf(file: string, info: MediaInfo): Promise<Siting | undefined> {
  if (info.layout.kind !== "ycbcr" || info.layout.subsampling === "444") return undefined;
  const index = await frameIndex(file);
  for (const number of new Set([1, Math.ceil(info.frames / 2)])) {
    // What cannot be decoded is told where the frame is asked for.
    const [raw] = await decodeClipFrames(file, info, index, number, 1).catch(() => []);
    const told = raw && tellSiting(raw);
    if (told) return told;
  }
  return undefined;
}
