import { boxMean } from "../image/box";
import { areaRuns } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOf, maskOver, notOf } from "../image/mask";
import { linesOf, type Plane } from "../image/plane";
import { type LostEdge, lostEdge } from "./lost-edge";

/** The figures of a pulled frame, judged without a known truth. */
export interface Figures {
  /** Area, in pixels of the full frame, with matte under 0.99 in the core of the subject. */
  readonly holes: number;
  /** Area, in pixels of the full frame, with matte over 0.01 well outside the subject and not in a garbage matte. */
  readonly residue: number;
  /** Share of the pull's soft band that levels and bounds pushed to 0 or 1, 0…1 ({@link lostEdge}). */
  readonly edgeLoss: number;
  /** Least distance from what is thrown away by a garbage matte to matte over 0.02 that hangs together with the subject, in pixels of the full frame; null without one. */
  readonly clearance: number | null;
  /** Share of the frame that is soft edge in the pull, 0…1. */
  readonly softBand: number;
}

export const HOLE_LEVEL = 0.99;
export const RESIDUE_LEVEL = 0.01;
const CLEARANCE_LEVEL = 0.02;
/** An enclosed area of the pull's background that is this clear on average, or in so much of it though its rim is soft, and this large, is a true gap, not a hole. */
const GAP_LEVEL = 0.05;
const GAP_SHARE = 0.67;
const GAP_AREA = 150;

/** How far inside or outside the outline counting starts: 3 px at 1080 lines, scaled with the frame. */
export const outlineMargin = (lines: number): number => Math.max(1.5, (3 * lines) / 1080);

/**
 * The subject's outline: pull at 0.5 or more, with enclosed areas filled unless they are clear, large gaps to the screen
 * behind (between arm and body), and islands smaller than a gap dropped.
 * @param areaScale full-frame pixels for one pixel of this plane
 */
export function subjectOutline(pull: Plane, areaScale: number): Uint8Array {
  const { width, height, data } = pull;
  const n = data.length;
  const minArea = GAP_AREA / areaScale;
  const solid = new Uint8Array(n);
  for (let i = 0; i < n; i++) solid[i] = (data[i] as number) >= 0.5 ? 1 : 0;
  const islands = areaRuns(solid, width, height);
  for (let k = 0; k < islands.count; k++)
    if ((islands.areas[islands.labels[k] as number] as number) < minArea) solid.fill(0, islands.starts[k], islands.ends[k]);
  const { count, starts, ends, labels, areas, atBorder } = areaRuns(notOf(solid), width, height);
  const [clear, sums] = [new Uint32Array(areas.length), new Float64Array(areas.length)];
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (atBorder[label] || (areas[label] as number) < minArea) continue;
    for (let i = starts[k] as number; i < (ends[k] as number); i++) {
      sums[label]! += data[i] as number;
      if ((data[i] as number) < GAP_LEVEL) clear[label]!++;
    }
  }
  const isGap = (area: number, label: number) =>
    area >= minArea && ((sums[label] as number) <= GAP_LEVEL * area || (clear[label] as number) >= GAP_SHARE * area);
  const fill = areas.map((area, label) => !atBorder[label] && !isGap(area, label));
  for (let k = 0; k < count; k++) if (fill[labels[k] as number]) solid.fill(1, starts[k], ends[k]);
  return solid;
}

/** Step between neighbours that makes an edge of a thread, and share of such pixels around one that makes a weave. */
const THREAD = 0.08;
const WEAVE = 0.3;

/**
 * Where strands or mesh let the screen through: places full of edges. Their gaps are no holes. A hole has edges only on
 * its rim, so a single one in something solid is none.
 * @returns 1 where the surroundings are such
 */
function openWeave(matte: Plane, solid: Uint8Array, radius: number): Uint8Array {
  const { width, height, data } = matte;
  const edges = new Float32Array(data.length);
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const i = y * width + x;
      const m = data[i] as number;
      if (solid[i] && (Math.abs((data[i + 1] as number) - m) > THREAD || Math.abs((data[i + width] as number) - m) > THREAD)) edges[i] = 1;
    }
  const dense = boxMean(edges, width, height, radius);
  for (let i = 0; i < dense.length; i++) dense[i] = (dense[i] as number) > WEAVE ? 1 : 0;
  // At its border half of the surroundings are solid.
  return maskOver(boxMean(dense, width, height, radius), 1e-6);
}

/**
 * The subject with its soft edge and its strands: matte over {@link CLEARANCE_LEVEL} that hangs together with its outline.
 * @returns 1 there
 */
function withSoftParts(matte: Plane, solid: Uint8Array): Uint8Array {
  const { width, height, data } = matte;
  const soft = maskOf(data, (m, i) => m > CLEARANCE_LEVEL || solid[i] === 1);
  const { count, starts, ends, labels, areas } = areaRuns(soft, width, height);
  const holds = new Uint8Array(areas.length);
  for (let k = 0; k < count; k++) if (solid.subarray(starts[k], ends[k]).includes(1)) holds[labels[k] as number] = 1;
  for (let k = 0; k < count; k++) if (!holds[labels[k] as number]) soft.fill(0, starts[k], ends[k]);
  return soft;
}

/** Marks of the places that the figures count, for showing them: 1 a hole, 2 residue. */
export interface FigureMap {
  readonly figures: Figures;
  readonly marks: Uint8Array;
  /** 1 inside the subject's outline by more than its margin. */
  readonly inside: Uint8Array;
  /** 1 on the subject, with its soft edge and strands where a garbage matte is told how near it comes. */
  readonly subject: Uint8Array;
  readonly edge: LostEdge;
}

/**
 * Measures a whole frame.
 * @param pull the matte before levels and bounds
 * @param matte the final matte
 * @param garbage what bounds throw away, or undefined without bounds
 * @param scale this plane's size over the full frame's, 0…1
 * @param held what drawn holdouts hold, or undefined without
 */
export function measureFigures(pull: Plane, matte: Plane, garbage: Plane | undefined, scale: number, held?: Plane): FigureMap {
  const { width, height } = pull;
  const lines = linesOf(pull);
  const area = 1 / (scale * scale);
  // In a reduced frame a whole pixel of the rim is mixed, however small the margin would come out.
  const margin = Math.max(1.5, outlineMargin(lines / scale) * scale);
  const solid = subjectOutline(pull, area);
  const toOutside = distanceTo(notOf(solid), width, height, margin + 1);
  const toInside = distanceTo(solid, width, height, margin + 1);
  const weave = openWeave(matte, solid, Math.max(6, Math.round((lines * 9) / 720)));
  const marks = new Uint8Array(width * height);
  const inside = new Uint8Array(width * height);
  let holes = 0;
  let residue = 0;
  const edge = lostEdge(pull, matte, garbage, solid, held);
  const { soft, lost } = edge;
  let clearance = Number.POSITIVE_INFINITY;
  const thrown = garbage ? distanceTo(maskOver(garbage.data, 0.5), width, height) : undefined;
  const subject = thrown ? withSoftParts(matte, solid) : solid;
  for (let i = 0; i < marks.length; i++) {
    const m = matte.data[i] as number;
    const out = garbage ? (garbage.data[i] as number) : 0;
    if (solid[i] && (toOutside[i] as number) > margin) {
      inside[i] = 1;
      if (m < HOLE_LEVEL && out < 0.5 && !weave[i]) {
        holes++;
        marks[i] = 1;
      }
    } else if (!solid[i] && (toInside[i] as number) > margin && m > RESIDUE_LEVEL && out < 0.5) {
      residue++;
      marks[i] = 2;
    }
    if (thrown && subject[i] && (thrown[i] as number) < clearance) clearance = thrown[i] as number;
  }
  return {
    marks,
    inside,
    subject,
    edge,
    figures: {
      holes: Math.round(holes * area),
      residue: Math.round(residue * area),
      edgeLoss: soft ? lost / soft : 0,
      clearance: thrown && clearance < 1e9 ? clearance / scale : null,
      softBand: soft / marks.length,
    },
  };
}

/**
 * Mean excess of the screen primary over its neutral limit inside the subject, relative to the screen's own, 0…1. Inside
 * its outline, since mixed pixels hold the screen itself; surfaces of the screen's own hue are set aside by their share.
 * @param removed light over the limit @param inside 1 where the subject is for certain ({@link FigureMap})
 */
export function measureSpill(removed: Float32Array, inside: Uint8Array, screenExcess: number, nearScreen?: Float32Array): number {
  let sum = 0;
  let weight = 0;
  for (let i = 0; i < removed.length; i++) {
    if (!inside[i]) continue;
    const w = nearScreen ? 1 - (nearScreen[i] as number) : 1;
    sum += w * (removed[i] as number);
    weight += w;
  }
  return weight > 0 && screenExcess > 0 ? sum / weight / screenExcess : 0;
}
