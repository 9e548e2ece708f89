import { luminance, type Rgb, rgbToHsv } from "../color/hue";
import { linearToSrgb } from "../color/srgb";
import { type Allocate, fresh, type Picture, type Plane, type Region } from "../image/plane";

/** A range of colour: in sRGB codes, as people read hue and saturation. */
export interface ColourRange {
  /** Whether it adds to the screen, or is taken from what others added. */
  readonly take: boolean;
  /** Degrees 0…360, and how many to either side. */
  readonly hue: number;
  readonly hueReach: number;
  /** From and to, 0…1. */
  readonly saturation: [number, number];
  /** Luma of the codes, from and to, 0…1. */
  readonly luma: [number, number];
}

export interface ColourRanges {
  readonly ranges: readonly ColourRange[];
  /** Width of every shoulder, as a share of the full scale (360° of hue counts as 3), 0…1. */
  readonly softness: number;
}

interface HueSatLuma {
  readonly h: number;
  readonly s: number;
  readonly l: number;
}

function describe(r: number, g: number, b: number): HueSatLuma {
  const code = { r: linearToSrgb(Math.max(0, r)), g: linearToSrgb(Math.max(0, g)), b: linearToSrgb(Math.max(0, b)) };
  const { h, s } = rgbToHsv(code);
  return { h, s, l: luminance(code) };
}

/** Share of a range that a value has: 1 inside, falling to 0 over the shoulder. */
function within(value: number, from: number, to: number, shoulder: number): number {
  const beyond = Math.max(from - value, value - to);
  if (beyond <= 0) return 1;
  return shoulder <= 0 || beyond >= shoulder ? 0 : 1 - beyond / shoulder;
}

const angle = (p: number, q: number) => Math.abs(((p - q + 540) % 360) - 180);

function inRange(c: HueSatLuma, range: ColourRange, softness: number): number {
  return Math.min(
    within(angle(c.h, range.hue), 0, range.hueReach, 120 * softness),
    within(c.s, range.saturation[0], range.saturation[1], softness),
    within(c.l, range.luma[0], range.luma[1], softness),
  );
}

/**
 * Pull by ranges of hue, saturation and luma with soft shoulders: 1 − what the added ranges hold, less what the taken ones
 * do. A colour is as much in a range as in the tightest of its three; ranges join by the larger.
 * @throws RangeError without a range that adds
 */
export function colourRanges(picture: Picture, key: ColourRanges, allocate: Allocate = fresh): Plane {
  const added = key.ranges.filter((r) => !r.take);
  const taken = key.ranges.filter((r) => r.take);
  if (added.length === 0) throw new RangeError("No range yet: sample the screen's colours in Pull.");
  const { width, height, r, g, b } = picture;
  const data = allocate(r.length);
  const most = (c: HueSatLuma, ranges: readonly ColourRange[]) => {
    let top = 0;
    for (const range of ranges) top = Math.max(top, inRange(c, range, key.softness));
    return top;
  };
  for (let i = 0; i < data.length; i++) {
    const c = describe(r[i] as number, g[i] as number, b[i] as number);
    const screen = most(c, added);
    data[i] = 1 - (screen > 0 && taken.length ? screen * (1 - most(c, taken)) : screen);
  }
  return { width, height, data };
}

/** Standard deviations of a sample that a range takes in to either side; common practice. */
const REACH = 2.5;

/** The range that a sampled box of the picture spans: mean ± 2.5 standard deviations of each. */
export function rangeOf(picture: Picture, box: Region, take: boolean): ColourRange {
  const values: HueSatLuma[] = [];
  const mean: { -readonly [K in keyof Rgb]: number } = { r: 0, g: 0, b: 0 };
  for (let y = Math.max(0, Math.floor(box.y)); y < Math.min(picture.height, box.y + box.height); y++)
    for (let x = Math.max(0, Math.floor(box.x)); x < Math.min(picture.width, box.x + box.width); x++) {
      const i = y * picture.width + x;
      for (const c of ["r", "g", "b"] as const) mean[c] += picture[c][i] as number;
      values.push(describe(picture.r[i] as number, picture.g[i] as number, picture.b[i] as number));
    }
  const n = values.length;
  if (n === 0) throw new RangeError("The box lies outside the frame.");
  const centre = describe(mean.r / n, mean.g / n, mean.b / n);
  const spread = (pick: (v: HueSatLuma) => number) => {
    const m = values.reduce((s, v) => s + pick(v), 0) / n;
    return { m, d: REACH * Math.sqrt(values.reduce((s, v) => s + (pick(v) - m) ** 2, 0) / n) };
  };
  const hue = REACH * Math.sqrt(values.reduce((s, v) => s + angle(v.h, centre.h) ** 2, 0) / n);
  const clip = ({ m, d }: { m: number; d: number }): [number, number] => [Math.max(0, m - d - 0.01), Math.min(1, m + d + 0.01)];
  return {
    take,
    hue: centre.h,
    hueReach: Math.min(180, hue + 2),
    saturation: clip(spread((v) => v.s)),
    luma: clip(spread((v) => v.l)),
  };
}
