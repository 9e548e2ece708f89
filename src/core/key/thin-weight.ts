import type { Rgb } from "../color/hue";
import { boxMean } from "../image/box";
import { linesOf, type Picture } from "../image/plane";
import { percentile, placesWhere, valuesAt } from "../image/rank";
import { excessPlane, otherChannels, type Primary, screenPrimary } from "../screen/primary";
import { bestWeight } from "./parting-weight";

/** How far around nothing may cover more than a crest does, as a share of the frame's lines. */
const AROUND = 1 / 120;
/** Plain matte from which on a crest is of something, and by how much less than the most around it is as much. */
const SOMETHING = 0.3;
const AS_MUCH = 0.002;
/** Share of a hue's crests, those that cover most, which are taken for pure. */
const PUREST = 0.1;
/** Step of a direction's cosines up to which two are one hue; share of all crests under which a hue has too few. */
const DIRECTION = 0.15;
const FEW = 0.02;

/**
 * The channel weight for what is nowhere wider than its own edges: straws, grass, wires, a tangle out of focus. All but its crests is mixed with the
 * screen, and a mixture of something warm asks for too much weight; so it is told by the crests of each hue that cover most.
 * @param plate at full size, where such things are widest; linear light @param screen the clean plate at its size @param colour the screen's
 * @param outside pixels that are screen for certain
 * @param isBeyond whether a pixel lies beyond the screen
 */
export function weightOfThinThings(
  plate: Picture,
  screen: Picture,
  colour: Rgb,
  outside: Uint32Array,
  isBeyond: (i: number) => boolean,
): number {
  const { width, height } = plate;
  const primary = screenPrimary(colour);
  const excess = excessPlane(plate, primary, 0.5);
  const behind = excessPlane(screen, primary, 0.5);
  const cover = boxMean(
    excess.map((e, i) => 1 - e / Math.max(1e-6, behind[i] as number)),
    width,
    height,
    1,
  );
  const radius = Math.max(3, Math.round(AROUND * linesOf(plate)));
  const crests = placesWhere(
    (i) => (cover[i] as number) > SOMETHING && !isBeyond(i) && isCrest(cover, i, width, height, radius),
    cover.length,
  );
  const pure = [...byHue(crests, plate, screen, primary).values()].flatMap((places) => {
    const least = percentile(valuesAt(cover, Uint32Array.from(places)), 1 - PUREST, 0);
    return places.length < FEW * crests.length ? [] : places.filter((i) => (cover[i] as number) >= least);
  });
  return bestWeight(plate, screen, colour, Uint32Array.from(pure), outside);
}

/** Places by the direction in which their light departs from the screen's, which all mixtures of one surface have in common. */
function byHue(places: Uint32Array, plate: Picture, screen: Picture, primary: Primary): Map<string, number[]> {
  const [u, v] = otherChannels(primary);
  const groups = new Map<string, number[]>();
  for (const i of places) {
    const [p, q, r] = ([primary, u, v] as const).map((c) => (plate[c][i] as number) - (screen[c][i] as number)) as [number, number, number];
    const away = Math.max(1e-6, Math.hypot(p, q, r));
    const hue = `${Math.round(p / away / DIRECTION)} ${Math.round((q - r) / away / DIRECTION)}`;
    const group = groups.get(hue);
    if (group) group.push(i);
    else groups.set(hue, [i]);
  }
  return groups;
}

/** Whether nothing in the square around a pixel, as far as it lies in the frame, covers more. Most are told by the pixels next to them. */
function isCrest(cover: Float32Array, at: number, w: number, h: number, radius: number): boolean {
  const [x, y] = [at % w, Math.floor(at / w)];
  const most = (cover[at] as number) + AS_MUCH;
  for (const r of [1, radius])
    for (let j = Math.max(0, y - r); j <= Math.min(h - 1, y + r); j++)
      for (let i = j * w + Math.max(0, x - r); i <= j * w + Math.min(w - 1, x + r); i++) if ((cover[i] as number) > most) return false;
  return true;
}
