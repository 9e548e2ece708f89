import type { NotSolved } from "../documents/proposed";
import { linesOf, type Picture, type Plane, type Region, regionInFull } from "../image/plane";
import { densestPlace } from "../measure/densest";
import { share } from "../measure/judged";
import { openPlaces, placeAround } from "../measure/open-places";
import { openStretches } from "../measure/open-stretches";
import type { Areas } from "../screen/areas";
import { clippedScreen } from "../screen/clipped";
import { PRIMARY_NAME, type Primary } from "../screen/primary";

/** Share of the frame in which the screen is clipped, from which on it is told of. */
const CLIPPED_LEAST = 0.005;
/** Most half open stretches that are told of, each by itself. */
const STRETCHES = 3;

/** Where the subject passes the screen's end, and what is lit beside it. @param factor by which the copy that areas were told on is reduced */
export function beyondTheKey(areas: Areas, factor: number, plate: Picture): NotSolved[] {
  const found: NotSolved[] = [];
  for (const at of areas.passes) {
    const place = regionInFull(at, factor);
    found.push({
      kind: "passes-end",
      what: `The subject passes the screen's end at ${Math.round(place.x + place.width / 2)}, ${Math.round(place.y + place.height / 2)}; what of it lies beyond is thrown away, since no key parts it there: draw a holdout along its outline to keep it.`,
      place: marginAround(place, plate),
    });
  }
  for (const at of areas.walls)
    found.push({
      kind: "lit-wall",
      what: "The screen ends along a straight line before something lit, and does not go down to the frame's bottom: if that is the room, throw it away with a garbage shape; if it is the set around a window or a display, it stays.",
      place: regionInFull(at, factor),
    });
  return found;
}

/** The screen where it is clipped. @param pull the first matte, of the plate's size @param from light from which on a channel is clipped */
export function clippedAway(plate: Picture, pull: Plane, primary: Primary, from: number): NotSolved[] {
  const clipped = clippedScreen(plate, pull, primary, from);
  if (clipped.share <= CLIPPED_LEAST) return [];
  const place = densestPlace(clipped.marks, plate.width, plate.height, 1, Math.max(12, linesOf(plate) / 9)) as Region;
  return [
    {
      kind: "clipped",
      what: `The screen, or what it shows through, is clipped in ${PRIMARY_NAME[primary]} over ${share(clipped.share)} of the frame, most at ${Math.round(place.x + place.width / 2)}, ${Math.round(place.y + place.height / 2)}: how much screen lies there is lost. Bring the plate in darker from its source, where that holds more; else draw those places.`,
      place,
    },
  ];
}

/** What stays half open inside the subject. @param matte reduced by `reduce` @param pull the first matte at full size */
export function leftOpen(matte: Plane, pull: Plane, reduce: number): NotSolved[] {
  const found: NotSolved[] = [];
  const open = openPlaces(matte, pull, reduce);
  for (const o of open)
    found.push({
      kind: "half-open",
      what: `A place of ${o.area} px² at ${o.x}, ${o.y} stays half open inside the subject, as mirror-like metal and glossy white do: draw a holdout there.`,
      place: placeAround(o),
      outline: [...o.outline],
    });
  // What is closed in all around has been told of.
  const told = open.map(placeAround);
  const stretches = openStretches(matte, reduce).filter(
    (s) => !told.some((t) => s.x >= t.x && s.x < t.x + t.width && s.y >= t.y && s.y < t.y + t.height),
  );
  for (const o of stretches.slice(0, STRETCHES))
    found.push({
      kind: "near-screen",
      what: `A stretch of ${o.area} px² around ${o.x}, ${o.y} stays half open between solid parts, as cloth near the screen's colour does: where nothing shows through it, draw a holdout.`,
      place: placeAround(o),
      outline: [...o.outline],
    });
  return found;
}

/** A place with room around it to see what it is part of. */
function marginAround({ x, y, width, height }: Region, plate: Picture): Region {
  const room = Math.round(linesOf(plate) / 12);
  return { x: x - room, y: y - room, width: width + 2 * room, height: height + 2 * room };
}
