import { boxMean } from "../image/box";
import { type Components, labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import type { Picture } from "../image/plane";
import { valuesWhere } from "../image/rank";
import { type OwnLight, ownLight } from "./own-light";
import { otherChannels, type Primary } from "./primary";

/** Own light of a pixel, the two other channels together, as a share of the light it lacks, up to which only light is missing; black hair has four times that. */
const OWN = 0.01;
/** By how much more where there is grain, as a share of its own median. */
const OWN_OF_GRAIN = 1;
/**
 * Share of the screen's light under which shade is so dark that black cloth in the screen's own light looks like it: it is told by all around a pixel
 * that is as dark, half the side of the square in px, whose grain averages out.
 */
const DARK = 0.15;
const TOGETHER = 2;
/**
 * Coarse chroma lays own light of either sign along the edges of shade: what has no more of it than this, as a share of the light it lacks, is told by
 * the square around it too. So many times the grain, so that nothing changes where there is none.
 */
const MAYBE = 0.25;
const MAYBE_OF_GRAIN = 70;
/** What has so many times the own light that shade may have is none for certain, and says nothing of it. */
const PLAINLY = 2;
/** Share of the filled screen's light under which a pixel is in shade, and the least that may be left of it. */
const SHADED = 0.95;
const DARKEST = 0.04;
/**
 * A screen may be clipped where it is as bright as that, and is where so much of it is of one light, within this share of its brightest: how much is
 * missing before it cannot be told then, and dark hair looks like shade.
 */
const WHITE = 0.97;
const OF_ONE_LIGHT = 0.1;
const ONE_LIGHT = 0.995;
/** Least whole part (3 × 3 pixels around each are in shade too) of a patch of shade, as a share of the frame: the walls of a glass are thin. */
const PATCH = 1 / 6000;
/** And the part of a patch that is neither dark nor steep: its light falls by less than this share of the screen's over twice so many px. */
const CALM = 0.04;
const STEEP = 0.2;
const RUN = 2;
/**
 * Black hair in the screen's own light is no other hue than shade, but a tangle: a valley is darker by this share of the screen's light than what lies so
 * many px off on both sides, and where two of them or more are met within so many px along the row and along the column, strands cross.
 */
const VALLEY = 0.04;
const BESIDE = [
  [3, 0],
  [0, 3],
  [2, 2],
  [2, -2],
] as const;
const NEAR = 10;
/**
 * Share of a patch that is so from which on it is hair, and where more than so much of it is whole, as the shadow of a figure is; least area of all such
 * patches together, as a share of the frame, since a crease, a mark or the shade behind a chair may be as dense; and the share from which on the others
 * are hair then.
 */
const TANGLED = 0.13;
const WHOLE_IN_HAIR = 0.53;
const TANGLED_WHOLE = 0.5;
const LEAST_TANGLE = 2 / 1000;
const LESS_TANGLED = 0.04;
/** Most certain screen around the pixels of hair, on average: a mark has it on all sides. And most deep shade, since blocks of compression pass for it. */
const OPEN = 0.175;
const DEEP_IN_HAIR = 0.05;
/** Least area of a gap that is in shade all over, as a share of the frame, and least light in it: a piece of dark cloth may have as little of its own. */
const ENCLOSED = 1 / 2000;
const DARK_GAP = 0.25;
/** Pixels of 3 × 3, itself with them, that must be in shade around one that is. */
const MOST = 5;
/** A pixel beside a patch can hold some of it when its light is between these shares of the patch's, and it has that share of the screen's purity. */
const RIM = [0.5, 1.2] as const;
const RIM_PURITY = 0.6;
const CHANNELS = ["r", "g", "b"] as const;

/**
 * Brings shade into a filled screen: its own light, averaged over 3 × 3 of its pixels, and one pixel around it where what stands there
 * is mixed with it.
 * @param clean channels of the filled screen, r g b, at the copy's size, darkened in place
 * @param shade 1 where the plate shows the screen in shade: see {@link shadeBeside}
 */
export function followShade(clean: readonly Float32Array[], small: Picture, primary: Primary, shade: Uint8Array): void {
  if (!shade.includes(1)) return;
  const { width, height } = small;
  const weight = Float32Array.from(shade);
  const total = boxMean(weight, width, height, 1);
  const away = distanceTo(shade, width, height, 2);
  const sums = CHANNELS.map((c) =>
    boxMean(
      small[c].map((v, i) => v * (weight[i] as number)),
      width,
      height,
      1,
    ),
  );
  const [main, u, v] = [primary, ...otherChannels(primary)].map((c) => CHANNELS.indexOf(c)) as [number, number, number];
  const shown = CHANNELS.map((c) => small[c]);
  const purity = (c: readonly Float32Array[], i: number) =>
    1 - ((c[u] as Float32Array)[i]! + (c[v] as Float32Array)[i]!) / (2 * Math.max(1e-6, (c[main] as Float32Array)[i]!));
  for (let i = 0; i < shade.length; i++) {
    if ((away[i] as number) > 1) continue;
    if (!shade[i]) {
      const share = ((small[primary][i] as number) * (total[i] as number)) / ((sums[main] as Float32Array)[i] as number);
      if (share < RIM[0] || share > RIM[1] || purity(shown, i) < RIM_PURITY * purity(clean, i)) continue;
    }
    sums.forEach((sum, k) => {
      const channel = clean[k] as Float32Array;
      const own = (sum[i] as number) / (total[i] as number);
      channel[i] = shade[i] ? own : Math.min(channel[i] as number, own);
    });
  }
}

/**
 * Shade that lies beside a subject, between its parts and around what stands before the screen. There the plate is darker than the
 * screen filled in from around, and nothing else: of the light that is missing nothing has come instead, to a hundredth. Strands and
 * cloth, however dark, add light of their own to the channels that the screen has little of. Only what certain screen leads to
 * counts, pixel by pixel through screen, and gaps that lie in shade all over.
 * @param clean channels of the screen filled in from what is certain, r g b, at the copy's size
 * @param certain 1 where the plate shows nothing but screen
 * @param deep 1 where it is certain to show the screen in deep shade; cleared in hair
 * @returns 1 where the plate shows the screen in shade
 */
export function shadeBeside(
  clean: readonly Float32Array[],
  small: Picture,
  primary: Primary,
  certain: Float32Array,
  deep: Uint8Array,
): Uint8Array {
  const { width, height } = small;
  const n = width * height;
  const seen = ownLight(clean, small, primary, certain);
  const { main, screen: light, beyond } = seen;
  const led = labelComponents(
    showsScreen(seen, certain, deep, clippedFrom(valuesWhere(small[primary], certain)), width, height),
    width,
    height,
  );
  const leads = new Uint8Array(led.areas.length);
  for (let i = 0; i < n; i++) if (certain[i] || deep[i]) leads[led.labels[i] as number] = 1;
  enclosedShade(led, main, light, beyond).forEach((is, label) => {
    if (is) leads[label] = 1;
  });
  const [shaded, lit] = [new Uint8Array(n), new Uint8Array(n)];
  for (let i = 0; i < n; i++)
    if (deep[i] || (leads[led.labels[i] as number] && !certain[i] && (main[i] as number) <= SHADED * (light[i] as number))) shaded[i] = 1;
    else lit[i] = 1;
  // Patches with a whole part large enough, some of it calm, that are no hair, and those around deep shade.
  const left = boxMean(
    main.map((m, i) => m / Math.max(1e-6, light[i] as number)),
    width,
    height,
    1,
  );
  const patches = labelComponents(shaded, width, height);
  const sums = (of: (i: number) => number) => {
    const out = new Float64Array(patches.areas.length);
    for (let i = 0; i < n; i++) if (shaded[i]) out[patches.labels[i]!]! += of(i);
    return out;
  };
  const toLit = distanceTo(lit, width, height, 2);
  const nearby = boxMean(certain, width, height, NEAR);
  const parts = {
    tangle: tangledParts(patches, left, width, height),
    whole: sums((i) => ((toLit[i] as number) > 1 ? 1 : 0)),
    open: sums((i) => nearby[i] as number),
    deep: sums((i) => deep[i] as number),
  };
  const isHair = hairPatches(patches.areas, n, parts);
  for (let i = 0; i < n; i++) if (isHair[patches.labels[i] as number]) deep[i] = 0;
  const calm = calmParts(patches, main, light, left, width, height);
  const isShade = patches.areas.map((area, label) => {
    if (isHair[label]) return false;
    return (parts.deep[label] as number) > 0 || ((parts.whole[label] as number) >= PATCH * n && (calm[label] as number) >= CALM * area);
  });
  for (let i = 0; i < n; i++) if (shaded[i] && !isShade[patches.labels[i] as number]) shaded[i] = 0;
  // A lone pixel is grain, and a thin line the subject's rim.
  const around = boxMean(Float32Array.from(shaded), width, height, 1);
  for (let i = 0; i < n; i++) if ((around[i] as number) < (MOST - 0.5) / 9) shaded[i] = 0;
  return shaded;
}

/**
 * Where the plate shows the screen, in shade or not: nothing but light is missing there, pixel by pixel, or over the square around where only that tells.
 * @param clipped light of the filled screen from which on it tells nothing
 */
function showsScreen(
  { main, screen: light, beyond, grain }: OwnLight,
  certain: Float32Array,
  deep: Uint8Array,
  clipped: number,
  width: number,
  height: number,
): Uint8Array {
  const n = width * height;
  const most = OWN + OWN_OF_GRAIN * grain;
  const isDark = (i: number) => !certain[i] && !deep[i] && (main[i] as number) < DARK * (light[i] as number);
  /** Own light and lack of those pixels that count, over the square around each. */
  const together = (counts: (i: number, lacks: number) => boolean) => {
    const [own, lack] = [new Float32Array(n), new Float32Array(n)];
    for (let i = 0; i < n; i++) {
      const lacks = (light[i] as number) - (main[i] as number);
      if (!counts(i, lacks)) continue;
      own[i] = beyond[i] as number;
      lack[i] = lacks;
    }
    return [boxMean(own, width, height, TOGETHER), boxMean(lack, width, height, TOGETHER)] as const;
  };
  const maybe = Math.min(MAYBE, MAYBE_OF_GRAIN * grain);
  const [owns, lacking] = together((i, lacks) => isDark(i) && (beyond[i] as number) <= PLAINLY * most * lacks);
  const isMaybe = (i: number, lacks: number) =>
    !certain[i] &&
    !deep[i] &&
    !isDark(i) &&
    (main[i] as number) <= SHADED * (light[i] as number) &&
    Math.abs(beyond[i] as number) <= maybe * lacks;
  const [maybeOwns, maybeLacking] = together(isMaybe);
  const mostTogether = OWN + (OWN_OF_GRAIN * grain) / (2 * TOGETHER + 1);
  const screen = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const p = light[i] as number;
    const m = main[i] as number;
    const lacks = Math.max(p - m, (1 - SHADED) * p);
    if (isDark(i) && (owns[i] as number) > mostTogether * (lacking[i] as number)) continue;
    const ofScreen =
      (beyond[i] as number) <= most * lacks ||
      (isMaybe(i, p - m) && (maybeOwns[i] as number) <= mostTogether * (maybeLacking[i] as number));
    if (certain[i] || deep[i] || (p < clipped && m >= DARKEST * p && ofScreen)) screen[i] = 1;
  }
  return screen;
}

/**
 * Which areas are shade that no certain screen leads to: all of a gap, between an arm and a coat or the bars of a chair, lies in it. They are large, and
 * taken together their hue is the screen's as exactly as it is where grain averages out.
 */
function enclosedShade({ labels, areas }: Components, main: Float32Array, light: Float32Array, beyond: Float32Array): Uint8Array {
  const [left, own] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (!label) continue;
    const [p, m] = [light[i] as number, main[i] as number];
    left[label]! += m / p / (areas[label] as number);
    own[label]! += (beyond[i] as number) / Math.max(p - m, (1 - SHADED) * p) / (areas[label] as number);
  }
  return Uint8Array.from(areas, (area, label) => {
    const [share, ofOwn] = [left[label] as number, own[label] as number];
    return label > 0 && area >= ENCLOSED * labels.length && share > DARK_GAP && share < SHADED && Math.abs(ofOwn) < OWN ? 1 : 0;
  });
}

/**
 * How much of each patch is neither dark nor steep, px by label. Shade has a middle, or fades; the edge of a black thing that mirrors the screen, black
 * glass or a polished boot, has its hue, and falls at once from the screen's light to what it mirrors.
 * @param left share of the screen's light
 */
function calmParts(
  { labels, areas }: Components,
  main: Float32Array,
  light: Float32Array,
  left: Float32Array,
  width: number,
  height: number,
): Float64Array {
  const calm = new Float64Array(areas.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const label = labels[i] as number;
      if (!label || (main[i] as number) < DARK * (light[i] as number)) continue;
      const across = (left[i + Math.min(RUN, width - 1 - x)] as number) - (left[i - Math.min(RUN, x)] as number);
      const down = (left[i + Math.min(RUN, height - 1 - y) * width] as number) - (left[i - Math.min(RUN, y) * width] as number);
      if (Math.abs(across) < STEEP && Math.abs(down) < STEEP) calm[label]!++;
    }
  return calm;
}

/**
 * Which patches are hair: strands cross in them and leave little of them whole, they lie close to what is no screen for certain, and show little deep
 * shade. Hair is in pieces, of which a few are thick with strands; where enough of such is found, the thinner ones are hair too.
 * @param areas px by label, as are the parts of each: where strands cross, whole, in deep shade, and the certain screen around it
 * @param n pixels of the frame
 * @returns 1 by label
 */
function hairPatches(areas: Components["areas"], n: number, parts: Record<"tangle" | "whole" | "open" | "deep", Float64Array>): Uint8Array {
  const ofAll = (part: keyof typeof parts, label: number) => (parts[part][label] as number) / (areas[label] as number);
  const tangled = (share: (label: number) => number) =>
    Uint8Array.from(areas, (_, label) =>
      label > 0 && ofAll("tangle", label) > share(label) && ofAll("open", label) < OPEN && ofAll("deep", label) < DEEP_IN_HAIR ? 1 : 0,
    );
  const thick = tangled((label) => (ofAll("whole", label) > WHOLE_IN_HAIR ? TANGLED_WHOLE : TANGLED));
  const found = areas.reduce((sum, area, label) => sum + (thick[label] ? area : 0), 0);
  return found < LEAST_TANGLE * n ? new Uint8Array(areas.length) : tangled(() => LESS_TANGLED);
}

/** How much of each patch lies where strands cross, px by label. @param left share of the screen's light */
function tangledParts({ labels, areas }: Components, left: Float32Array, width: number, height: number): Float64Array {
  const valley = new Uint8Array(labels.length);
  const inside = Math.max(...BESIDE.flat().map(Math.abs));
  for (let y = inside; y < height - inside; y++)
    for (let x = inside; x < width - inside; x++) {
      const i = y * width + x;
      const bottom = (left[i] as number) + VALLEY;
      for (const [dx, dy] of BESIDE) {
        const off = dy * width + dx;
        if ((left[i + off] as number) > bottom && (left[i - off] as number) > bottom) valley[i] = 1;
      }
    }
  /** Whether a line through a pixel meets two valleys or more near it. @param place of the pixel on the line @param size of the line */
  const meetsTwo = (i: number, place: number, size: number, step: number): boolean => {
    let [met, before] = [0, 0];
    for (let q = Math.max(0, place - NEAR); q <= Math.min(size - 1, place + NEAR); q++) {
      const here = valley[i + (q - place) * step] as number;
      if (here && !before) met++;
      before = here;
    }
    return met > 1;
  };
  const tangled = new Float64Array(areas.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const label = labels[i] as number;
      if (label && meetsTwo(i, x, width, 1) && meetsTwo(i, y, height, width)) tangled[label]!++;
    }
  return tangled;
}

/** Light of the filled screen from which on it counts as clipped, by that of certain screen; beyond all light where none of it is. */
function clippedFrom(lights: Float32Array): number {
  const brightest = lights.reduce((most, v) => Math.max(most, v), 0);
  const alike = lights.filter((v) => v >= ONE_LIGHT * brightest).length;
  return brightest >= WHITE && alike >= OF_ONE_LIGHT * lights.length ? WHITE * brightest : Number.POSITIVE_INFINITY;
}
