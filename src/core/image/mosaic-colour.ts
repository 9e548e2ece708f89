import { LUMA } from "../color/ycbcr";
import { onPlane } from "../kernels/planes";
import { guidedFilter } from "./guided";
import type { RawFrame } from "./raw-frame";
import { lumaCodes } from "./sharpening";

/** By how much fine detail may differ between a frame's two lattices, as a share of it: a hundredth at most without a mosaic, a seventh at least with one. */
const TELLS = 0.06;
/**
 * Side of the blocks that are asked, px; codes, of 8 bits, that fine detail must have there on the mean; how many blocks there must be, and by how
 * many more of them one lattice must have more: a few edges are on either by chance.
 */
const BLOCK = 16;
const LEAST_DETAIL = 0.2;
const LEAST_BLOCKS = 24;
const AGREE = 0.5;
/** Window in which colour is taken to follow luma in a straight line, radius in px; and contrast of luma under which it is flat, codes of 8 bits. */
const RADIUS = 2;
const FLAT = 3;

type Codes = Exclude<RawFrame["layout"], { kind: "half" }>;

/** What was told of frames, and what they are without it, for as long as they are kept: proposals and reports ask several times. */
const told = new WeakMap<RawFrame, boolean>();
const without = new WeakMap<RawFrame, RawFrame>();

/**
 * Whether a frame shows that its sensor saw one colour at each pixel and the camera interpolated the other two, without making the frame smaller
 * since: green was seen at every second pixel, as on a chessboard, and what is interpolated has less of fine detail and of grain than what was seen.
 * Source: Gallagher & Chen, "Image Authentication by Detecting Traces of Demosaicing", CVPR Workshops 2008.
 * @returns false for half floats
 */
export function tellsMosaic(raw: RawFrame): boolean {
  if (raw.layout.kind === "half") return false;
  const tells = told.get(raw) ?? readMosaic(raw, raw.layout);
  told.set(raw, tells);
  return tells;
}

function readMosaic({ width, height, planes }: RawFrame, layout: Codes): boolean {
  // Of chroma nothing is told: its own interpolation, and what averages it, come between.
  const least = LEAST_DETAIL * 2 ** (layout.bits - 8) * BLOCK * BLOCK;
  return planes.slice(0, layout.kind === "rgb" ? 3 : 1).some((plane) => {
    let [seen, made, blocks, one, other] = [0, 0, 0, 0, 0];
    for (let by = 1; by + BLOCK < height; by += BLOCK)
      for (let bx = 1; bx + BLOCK < width; bx += BLOCK) {
        const detail = [0, 0];
        for (let y = by; y < by + BLOCK; y++)
          for (let x = bx; x < bx + BLOCK; x++) {
            const i = y * width + x;
            const around =
              (plane[i - 1] as number) + (plane[i + 1] as number) + (plane[i - width] as number) + (plane[i + width] as number);
            detail[(x + y) & 1]! += Math.abs(4 * (plane[i] as number) - around);
          }
        const [even, odd] = detail as [number, number];
        seen += even;
        made += odd;
        if (even + odd < least) continue;
        blocks++;
        if (even > odd) one++;
        else if (odd > even) other++;
      }
    return blocks >= LEAST_BLOCKS && Math.abs(one - other) > AGREE * blocks && 2 * Math.abs(seen - made) > TELLS * (seen + made);
  });
}

/**
 * A frame without the false colour that interpolating a mosaic leaves beside edges, in fine patterns and in grain: what of red and blue less luma
 * follows luma in a straight line stays, as strands have it; of the rest the median of 3 × 3 is taken. Luma stays. In codes, as cameras interpolate
 * for the eye.
 * Sources: W. T. Freeman, US Patent 4,724,395 (1988), for the median of colour differences; the local linear model of He, Sun & Tang, "Guided Image
 * Filtering", IEEE TPAMI 35 (2013).
 */
export function withoutFalseColour(raw: RawFrame): RawFrame {
  if (raw.layout.kind === "half" || (raw.layout.kind === "ycbcr" && raw.layout.subsampling !== "444")) return raw;
  const cleared = without.get(raw) ?? clearColour(raw, raw.layout);
  without.set(raw, cleared);
  return cleared;
}

function clearColour(raw: RawFrame, layout: Codes): RawFrame {
  const { width, height } = raw;
  const [first, second, third, ...alpha] = raw.planes as [Uint16Array, Uint16Array, Uint16Array, ...Uint16Array[]];
  const luma = lumaCodes(raw);
  const flat = (FLAT * 2 ** (layout.bits - 8)) ** 2;
  const cleared = (colour: Float32Array) => {
    const follows = guidedFilter(colour, luma, width, height, RADIUS, flat);
    for (let i = 0; i < colour.length; i++) colour[i]! -= follows[i] as number;
    const rest = medianOf9(colour, width, height);
    for (let i = 0; i < rest.length; i++) rest[i]! += follows[i] as number;
    return rest;
  };
  const most = 2 ** layout.bits - 1;
  const codes = (plane: Float32Array) => {
    const out = new Uint16Array(plane.length);
    for (let i = 0; i < out.length; i++) out[i] = Math.min(most, Math.max(0, Math.round(plane[i] as number)));
    return out;
  };
  if (layout.kind === "ycbcr")
    return { ...raw, planes: [first, codes(cleared(new Float32Array(second))), codes(cleared(new Float32Array(third))), ...alpha] };
  const lessLuma = (plane: Uint16Array) => {
    const out = new Float32Array(plane.length);
    for (let i = 0; i < out.length; i++) out[i] = (plane[i] as number) - (luma[i] as number);
    return out;
  };
  const [r, b] = [cleared(lessLuma(first)), cleared(lessLuma(third))];
  const { kr, kb } = LUMA.bt709;
  // Differences from luma weigh to none together.
  const g = new Float32Array(r.length);
  for (let i = 0; i < g.length; i++) g[i] = -(kr * (r[i] as number) + kb * (b[i] as number)) / (1 - kr - kb);
  for (const plane of [r, g, b]) for (let i = 0; i < plane.length; i++) plane[i]! += luma[i] as number;
  return { ...raw, planes: [codes(r), codes(g), codes(b), ...alpha] };
}

/** The median of every 3 × 3 px; at the frame's border its outermost pixels stand for what is beyond. */
export const medianOf9 = (plane: Float32Array, width: number, height: number): Float32Array =>
  onPlane("medianOf9", plane, new Float32Array(plane.length), 4 * (3 * width + 40), width, height);
