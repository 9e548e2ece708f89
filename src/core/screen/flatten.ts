import { luminance, type Rgb } from "../color/hue";
import { gaussianBlur } from "../image/blur";
import type { Picture } from "../image/plane";
import { chromaDistance } from "../key/chroma-distance";

export interface Flatten {
  /** 0 leaves the copy alone; beyond two rounds the screen colour would bleed onto the subject. */
  readonly rounds: 0 | 1 | 2;
  /** How far the range is brought to the one colour in a round, 0…1. */
  readonly amount: number;
}

/** The screen's range in CIELAB a*b*: all of it within the first, none from the second on. */
const RANGE = { inner: 14, outer: 30, stretch: 2 };
/** How much more saturated the colour is that the range is brought to. */
const SATURATE = 1.25;
/** σ of the blur that the range's border gets, px. */
const SOFT = 1;

/**
 * Flattens and saturates only the screen's colour range, for the matte's own copy: its contrast is lowered, its colour made
 * stronger, everything else stays. Common practice, one round, at most two.
 * @param colour the sampled screen colour, linear
 */
export function flattenRange(picture: Picture, colour: Rgb, { rounds, amount }: Flatten): Picture {
  const { width, height } = picture;
  const y = luminance(colour);
  const target = (c: keyof Rgb) => Math.max(0, y + SATURATE * (colour[c] - y));
  let now = picture;
  for (let round = 0; round < rounds; round++) {
    const away = chromaDistance(now, { screen: colour, ...RANGE });
    const range = gaussianBlur(
      away.data.map((v) => 1 - v),
      width,
      height,
      SOFT,
    );
    const channel = (c: keyof Rgb) => {
      const to = target(c);
      return now[c].map((v, i) => {
        // The blur may not reach beyond the range, or the subject's rim would take the screen's colour on.
        const w = amount * Math.min(range[i] as number, 1 - (away.data[i] as number));
        return v + w * (to - v);
      });
    };
    now = { width, height, r: channel("r"), g: channel("g"), b: channel("b") };
  }
  return now;
}
