import { boxesOf, labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf } from "../image/mask";
import { cropChannel, linesOf, type Region, wholeOf } from "../image/plane";
import { deviationOf, meanOf } from "../measure/correlation";
import { straightEnd } from "./straight-end";

/** The frame parted into what is screen, what is subject, and what is neither. */
export interface Areas {
  /** 1 where a pixel is certain subject: away from the screen's edge and not beyond the screen. */
  readonly subject: Uint8Array;
  /** 1 where a pixel lies beyond the screen: neither screen nor subject. */
  readonly beyond: Uint8Array;
  /** Small patches with screen all around. */
  readonly markers: readonly Region[];
  /** Whether these are many and lie as by chance, as snow and spray do: they are no markers then. */
  readonly scattered: boolean;
  /** Where the screen ends inside the frame: the share of each border of the picture that shows something else, subject set aside. */
  readonly ends: { readonly left: number; readonly right: number; readonly top: number };
  /** Where something before the screen passes its end: around the line along which it is cut off. */
  readonly passes: readonly Region[];
  /** Lit walls along which the screen ends straight, where it does not go down to the bottom: the room, or the set around a window. */
  readonly walls: readonly Region[];
  /** Columns, as shares of the width, that have screen in them: the first and the last. */
  readonly span: readonly [number, number];
}

/** Largest marker, as a share of the frame; and how near to square and how far from the subject's size it must be. */
const MARKER_MOST = 0.003;

/** Whether a patch stands alone: within its own size all around it there is nothing of the picture but screen. */
function screenAround(screen: Uint8Array, r: Region, width: number, inside: Region): boolean {
  const room = Math.max(3, Math.ceil(Math.max(r.width, r.height) / 2));
  let [shown, all] = [0, 0];
  for (let y = Math.max(inside.y, r.y - room); y < Math.min(inside.y + inside.height, r.y + r.height + room); y++)
    for (let x = Math.max(inside.x, r.x - room); x < Math.min(inside.x + inside.width, r.x + r.width + room); x++) {
      if (x >= r.x && x < r.x + r.width && y >= r.y && y < r.y + r.height) continue;
      all++;
      shown += screen[y * width + x] as number;
    }
  return shown > 0.97 * all;
}

/** So many widths of what is too narrow to be the screen's beginning lie across the frame. */
const SLIVERS = 40;
/** Share of a border that must be dark beyond the screen for all that stands there to be no subject. */
const ENDS = 0.3;

/** Whether a patch is as compact as markers are, crosses among them. */
export const isCompact = ({ width, height }: Pick<Region, "width" | "height">, area: number): boolean =>
  Math.max(width, height) < 2.5 * Math.min(width, height) && area > 0.12 * width * height;

/** Whether a patch has a marker's size and shape, crosses among them, and stands alone on the screen, as far as the picture goes. */
export function isMarker(
  place: Region,
  area: number,
  screen: Uint8Array,
  width: number,
  height: number,
  inside: Region = wholeOf({ width, height }),
): boolean {
  if (area > MARKER_MOST * width * height || !isCompact(place, area)) return false;
  return screenAround(screen, place, width, inside);
}

/**
 * How near a top corner what goes round it must come, as a share of the frame's shorter side; or, where a lamp hides the corner itself,
 * how far along the top and down the side it may meet both, as shares of these.
 */
const CORNER = 0.02;
const ALONG_TOP = 0.1;
const DOWN_SIDE = 0.3;
/** Part of a side that a lamp may hide under such dark, beneath which it goes on. */
const HIDDEN = 0.25;

/** What lies beyond the screen, and what reaches there from before it. */
export interface Beyond extends Pick<Areas, "passes" | "walls"> {
  /** 1 where a pixel is neither screen nor subject. */
  readonly beyond: Uint8Array;
}

/**
 * What lies beyond the screen: dark places that go round a top corner of the picture; and, where the screen ends so on a side, or along a straight
 * line before a lit wall, everything between that border and the screen: lamps, stands, and legs of theirs that reach in over it. So do black
 * bars around the picture.
 * @param screenLight light of the screen: screenLightOf
 * @param inside the picture without them: {@link insideBars}
 */
export function beyondScreen(
  screen: Uint8Array,
  luma: Float32Array,
  screenLight: number,
  width: number,
  height: number,
  inside: Region = wholeOf({ width, height }),
): Beyond {
  const { x, y, width: w, height: h } = inside;
  if (w === width && h === height) return beyondInPicture(screen, luma, screenLight, width, height);
  const picture = beyondInPicture(cropChannel(screen, width, inside), cropChannel(luma, width, inside), screenLight, w, h);
  const beyond = new Uint8Array(width * height).fill(1);
  for (let k = 0; k < h; k++) beyond.set(picture.beyond.subarray(k * w, (k + 1) * w), (y + k) * width + x);
  const moved = (places: readonly Region[]) => places.map((p) => ({ ...p, x: p.x + x, y: p.y + y }));
  return { beyond, passes: moved(picture.passes), walls: moved(picture.walls) };
}

function beyondInPicture(screen: Uint8Array, luma: Float32Array, screenLight: number, width: number, height: number): Beyond {
  const dark = maskOf(screen, (s, i) => !s && (luma[i] as number) < 0.12 * screenLight);
  const { labels, areas } = labelComponents(dark, width, height);
  // The dark behind a screen goes round a top corner. Hair, dark clothes and dark tables at the frame's border do not.
  const met = new Uint8Array(areas.length);
  const corner = Math.ceil(Math.min(width, height) * CORNER);
  for (let k = 0; k < corner; k++) for (const i of [k, width - 1 - k, k * width, k * width + width - 1]) met[labels[i] as number] = 1;
  for (const side of [0, width - 1]) {
    const inwards = side ? -1 : 1;
    const top = new Set(Array.from({ length: Math.ceil(ALONG_TOP * width) }, (_, k) => labels[side + inwards * k] as number));
    for (let y = 0; y < DOWN_SIDE * height; y++) {
      const label = labels[y * width + side] as number;
      if (top.has(label)) met[label] = 1;
    }
  }
  met[0] = 0;
  for (const side of [0, width - 1]) {
    let last = Number.NEGATIVE_INFINITY;
    for (let y = 0; y < height; y++) {
      const label = labels[y * width + side] as number;
      if (screen[y * width + side]) last = Number.NEGATIVE_INFINITY;
      else if (label && (met[label] || y - last <= HIDDEN * height)) {
        met[label] = 1;
        last = y;
      }
    }
  }
  const beyond = maskOf(labels, (l) => met[l] === 1);
  const besides = [
    toScreen(screen, beyond, height, width, (k, depth) => k * width + depth),
    toScreen(screen, beyond, height, width, (k, depth) => k * width + width - 1 - depth),
    toScreen(screen, beyond, width, height, (k, depth) => depth * width + k),
  ];
  const stands = screenAtBottom(screen, width, height);
  const walls: Region[] = [];
  for (const { places, lit } of besides)
    if (lit && !stands) {
      const wall = new Int32Array(width * height);
      for (const i of places) wall[i] = 1;
      walls.push(...boxesOf(wall, width).values());
    } else for (const i of places) beyond[i] = 1;
  takeBehindStands(screen, beyond, labels, areas.length, width, height);
  return { beyond, passes: takeStands(screen, beyond, width, height), walls };
}

/** Widest leg of a stand, as a share of the frame's shorter side; and share of the outline of dark behind it that may meet screen. */
const LEG = 1 / 90;
const BEHIND = 0.5;

/** Adds the dark that shows between the legs of a stand: a leg's width from what lies beyond the screen, and with little screen beside it. */
function takeBehindStands(screen: Uint8Array, beyond: Uint8Array, dark: Int32Array, count: number, width: number, height: number): void {
  if (!beyond.includes(1)) return;
  const leg = Math.ceil(Math.min(width, height) * LEG);
  const toBeyond = distanceTo(beyond, width, height, leg + 2);
  const [rim, open] = [new Int32Array(count), new Int32Array(count)];
  const near = new Uint8Array(count);
  const besides = (label: number, i: number) => {
    if (dark[i] === label) return;
    rim[label]!++;
    open[label]! += screen[i] as number;
  };
  for (let i = 0; i < dark.length; i++) {
    const label = dark[i] as number;
    if (!label || beyond[i]) continue;
    if ((toBeyond[i] as number) <= leg + 1) near[label] = 1;
    const x = i % width;
    if (x > 0) besides(label, i - 1);
    if (x < width - 1) besides(label, i + 1);
    if (i >= width) besides(label, i - width);
    if (i + width < dark.length) besides(label, i + width);
  }
  for (let i = 0; i < dark.length; i++) {
    const label = dark[i] as number;
    if (near[label] && (open[label] as number) <= BEHIND * (rim[label] as number)) beyond[i] = 1;
  }
}

/** Largest part of a stand or cable that reaches in over the screen, as a share of the frame. */
const STAND = 0.004;

/**
 * Adds what hangs together with what lies beyond the screen and reaches in no larger than a stand's leg does.
 * @returns where larger things, a hand or a prop, hang together with it
 */
function takeStands(screen: Uint8Array, beyond: Uint8Array, width: number, height: number): Region[] {
  const { labels, areas } = labelComponents(
    maskOf(screen, (s, i) => !s && !beyond[i]),
    width,
    height,
  );
  /** What lies beside what is beyond, by what it belongs to and by the half of the frame: an arm may pass either end. */
  const met = new Int32Array(labels.length);
  const small = new Set<number>();
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (!label) continue;
    const x = i % width;
    if (
      (x > 0 && beyond[i - 1]) ||
      (x < width - 1 && beyond[i + 1]) ||
      (i >= width && beyond[i - width]) ||
      (i + width < labels.length && beyond[i + width])
    ) {
      if ((areas[label] as number) <= STAND * labels.length) small.add(label);
      else met[i] = 2 * label + (2 * x < width ? 0 : 1);
    }
  }
  for (let i = 0; i < labels.length; i++) if (small.has(labels[i] as number)) beyond[i] = 1;
  return [...boxesOf(met, width).values()];
}

/** Rows at the bottom, and the part of them that must be screen. */
const BOTTOM = 0.03;
const AT_BOTTOM = 0.01;

/** Whether the screen goes down to the frame's bottom: what is lit around it is then no subject. A window and a display have the set around them. */
function screenAtBottom(screen: Uint8Array, width: number, height: number): boolean {
  const rows = Math.max(1, Math.round(BOTTOM * height));
  let shown = 0;
  for (let i = (height - rows) * width; i < height * width; i++) shown += screen[i] as number;
  return shown >= AT_BOTTOM * rows * width;
}

/**
 * Pixels between one border and the screen, where the screen ends there: behind it is the dark of a studio, or it ends along a straight line before
 * a lit wall. What reaches in past the line along which the screen ends is left alone.
 * @param count pixels along the border; @param depth pixels across the frame; @param at index of a pixel by both
 * @returns them, and whether a lit wall stands there
 */
function toScreen(
  screen: Uint8Array,
  beyond: Uint8Array,
  count: number,
  depth: number,
  at: (k: number, depth: number) => number,
): { readonly places: readonly number[]; readonly lit: boolean } {
  const begins: number[] = [];
  /** Where nothing but dark lies between the border and the screen, its end shows. */
  const shown: number[] = [];
  const sliver = Math.ceil(depth / SLIVERS);
  let ends = 0;
  for (let k = 0; k < count; k++) {
    ends += beyond[at(k, 0)] as number;
    // A lit leg of a stand may look like a sliver of screen, and is none.
    let [d, run, dark] = [0, 0, true];
    for (; d < depth && run < sliver; d++) run = screen[at(k, d)] ? run + 1 : 0;
    d -= run;
    for (let f = 0; f < d && dark; f++) dark = beyond[at(k, f)] === 1;
    begins.push(d);
    if (dark) shown.push(k);
  }
  const places: number[] = [];
  if (ends < ENDS * count) {
    straightEnd(begins, depth)?.forEach((end, k) => {
      for (let d = 0; d < Math.min(begins[k] as number, end); d++) places.push(at(k, d));
    });
    return { places, lit: true };
  }
  // Without such a place, as it is beside a row of lamps, the middle of what reaches in least.
  const known = shown.length > 0 ? shown : begins.map((_, k) => k);
  const reach = Math.ceil(count / 12);
  const middle = (list: readonly number[]) => {
    const mid = list.length >> 1;
    return { k: list[mid] as number, line: list.map((k) => begins[k] as number).sort((a, b) => a - b)[mid] as number };
  };
  for (let k = 0; k < count; k++) {
    // Behind a lamp, or a sleeve that passes it, the end goes on straight.
    const before = known.filter((s) => s <= k).slice(-reach);
    const after = known.filter((s) => s >= k).slice(0, reach);
    const [a, b] = [middle(before.length ? before : after), middle(after.length ? after : before)];
    const line = b.k === a.k ? a.line : a.line + ((b.line - a.line) * (k - a.k)) / (b.k - a.k);
    const most = Math.min(begins[k] as number, line, depth / 3);
    for (let d = 0; d < most; d++) places.push(at(k, d));
  }
  return { places, lit: false };
}

/** Patches from which on their places tell whether they were put up, and deviation of their distances, as a share of the mean, that no one puts up. */
const SCATTERED_LEAST = 12;
const UNEVENLY = 0.3;
/** Patches that are asked at the most, evenly among all: grain may leave thousands. */
const ASKED = 200;

/**
 * Whether patches lie as by chance. The distances to the nearest then deviate by 0.52 of their mean, √(4/π − 1), as theirs is a Rayleigh
 * distribution, and by more in clusters; in a lattice, however much of it the subject hides, by next to nothing.
 * Source: Clark & Evans, "Distance to Nearest Neighbor as a Measure of Spatial Relationships in Populations", Ecology 35 (1954).
 */
export function areScattered(patches: readonly Region[]): boolean {
  if (patches.length < SCATTERED_LEAST) return false;
  const middles = patches.map((p) => [p.x + p.width / 2, p.y + p.height / 2] as const);
  const every = Math.ceil(patches.length / ASKED);
  const toNearest = middles
    .filter((_, k) => k % every === 0)
    .map((own) =>
      middles.reduce(
        (least, m) => (m === own ? least : Math.min(least, Math.hypot(m[0] - own[0], m[1] - own[1]))),
        Number.POSITIVE_INFINITY,
      ),
    );
  return deviationOf(toNearest) > UNEVENLY * meanOf(toNearest, toNearest.length);
}

/**
 * Parts a plate.
 * @param screen 1 where a pixel is screen
 * @param luma luminance of the plate, linear
 * @param screenLight light of the screen: screenLightOf
 * @param inside the picture without black bars
 */
export function partAreas(
  screen: Uint8Array,
  luma: Float32Array,
  screenLight: number,
  width: number,
  height: number,
  inside: Region = wholeOf({ width, height }),
): Areas {
  const n = width * height;
  const other = new Uint8Array(n);
  for (let i = 0; i < n; i++) other[i] = screen[i] ? 0 : 1;
  const { beyond, passes, walls } = beyondScreen(screen, luma, screenLight, width, height, inside);
  const isBeyond = (i: number) => beyond[i] === 1;

  const patches = labelComponents(other, width, height);
  const boxes = boxesOf(patches.labels, width);
  const markers: Region[] = [];
  const small = new Uint8Array(patches.areas.length);
  for (let k = 1; k < patches.areas.length; k++) {
    const area = patches.areas[k] as number;
    if (area > MARKER_MOST * n) continue;
    small[k] = 1;
    if (patches.atBorder[k] || area < 1e-5 * n || area < 6) continue;
    const place = boxes.get(k) as Region;
    if (isMarker(place, area, screen, width, height, inside)) markers.push(place);
  }

  const away = distanceTo(screen, width, height);
  const margin = Math.max(2, linesOf({ width, height }) / 180);
  const subject = new Uint8Array(n);
  for (let i = 0; i < n; i++)
    if (other[i] && (away[i] as number) > margin && !small[patches.labels[i] as number] && !isBeyond(i)) subject[i] = 1;

  const share = (count: number, of: (k: number) => number) => {
    let c = 0;
    for (let k = 0; k < count; k++) if (isBeyond(of(k))) c++;
    return c / count;
  };
  const columns = new Float64Array(width);
  for (let i = 0; i < n; i++) if (screen[i]) columns[i % width]!++;
  const shown = (x: number) => (columns[x] as number) > 0.05 * height;
  let [first, last] = [0, width - 1];
  while (first < width - 1 && !shown(first)) first++;
  while (last > 0 && !shown(last)) last--;
  return {
    subject,
    beyond,
    markers,
    scattered: areScattered(markers),
    ends: {
      left: share(inside.height, (k) => (inside.y + k) * width + inside.x),
      right: share(inside.height, (k) => (inside.y + k) * width + inside.x + inside.width - 1),
      top: share(inside.width, (k) => inside.y * width + inside.x + k),
    },
    passes,
    walls,
    span: [first / width, (last + 1) / width],
  };
}
