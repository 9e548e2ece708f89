import type { Rgb } from "../color/hue";
import type { Pass, Recipe } from "./schema";

/**
 * A recipe carried to another shot. How the key is pulled goes along; what belongs to a place or a file stays: how the other plate is
 * read, its drawn shapes and paint, its background, findings that were dismissed there. A clean plate of the one shot does not fit the
 * other: there the screen is read from its own pixels.
 * @param screen the screen colour to use there; the carried recipe's own with null
 */
export function carryRecipe(from: Recipe, to: Recipe, screen: Rgb | null): Recipe {
  const own = from.screen.from === "supplied";
  const { passes, scene, ...rest } = structuredClone(from);
  return {
    ...rest,
    plate: to.plate,
    screen: {
      boxes: [],
      strokes: [],
      colour: screen ?? from.screen.colour,
      from: own ? "synthesised" : from.screen.from,
      cleanPlate: null,
      level: from.screen.level,
    },
    bounds: { garbage: to.bounds.garbage, beyond: from.bounds.beyond },
    passes: passes.map(standingStill),
    paint: to.paint,
    dismissed: to.dismissed,
    scene: { ...scene, background: to.scene.background ?? scene.background, asPlate: to.scene.asPlate },
  };
}

/** A pass whose drawn region lies where it was first: nothing of the other shot moves as it was followed here. */
function standingStill(pass: Pass): Pass {
  const { region } = pass;
  if (region.kind !== "drawn" || !region.keys[0]) return pass;
  return { ...pass, region: { ...region, points: region.keys[0].points, keys: [] } };
}

/** Passes of a recipe that count only where they were drawn: on another shot they want a look. */
export const drawnRegions = (recipe: Recipe): number => recipe.passes.filter((p) => p.region.kind === "drawn").length;
