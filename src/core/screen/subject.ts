import { luminance, type Rgb, rgbToHsv } from "../color/hue";
import { linearToSrgb } from "../color/srgb";
import { distanceTo } from "../image/distance";
import { notOf } from "../image/mask";
import { linesOf, type Picture, type Region } from "../image/plane";
import { middleOf } from "../image/rank";
import { otherChannels, type Primary } from "./primary";

/** One of the subject's own colours and how far it lies from the screen's. */
export interface SubjectColour {
  /** Linear light. */
  readonly colour: Rgb;
  /** Degrees, of sRGB codes; 0…360. */
  readonly hue: number;
  /** Saturation times value of the sRGB codes, 0…1. */
  readonly chroma: number;
  /** Share of the subject, 0…1. */
  readonly share: number;
  /** Degrees between its hue and the screen's, 0…180. */
  readonly hueDistance: number;
  /** Difference of chroma, 0…1. */
  readonly chromaDistance: number;
  readonly place: Region;
}

export interface SubjectReport {
  /** Median luminance of the subject, linear; null without one. */
  readonly light: number | null;
  /** Nearest to the screen first; greys are left out. */
  readonly colours: readonly SubjectColour[];
  /** Mean excess of the screen primary on the subject over the mean of the others, relative to the screen's, 0…1. */
  readonly spill: number;
  /** Median hue in degrees inside the subject, on its outline, and of the screen: where spill pulls it. Null when grey. */
  readonly huePath: { readonly inside: number | null; readonly outline: number | null; readonly screen: number };
}

const BINS = 36;
/** Pixels that are looked at, about: the colours of more tell no more. */
const SAMPLES = 130_000;
const GREY = 0.08;

const angle = (p: number, q: number): number => Math.abs(((p - q + 540) % 360) - 180);

/** Circular mean of hues weighted by chroma, or null when nothing has colour. */
function meanHue(sin: number, cos: number): number | null {
  if (Math.hypot(sin, cos) < 1e-6) return null;
  const h = (Math.atan2(sin, cos) * 180) / Math.PI;
  return h < 0 ? h + 360 : h;
}

/**
 * Measures the subject's own colours, its light, and the screen light on it.
 * @param subject 1 where a pixel is certain subject
 * @param screen screen colour, linear
 */
export function measureSubject(picture: Picture, subject: Uint8Array, screen: Rgb, primary: Primary): SubjectReport {
  const { width, height } = picture;
  const code = (c: Rgb) =>
    rgbToHsv({ r: linearToSrgb(Math.max(0, c.r)), g: linearToSrgb(Math.max(0, c.g)), b: linearToSrgb(Math.max(0, c.b)) });
  const screenHsv = code(screen);
  const toOutside = distanceTo(notOf(subject), width, height);
  const rim = Math.max(2, linesOf(picture) / 120);
  const [u, v] = otherChannels(primary);
  const own = screen[primary] - 0.5 * (screen[u] + screen[v]);
  const bins = Array.from({ length: BINS }, () => ({ count: 0, r: 0, g: 0, b: 0, x0: width, y0: height, x1: 0, y1: 0 }));
  const paths = { inside: [0, 0] as [number, number], outline: [0, 0] as [number, number] };
  const lights = new Float32Array(width * height);
  let spill = 0;
  let count = 0;
  const stride = Math.max(1, Math.round(Math.sqrt((width * height) / SAMPLES)));
  for (let y = 0; y < height; y += stride)
    for (let x = 0; x < width; x += stride) {
      const i = y * width + x;
      if (!subject[i]) continue;
      const c = { r: picture.r[i] as number, g: picture.g[i] as number, b: picture.b[i] as number };
      lights[count++] = luminance(c);
      spill += Math.max(0, c[primary] - 0.5 * (c[u] + c[v]));
      const hsv = code(c);
      const chroma = hsv.s * hsv.v;
      const path = (toOutside[i] as number) < rim ? paths.outline : paths.inside;
      path[0] += chroma * Math.sin((hsv.h * Math.PI) / 180);
      path[1] += chroma * Math.cos((hsv.h * Math.PI) / 180);
      if (chroma < GREY) continue;
      const bin = bins[Math.floor(hsv.h / (360 / BINS)) % BINS] as (typeof bins)[number];
      bin.count++;
      bin.r += c.r;
      bin.g += c.g;
      bin.b += c.b;
      bin.x0 = Math.min(bin.x0, x);
      bin.y0 = Math.min(bin.y0, y);
      bin.x1 = Math.max(bin.x1, x + 1);
      bin.y1 = Math.max(bin.y1, y + 1);
    }
  const colours = bins
    .filter((b) => b.count > 0.005 * count)
    .map((b): SubjectColour => {
      const colour = { r: b.r / b.count, g: b.g / b.count, b: b.b / b.count };
      const hsv = code(colour);
      return {
        colour,
        hue: hsv.h,
        chroma: hsv.s * hsv.v,
        share: b.count / count,
        hueDistance: angle(hsv.h, screenHsv.h),
        chromaDistance: Math.abs(hsv.s * hsv.v - screenHsv.s * screenHsv.v),
        place: { x: b.x0, y: b.y0, width: b.x1 - b.x0, height: b.y1 - b.y0 },
      };
    })
    .sort((a, b) => a.hueDistance - b.hueDistance)
    .slice(0, 6);
  return {
    light: middleOf(lights.subarray(0, count), null),
    colours,
    spill: count && own > 0 ? spill / count / own : 0,
    huePath: { inside: meanHue(...paths.inside), outline: meanHue(...paths.outline), screen: screenHsv.h },
  };
}
