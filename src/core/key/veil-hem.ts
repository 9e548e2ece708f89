import { linesOf } from "../image/plane";
import type { AgainstScreen } from "./certain-subject";

/** Half of the step across a hem, reduced px: far enough that neither side is mixed. */
const ASIDE = 2;
/** By how much the light must change there, as a share of it, to be one; and how near the veiled side must come to what the veil makes of the bare one. */
const STEP = 0.12;
const NEAR = 0.03;
/** How far what the veil lets through may be from what the screen's excess tells of it: it has some of its own. */
const OWN_EXCESS = 0.1;
/** Least length of a hem, as a share of the frame's lines; how far it may lean from line to line, and lines over which it may be lost, reduced px. */
const LENGTH = 1 / 15;
const LEANS = 2;
const GAP = 2;

/** Something even that shows the screen through if it is a veil: linear light of the primary and of the two others together. */
export interface Veil {
  readonly light: number;
  readonly others: number;
  /** The screen behind it. */
  readonly lightBehind: number;
  readonly othersBehind: number;
  /** What is left of the screen's excess, 0…1. */
  readonly left: number;
}

/**
 * Whether something that may be a veil or cloth of the screen's hue lies over the subject too. A veil V that lets the share t through is V + tB
 * before the screen, and V + tS over a subject S: across its hem, the bare side differs from the screen as the veiled side does from the veil before
 * the screen, t times as much, in the primary and in the other channels alike. Cloth ends at its outline.
 * @param solid 1 where something stands away from the screen and is as good as solid, on the grid of `seen`
 */
export function liesOverSubject({ width, height, light, others }: AgainstScreen, solid: Uint8Array, veil: Veil): boolean {
  const least = LENGTH * linesOf({ width, height });
  const isHem = (veiled: number, bare: number): boolean => {
    if (!solid[veiled] || !solid[bare]) return false;
    const [p, o, q, r] = [light[veiled], others[veiled], light[bare], others[bare]] as [number, number, number, number];
    const whole = p + o;
    if (Math.abs(p - q) + Math.abs(o - r) < STEP * whole) return false;
    const [dp, dq, bp, bq] = [veil.light - p, veil.others - o, veil.lightBehind - q, veil.othersBehind - r];
    const passes = (dp * bp + dq * bq) / (bp * bp + bq * bq);
    if (Math.abs(passes - veil.left) > OWN_EXCESS) return false;
    return Math.abs(dp - passes * bp) + Math.abs(dq - passes * bq) < NEAR * whole;
  };
  for (const [lines, length, next] of [
    [height, width, 1],
    [width, height, width],
  ] as const) {
    // At each place along a line: how long a hem has come there from the lines before, and on which it was met last.
    const [run, met] = [new Uint16Array(length), new Int32Array(length).fill(-1 - GAP)];
    for (let line = 0; line < lines; line++) {
      const start = next === 1 ? line * width : line;
      for (let b = ASIDE; b < length - ASIDE; b++) {
        const [one, other] = [start + (b - ASIDE) * next, start + (b + ASIDE) * next];
        if (!isHem(one, other) && !isHem(other, one)) continue;
        let before = 0;
        for (let k = Math.max(0, b - LEANS); k <= Math.min(length - 1, b + LEANS); k++)
          if (line - (met[k] as number) <= GAP && (met[k] as number) < line) before = Math.max(before, run[k] as number);
        run[b] = before + 1;
        met[b] = line;
        if (before + 1 >= least) return true;
      }
    }
  }
  return false;
}
