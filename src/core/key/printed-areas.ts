import { type Components, labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";

/**
 * A print, or a piece of a pattern, stands farther from the screen than this, reduced px; covers so many; and meets what is solid along this share of
 * its outline, so many px away. There its cover rises by this, and so many times what it changes as far inside: over a blurred edge it climbs
 * slowly, and on and on.
 */
const INSIDE = 6;
const PIECE = 6;
const MEETS_SOLID = 0.25;
const ACROSS = 3;
const RISES = 0.15;
const STEPS_UP = 2.5;
/**
 * Outline beyond which what is there, so far away, is as open as it is, over that where it meets what is solid, from which on it is a part of something
 * sheer: a fold of a veil beside a hat. And by how much cover must rise there not to be as open.
 */
const GOES_ON = 0.7;
const AS_OPEN = 0.1;
/** Part of its own light by which a piece may differ from something sheer that lies within three times {@link ACROSS}, and be a part of it between strands. */
const AS_BRIGHT = 0.25;
/**
 * A print of thin parts is nowhere smooth. It stands this far from the screen, reduced px; its cover is nowhere under this where it is not paler than
 * any screen, and its own part of its light at least so much; it covers shares of the frame between these; and so much of what is around it, up to
 * three times {@link ACROSS} away, is solid: cells of a comb with honey in them lie beside each other. Within {@link ACROSS} its cover rises by more
 * than this part of what is wanting to solid: blurred gaps, between fingers in motion, that are too narrow to be clear rise by little more than half
 * of it.
 */
const DEEP = 12;
const LEAST_COVER = 0.2;
const LEAST_OWN = 0.5;
const LEAST_SHARE = 0.00025;
const MOST_SHARE = 0.02;
const AMID_SOLID = 0.65;
const SHARPLY = 0.6;

/** Eight ways, {@link ACROSS} px along each. */
const WAYS = Array.from({ length: 8 }, (_, k) =>
  [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)].map((v) => Math.round(ACROSS * v)),
) as [number, number][];

/** What areas meet along their outlines, {@link ACROSS} away in eight ways, by label. */
interface Outlines {
  /** How many places that is; at how many of them it is solid, and at how many as open as the area, and on beyond it. */
  readonly places: Float64Array;
  readonly met: Float64Array;
  readonly asOpen: Float64Array;
  /** By how much cover rises to what is solid; what is wanting to all of it; and what it changes as far inside. Sums. */
  readonly rises: Float64Array;
  readonly wanting: Float64Array;
  readonly changes: Float64Array;
  /** How much is solid of what lies once, twice and three times as far away, 0…1. */
  readonly amidSolid: Float64Array;
  /** Other areas that lie as far away; nothing where there are none. */
  readonly beside: readonly Set<number>[];
}

function outlinesOf({ areas, labels }: Components, solid: Uint8Array, cover: Float32Array, w: number, h: number): Outlines {
  const zeros = () => new Float64Array(areas.length);
  const [places, met, asOpen, rises, wanting, changes] = [zeros(), zeros(), zeros(), zeros(), zeros(), zeros()];
  const [around, amidSolid] = [zeros(), zeros()];
  const beside: Set<number>[] = [];
  const lieBeside = (a: number, b: number) => {
    const others = beside[a];
    if (others) others.add(b);
    else beside[a] = new Set([b]);
  };
  for (let y = ACROSS; y < h - ACROSS; y++)
    for (let x = ACROSS; x < w - ACROSS; x++) {
      const i = y * w + x;
      const label = labels[i] as number;
      if (!label) continue;
      const here = cover[i] as number;
      const isAsOpen = (k: number) => !solid[k] && (cover[k] as number) < here + AS_OPEN;
      for (const [dx, dy] of WAYS) {
        const way = dy * w + dx;
        if (labels[i + way] === label) continue;
        places[label]!++;
        for (let k = 1; k <= 3; k++) {
          const [u, v] = [x + k * dx, y + k * dy];
          if (u < 0 || v < 0 || u >= w || v >= h) break;
          around[label]!++;
          amidSolid[label]! += solid[v * w + u] as number;
          const there = labels[v * w + u] as number;
          if (!there || there === label) continue;
          lieBeside(label, there);
          lieBeside(there, label);
        }
        if (!solid[i + way]) {
          // Its own rim, which is not smooth, is followed by what is solid.
          if (isAsOpen(i + way) && isAsOpen(i + 2 * way)) asOpen[label]!++;
          continue;
        }
        met[label]!++;
        rises[label]! += Math.min(1, cover[i + way] as number) - here;
        wanting[label]! += 1 - here;
        if (labels[i - way] === label) changes[label]! += Math.abs(here - (cover[i - way] as number));
      }
    }
  return {
    places,
    met,
    asOpen,
    rises,
    wanting,
    changes,
    amidSolid: amidSolid.map((v, label) => v / Math.max(1, around[label] as number)),
    beside,
  };
}

/**
 * Which areas stand within the subject, as a print on it or a piece of its pattern does: nowhere near the screen, and met by what is solid. Smoke
 * thins out into more smoke, a veil goes on, and what shows through a gap is at its rims as clear as the screen.
 * @param solid 1 where the plain difference says so @param cover its matte @param own light that is not the screen's @param screen 1 where it shows
 * @param isSheer whether an area is known for smoke or a veil
 * @param speck area in px under which a place of the screen's colour is none: where checks meet, they may mix to it
 * @returns 1 for each label that does
 */
export function printedAreas(
  pieces: Components,
  {
    solid,
    cover,
    own,
    screen,
  }: { readonly solid: Uint8Array; readonly cover: Float32Array; readonly own: Float32Array; readonly screen: Uint8Array },
  isSheer: (label: number) => boolean,
  speck: number,
  w: number,
  h: number,
): Uint8Array {
  const { areas, labels } = pieces;
  const shows = labelComponents(screen, w, h);
  const toScreen = distanceTo(
    maskOf(shows.labels, (label) => label > 0 && (shows.areas[label] as number) >= speck),
    w,
    h,
    INSIDE + 1,
  );
  const nearest = new Float32Array(areas.length).fill(Number.POSITIVE_INFINITY);
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (label) nearest[label] = Math.min(nearest[label] as number, toScreen[i] as number);
  }
  const { places, met, asOpen, rises, changes, beside } = outlinesOf(pieces, solid, cover, w, h);
  const sheer = piecesOfSheer(pieces, cover, own, beside, isSheer);
  return Uint8Array.from(areas, (area, label) =>
    !sheer[label] &&
    area >= PIECE &&
    (nearest[label] as number) > INSIDE &&
    (met[label] as number) > MEETS_SOLID * (places[label] as number) &&
    (asOpen[label] as number) < GOES_ON * (met[label] as number) &&
    (rises[label] as number) > Math.max(RISES * (met[label] as number), STEPS_UP * (changes[label] as number))
      ? 1
      : 0,
  );
}

/** Which areas are sheer, or pieces of it between strands: beside one, as open and as bright. @returns 1 for each label that is */
function piecesOfSheer(
  { areas, labels }: Components,
  cover: Float32Array,
  own: Float32Array,
  beside: readonly Set<number>[],
  isSheer: (label: number) => boolean,
): Uint8Array {
  const [covers, owns] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    const part = 1 / (areas[label] as number);
    covers[label]! += part * (cover[i] as number);
    owns[label]! += part * (own[i] as number);
  }
  const like = (a: number, b: number) =>
    Math.abs((covers[a] as number) - (covers[b] as number)) < AS_OPEN &&
    Math.abs((owns[a] as number) - (owns[b] as number)) < AS_BRIGHT * Math.max(owns[a] as number, owns[b] as number);
  const sheer = Uint8Array.from(areas, (_, label) => (label > 0 && isSheer(label) ? 1 : 0));
  const next = [...sheer.keys()].filter((label) => sheer[label]);
  for (let from = next.pop(); from !== undefined; from = next.pop())
    for (const label of beside[from] ?? [])
      if (!sheer[label] && like(label, from)) {
        sheer[label] = 1;
        next.push(label);
      }
  return sheer;
}

/** What {@link enclosedPrints} is told from, on the reduced copy. */
export interface SeenOfPrints {
  /** 1 where the plain difference says neither solid nor screen, and where it says solid. */
  readonly open: Uint8Array;
  readonly solid: Uint8Array;
  /** 1 where it is paler than any screen. */
  readonly paler: Uint8Array;
  /** Distance from the screen, px. */
  readonly toScreen: Float32Array;
  /** Matte of the plain difference, the light of the two other channels, and what of that is not the screen's. */
  readonly cover: Float32Array;
  readonly others: Float32Array;
  readonly own: Float32Array;
}

/**
 * Which pixels lie in a print of thin parts, leaves or letters: enclosed by what is solid far from the screen, and with light of its own. What shows
 * through a gap so far from the screen is screen.
 */
export function enclosedPrints({ open, solid, paler, toScreen, cover, others, own }: SeenOfPrints, w: number, h: number): Uint8Array {
  const pieces = labelComponents(open, w, h);
  const { labels, areas } = pieces;
  const isPrint = Uint8Array.from(areas, (area, label) => (label > 0 && area >= LEAST_SHARE * w * h && area <= MOST_SHARE * w * h ? 1 : 0));
  const [light, ofOwn] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (!isPrint[label]) continue;
    if ((toScreen[i] as number) <= DEEP || ((cover[i] as number) <= LEAST_COVER && !paler[i])) isPrint[label] = 0;
    light[label]! += others[i] as number;
    ofOwn[label]! += own[i] as number;
  }
  const { rises, wanting, changes, amidSolid } = outlinesOf(pieces, solid, cover, w, h);
  for (let label = 1; label < areas.length; label++) {
    const endsSharply = (rises[label] as number) > Math.max(SHARPLY * (wanting[label] as number), STEPS_UP * (changes[label] as number));
    const hasOwn = (ofOwn[label] as number) > LEAST_OWN * (light[label] as number);
    if (!(endsSharply && hasOwn && (amidSolid[label] as number) >= AMID_SOLID)) isPrint[label] = 0;
  }
  return maskOf(labels, (label) => isPrint[label] === 1);
}
