import { boxesOf, labelComponents } from "../image/components";
import { maskOver, notOf } from "../image/mask";
import { linesOf, type Plane, type Region } from "../image/plane";
import { isMarker } from "./areas";

/** Share of a marker that must be screen in shade; least area, as a share of the square of the frame's lines. */
const SHADE = 0.7;
const LEAST = 1 / 30000;

/**
 * Markers of the screen's own colour, darker than it: tape and paint that a screen mask takes for screen and a pull for
 * subject. They are compact islands of the pull, alone, and nothing but the screen in shade.
 * @param shade gives 1 where the plate may show the screen itself at less light
 * @param level pull from which on a pixel may be subject
 */
export function shadedMarkers(pull: Plane, shade: () => Uint8Array, level: number): Region[] {
  const { width, height } = pull;
  const present = maskOver(pull.data, level);
  const empty = notOf(present);
  const { labels, areas, atBorder } = labelComponents(present, width, height);
  const found = [...boxesOf(labels, width)].filter(([label, place]) => {
    const area = areas[label] as number;
    return !atBorder[label] && area >= LEAST * linesOf(pull) ** 2 && isMarker(place, area, empty, width, height);
  });
  if (found.length === 0) return [];
  const dark = shade();
  return found
    .filter(([label, place]) => sharedBy(dark, labels, label, place, width) >= SHADE * (areas[label] as number))
    .map(([, p]) => p);
}

/** Pixels of a component that a mask has. */
function sharedBy(mask: Uint8Array, labels: Int32Array, label: number, place: Region, width: number): number {
  let count = 0;
  for (let y = place.y; y < place.y + place.height; y++)
    for (let i = y * width + place.x; i < y * width + place.x + place.width; i++) if (labels[i] === label && mask[i]) count++;
  return count;
}
