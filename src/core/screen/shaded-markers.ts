import { labelComponents } from "../image/components";
import { maskOver } from "../image/mask";
import type { Plane, Region } from "../image/plane";
import { boxesOf, isMarker } from "./areas";

/** Share of a marker that must be screen in shade; least area, as a share of the square of the frame's height. */
const SHADE = 0.7;
const LEAST = 1 / 30000;
/**
 * Markers of the screen's own colour, darker than it: tape and paint that a screen mask takes for screen and a pull for
 * subject. They are compact islands of the pull, alone, and nothing but the screen in shade.
 * @param shade 1 where the plate may show the screen itself at less light
 * @param level pull from which on a pixel may be subject
 */
export function shadedMarkers(pull: Plane, shade: Uint8Array, level: number): Region[] {
  const { width, height } = pull;
  const present = maskOver(pull.data, level);
  const empty = present.map((v) => 1 - v);
  const { labels, areas, atBorder } = labelComponents(present, width, height);
  const shaded = new Float64Array(areas.length);
  for (let i = 0; i < labels.length; i++) if (shade[i]) shaded[labels[i] as number]!++;
  const found: Region[] = [];
  for (const [label, place] of boxesOf(labels, width)) {
    const area = areas[label] as number;
    if (atBorder[label] || area < LEAST * height * height || (shaded[label] as number) < SHADE * area) continue;
    if (isMarker(place, area, empty, width, height)) found.push(place);
  }
  return found;
}
