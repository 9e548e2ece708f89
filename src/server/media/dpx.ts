import { open } from "node:fs/promises";
import type { NamedTransfer } from "../../core/color/transfer";
import { planeSizes, type RawFrame, type RawLayout } from "../../core/image/raw-frame";
import { Complaint } from "../files/complaint";
import { run } from "./ffmpeg";

/**
 * Film and effects stills. Source: SMPTE ST 268-1:2014 (DPX), the generic image and television headers; offsets in bytes.
 */
const HEADER = 2048;
const AT = {
  elements: 770,
  width: 772,
  height: 776,
  descriptor: 800,
  transfer: 801,
  bits: 803,
  pixelAspect: 1628,
  timecode: 1920,
} as const;
const RGB = 50;
const RGBA = 51;
const ABGR = 52;
const UNDEFINED = 0xffffffff;

/** What the header's transfer characteristic says; what is not here says nothing of use. */
const TRANSFERS: Record<number, NamedTransfer> = {
  1: "film-density",
  2: "linear",
  3: "film-density",
  4: "bt709",
  5: "bt709",
  6: "bt709",
  7: "bt709",
  8: "bt709",
};
const LINEAR_DEPTH = 16;

export interface DpxHeader {
  readonly width: number;
  readonly height: number;
  readonly layout: Extract<RawLayout, { kind: "rgb" }>;
  readonly transfer: NamedTransfer;
  /** Whether the header states the curve, and can be believed. */
  readonly stated: boolean;
  readonly pixelAspect: number;
  readonly timecode: string | null;
  readonly warning: string | null;
}

/** @throws Complaint for headers that break off and pictures that are not RGB */
export async function readDpxHeader(file: string): Promise<DpxHeader> {
  const handle = await open(file, "r");
  const head = Buffer.alloc(HEADER);
  try {
    if ((await handle.read(head, 0, HEADER, 0)).bytesRead < HEADER) throw damaged();
  } finally {
    await handle.close();
  }
  // The magic number's order of bytes is that of all numbers.
  const big = head.toString("latin1", 0, 4) === "SDPX";
  const word = (at: number) => (big ? head.readUInt32BE(at) : head.readUInt32LE(at));
  const elements = big ? head.readUInt16BE(AT.elements) : head.readUInt16LE(AT.elements);
  const [descriptor, bits] = [head[AT.descriptor] as number, head[AT.bits] as number];
  if (elements !== 1 || ![RGB, RGBA, ABGR].includes(descriptor) || ![8, 10, 12, 16].includes(bits))
    throw new Complaint(
      422,
      "Only DPX of RGB in one element, with 8, 10, 12 or 16 bits, is read.",
      "Export the frames as such, or as EXR or TIFF.",
    );
  const told = TRANSFERS[head[AT.transfer] as number];
  // Ten bits can hardly hold linear light; converters write that they do without looking.
  const doubtful = told === "linear" && bits < LINEAR_DEPTH;
  const [across, down] = [word(AT.pixelAspect), word(AT.pixelAspect + 4)];
  return {
    width: word(AT.width),
    height: word(AT.height),
    layout: { kind: "rgb", bits, alpha: descriptor !== RGB },
    transfer: doubtful ? "bt709" : (told ?? "bt709"),
    stated: told !== undefined && !doubtful,
    pixelAspect: across && down && across !== UNDEFINED && down !== UNDEFINED ? across / down : 1,
    timecode: timecodeOf(word(AT.timecode)),
    warning: doubtful
      ? `The file says that its ${bits}-bit codes are linear light, as converters write without looking; BT.709 is assumed. Choose how they are to be read under Read as.`
      : null,
  };
}

/** Two decimal digits a byte: hours, minutes, seconds, frames. */
function timecodeOf(word: number): string | null {
  const text = word.toString(16).padStart(8, "0");
  return word !== UNDEFINED && /^[0-2]\d[0-5]\d[0-5]\d\d\d$/.test(text) && word !== 0 ? (text.match(/../g) as string[]).join(":") : null;
}

const damaged = () => new Complaint(422, "The DPX file cannot be read: it is damaged or cut short.", "Copy or export it again.");

/** @throws Complaint for damaged files */
export async function decodeDpx(file: string): Promise<RawFrame> {
  const { width, height, layout } = await readDpxHeader(file);
  const deep = layout.bits > 8;
  const pixels = `gbr${layout.alpha ? "a" : ""}p${deep ? `${layout.bits}le` : ""}`;
  const sizes = planeSizes(width, height, layout);
  const n = width * height;
  const bytes = sizes.length * n * (deep ? 2 : 1);
  const input = ["-protocol_whitelist", "file,pipe", "-f", "dpx_pipe", "-i", `file:${file}`];
  const { code, stdout, stderr } = await run(
    "ffmpeg",
    ["-v", "error", "-nostdin", ...input, "-frames:v", "1", "-pix_fmt", pixels, "-f", "rawvideo", "pipe:1"],
    { maxBytes: bytes },
  );
  if (code !== 0 || stdout.length !== bytes || stderr !== "") throw damaged();
  const arrived = sizes.map((_, k) => {
    const part = stdout.subarray(k * (bytes / sizes.length), (k + 1) * (bytes / sizes.length));
    const plane = new Uint16Array(n);
    if (deep) Buffer.from(plane.buffer).set(part);
    else plane.set(part);
    return plane;
  });
  // Planar RGB comes as G, B, R.
  return { width, height, layout, planes: [2, 0, 1, 3].slice(0, sizes.length).map((k) => arrived[k] as Uint16Array) };
}
