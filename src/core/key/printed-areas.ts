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

/**
 * Which areas stand within the subject, as a print on it or a piece of its pattern does: nowhere near the screen, and met by what is solid. Smoke
 * thins out into more smoke, a veil goes on, and what shows through a gap is at its rims as clear as the screen.
 * @param solid 1 where the plain difference says so @param cover its matte @param screen 1 where the screen shows
 * @param speck area in px under which a place of the screen's colour is none: where checks meet, they may mix to it
 * @returns 1 for each label that does
 */
export function printedAreas(
  { areas, labels }: Components,
  { solid, cover, screen }: { readonly solid: Uint8Array; readonly cover: Float32Array; readonly screen: Uint8Array },
  speck: number,
  w: number,
  h: number,
): Uint8Array {
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
  const [outline, met, asOpen] = [new Uint32Array(areas.length), new Uint32Array(areas.length), new Uint32Array(areas.length)];
  const [rises, changes] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  const ways = Array.from({ length: 8 }, (_, k) => {
    const [dx, dy] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)].map((v) => Math.round(ACROSS * v)) as [number, number];
    return dy * w + dx;
  });
  for (let y = ACROSS; y < h - ACROSS; y++)
    for (let x = ACROSS; x < w - ACROSS; x++) {
      const i = y * w + x;
      const label = labels[i] as number;
      if (!label) continue;
      for (const way of ways) {
        if (labels[i + way] === label) continue;
        outline[label]!++;
        const here = cover[i] as number;
        const beyond = cover[i + way] as number;
        if (!solid[i + way]) {
          if (beyond < here + AS_OPEN) asOpen[label]!++;
          continue;
        }
        met[label]!++;
        rises[label]! += Math.min(1, beyond) - here;
        if (labels[i - way] === label) changes[label]! += Math.abs(here - (cover[i - way] as number));
      }
    }
  return Uint8Array.from(areas, (area, label) =>
    area >= PIECE &&
    (nearest[label] as number) > INSIDE &&
    (met[label] as number) > MEETS_SOLID * (outline[label] as number) &&
    (asOpen[label] as number) < GOES_ON * (met[label] as number) &&
    (rises[label] as number) > Math.max(RISES * (met[label] as number), STEPS_UP * (changes[label] as number))
      ? 1
      : 0,
  );
}
