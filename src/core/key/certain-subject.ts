import type { Rgb } from "../color/hue";
import { boxDeviation, boxMean } from "../image/box";
import { type Components, labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf, notOf } from "../image/mask";
import { isPicture, type Picture } from "../image/plane";
import { middleOf, placesWhere, valueAt, valuesAt } from "../image/rank";
import { pointwise } from "../kernels/pointwise";
import { correlation, deviationOf, meanOf } from "../measure/correlation";
import { screenMask } from "../screen/find";
import { excessPlane, otherChannels, type Primary } from "../screen/primary";
import { excessOf } from "./colour-difference";
import { enclosedPrints, printedAreas } from "./printed-areas";
import { liesOverSubject } from "./veil-hem";

/** Distance from the screen that makes a pixel certain subject, in reduced px. */
const MARGIN = 2.5;
/** Matte of the plain difference from which on a smooth area is subject for certain, and from which on it may be. */
const SOLID = 0.75;
const MAYBE = 0.25;
/** Mean under which an even area that hangs on nothing is a pane of glass and no garment; its deviation; reduced px to what a garment hangs on. */
const PANE = 0.4;
const EVEN = 0.025;
const HANGS = 8;
/**
 * Deviation of the excess in the 3 × 3 pixels around one, against the screen's own, that gives mixed pixels away; and that in 5 × 5, on copies wider
 * than so many px, where the smaller square may lie on one strand of a tangle.
 */
const TEXTURE = 0.035;
const WIDER_TEXTURE = 0.04;
const WIDE = 700;
/** Part of a surface's primary that is in excess, from which on the surface itself is taken to have the screen's hue. */
export const KEEP_FROM = 0.2;
/** Share of its own in a place's light, from which on it may be cloth of that hue; folds of it change its light and not that part. */
const OF_CLOTH = 0.8;
/** Least share of the frame that a garment of the screen's hue covers; smaller places of it are strands in motion, with screen between them. */
export const GARMENT = 0.0006;
/** How much cover climbs over a reduced px of a blurred edge, at the least; and how far on both sides, reduced px. */
const SLOPE = 0.02;
const RUN = 3;
/** Plain matte under which a place is clear screen, and how far from the margin it may begin for an outline to be sharp, reduced px. */
const CLEAR = 0.1;
const STEP = 5;
/** Share of an area's outline that must stand sharply against the screen for it to be cloth and not smoke. */
const SHARP = 0.3;
/** Holes in an area that are smaller than this are its texture and no outline, reduced px. */
const HOLE = 30;
/**
 * Correlation of an area's own light with its cover from which on it is smoke however sharp it ends, and with its excess from which on it is cloth
 * however soft, or against its cover; deviation of the cover, and of the excess as a share of the screen's, from which on they say something.
 */
const SMOKE = 0.6;
const CLOTH = 0.5;
const VARIES_AS_SMOKE = 0.02;
const VARIES_AS_CLOTH = 0.05;
/**
 * Under grain only the means of tiles of an area tell that: their side in reduced px, how many there must be, how far their cover must deviate, and
 * the correlations of its own light with the cover and, the other way, with the excess from which on it is smoke.
 */
const TILE = 16;
const TILES = 8;
const TILES_VARY = 0.015;
const SMOKE_BY_TILES = 0.5;
const OTHER_WAY = -0.4;
/**
 * Deviation of tiles' own light, as a share of it, from which on as much of the excess must change for it to be cloth; and the part of it that is not
 * enough. A clear umbrella, a pane with reflections in it, lets as much of the screen through where it is bright as where it is dark.
 */
const OWN_VARIES = 0.08;
const NOT_WITH_IT = 0.4;
/**
 * A place smaller than a garment is no subject for certain if its cover nowhere comes to this, and is on average less than that around it, so many
 * reduced px each way: the folds of a sheer curtain do so, and strands that lie over each other.
 */
const CREST = 0.9;
const AMID = 0.7;
const AMID_WITHIN = 5;
/** Part of an area, the darker by its own light, that is looked at for cloth by itself too: smoke that drifts before a coat is brighter than it. */
const DARKER = 0.75;
/** Deviation of an area's own light, as a share of it, up to which a veil may be even. */
const EVEN_LIGHT = 0.1;
/** Share of its own in a place's light, under which it is the screen in shade, or behind dark mesh. */
const OWN = 0.5;
/**
 * Light in the two other channels, as a share of the primary, beyond what the screen has of it, from which on a surface is no screen however green:
 * cloth of the screen's hue is paler. Before a screen that is dark, or in shade, its excess is as high as the screen's, and tells nothing.
 */
const PALER = 0.5;

/** A reduced copy of the plate and the screen behind it, pixel by pixel: linear light. */
export interface AgainstScreen {
  readonly width: number;
  readonly height: number;
  /** Excess of the primary over the weighted others; the screen's is over 0. */
  readonly excess: Float32Array;
  readonly excessBehind: Float32Array;
  /** The primary, and the two other channels together. */
  readonly light: Float32Array;
  readonly lightBehind: Float32Array;
  readonly others: Float32Array;
  readonly othersBehind: Float32Array;
}

/** @param screen the clean plate at the same size, or one colour @param weight share of the first other channel in the excess, 0…1 */
export function againstScreen(plate: Picture, screen: Picture | Rgb, primary: Primary, weight: number): AgainstScreen {
  const { width, height } = plate;
  const [u, v] = otherChannels(primary);
  const both = (p: Picture) => {
    const out = new Float32Array(width * height);
    pointwise("weigh", [0, 1, 1], [p[primary], p[u], p[v]], [out]);
    return out;
  };
  const even = (value: number) => new Float32Array(width * height).fill(value);
  const behind = isPicture(screen) ? excessPlane(screen, primary, weight) : even(excessOf(screen, primary, weight));
  for (let i = 0; i < behind.length; i++) behind[i] = Math.max(1e-6, behind[i] as number);
  return {
    width,
    height,
    excess: excessPlane(plate, primary, weight),
    excessBehind: behind,
    light: plate[primary],
    lightBehind: isPicture(screen) ? screen[primary] : even(screen[primary]),
    others: both(plate),
    othersBehind: isPicture(screen) ? both(screen) : even(screen[u] + screen[v]),
  };
}

/** @returns 1 where the two other channels hold more beside the primary than any light on the screen gives them */
export function palerThanScreen({ light, lightBehind, others, othersBehind }: AgainstScreen): Uint8Array {
  return maskOf(light, (p, i) => {
    const ofScreen = (othersBehind[i] as number) / Math.max(1e-6, lightBehind[i] as number);
    return (others[i] as number) / Math.max(1e-6, p) > ofScreen + PALER;
  });
}

/**
 * Which areas that may be subject are panes: mostly screen, as even as it, and hanging on nothing. A garment has folds, and
 * someone in it.
 * @param certain 1 where subject is certain @param cover matte of the plain difference
 * @returns 1 for each label that is one
 */
function paneAreas(areas: Components, certain: Float32Array, cover: Float32Array, w: number, h: number): Uint8Array {
  const n = w * h;
  const solid = labelComponents(new Uint8Array(certain), w, h);
  const toSolid = distanceTo(
    maskOf(solid.labels, (label) => label > 0 && (solid.areas[label] as number) >= GARMENT * n),
    w,
    h,
    HANGS + 1,
  );
  const [sum, squares] = [new Float64Array(areas.areas.length), new Float64Array(areas.areas.length)];
  const hangs = new Uint8Array(areas.areas.length);
  for (let i = 0; i < n; i++) {
    const label = areas.labels[i] as number;
    if (!label) continue;
    const m = cover[i] as number;
    sum[label]! += m;
    squares[label]! += m * m;
    if ((toSolid[i] as number) <= HANGS) hangs[label] = 1;
  }
  return Uint8Array.from(areas.areas, (area, label) => {
    const mean = (sum[label] as number) / Math.max(1, area);
    const deviation = Math.sqrt(Math.max(0, (squares[label] as number) / Math.max(1, area) - mean * mean));
    return !hangs[label] && mean < PANE && deviation < EVEN ? 1 : 0;
  });
}

/** Which areas end sharply against the screen, as cloth does. @param clear 1 where the plate is clear screen @returns 1 for each label that does */
function sharpAreas(areas: Components, maybe: Uint8Array, certain: Float32Array, clear: Uint8Array, w: number, h: number): Uint8Array {
  const toClear = distanceTo(clear, w, h);
  const around = labelComponents(notOf(maybe), w, h);
  const rim = new Float64Array(areas.areas.length);
  const sharp = new Float64Array(areas.areas.length);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const label = areas.labels[i] as number;
      if (!label) continue;
      if (areas.labels[i - 1] === label && areas.labels[i + 1] === label && areas.labels[i - w] === label && areas.labels[i + w] === label)
        continue;
      // What is in the area has no label there, and counts as no hole of any size.
      const outer = [i - 1, i + 1, i - w, i + w].filter((k) => (around.areas[around.labels[k] as number] as number) >= HOLE);
      // Where it meets other certain subject its outline says nothing.
      if (outer.length === 0 || outer.some((k) => certain[k] === 1)) continue;
      rim[label]!++;
      if ((toClear[i] as number) < MARGIN + STEP) sharp[label]!++;
    }
  return Uint8Array.from(sharp, (s, label) => (s > SHARP * (rim[label] as number) ? 1 : 0));
}

/** The pixels of each area as large as a garment, by label; null for the others. */
type Places = readonly (Uint32Array | null)[];

function placesOf({ labels, areas }: Components): Places {
  const places = areas.map((area, label) => (label > 0 && area >= GARMENT * labels.length ? new Uint32Array(area) : null));
  const filled = new Uint32Array(areas.length);
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    const there = places[label];
    if (there) there[filled[label]!++] = i;
  }
  return places;
}

/**
 * Tells cloth of the screen's hue from smoke by how their own light goes with the excess. Both have part of the screen's: smoke lets the screen
 * through, so that where it covers more there is more light of its own; cloth has the excess itself, so that where more light falls on it
 * it has more of both, and seems to cover less.
 * @param cover matte of the plain difference @param own light in the other channels that is not the screen's
 * @returns for each label 1 where it is cloth, −1 where it is smoke, 0 where that does not tell
 */
function clothOrSmoke(places: Places, seen: AgainstScreen, cover: Float32Array, own: Float32Array): Int8Array {
  const told = new Int8Array(places.length);
  places.forEach((there, label) => {
    if (!there) return;
    const [covers, owns] = [valuesAt(cover, there), valuesAt(own, there)];
    const withCover = deviationOf(covers) > VARIES_AS_SMOKE ? correlation(covers, owns) : 0;
    const usual = middleOf(valuesAt(seen.excessBehind, there), 0);
    const brightens = (at: Uint32Array, part: number) => {
      const excess = valuesAt(seen.excess, at);
      return correlation(excess, valuesAt(own, at)) > CLOTH && deviationOf(excess) > part * VARIES_AS_CLOTH * usual;
    };
    const bright = valueAt(owns, Math.floor(DARKER * owns.length));
    const darker = there.filter((i) => (own[i] as number) < bright);
    if (brightens(darker, DARKER)) told[label] = 1;
    else if (withCover > SMOKE) told[label] = -1;
    else if (withCover < -CLOTH || brightens(there, 1)) told[label] = 1;
    else if (sheerByTiles(there, seen, cover, own)) told[label] = -1;
  });
  return told;
}

/** Whether an area is smoke, or a film, by the means of its tiles: grain hides from pixels how its own light goes with the cover, or not at all with the excess. */
function sheerByTiles(there: Uint32Array, seen: AgainstScreen, cover: Float32Array, own: Float32Array): boolean {
  const { width, height, excess } = seen;
  const across = Math.ceil(width / TILE);
  const tileOf = (i: number) => Math.floor(i / width / TILE) * across + Math.floor((i % width) / TILE);
  const counts = new Uint16Array(across * Math.ceil(height / TILE));
  for (const i of there) counts[tileOf(i)]!++;
  const full = placesWhere((t) => (counts[t] as number) >= (TILE * TILE) / 2, counts.length);
  if (full.length < TILES) return false;
  const meansOf = (plane: Float32Array) => {
    const sums = new Float32Array(counts.length);
    for (const i of there) sums[tileOf(i)]! += plane[i] as number;
    return Float32Array.from(full, (t) => (sums[t] as number) / (counts[t] as number));
  };
  const [covers, owns] = [meansOf(cover), meansOf(own)];
  const varies = (v: Float32Array) => deviationOf(v) / Math.max(1e-6, meanOf(v, v.length));
  if (varies(owns) > OWN_VARIES && varies(covers.map((c) => 1 - c)) < NOT_WITH_IT * varies(owns)) return true;
  if (deviationOf(covers) <= TILES_VARY || correlation(covers, owns) <= SMOKE_BY_TILES) return false;
  return correlation(meansOf(excess), owns) < OTHER_WAY;
}

/** Whether an even area that ends as sharply as cloth is a veil all the same: its hem passes over the subject. */
function isEvenVeil(there: Uint32Array, seen: AgainstScreen, own: Float32Array, solid: Uint8Array): boolean {
  const meanOf = (plane: Float32Array) => there.reduce((sum, i) => sum + (plane[i] as number), 0) / there.length;
  if (deviationOf(valuesAt(own, there)) > EVEN_LIGHT * meanOf(own)) return false;
  return liesOverSubject(seen, solid, {
    light: meanOf(seen.light),
    others: meanOf(seen.others),
    lightBehind: meanOf(seen.lightBehind),
    othersBehind: meanOf(seen.othersBehind),
    left: meanOf(seen.excess) / meanOf(seen.excessBehind),
  });
}

/** Deviation of a quantity over the 3 × 3 pixels around one, as far as they lie in the frame. */
function deviationAround(value: (i: number) => number, at: number, w: number, h: number): number {
  const [x, y] = [at % w, Math.floor(at / w)];
  const around: number[] = [];
  for (let j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++)
    for (let i = Math.max(0, x - 1); i <= Math.min(w - 1, x + 1); i++) around.push(value(j * w + i));
  return deviationOf(around);
}

/**
 * How steeply cover climbs where a pixel lies on a blurred edge, per px; 0 elsewhere. Its cover and its own light climb on evenly for some px on both
 * sides, from clear screen where the slope would have its foot. Folds of cloth do not: where its own light climbs, so does the excess, and cover falls.
 */
function slopeAt(cover: Float32Array, own: Float32Array, i: number, w: number, h: number): number {
  const y = Math.floor(i / w);
  const x = i - y * w;
  if (x < 2 || y < 2 || x >= w - 2 || y >= h - 2) return 0;
  const gx = ((cover[i + 2] as number) - (cover[i - 2] as number)) / 4;
  const gy = ((cover[i + 2 * w] as number) - (cover[i - 2 * w] as number)) / 4;
  const steep = Math.sqrt(gx * gx + gy * gy);
  if (steep <= SLOPE) return 0;
  const [up, down] = [along(x, y, RUN, gx, gy, steep, w, h), along(x, y, -RUN, gx, gy, steep, w, h)];
  const least = (RUN * steep) / 2;
  if (!((cover[up] as number) - (cover[i] as number) > least && (cover[i] as number) - (cover[down] as number) > least)) return 0;
  if (!((own[up] as number) > (own[i] as number) && (own[i] as number) > (own[down] as number))) return 0;
  return (cover[along(x, y, -(cover[i] as number) / steep - RUN, gx, gy, steep, w, h)] as number) < CLEAR ? steep : 0;
}

/** The pixel `t` px from one along a slope, or the nearest to it in the frame. */
function along(x: number, y: number, t: number, gx: number, gy: number, steep: number, w: number, h: number): number {
  const px = Math.min(w - 1, Math.max(0, Math.round(x + (t * gx) / steep)));
  const py = Math.min(h - 1, Math.max(0, Math.round(y + (t * gy) / steep)));
  return py * w + px;
}

/** Takes small places out of certain subject that only just pass for solid, amid what is open. @param cover matte of the plain difference */
function dropCrests(certain: Float32Array, cover: Float32Array, w: number, h: number): void {
  const { labels, areas } = labelComponents(new Uint8Array(certain), w, h);
  const around = boxMean(cover, w, h, AMID_WITHIN);
  const [most, amid] = [new Float32Array(areas.length), new Float64Array(areas.length)];
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (!label) continue;
    most[label] = Math.max(most[label] as number, cover[i] as number);
    amid[label]! += around[i] as number;
  }
  const isCrest = (label: number) => {
    const area = areas[label] as number;
    return area < GARMENT * w * h && (most[label] as number) < CREST && (amid[label] as number) < AMID * area;
  };
  const crests = Uint8Array.from(areas, (_, label) => (label > 0 && isCrest(label) ? 1 : 0));
  for (let i = 0; i < labels.length; i++) if (crests[labels[i] as number]) certain[i] = 0;
}

/**
 * Certain subject: away from the screen, smooth in its excess (mixed pixels are not), and either clearly not screen or,
 * when its colour comes close to the screen's, an area whose light and outline are those of cloth and not of smoke.
 * @param plate the reduced copy, linear @param paler 1 where a pixel is paler than any screen
 * @returns 1 where certain, on the same grid; and how steeply cover climbs on blurred edges, per px, 0 elsewhere
 */
export function certainSubject(
  plate: Picture,
  primary: Primary,
  seen: AgainstScreen,
  paler: Uint8Array,
): { readonly certain: Float32Array; readonly slopes: Float32Array } {
  const { width: w, height: h, excess: e, excessBehind, light, others, othersBehind } = seen;
  const n = w * h;
  const screen = screenMask(plate, primary).mask;
  const toScreen = distanceTo(screen, w, h);
  const mean = boxMean(e, w, h, 1);
  const here = boxMean(others, w, h, 1);
  const texture = boxDeviation(e, w, h, 1);
  const wider = w > WIDE ? boxDeviation(e, w, h, 2) : null;
  const [cover, own] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const left = (mean[i] as number) / (excessBehind[i] as number);
    cover[i] = 1 - left;
    own[i] = (here[i] as number) - left * (othersBehind[i] as number);
  }
  const part = (i: number) => (e[i] as number) / Math.max(1e-6, light[i] as number);
  const certain = new Float32Array(n);
  // A hem is an edge, around which a recording that compresses ripples: what is solid is not always smooth there.
  const slopes = new Float32Array(n);
  const [maybe, solid, open] = [new Uint8Array(n), new Uint8Array(n), new Uint8Array(n)];
  for (let i = 0; i < n; i++) {
    if ((toScreen[i] as number) <= MARGIN) continue;
    const b = excessBehind[i] as number;
    const matte = 1 - (e[i] as number) / b;
    if (matte >= SOLID) solid[i] = 1;
    else open[i] = 1;
    const against = paler[i] && matte < MAYBE ? Math.max(b, light[i] as number) : b;
    if ((texture[i] as number) > TEXTURE * against || (wider && (wider[i] as number) > WIDER_TEXTURE * against)) {
      // Folds of cloth are as deep as its own light makes them; its hue has none.
      if (matte >= SOLID || part(i) <= KEEP_FROM || (own[i] as number) <= OF_CLOTH * (here[i] as number)) continue;
      if (deviationAround(part, i, w, h) >= TEXTURE) continue;
    }
    slopes[i] = slopeAt(cover, own, i, w, h);
    if (slopes[i]) continue;
    if (matte >= SOLID) certain[i] = 1;
    else if (matte >= MAYBE || paler[i]) maybe[i] = 1;
  }
  dropCrests(certain, cover, w, h);
  const clear = maskOf(e, (v, i) => 1 - v / (excessBehind[i] as number) < CLEAR && !paler[i]);
  // A pixel of grain in smoke is none.
  const clears = boxMean(Float32Array.from(clear), w, h, 1);
  for (let i = 0; i < n; i++) if ((clears[i] as number) < 0.5) clear[i] = 0;
  const areas = labelComponents(maybe, w, h);
  const panes = paneAreas(areas, certain, cover, w, h);
  const sharp = sharpAreas(areas, maybe, certain, clear, w, h);
  const places = placesOf(areas);
  const told = clothOrSmoke(places, seen, cover, own);
  places.forEach((there, label) => {
    if (there && sharp[label] && !told[label] && isEvenVeil(there, seen, own, solid)) told[label] = -1;
  });
  const printed = printedAreas(areas, { solid, cover, own, screen }, (label) => (told[label] as number) < 0, GARMENT * n, w, h);
  const enclosed = enclosedPrints({ open, solid, paler, toScreen, cover, others: here, own }, w, h);
  for (let i = 0; i < n; i++) {
    if (enclosed[i]) certain[i] = 1;
    const label = areas.labels[i] as number;
    if ((told[label] as number) < 0) continue;
    if (printed[label]) certain[i] = 1;
    if (!places[label] || panes[label]) continue;
    if ((sharp[label] || told[label]) && (own[i] as number) > OWN * (here[i] as number)) certain[i] = 1;
  }
  return { certain, slopes };
}
