import type { Rgb } from "../color/hue";
import { maskOf, maskUnder } from "../image/mask";
import { isPicture, type Picture } from "../image/plane";
import { otherChannels, type Primary } from "../screen/primary";

/** Share of the brightest light that is recorded from which on a channel is clipped, and least light in all channels: what burns out is nearly white. */
const CLIPPED = 0.99;
const BRIGHT = 0.5;
/** Cover under which a pixel is left alone, as glints on what is clear, and those beside it, as the outline. */
const LEAST = 0.2;

/**
 * Covers mixed pixels as far as their brightness tells: no subject is recorded brighter than white, so that a pixel nearly as bright holds little of
 * the screen, C ≤ α·W + (1 − α)·B in each channel. Rims that a back light burns out lose the hue that tells them from a mixture, as their brightest
 * channel is clipped first. Beside what is clipped, and along the outline itself, nothing is told: there the subject was brighter than was recorded.
 * @param cover 0…1, changed in place @param plate linear light @param mixed 1 where a pixel is a mixture
 */
export function coverBright(cover: Float32Array, mixed: Uint8Array, plate: Picture, screen: Picture | Rgb, primary: Primary): void {
  const { width } = plate;
  const clear = maskUnder(cover, LEAST);
  const [p, [u, v]] = [plate[primary], otherChannels(primary).map((c) => plate[c]) as [Float32Array, Float32Array]];
  const asked = maskOf(mixed, (m, i) => m === 1 && Math.min(p[i] as number, u[i] as number, v[i] as number) >= BRIGHT);
  if (!asked.includes(1)) return;
  for (const c of otherChannels(primary)) {
    const light = plate[c];
    let white = 1;
    for (let i = 0; i < light.length; i++) if ((light[i] as number) > white) white = light[i] as number;
    const clipped = (i: number) => (light[i] as number) >= CLIPPED * white;
    for (let i = 0; i < light.length; i++) {
      if (!asked[i] || clear[i] || clear[i - 1] || clear[i + 1] || clear[i - width] || clear[i + width]) continue;
      if (!clipped(i) && (clipped(i - 1) || clipped(i + 1) || clipped(i - width) || clipped(i + width))) continue;
      const own = light[i] as number;
      const behind = isPicture(screen) ? (screen[c][i] as number) : screen[c];
      // A screen as bright as white tells nothing.
      const least = behind < BRIGHT ? (own - behind) / (white - behind) : 0;
      if (least > (cover[i] as number)) cover[i] = Math.min(1, least);
    }
  }
}
