import { boxMean } from "../image/box";
import { areaRuns, type Runs } from "../image/components";
import { distanceTo } from "../image/distance";
import { bothOf, maskOver, maskUnder, notOf } from "../image/mask";
import { type Allocate, fillAround, fresh, linesOf, type Plane, type Region, wholeOf } from "../image/plane";
import { pointwise } from "../kernels/pointwise";
import { isShade, type MissingLight } from "../screen/shade";
import { cutOffMarkers } from "./cut-off";

/** Bounds that follow the subject without keyframes: a harsh key, grown for what is out, shrunk for what is in. */
export interface AutoBounds {
  /** Matte from which on a pixel may be subject; what lies `grow` px beyond is thrown away. */
  readonly outLevel: number;
  readonly grow: number;
  /** Matte under which a pixel is not solid; what lies `shrink` px inside is held. */
  readonly inLevel: number;
  readonly shrink: number;
  /** Width of both soft edges, px. */
  readonly soft: number;
  /** Islands up to this area are dropped, pinholes and enclosed thin places up to this area are filled, px². */
  readonly specks: number;
  /** Islands alone are dropped up to this area, px², and what is as large and hangs on by its shadow: markers on the screen. Pinholes are not touched. */
  readonly islands: number;
  /** Small islands that stay under this matte and stand alone go as well: what a recording that compresses leaves on the screen. None without it. */
  readonly faint?: number;
}

export interface Bounds {
  /** 1 where everything is out. */
  readonly out: Float32Array;
  /** 1 where everything is in. */
  readonly in: Float32Array;
}

/** An enclosed area whose matte falls under this somewhere and which is larger than a speck is a true gap to the screen. */
const GAP = 0.4;

/** Area, as a share of the square of the frame's lines, from which on such a place may be a veil out of focus; and the matte a true reflection of that size stays over. */
const WIDE = 1 / 2000;
const WIDE_GAP = 0.7;

/** Area, as a share of the square of the frame's lines, up to which a faint island is of the recording, which compresses blocks of 8 × 8; px² at least. */
const BLOCKS = 1 / 2000;
const LEAST_BLOCKS = 100;
/** Its area with the rim that averaging gives it, over its own. */
const RIMMED = 2;
/** How little else lies around such an island, as a share of a square of so many frames' lines to each side: pieces of mesh or strands lie in crowds. */
const AROUND = 1 / 16;
const ALONE = 0.012;

/** Share of other soft places around one, above which it belongs to strands and is left open. */
const CROWD = 0.06;

/** What tells the screen in shade. */
export interface Shade {
  /** 1 where it may be, by colour averaged over a wide square. */
  readonly wide: Uint8Array;
  /** The same close to, to be judged as a whole by the light that is missing. */
  readonly thin: Uint8Array;
  readonly missing: MissingLight;
}

/**
 * Automatic garbage and holdout from the pull itself. Locally adaptive: a place is held only when nothing soft lies within
 * `shrink` px, so strands and mesh, which are soft everywhere, are never filled; enclosed places that stay well off the
 * screen (a reflection, spill) are closed, true gaps are not.
 * @param scale this plane's size over the full frame's; all lengths are in pixels of the full frame
 * @param shade where the plate may show the screen itself at less light, over a wide square and close to: what of it hangs on no subject is out
 * @param inside the picture without black bars: what meets only them hangs on no subject
 */
export function automaticBounds(
  pull: Plane,
  settings: AutoBounds,
  scale: number,
  allocate: Allocate = fresh,
  shade: Shade | null = null,
  inside: Region = wholeOf(pull),
): Bounds {
  const { width, height } = pull;
  const n = pull.data.length;
  // Over 3 × 3, so that single noisy pixels decide nothing.
  const calm = boxMean(pull.data, width, height, 1);
  const area = scale * scale;

  const present = maskOver(inside.width * inside.height === n ? calm : calmWithin(pull, inside), settings.outLevel);
  if (shade) dropAllShade(present, pull, calm, settings.outLevel, shade);
  const { outLevel, specks, islands, faint = 0 } = settings;
  if (islands > specks) cutOffMarkers(present, pull, islands * area);
  dropIslands(present, pull, outLevel, Math.max(specks, islands) * area);
  if (faint > outLevel) dropFaintIslands(present, pull, faint, Math.max(LEAST_BLOCKS * area, BLOCKS * linesOf(pull) ** 2));
  const grow = Math.max(1, settings.grow * scale);
  const shrink = Math.max(1, settings.shrink * scale);
  const soft = Math.max(0.5, settings.soft * scale);
  const toPresent = distanceTo(present, width, height, grow + soft + 1);

  const thin = maskUnder(calm, settings.inLevel);
  closeReflections(thin, { width, height, data: calm }, settings.specks * area, shrink);
  const toThin = distanceTo(thin, width, height, shrink + soft + 1);

  const out = allocate(n);
  const held = allocate(n);
  pointwise("ramp", [grow, 1 / soft], [toPresent], [out]);
  pointwise("ramp", [shrink, 1 / soft], [toThin], [held]);
  return { out, in: held };
}

/** The averaged pull as if nothing stood around a rectangle. */
function calmWithin({ width, height, data }: Plane, inside: Region): Float32Array {
  const within = data.slice();
  fillAround(within, width, inside, 0);
  return boxMean(within, width, height, 1);
}

/**
 * Least area of a fold, a seam or a stain, as a share of the square of the frame's lines; pull over which it is a black thing, a line in glass
 * say; share of its outline that may meet a subject.
 */
const FOLD = 1 / 4000;
const DEEPEST = 0.82;
const MEETS = 0.4;

/** Least area of a piece of one, over that of a whole one; and how near to what is out already it lies, px. */
const PIECE = 1 / 8;
const PIECES_WITHIN = 10;

/**
 * Half side of the square over which an area is told from a line, px; share of it that an area takes up, mesh with its openings too; and how much
 * its pull, its own mean of 3 × 3, differs from pixel to pixel where it is woven.
 */
const WEAVE = 6;
const DENSE = 0.5;
const WOVEN = 0.25;

/**
 * Takes the screen in shade out of `present`, where it is an area of its own and hangs on nothing that stands before it, and is not woven, as dark
 * mesh is: folds and stains are smooth, seams are lines.
 * @param calm the pull over 3 × 3
 * @param level pull that grain does not reach
 * @param missing light by which an area, its pixels together, must be shade; what it meets is then something only over `level`, and else its own rim
 * @param beside where an area may be a piece of what is out already, and so be smaller
 */
function dropShade(
  present: Uint8Array,
  { width, height, data }: Plane,
  calm: Float32Array,
  level: number,
  shade: Uint8Array,
  missing?: MissingLight,
  beside?: Uint8Array,
): void {
  const own = bothOf(present, shade);
  const { count, starts, ends, labels, areas } = areaRuns(own, width, height);
  const n = present.length;
  const deepest = new Float32Array(areas.length);
  const [rim, met, lack, instead] = [0, 1, 2, 3].map(() => new Float64Array(areas.length)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const something = missing ? level : Number.NEGATIVE_INFINITY;
  const besides = (label: number, i: number) => {
    if (i < 0 || i >= n || own[i]) return;
    rim[label]!++;
    if ((data[i] as number) > something) met[label]! += present[i] as number;
  };
  const fold = FOLD * linesOf({ width, height }) ** 2;
  const least = new Float32Array(areas.length).fill(fold);
  if (beside)
    for (let k = 0; k < count; k++) if (beside.subarray(starts[k], ends[k]).includes(1)) least[labels[k] as number] = PIECE * fold;
  const large = (label: number) => (areas[label] as number) >= (least[label] as number);
  for (let k = 0; k < count; k++) {
    const [label, start, end] = [labels[k] as number, starts[k] as number, ends[k] as number];
    if (!large(label)) continue;
    if (start % width > 0) besides(label, start - 1);
    if (end % width > 0) besides(label, end);
    for (let i = start; i < end; i++) {
      deepest[label] = Math.max(deepest[label] as number, data[i] as number);
      besides(label, i - width);
      besides(label, i + width);
      if (!missing) continue;
      lack[label]! += missing.lack(i);
      instead[label]! += missing.own(i);
    }
  }
  const gone = areas.map(
    (_, l) =>
      l > 0 &&
      large(l) &&
      (deepest[l] as number) <= DEEPEST &&
      (met[l] as number) <= MEETS * (rim[l] as number) &&
      (!missing || isShade(lack[l] as number, instead[l] as number)),
  );
  if (!gone.includes(true)) return;
  const dense = boxMean(new Float32Array(own), width, height, WEAVE);
  const [thread, whole] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (!gone[label]) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) {
      if ((dense[i] as number) < DENSE) continue;
      thread[label]! += Math.max(0, Math.abs((data[i] as number) - (calm[i] as number)) - level);
      whole[label]! += calm[i] as number;
    }
  }
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (gone[label] && (thread[label] as number) <= WOVEN * (whole[label] as number)) present.fill(0, starts[k], ends[k]);
  }
}

/** Takes screen in shade out of `present`: areas, seams, the pieces into which grain breaks them beside what is out, and the rim that averaging gave them. */
function dropAllShade(present: Uint8Array, pull: Plane, calm: Float32Array, level: number, { wide, thin, missing }: Shade): void {
  const before = present.slice();
  dropShade(present, pull, calm, level, wide);
  dropShade(present, pull, calm, level, thin, missing);
  const { width, height } = pull;
  const goneNow = () => bothOf(before, notOf(present));
  const gone = goneNow();
  if (!gone.includes(1)) return;
  const beside = maskUnder(distanceTo(gone, width, height, PIECES_WITHIN + 1), PIECES_WITHIN);
  dropShade(present, pull, calm, level, thin, missing, beside);
  const away = distanceTo(goneNow(), width, height, 2);
  for (let i = 0; i < present.length; i++) if ((away[i] as number) < 1.5 && (pull.data[i] as number) <= level) present[i] = 0;
}

/** Takes islands up to an area out of `present`: their own size counts, without the rim that averaging gave them. */
function dropIslands(present: Uint8Array, pull: Plane, level: number, least: number): void {
  if (!(least > 0)) return;
  const { count, starts, ends, labels, areas } = areaRuns(present, pull.width, pull.height);
  // Averaging over 3 × 3 makes nine pixels of one at most.
  const small = areas.map((a) => a <= 9 * least);
  const sizes = new Float64Array(areas.length);
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (!small[label]) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) if ((pull.data[i] as number) > level) sizes[label]!++;
  }
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (small[label] && (sizes[label] as number) <= least) present.fill(0, starts[k], ends[k]);
  }
}

/**
 * How much else there is around each place, as a mean over its pixels of the share that the mask takes up in a square, less its own.
 * @param radius half side of the square, px
 */
function othersAround(
  mask: Uint8Array,
  { count, starts, ends, labels, areas }: Runs,
  { width, height }: Plane,
  radius: number,
): Float64Array {
  const crowd = boxMean(new Float32Array(mask), width, height, radius);
  const others = new Float64Array(areas.length);
  for (let k = 0; k < count; k++)
    for (let i = starts[k] as number; i < (ends[k] as number); i++) others[labels[k] as number]! += crowd[i] as number;
  const square = (2 * radius + 1) ** 2;
  return others.map((sum, label) => sum / (areas[label] as number) - Math.min(1, (areas[label] as number) / square));
}

/** Takes islands out of `present` that are no larger than `most`, stay under a pull of `faint` and have little else around them. */
function dropFaintIslands(present: Uint8Array, pull: Plane, faint: number, most: number): void {
  const runs = areaRuns(present, pull.width, pull.height);
  const { count, starts, ends, labels, areas } = runs;
  // Averaging over 3 × 3 gives an island a rim.
  const dropped = areas.map((area, label) => label > 0 && area <= RIMMED * most);
  if (!dropped.includes(true)) return;
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (!dropped[label]) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) if ((pull.data[i] as number) > faint) dropped[label] = false;
  }
  const others = othersAround(present, runs, pull, Math.ceil(AROUND * linesOf(pull)));
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (dropped[label] && (others[label] as number) <= ALONE) present.fill(0, starts[k], ends[k]);
  }
}

/** Takes enclosed places out of `thin` that stand alone and are pinholes, or stay well off the screen. */
function closeReflections(thin: Uint8Array, calm: Plane, specks: number, shrink: number): void {
  const { width, height } = calm;
  const runs = areaRuns(thin, width, height);
  const { count, starts, ends, labels, areas, atBorder } = runs;
  if (atBorder.every((b, label) => b || label === 0)) return;
  // A pinhole stands alone in a solid place; among strands or mesh one gap follows another.
  const others = othersAround(thin, runs, calm, Math.ceil(2 * shrink));
  const lowest = new Float32Array(areas.length).fill(1);
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (atBorder[label]) continue;
    let low = lowest[label] as number;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) low = Math.min(low, calm.data[i] as number);
    lowest[label] = low;
  }
  const closed = areas.map(
    (size, label) =>
      label > 0 &&
      !atBorder[label] &&
      (others[label] as number) <= CROWD &&
      (size <= specks || (lowest[label] as number) > (size > WIDE * linesOf(calm) ** 2 ? WIDE_GAP : GAP)),
  );
  for (let k = 0; k < count; k++) if (closed[labels[k] as number]) thin.fill(0, starts[k], ends[k]);
}

/** Applies automatic bounds: in wins over the matte, out over both. */
export function applyBounds(matte: Plane, bounds: Bounds, allocate: Allocate = fresh): Plane {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, bounds.in, bounds.out], [data]);
  return { width: matte.width, height: matte.height, data };
}
