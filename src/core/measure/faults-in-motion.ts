import { lumaOf } from "../image/luma";
import { maskOf } from "../image/mask";
import type { Picture, Plane } from "../image/plane";
import { dropBlinking } from "../matte/steady";
import { blockNoise, SMOOTHEST } from "../screen/noise";
import { densestPlace } from "./densest";
import type { Finding } from "./findings";
import type { Judged } from "./judged";

/** Largest speck or pinhole that counts as such, and the least area of them all that is worth a word; px² at 1080 lines. */
const SPECK_AREA = 60;
const LEAST_BLINKING = 24;

/**
 * Specks and pinholes that are on this frame and on neither neighbour.
 * @param nearby the neighbouring frames' mattes; nothing is said without any
 */
export function blinkingSpecks(j: Judged, nearby: readonly Plane[]): Finding | null {
  if (nearby.length === 0) return null;
  const { matte, width, height, scale, lines } = j;
  const area = SPECK_AREA * lines ** 2;
  const steady = dropBlinking(matte, nearby, Math.max(1, area * scale ** 2));
  const marks = new Float32Array(matte.data.length);
  let count = 0;
  for (let i = 0; i < marks.length; i++) {
    if (Math.abs((steady.data[i] as number) - (matte.data[i] as number)) < 0.02) continue;
    marks[i] = 1;
    count++;
  }
  const full = Math.round(count / scale ** 2);
  if (full < LEAST_BLINKING * lines ** 2 || count < 3) return null;
  return {
    kind: "blinking-specks",
    severity: Math.min(1, 0.3 + 40 * (count / j.area)),
    figure: `${full} px`,
    what: "Specks blink on this frame",
    why: `${full} px of specks and pinholes are on this frame and on neither of its neighbours: in motion they flicker.`,
    remedy: "Drop specks that blink; real ones stay",
    step: "Matte",
    place: densestPlace(marks, width, height, scale, j.side),
    changes: [{ path: "time.blinking", value: Math.ceil(area), recipe: true }],
  };
}

/** How many times more grain one picture may have than the other, and the grain (of a coded level 0…1) under which both look clean. */
const MISMATCH = 2;
const CLEAN = 0.0025;
/** Light between which grain is compared: neither in the black nor clipped. */
const [DARK, BRIGHT] = [0.02, 0.9];
/** Pull under which a place is bare screen. */
const BARE = 0.02;
/** Fewer pixels than this say nothing. */
const LEAST = 2000;

/** Grain of a picture where `where` holds, as a share of a coded level (square root of light), and over how many pixels it was told. */
function grainOf(p: Picture, where: (i: number) => boolean): { grain: number; n: number } {
  const light = lumaOf(p).data;
  const mask = maskOf(light, (v) => v > DARK && v < BRIGHT);
  let n = 0;
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] && !where(i)) mask[i] = 0;
    n += mask[i] as number;
  }
  const coded = light.map((v) => Math.sqrt(Math.max(0, v)));
  return { grain: blockNoise(coded, mask, p.width, p.height, { quantile: SMOOTHEST }), n };
}

/** A subject whose grain differs from the background's: one of them looks pasted on. */
export function grainMismatch(j: Judged, background: Picture): Finding | null {
  const found = grainOf(j.plate, (i) => j.solid[i] === 1 && (j.depth[i] as number) > j.margin);
  // The bare screen tells the camera's own grain: cloth and paper may be rougher than it.
  const screen = grainOf(j.plate, (i) => (j.pull.data[i] as number) < BARE);
  const subject = screen.n < LEAST ? found : { n: found.n, grain: Math.min(found.grain, screen.grain) };
  const behind = grainOf(background, () => true);
  if (subject.n < LEAST || behind.n < LEAST) return null;
  const [high, low] = [Math.max(subject.grain, behind.grain), Math.min(subject.grain, behind.grain)];
  if (high < CLEAN || high < MISMATCH * low) return null;
  const [more, less] = subject.grain > behind.grain ? ["subject", "background"] : ["background", "subject"];
  const code = (v: number) => `${(100 * v).toFixed(2)} %`;
  const times = low > 0.1 * high ? `${(high / low).toFixed(1)}×` : code(high);
  return {
    kind: "grain-mismatch",
    severity: Math.min(0.6, 0.1 + 10 * (high - low)),
    figure: times,
    what: `The ${more} is grainier than the ${less}`,
    why: `Grain is ${code(subject.grain)} of full code on the subject and ${code(behind.grain)} on the background: the cleaner one looks pasted on.`,
    remedy: `Bring in a ${less === "background" ? "background with like grain" : "cleaner background"}, or match the grain after delivery`,
    step: "Scene",
    place: null,
    changes: null,
  };
}
