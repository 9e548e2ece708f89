import type { MediaInfo } from "../../core/documents/media-info";
import { planeSizes, type RawFrame } from "../../core/image/raw-frame";
import { swapsSides } from "../../core/image/turn";
import { Complaint } from "../files/complaint";
import { openArguments, run } from "./ffmpeg";
import { fetchFor } from "./pixel-formats";
import type { FrameIndex } from "./probe";

/** The clip's frames as they are recorded: before they are turned upright. */
const recordedSize = ({ width, height, turn }: MediaInfo) => (swapsSides(turn) ? { width: height, height: width } : { width, height });

/** Parts the bytes of one raw frame into planes of 16-bit codes. */
function readPlanes(bytes: Buffer, info: MediaInfo): RawFrame {
  const fetch = fetchFor(info.pixelFormat);
  if (!fetch) throw new Complaint(422, `The pixel format ${info.pixelFormat} is not read.`, "Export the clip in another format.");
  const { width, height } = recordedSize(info);
  const sizes = planeSizes(width, height, fetch.layout);
  const arrived: Uint16Array[] = [];
  let at = 0;
  for (const s of sizes) {
    const n = s.width * s.height;
    const plane = new Uint16Array(n);
    if (fetch.bytes === 1) plane.set(bytes.subarray(at, at + n));
    else Buffer.from(plane.buffer).set(bytes.subarray(at, at + 2 * n));
    arrived.push(plane);
    at += n * fetch.bytes;
  }
  return {
    width,
    height,
    layout: fetch.layout,
    ...(info.turn ? { turn: info.turn } : {}),
    planes: sizes.map((_, k) => arrived[fetch.order[k] as number] as Uint16Array),
  };
}

/**
 * Decodes `count` frames from frame `first` (from 1) in one go. Decoding begins at the last key frame that is shown no
 * later, so that pictures which lean on the group before are whole; what comes earlier is dropped by its own time in
 * the file. That holds past GOP borders, with B-frames and with open groups.
 * @returns the frames that exist; fewer than asked at the end of the clip
 */
export async function decodeClipFrames(
  file: string,
  info: MediaInfo,
  index: FrameIndex,
  first: number,
  count: number,
): Promise<RawFrame[]> {
  const fetch = fetchFor(info.pixelFormat);
  if (!fetch) throw new Complaint(422, `The pixel format ${info.pixelFormat} is not read.`, "Export the clip in another format.");
  const time = index.times[first - 1];
  if (time === undefined) throw new Complaint(404, `There is no frame ${first}.`, `The clip has frames 1 to ${info.frames}.`);
  const before = index.times[first - 2];
  const key = index.keys.findLast((k) => k.shown <= time + 1e-6);
  // Asked for by its decoding time: containers that seek by it land on it, others on the one before.
  const seek =
    key && before !== undefined && key.decoded > index.start ? ["-noaccurate_seek", "-ss", String(key.decoded - index.start)] : [];
  // Half-way to the frame before, so that rounding in the container's time base cannot pick a neighbour.
  const select = before === undefined ? [] : ["-vf", `select=gte(t\\,${(time + before) / 2})`];
  const recorded = recordedSize(info);
  const size = planeSizes(recorded.width, recorded.height, fetch.layout).reduce((n, s) => n + s.width * s.height * fetch.bytes, 0);
  const result = await run(
    "ffmpeg",
    [
      "-v",
      "error",
      "-nostdin",
      "-copyts",
      ...seek,
      // Turned here, subsampled chroma would be made anew.
      "-noautorotate",
      ...openArguments(file),
      "-map",
      "0:v:0",
      "-an",
      ...select,
      "-vsync",
      "0",
      "-frames:v",
      String(count),
      "-pix_fmt",
      fetch.pixelFormat,
      "-f",
      "rawvideo",
      "pipe:1",
    ],
    { maxBytes: size * count },
  );
  const whole = Math.floor(result.stdout.length / size);
  if (whole === 0)
    throw new Complaint(
      422,
      `Frame ${first} cannot be decoded: the clip is damaged there.`,
      "Use the frames before it, or export the clip again.",
    );
  return Array.from({ length: whole }, (_, i) => readPlanes(result.stdout.subarray(i * size, (i + 1) * size), info));
}
