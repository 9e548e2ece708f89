/** Frames a second, as a fraction. */
export interface FrameRate {
  readonly num: number;
  readonly den: number;
}

/**
 * Timecode of a frame. At 29.97 and 59.94 frames a second a start with a semicolon counts with drops: of every minute but each tenth the
 * first two (four) frame numbers are left out, so that it keeps to the clock. Source: SMPTE ST 12-1.
 * @param frame from 1 @param rate null for stills, which count as 24 @param start of frame 1, as the file tells it; from nothing without
 */
export function timecode(frame: number, rate: FrameRate | null, start: string | null): string {
  const fps = rate ? Math.max(1, Math.round(rate.num / rate.den)) : 24;
  const drops = rate?.den === 1001 && fps % 30 === 0 && start?.includes(";") ? fps / 15 : 0;
  const [h = 0, m = 0, s = 0, f = 0] = (start ?? "").split(/[:;.]/).map(Number);
  const minutes = 60 * h + m;
  const first = (60 * minutes + s) * fps + f - drops * (minutes - Math.floor(minutes / 10));
  let n = first + frame - 1;
  if (drops > 0) {
    const minute = 60 * fps - drops;
    const ten = 10 * minute + drops;
    // The first minute of ten keeps all of its numbers.
    n += drops * (9 * Math.floor(n / ten) + Math.max(0, Math.floor(((n % ten) - drops) / minute)));
  }
  const two = (v: number) => String(v).padStart(2, "0");
  const ff = n % fps;
  n = Math.floor(n / fps);
  return `${two(Math.floor(n / 3600) % 24)}:${two(Math.floor(n / 60) % 60)}:${two(n % 60)}${drops ? ";" : ":"}${two(ff)}`;
}
