import { distanceTo } from "../image/distance";
import { meansOfKnown } from "../image/fill-in";
import { notOf } from "../image/mask";
import type { Picture } from "../image/plane";
import { middleOf } from "../image/rank";
import { factorTo, shrinkPicture } from "../image/resample";
import { findDrift } from "./align";
import { CLEAN_RIM, CLEAN_SIDE, certainScreen, enlargeFilled } from "./clean-plate";
import { fillScreen } from "./falloff";
import { screenMask } from "./find";
import type { Primary } from "./primary";

const CHANNELS = ["r", "g", "b"] as const;
/** Drift between two frames from which on the camera counts as moving, px. */
const MOVES = 1;

/** A clean plate merged from frames of a shot. */
export interface MergedCleanPlate {
  readonly picture: Picture;
  /** Share of the frame in which the screen itself was seen on some frame, 0…1; the rest is filled in from around it. */
  readonly seen: number;
}

/**
 * A clean plate from the frames in which each pixel shows nothing but screen, for a locked-off camera: their middle half
 * averaged, each frame brought to the exposure of the first, so that neither grain nor a stray strand counts and creases under a subject that moves
 * are kept. What no frame shows is filled in smoothly.
 * @param frames of one size, scene-linear, spread over the shot; at least two
 * @throws RangeError when the camera moves, sizes differ, or no frame shows a screen of that primary
 */
export function mergeCleanPlate(frames: readonly Picture[], primary: Primary): MergedCleanPlate {
  const first = frames[0];
  if (!first || frames.length < 2) throw new RangeError("A clean plate over time needs two frames or more.");
  const { width, height } = first;
  if (frames.some((f) => f.width !== width || f.height !== height)) throw new RangeError("The frames differ in size.");
  const factor = factorTo(CLEAN_SIDE, first);
  const smalls = frames.map((f) => shrinkPicture(f, factor));
  const w = (smalls[0] as Picture).width;
  const certain = frames.map((f, k) => certainScreen(f, smalls[k] as Picture, factor, primary).certain);
  for (let k = 1; k < frames.length; k++) refuseMoved(frames, k, certain, factor, w);
  const gains = smalls.map((small, k) => {
    const both = (i: number) => certain[0]?.[i] === 1 && certain[k]?.[i] === 1;
    return CHANNELS.map((c) => {
      const ratios = (smalls[0] as Picture)[c].map((v, i) => v / Math.max(1e-5, small[c][i] as number));
      return middleOf(
        ratios.filter((_, i) => both(i)),
        1,
      );
    });
  });
  const steady = steadyScreen(smalls, certain, primary, gains);
  const out = {
    width,
    height,
    r: new Float32Array(width * height),
    g: new Float32Array(width * height),
    b: new Float32Array(width * height),
  };
  const seen = new Uint8Array(width * height);
  const values = new Float32Array(frames.length);
  let shown = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const cell = Math.floor(y / factor) * w + Math.floor(x / factor);
      let count = 0;
      CHANNELS.forEach((c, n) => {
        count = 0;
        for (let k = 0; k < frames.length; k++)
          if (steady[k]?.[cell]) values[count++] = ((frames[k] as Picture)[c][i] as number) * (gains[k]?.[n] as number);
        if (count) out[c][i] = middleMean(values, count);
      });
      if (count) {
        seen[i] = 1;
        shown++;
      }
    }
  if (shown === 0) throw new RangeError("No screen was found on any of the frames. Sample the screen, or supply a clean plate.");
  if (shown < seen.length) fillUnseen(out, seen, factor);
  return { picture: out, seen: shown / seen.length };
}

/** Frames that must show a place alike for it to count as screen where no frame is certain of it, and how alike, as shares of light. */
const ALIKE_FRAMES = 3;
const ALIKE = 0.03;

/**
 * For every frame, which places of the reduced copy show screen. Where some frame is certain the certain ones do; a crease is certain on
 * none, since one frame cannot tell it from strands, yet it looks alike on every frame that shows it, as strands and passing subjects do not.
 */
function steadyScreen(
  smalls: readonly Picture[],
  certain: readonly Float32Array[],
  primary: Primary,
  gains: readonly (readonly number[])[],
): Uint8Array[] {
  const { width, height } = smalls[0] as Picture;
  const n = width * height;
  const g = CHANNELS.indexOf(primary);
  const shown = smalls.map((small) => {
    const { mask } = screenMask(small, primary);
    const toOther = distanceTo(notOf(mask), width, height);
    return toOther.map((d) => (d > CLEAN_RIM ? 1 : 0));
  });
  const out = smalls.map(() => new Uint8Array(n));
  for (let i = 0; i < n; i++) {
    if (certain.some((c) => c[i])) {
      certain.forEach((c, k) => {
        (out[k] as Uint8Array)[i] = c[i] as number;
      });
      continue;
    }
    const lights = smalls.map((small, k) => (shown[k]?.[i] ? (small[primary][i] as number) * (gains[k]?.[g] as number) : Number.NaN));
    const known = lights.filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
    const middle = known[known.length >> 1] ?? 0;
    const alike = lights.map((v) => Math.abs(v - middle) <= ALIKE * middle);
    if (alike.filter(Boolean).length < Math.max(ALIKE_FRAMES, 0.6 * known.length)) continue;
    alike.forEach((yes, k) => {
      (out[k] as Uint8Array)[i] = yes ? 1 : 0;
    });
  }
  return out;
}

/** Mean of the middle half of the first `count` values, which are sorted. */
function middleMean(values: Float32Array, count: number): number {
  const sorted = values.subarray(0, count).sort();
  const cut = Math.floor(count / 4);
  let sum = 0;
  for (let k = cut; k < count - cut; k++) sum += sorted[k] as number;
  return sum / (count - 2 * cut);
}

function refuseMoved(frames: readonly Picture[], k: number, certain: readonly Float32Array[], factor: number, w: number): void {
  const { width, height } = frames[0] as Picture;
  const both = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cell = Math.floor(y / factor) * w + Math.floor(x / factor);
      both[y * width + x] = certain[0]?.[cell] && certain[k]?.[cell] ? 1 : 0;
    }
  const drift = findDrift(frames[k] as Picture, frames[0] as Picture, both);
  const by = drift ? Math.hypot(drift.dx, drift.dy) : 0;
  if (by > MOVES)
    throw new RangeError(
      `The camera moves: by ${by.toFixed(1)} px between the frames looked at. A clean plate over time needs a locked-off camera; read the screen from each frame's own pixels.`,
    );
}

/** What no frame shows, from around it. */
function fillUnseen(out: Picture, seen: Uint8Array, factor: number): void {
  const { width, height } = out;
  const small = shrinkPicture(out, factor);
  const w = small.width;
  const weight = new Float32Array(w * small.height).fill(1);
  for (let i = 0; i < seen.length; i++)
    if (!seen[i]) weight[Math.floor(Math.floor(i / width) / factor) * w + Math.floor((i % width) / factor)] = 0;
  const channels = meansOfKnown([small.r, small.g, small.b], weight, w, small.height, 2);
  fillScreen(channels, weight, w, small.height);
  const filled = enlargeFilled(channels, w, small.height, factor, width, height);
  for (const c of CHANNELS) for (let i = 0; i < seen.length; i++) if (!seen[i]) out[c][i] = filled[c][i] as number;
}
