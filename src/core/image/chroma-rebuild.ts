import { type BackToRecorded, backToRecorded, sidesOf } from "../kernels/chroma";
import { pointwise } from "../kernels/pointwise";
import { onRows, type RowRoom, rowRoom } from "../kernels/rows";
import { boxMean } from "./box";
import { recordedBehindRgb } from "./chroma-behind-rgb";
import { CENTRED, COSITED, footprintOf, lumaAtChroma } from "./chroma-footprint";
import { type Allocate, fresh, type Picture } from "./plane";
import { type ColourReading, chromaRow, decodeRawFrame, decodeRows, planeSizes, type RawFrame, type RawLayout, standUp } from "./raw-frame";
import { type Sharpening, UNSHARPENED, withoutSharpening } from "./sharpening";

/** Window in which colour is taken to follow luma in a straight line: radius in chroma samples. */
const RADIUS = 2;
/** Variance of luma, in 8-bit codes squared, under which it counts as grain. */
const FLAT = 6;
/** Most codes of colour that one code of luma may bring. */
const STEEPEST = 1.5;
/** Spread of luma under a sample, in 8-bit codes, over which it is of two colours; the same between a pixel and a sample of its own side. */
const MIXED = 9;
const LIKE = 9;
/** How near a sample must lie to count, luma px. */
const NEAR = 1;
/** Weight of the straight line beside samples that are all of the pixel's own side. */
const DOUBT = 0.2;
/** Rounds in which what was rebuilt is brought back to what was recorded. More win nothing and sharpen grain. */
const ROUNDS = 3;
/** Rounds after them in which edges that luma does not show are sharpened first, and how far: fewer leave the subject's rim open, more cost soft edges. */
const SHARPENINGS = 5;
const PULL = 0.5;
/** Part of it under which an edge is left as luma tells it. */
const LITTLE = 0.2;
/** Codes, of 8 bits, by which both sides of such an edge must differ in chroma; codes of luma that halve what is done. */
const GAP = 12;
const DARK = 15;
/** Of the range of 5 × 5 samples, what 3 × 3 must have of it: from which on an edge is sharp, and at which wholly. A blurred edge takes more room. */
const SOFT = 0.65;
const SHARP = 0.85;
/** Difference from what was recorded, in 8-bit codes, that grain and rounding account for. */
const GRAIN = 1;
/** How far detail may go beyond the samples around it, as a share of their range. */
const ROOM = 0.1;
/** Range of chroma around a sample, in 8-bit codes, under which there is no edge to rebuild. */
const EVEN = 4;

/** A plane with its first and last sample of every row repeated beside it. */
function withFrame(plane: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array((width + 2) * height);
  for (let y = 0; y < height; y++) {
    const row = plane.subarray(y * width, (y + 1) * width);
    const at = y * (width + 2);
    out[at] = row[0] as number;
    out.set(row, at + 1);
    out[at + width + 1] = row[width - 1] as number;
  }
  return out;
}

/** Whether a frame was recorded with less chroma than luma, be it as YCbCr or as RGB made from it. */
export const hasCoarseChroma = (raw: RawFrame, transfer: ColourReading["transfer"]): boolean =>
  raw.layout.kind === "ycbcr" ? raw.layout.subsampling !== "444" : recordedBehindRgb(raw, transfer) !== null;

/**
 * Decodes a 4:2:0 or 4:2:2 frame with its chroma brought to full resolution.
 * First along luma: in every small window colour is a straight line of luma, so that the detail luma has beyond chroma's
 * resolution moves colour along that line. Where colour has an edge, samples beside it that are of one colour and of the pixel's own luma
 * outweigh that line: a surface's luma changes with its texture, its colour hardly. Then it is brought back to what was recorded: what
 * the rebuilt chroma would be recorded as must be what was, and none may go far beyond the samples around it. Edges that luma
 * does not show are then sharpened, each pixel towards the nearer of the two colours beside it, and brought back again: of
 * all edges that would be recorded so, lenses make the sharpest, unless the samples themselves show a blurred one.
 * For the matte: the picture keeps its own pixels. Other frames decode as always.
 * Sources: the local linear model of He, Sun & Tang, "Guided Image Filtering", IEEE TPAMI 35 (2013), used for upsampling;
 * Kopf, Cohen, Lischinski & Uyttendaele, "Joint Bilateral Upsampling", SIGGRAPH 2007;
 * back-projection, Irani & Peleg, "Improving Resolution by Image Registration", CVGIP 53 (1991);
 * sharpening of chroma, the shock filters of Osher & Rudin, "Feature-Oriented Image Enhancement Using Shock Filters", SIAM J. Numer. Anal. 27 (1990).
 * @param sharpening what the camera did to luma, undone first
 */
export function decodeWithRebuiltChroma(
  raw: RawFrame,
  reading: ColourReading,
  allocate: Allocate = fresh,
  sharpening: Sharpening = UNSHARPENED,
): Picture {
  const behind = recordedBehindRgb(raw, reading.transfer);
  const { layout } = raw;
  if (!behind && (layout.kind !== "ycbcr" || layout.subsampling === "444"))
    return decodeRawFrame(withoutSharpening(raw, sharpening), reading);
  const seen = behind ?? { raw, reading };
  const picture = rebuildChroma(withoutSharpening(seen.raw, sharpening), seen.reading, allocate);
  return standUp(picture, raw, reading, allocate);
}

/** Colour of a Y'CbCr frame with coarse chroma, as it was recorded: see standUp. */
function rebuildChroma(raw: RawFrame, reading: ColourReading, allocate: Allocate): Picture {
  const { width, height } = raw;
  const layout = raw.layout as Extract<RawLayout, { kind: "ycbcr" }>;
  const { width: cw, height: ch } = planeSizes(width, height, layout)[1] as { width: number; height: number };
  const Y = raw.planes[0] as Uint16Array;
  const footprint = footprintOf(layout.subsampling, reading.siting);
  const n = cw * ch;
  const low = lumaAtChroma(raw, reading.siting);
  const mean = (c: Float32Array) => boxMean(c, cw, ch, RADIUS);
  const meanY = mean(low);
  const product = new Float32Array(n);
  pointwise("product", [], [low, low], [product]);
  const variance = mean(product);
  const code = 2 ** (layout.bits - 8);
  pointwise("variance", [FLAT * code * code], [variance, meanY], [variance]);

  /** A chroma plane, and how steeply it follows luma. */
  const follow = (k: 1 | 2) => {
    const c = new Float32Array(raw.planes[k] as Uint16Array);
    const meanC = mean(c);
    pointwise("product", [], [c, low], [product]);
    const slope = mean(product);
    pointwise("steepness", [STEEPEST], [slope, meanY, meanC, variance], [slope]);
    return { c, steep: mean(slope), fine: new Float32Array(width * height) };
  };
  const planes = [follow(1), follow(2)] as const;
  const cositedAcross = footprint.across === COSITED;
  const { pure, edge } = sidesOf(Y, width, height, [planes[0].c, planes[1].c], cw, ch, {
    rows: footprint.rows,
    down: footprint.down.weights.map((_, k) => footprint.down.from + k),
    cositedAcross,
    mixed: MIXED * code,
    even: EVEN * code,
  });
  const framed = [low, planes[0].c, planes[1].c, pure, edge].map((plane) => withFrame(plane, cw, ch));
  const room = rowRoom(width, 5, cw, [low, ...planes.flatMap(({ c, steep }) => [c, steep]), ...framed], null);
  const [luma, base, rise] = room.rowsAt as [number, number, number];
  const [lowAt, firstAt, secondAt, pureAt, edgeAt] = room.planesAt.slice(5) as [number, number, number, number, number];
  const fineRows = room.rowsAt.slice(3) as [number, number];
  const up = (plane: number, row: number, y: number) => chromaRow(room, plane, row, cw, ch, y, layout.subsampling, reading.siting);
  const stride = 4 * (cw + 2);
  const dx = cositedAcross ? 0 : 0.5;
  for (let y = 0; y < height; y++) {
    room.Y.set(Y.subarray(y * width, (y + 1) * width));
    up(0, 0, y);
    planes.forEach((_, k) => {
      up(1 + 2 * k, 1, y);
      up(2 + 2 * k, 2, y);
      onRows("alongLuma", room.YAt, base, rise, luma, fineRows[k] as number, width);
    });
    const cy = Math.min(ch - 1, Math.floor(y / footprint.rows));
    const dy = footprint.rows * cy + (footprint.down === CENTRED ? 0.5 : 0) - y;
    const rows = [cy - 1, cy, cy + 1].map((r) => stride * Math.min(ch - 1, Math.max(0, r)));
    const numbers = [width, dx, dy, footprint.rows, 1 / (2 * NEAR * NEAR), 1 / (2 * (LIKE * code) ** 2), DOUBT];
    onRows("ownSide", room.YAt, lowAt, firstAt, secondAt, pureAt, edgeAt, ...rows, ...fineRows, ...numbers);
    planes.forEach(({ fine }, k) => {
      fine.set(room.rows[3 + k] as Float32Array, y * width);
    });
  }
  const back: BackToRecorded = {
    rows: footprint.rows,
    cositedAcross,
    cositedDown: footprint.down === COSITED,
    grain: GRAIN * code,
    even: EVEN * code,
    spare: ROOM,
    rounds: ROUNDS,
    sharpenings: SHARPENINGS,
    gap: GAP * code,
    dark: DARK * code,
    soft: SOFT,
    sharp: SHARP,
    pull: PULL,
    little: LITTLE,
  };
  backToRecorded([planes[0].fine, planes[1].fine], width, height, [planes[0].c, planes[1].c], low, edge, cw, ch, back);
  const rebuilt = ({ rows }: RowRoom, y: number) =>
    planes.forEach(({ fine }, k) => {
      (rows[k] as Float32Array).set(fine.subarray(y * width, (y + 1) * width));
    });
  return decodeRows(raw, reading, 0, [], rebuilt, allocate);
}
