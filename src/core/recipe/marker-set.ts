import { labelComponents } from "../image/components";
import { maskOver } from "../image/mask";
import { clipRegion, linesOf, type Picture, type Plane, type Region, wholeOf } from "../image/plane";
import { deviationOf, meanOf } from "../measure/correlation";

/** Markers of one size that make a set; and how many of all patches must be of it for them to be markers. */
const MARKERS_LEAST = 3;
const ALIKE = 0.7;
/** Cosine of the angle up to which two patches depart from the screen in one direction of colour, and how many of all must do so with one of them. */
const ONE_COLOUR = Math.cos(Math.PI / 15);
const OF_ONE_COLOUR = 0.5;
/** Deviation of how much alike patches cover, as a share of the mean, over which they are not of one size. */
const ONE_SIZE = 0.16;
/** Area of a patch's box, as a share of the square of the frame's lines, under which it may be of the recording, and no thing. */
const LEAST_THING = 1 / 7000;

/**
 * Whether patches on the screen are no markers but all that stands before it, or most of it: bees, petals, snow. Markers are put up for something
 * larger, and are of one size and colour.
 */
export function areSwarm(patches: readonly Region[], pull: Plane, plate: Picture, screen: Picture): boolean {
  if (patches.length === 0) return false;
  if (mostOfOneColour(patches, pull, plate, screen) < OF_ONE_COLOUR * patches.length) return true;
  const { count, usual } = setOfMarkers(patches);
  if (usual > LEAST_THING * linesOf(pull) ** 2) {
    if (count < ALIKE * patches.length) return true;
    // Markers are cut to one size, or torn to about one. Bees are nearer and farther, and turn.
    const covered = alike(patches.map((p) => present(p, pull))).alike;
    if (deviationOf(covered) > ONE_SIZE * meanOf(covered, covered.length)) return true;
  }
  const ofPatches = patches.reduce((sum, p) => sum + present(p, pull), 0);
  return 2 * ofPatches > present(wholeOf(pull), pull);
}

/** How many pixels of a region, as far as it lies in the frame, are more subject than screen. */
function present(region: Region, { width, height, data }: Plane): number {
  const { x, y, ...size } = clipRegion(region, width, height);
  let pixels = 0;
  for (let j = y; j < y + size.height; j++)
    for (let i = j * width + x; i < j * width + x + size.width; i++) if ((data[i] as number) > 0.5) pixels++;
  return pixels;
}

/**
 * How many patches at the most are of one colour. It is told by how they depart from the screen where they cover most of it: the direction of that
 * is the same however much of it they cover.
 */
function mostOfOneColour(patches: readonly Region[], pull: Plane, plate: Picture, screen: Picture): number {
  const departures = patches.map((p) => {
    let most = -1;
    let at = 0;
    for (let y = p.y; y < Math.min(pull.height, p.y + p.height); y++)
      for (let i = y * pull.width + p.x, k = 0; k < p.width && p.x + k < pull.width; i++, k++)
        if ((pull.data[i] as number) > most) [most, at] = [pull.data[i] as number, i];
    const d = (["r", "g", "b"] as const).map((c) => (plate[c][at] as number) - (screen[c][at] as number)) as [number, number, number];
    const length = Math.hypot(...d);
    return d.map((v) => v / Math.max(1e-6, length));
  });
  const like = (a: readonly number[]) => departures.filter((b) => a.reduce((s, v, k) => s + v * (b[k] as number), 0) > ONE_COLOUR).length;
  return Math.max(...departures.map(like));
}

/**
 * The set that markers make: how many of them are alike, and the largest's area, px²; 0 where there is no set; and the area that is usual. Markers are
 * put up several at a time and alike; a single patch may be smoke, or part of the subject.
 */
export function setOfMarkers(markers: readonly Region[]): { count: number; largest: number; usual: number } {
  const sizes = alike(markers.map((m) => m.width * m.height));
  const count = sizes.alike.length;
  return count < MARKERS_LEAST
    ? { count: 0, largest: 0, usual: sizes.usual }
    : { count, largest: Math.max(...sizes.alike), usual: sizes.usual };
}

/** Sizes that are within twice the usual one: stains among crosses are not. */
function alike(sizes: readonly number[]): { readonly usual: number; readonly alike: readonly number[] } {
  const usual = [...sizes].sort((a, b) => a - b)[sizes.length >> 1] ?? 0;
  return { usual, alike: sizes.filter((s) => isAlike(s, usual)) };
}

const isAlike = (size: number, usual: number): boolean => size > usual / 2 && size < 2 * usual;

/** A marker's soft rim, all that is over the grain, goes at most so far beyond its box; the second as a share of the frame's lines. */
const SOFT_RIM = 4;
const SOFT_RIM_OF_LINES = 1 / 100;

/**
 * The largest island that a marker of a set makes, its soft rim with it, px²: of a small one, or through a soft lens, the rim is most.
 * @param usual area of the set's boxes, px² @param calm means of the pull over 3 × 3 @param level pull over which something is present
 */
export function largestIsland(markers: readonly Region[], usual: number, pull: Plane, calm: Float32Array, level: number): number {
  const { width, height } = pull;
  const { labels } = labelComponents(maskOver(calm, level), width, height);
  const sizes = new Map<number, number>();
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i] as number;
    if (label && (pull.data[i] as number) > level) sizes.set(label, (sizes.get(label) ?? 0) + 1);
  }
  const beyond = 2 * Math.max(SOFT_RIM, SOFT_RIM_OF_LINES * linesOf(pull));
  let largest = 0;
  for (const m of markers) {
    if (!isAlike(m.width * m.height, usual)) continue;
    const there = clipRegion(m, width, height);
    for (let y = there.y; y < there.y + there.height; y++)
      for (let x = there.x; x < there.x + there.width; x++) {
        const size = sizes.get(labels[y * width + x] as number) ?? 0;
        // What is larger hangs on something else.
        if (size <= (m.width + beyond) * (m.height + beyond)) largest = Math.max(largest, size);
      }
  }
  return largest;
}
