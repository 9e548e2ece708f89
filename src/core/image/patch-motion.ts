import { type Affine, movedBy } from "./affine";
import { type Copy, copiesOf, type Patch, type Sampled } from "./patch";
import { compared, fit, look, type PatchFound } from "./patch-fit";
import type { Picture } from "./plane";

/** How far around the place it is looked for where it first is not found, in patches. */
const SEARCH = 0.75;

/** How the six numbers of a small change hang together where it is sheared and stretched, only turned and scaled, only moved. */
const WAYS: readonly (readonly (readonly number[])[])[] = [
  [0, 1, 2, 3, 4, 5].map((k) => [0, 1, 2, 3, 4, 5].map((n) => (n === k ? 1 : 0))),
  // In the order x·gx, y·gx, gx, x·gy, y·gy, gy.
  [
    [1, 0, 0, 0, 1, 0],
    [0, -1, 0, 1, 0, 0],
    [0, 0, 1, 0, 0, 0],
    [0, 0, 0, 0, 0, 1],
  ],
  [
    [0, 0, 1, 0, 0, 0],
    [0, 0, 0, 0, 0, 1],
  ],
];
/** A change of more ways is told where its corners are surer than this, px of the copy. */
const SURE = 1;

/**
 * Finds a patch in another frame, from coarse to fine, to a few hundredths of a pixel where there is little grain. Source: Baker & Matthews,
 * "Lucas–Kanade 20 Years On: A Unifying Framework", IJCV 56 (2004), inverse compositional with weights; the biweight is Beaton & Tukey's
 * (1974). Gain over all channels and an offset of each are fitted besides. It is taken to be sheared and stretched as far as that is sure,
 * else only turned and scaled, else only moved.
 * @param start about where it is
 */
export function findPatch(patch: Patch, frame: Picture, start: Affine): PatchFound {
  const centre = movedBy(start, patch);
  const reach = Math.ceil(Math.max(patch.width, patch.height) * (0.5 * Math.SQRT2 * Math.hypot(start.a, start.c) + SEARCH)) + 16;
  const [left, top] = [Math.max(0, Math.floor(centre.x - reach)), Math.max(0, Math.floor(centre.y - reach))];
  const region = {
    x: left,
    y: top,
    width: Math.min(frame.width, Math.ceil(centre.x + reach)) - left,
    height: Math.min(frame.height, Math.ceil(centre.y + reach)) - top,
  };
  const nowhere = { motion: start, likeness: 0, inside: 0, seen: 0, turned: false, spread: Number.POSITIVE_INFINITY };
  if (region.width < 8 || region.height < 8) return nowhere;
  const { levels } = patch;
  const copies = copiesOf(frame, region, (levels[0] as Sampled).factor, levels.length);
  const coarsest = levels.length - 1;
  const refined = (from: Affine): PatchFound => {
    let found: PatchFound = { ...nowhere, motion: from };
    for (let k = coarsest; k >= 0; k--) {
      const level = levels[k] as Sampled;
      let fitted = found;
      for (const ways of k === coarsest && coarsest > 0 ? WAYS.slice(-1) : WAYS) {
        fitted = fit(patch, level, copies[k] as Copy, found.motion, ways);
        if (fitted.spread <= SURE * level.factor) break;
      }
      found = fitted;
    }
    return found;
  };
  const near = refined(start);
  if (near.likeness >= FOUND) return near;
  const elsewhere = searched(patch, levels[coarsest] as Sampled, copies[coarsest] as Copy, start);
  const far = elsewhere === start ? near : refined(elsewhere);
  return far.likeness > near.likeness ? far : near;
}
/** Likeness at which it is not looked for elsewhere. */
const FOUND = 0.85;

/** The start, or the best place around it on the coarsest copy where the patch fits clearly better there. */
function searched(patch: Patch, level: Sampled, copy: Copy, start: Affine): Affine {
  const few = thinned(level);
  const values = new Float32Array(3 * few.count);
  const valid = new Uint8Array(few.count);
  const reach = Math.min(FARTHEST, Math.max(2, Math.ceil((SEARCH * Math.max(patch.width, patch.height)) / level.factor)));
  const likeness = (dx: number, dy: number): number => {
    const motion = { ...start, x: start.x + dx * level.factor, y: start.y + dy * level.factor };
    const inside = look(patch, few, copy, motion, values, valid);
    return inside < 0.5 * few.count ? -1 : compared(few, values, valid, null).likeness;
  };
  let best = likeness(0, 0) + CLEARLY;
  let at: { dx: number; dy: number } | null = null;
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      if (dx * dx + dy * dy > reach * reach) continue;
      const l = likeness(dx, dy);
      if (l > best) [best, at] = [l, { dx, dy }];
    }
  return at ? { ...start, x: start.x + at.dx * level.factor, y: start.y + at.dy * level.factor } : start;
}
/** Places that are enough to search by, the farthest that is searched, px of the coarsest copy, and how much better another place must fit. */
const ENOUGH = 300;
const FARTHEST = 24;
const CLEARLY = 0.03;

/** Some of a size's places, evenly. */
function thinned({ factor, count, u, v, values }: Sampled): Sampled {
  const step = Math.ceil(count / ENOUGH);
  const every = (of: Float32Array, n: number) => of.filter((_, i) => Math.floor(i / n) % step === 0);
  return { factor, count: Math.ceil(count / step), u: every(u, 1), v: every(v, 1), values: every(values, 3), slopes: new Float32Array(0) };
}
