import type { FrameRate } from "../../core/documents/timecode";

/** Rates that cameras run at: a mean within a thousandth of one of them is that. */
const USUAL: readonly FrameRate[] = [24, 30, 48, 60, 120]
  .map((n) => ({ num: 1000 * n, den: 1001 }))
  .concat([24, 25, 30, 48, 50, 60, 100, 120].map((num) => ({ num, den: 1 })));

const perSecond = ({ num, den }: FrameRate) => num / den;

/** Whether every frame is shown within half a frame of where an even rate has it. */
const keepsTo = (times: readonly number[], rate: FrameRate): boolean => {
  const first = times[0] ?? 0;
  return times.every((t, i) => Math.abs((t - first) * perSecond(rate) - i) <= 0.5);
};

/**
 * The even rate of a clip. Phones keep to none exactly, and files may state the rate of a clock instead of the frames'.
 * @param times of every frame in showing order, s @param stated by the file
 * @returns the stated rate where the frames keep to it, else their mean, and whether they keep to that
 */
export function evenRate(times: readonly number[], stated: FrameRate): { readonly rate: FrameRate; readonly even: boolean } {
  const span = (times.at(-1) ?? 0) - (times[0] ?? 0);
  if (span <= 0 || keepsTo(times, stated)) return { rate: stated, even: true };
  const mean = (times.length - 1) / span;
  const nearest = USUAL.reduce((a, b) => (Math.abs(perSecond(b) - mean) < Math.abs(perSecond(a) - mean) ? b : a));
  const usual = Math.abs(perSecond(nearest) / mean - 1) < 0.0005 && keepsTo(times, nearest);
  const rate = usual ? nearest : { num: Math.max(1, Math.round(1000 * mean)), den: 1000 };
  return { rate, even: keepsTo(times, rate) };
}
