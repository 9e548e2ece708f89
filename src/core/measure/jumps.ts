/** Half width of the window that a frame is compared with, frames. */
const AROUND = 3;
/** How many times the usual difference between frames makes a jump. */
const TIMES = 6;

/**
 * Frames at which a figure jumps away from its neighbours: by more than six times the usual change from frame to frame, and by more
 * than `least`. A slow rise is none; a place that opens for a frame or two is.
 * @param values one figure a frame, in order; null where it could not be measured
 * @returns indices, the largest jump first
 */
export function findJumps(values: readonly (number | null)[], least: number): number[] {
  const steps: number[] = [];
  for (let i = 1; i < values.length; i++) {
    const [a, b] = [values[i - 1], values[i]];
    if (a != null && b != null) steps.push(Math.abs(b - a));
  }
  if (steps.length < 3) return [];
  const usual = steps.sort((a, b) => a - b)[steps.length >> 1] as number;
  const found: { i: number; by: number }[] = [];
  values.forEach((v, i) => {
    if (v == null) return;
    const near: number[] = [];
    for (let k = Math.max(0, i - AROUND); k <= Math.min(values.length - 1, i + AROUND); k++) {
      const other = values[k];
      if (k !== i && other != null) near.push(other);
    }
    if (near.length < 2) return;
    const by = Math.abs(v - (near.sort((a, b) => a - b)[near.length >> 1] as number));
    if (by > least && by > TIMES * usual) found.push({ i, by });
  });
  return found.sort((a, b) => b.by - a.by).map((f) => f.i);
}
