import { type Affine, movedBack, movedBy, movedTwice, UNMOVED } from "../image/affine";
import { distanceTo } from "../image/distance";
import { maskOver } from "../image/mask";
import { type Patch, patchOf } from "../image/patch";
import type { PatchFound } from "../image/patch-fit";
import { findPatch } from "../image/patch-motion";
import { clipRegion, linesOf, type Picture } from "../image/plane";
import { MOST_KEYS, type ShapeKey } from "./keys";
import { type Point, rasterisePolygon } from "./polygon";

/** What lies around an outline counts besides what is in it: this share of its size, within these bounds, px at 1080 lines. */
const AROUND = 0.15;
const LEAST_AROUND = 3;
const MOST_AROUND = 16;
/** Likeness under which it is another picture: first against the frame it was drawn on, then against the last one. */
const ALIKE = 0.9;
/** Uncertainty of its place beyond which it slides, px at 1080 lines. */
const SLIDES = 1;
/** In a small frame a quarter of that is asked, and no less: lines over 1080. */
const LEAST_SLIDE = 0.25;
/** Share of it that must be seen. */
const SEEN = 0.5;
/** Growth or shrinkage from one frame to the next that nothing makes. */
const LEAP = 1.25;

/** An outline on a further frame, and whether its turn was told there and not its shift alone; or why it could not be followed. */
export type Followed = { readonly points: readonly Point[]; readonly turned: boolean } | { readonly lost: string };

/** Follows what lies under an outline from frame to frame. */
export interface Follower {
  /** The outline on the frame after (or before) the last one that was shown. */
  to(picture: Picture): Followed;
}

/** What is to be followed: points that go with it, px of the frame, and the outline of what is looked at. */
export interface Ground {
  readonly points: readonly Point[];
  readonly outline: readonly Point[];
}

/**
 * Starts to follow what lies under an outline. It is compared with the frame it was drawn on as long as it looks alike, so that nothing adds
 * up; where it has changed, with the last frame.
 * @returns null where the outline lies outside the frame
 */
export function follow(picture: Picture, { points, outline }: Ground): Follower | null {
  const lines = linesOf(picture) / 1080;
  const first = patchUnder(picture, outline, lines);
  if (!first) return null;
  let anchor = first;
  /** From the frame it was drawn on to the anchor's, to the last one shown and to the one before that. */
  let toAnchor = UNMOVED;
  let last = UNMOVED;
  let before = UNMOVED;
  let shown = picture;

  const placed = (patch: Patch, next: Picture, base: Affine, expected: Affine): PatchFound => {
    const found = findPatch(patch, next, movedTwice(expected, movedBack(base)));
    return { ...found, motion: movedTwice(found.motion, base) };
  };
  const slides = SLIDES * Math.max(lines, LEAST_SLIDE);
  const good = (f: PatchFound) => f.likeness >= ALIKE && f.seen >= SEEN && f.spread <= slides && near(f.motion, last);
  const whyLost = (f: PatchFound, expected: Affine): string => {
    const out = outline.map((p) => movedBy(expected, p)).filter((p) => p.x < 0 || p.y < 0 || p.x > picture.width || p.y > picture.height);
    if (f.inside < SEEN || out.length > 0.5 * outline.length) return "it leaves the frame";
    return f.spread > slides ? "it is too even to be followed" : f.likeness < ALIKE ? "it no longer looks the same" : "it is hidden";
  };

  return {
    to(next) {
      const [was, is] = [movedBy(before, first), movedBy(last, first)];
      const expected: Affine = { ...last, x: last.x + is.x - was.x, y: last.y + is.y - was.y };
      let found = placed(anchor, next, toAnchor, expected);
      if (!good(found)) {
        const patch = patchUnder(
          shown,
          outline.map((p) => movedBy(last, p)),
          lines,
        );
        const again = patch && placed(patch, next, last, expected);
        if (!patch || !again || !good(again)) return { lost: whyLost(again ?? found, expected) };
        anchor = patch;
        toAnchor = last;
        found = again;
      }
      before = last;
      last = found.motion;
      shown = next;
      return { points: points.map((p) => movedBy(last, p)), turned: found.turned };
    },
  };
}

/** Whether a shape has the size that it had a frame ago. */
function near(m: Affine, last: Affine): boolean {
  const grown = (m.a * m.d - m.b * m.c) / (last.a * last.d - last.b * last.c);
  return grown > 1 / LEAP ** 2 && grown < LEAP ** 2;
}

/** What lies under an outline and just around it; null where too little of it lies in the frame. @param lines of the frame over 1080 */
function patchUnder(picture: Picture, outline: readonly Point[], lines: number): Patch | null {
  const [xs, ys] = [outline.map((p) => p.x), outline.map((p) => p.y)];
  const [x0, y0, x1, y1] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  const around = Math.min(Math.max(AROUND * Math.sqrt((x1 - x0) * (y1 - y0)), LEAST_AROUND * lines), MOST_AROUND * lines);
  const [left, top] = [Math.floor(x0 - around), Math.floor(y0 - around)];
  const box = { x: left, y: top, width: Math.ceil(x1 + around) - left, height: Math.ceil(y1 + around) - top };
  const region = clipRegion(box, picture.width, picture.height);
  if (region.width < 8 || region.height < 8) return null;
  const { width, height } = region;
  const cover = rasterisePolygon(
    outline.map((p) => ({ x: p.x - region.x, y: p.y - region.y })),
    width,
    height,
  );
  const inside = maskOver(cover.data, 0.5);
  const weight = Float32Array.from(inside);
  const distance = distanceTo(inside, width, height);
  for (let i = 0; i < weight.length; i++) weight[i] = (distance[i] as number) <= around ? 1 : 0;
  return patchOf(picture, region, weight);
}

/** How far a ground was followed. */
export interface FollowedGround {
  /** Its points on every frame in the order it was followed in; the frame that it was followed from is the first. */
  readonly outlines: readonly ShapeKey[];
  /** The frame on which it was lost, and why. */
  readonly lost: { readonly frame: number; readonly why: string } | null;
  /** Frames on which its turn and size were not told, its shift alone. */
  readonly unturned: readonly number[];
}

/**
 * Follows what lies under some outlines from one frame to another, forwards or backwards, each as far as it goes; every frame is read once.
 * @param picture a frame of the plate, from 1 @param onFrame told after every frame; false stops there
 * @returns in the order of the outlines; what lies outside the frame is lost on the first
 */
export async function followThrough(
  picture: (frame: number) => Promise<Picture>,
  grounds: readonly Ground[],
  from: number,
  to: number,
  onFrame: (frame: number) => Promise<boolean>,
): Promise<FollowedGround[]> {
  const start = await picture(from);
  const going = grounds.map(({ points, outline }) => {
    const follower = follow(start, { points, outline });
    const lost = follower ? null : { frame: from, why: "it lies outside the frame" };
    return { follower, outlines: [{ frame: from, points }] as ShapeKey[], lost: lost as FollowedGround["lost"], unturned: [] as number[] };
  });
  const step = to < from ? -1 : 1;
  for (let frame = from + step; frame !== to + step && going.some((g) => !g.lost); frame += step) {
    const next = await picture(frame);
    for (const g of going) {
      if (g.lost) continue;
      const found = (g.follower as Follower).to(next);
      if ("lost" in found) {
        g.lost = { frame, why: found.lost };
        continue;
      }
      g.outlines.push({ frame, points: found.points });
      if (!found.turned) g.unturned.push(frame);
    }
    if (!(await onFrame(frame))) break;
  }
  return going.map(({ outlines, lost, unturned }) => ({ outlines, lost, unturned }));
}

/**
 * Keys of something that was followed: as few as hold its outlines on the side that it was followed to, in place of those that were there.
 * @param keys that it had @param lines of the frame @param keyOf what is kept of a key
 */
export function keysFollowed<K extends { readonly frame: number }>(
  keys: readonly K[],
  { outlines }: Pick<FollowedGround, "outlines">,
  lines: number,
  keyOf: (outline: ShapeKey) => K,
): K[] {
  const frames = outlines.map((o) => o.frame);
  const [first, last] = [Math.min(...frames), Math.max(...frames)];
  const ordered = [...outlines].sort((a, b) => a.frame - b.frame);
  const others = keys.filter((k) => k.frame < first || k.frame > last);
  const few = fewKeys(ordered, lines, Math.max(2, MOST_KEYS - others.length));
  return [...others, ...few.map(keyOf)].sort((a, b) => a.frame - b.frame);
}

/** Those of a shape, with corners to a hundredth of a px. */
export function shapeKeysFollowed(
  keys: readonly { readonly frame: number; readonly points: Point[] }[],
  found: Pick<FollowedGround, "outlines">,
  lines: number,
): { readonly frame: number; readonly points: Point[] }[] {
  const near = (v: number) => Math.round(100 * v) / 100;
  return keysFollowed(keys, found, lines, ({ frame, points }) => ({ frame, points: points.map((p) => ({ x: near(p.x), y: near(p.y) })) }));
}

/** How far an outline between keys may be from where it was followed to, px at 1080 lines. */
const KEYED_WITHIN = 1;
/**
 * As few keys as hold every outline within a distance of where it was followed to, moving evenly between them. Source: Ramer (1972),
 * Douglas & Peucker (1973), with time as the line.
 * @param outlines in order of frames, one for each @param lines of the frame @param most keys, 2 or more: the distance grows until they are enough
 */
export function fewKeys(outlines: readonly ShapeKey[], lines: number, most: number): ShapeKey[] {
  for (let within = (KEYED_WITHIN * lines) / 1080; ; within *= 1.5) {
    const keep = new Set<number>([0, outlines.length - 1]);
    const split = (from: number, to: number): void => {
      let [worst, at] = [within, -1];
      for (let k = from + 1; k < to; k++) {
        const off = apart(outlines[from] as ShapeKey, outlines[to] as ShapeKey, outlines[k] as ShapeKey);
        if (off > worst) [worst, at] = [off, k];
      }
      if (at < 0) return;
      keep.add(at);
      split(from, at);
      split(at, to);
    };
    split(0, outlines.length - 1);
    if (keep.size <= most) return [...keep].sort((a, b) => a - b).map((k) => outlines[k] as ShapeKey);
  }
}

/** The farthest corner of an outline from the same one moving evenly between two others. */
function apart(a: ShapeKey, b: ShapeKey, { frame, points }: ShapeKey): number {
  const t = (frame - a.frame) / (b.frame - a.frame);
  let most = 0;
  points.forEach((p, i) => {
    const [q, r] = [a.points[i] as Point, b.points[i] as Point];
    most = Math.max(most, Math.hypot(q.x + t * (r.x - q.x) - p.x, q.y + t * (r.y - q.y) - p.y));
  });
  return most;
}
