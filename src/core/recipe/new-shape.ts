import type { NotSolved } from "../documents/proposed";
import type { Point } from "../matte/polygon";
import { MOST_SHAPES, type Shape } from "./drawn-schema";
import type { Recipe } from "./schema";

/** A shape as it is when it has just been drawn, under the first free number. @param among the shapes that there are */
export function newShape(points: readonly Point[], kind: Shape["kind"], among: readonly Shape[]): Shape {
  let n = among.filter((s) => s.kind === kind).length + 1;
  while (among.some((s) => s.id === `${kind}-${n}`)) n++;
  return {
    id: `${kind}-${n}`,
    name: `${kind === "garbage" ? "Garbage" : "Holdout"} ${n}`,
    points: [...points],
    keys: [],
    kind,
    smooth: kind === "holdout",
    out: kind === "garbage" ? "outside" : "inside",
    soft: 6,
    lean: 0,
  };
}

/** A holdout that closes a measured place: close along its outline. */
export const holdoutAlong = (outline: readonly Point[], among: readonly Shape[]): Shape => ({
  ...newShape(outline, "holdout", among),
  smooth: false,
  soft: 1,
});

/** A recipe with a holdout along every outline of what was not solved. */
export function holdUnsolved(recipe: Recipe, notSolved: readonly NotSolved[]): Recipe {
  let { garbage } = recipe.bounds;
  for (const { outline } of notSolved)
    if (outline && outline.length > 2 && garbage.length < MOST_SHAPES) garbage = [...garbage, holdoutAlong(outline, garbage)];
  return { ...recipe, bounds: { ...recipe.bounds, garbage } };
}
