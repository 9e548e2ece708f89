import { linesOf } from "../../core/image/plane";
import { type FollowedGround, type Ground, shapeKeysFollowed } from "../../core/matte/follow";
import { type KeyedOutline, outlineAt, withKey } from "../../core/matte/keys";
import { type Point, smoothOutline } from "../../core/matte/polygon";
import type { Shape } from "../../core/recipe/drawn-schema";
import type { Pass, Recipe } from "../../core/recipe/schema";
import { followGrounds, type Towards } from "./follow-actions";
import { changeRegion, passLabel } from "./pass-actions";
import { changeShape } from "./shape-actions";
import { type Bench, currentPass, settle, shownRecipe, useBench } from "./store";

const state = useBench.getState;

/** What changes of an outline. */
export interface OutlineChange {
  readonly points?: Point[];
  readonly keys?: Shape["keys"];
}

/** An outline on the picture that is dragged, keyed and followed: a shape's, or of the place where a pass counts. */
export interface Outline extends KeyedOutline {
  readonly id: string;
  readonly name: string;
  readonly kind: Shape["kind"] | "region";
  readonly smooth: boolean;
  readonly put: (change: OutlineChange, settled: boolean, what: string) => void;
  /** The same outline in another state of the recipe. */
  readonly in: (recipe: Recipe) => KeyedOutline | null;
}

export const shapeOutline = (shape: Shape): Outline => ({
  ...shape,
  put: (change, settled, what) => changeShape(shape.id, change, settled, `${shape.name}: ${what}`),
  in: (recipe) => recipe.bounds.garbage.find((s) => s.id === shape.id) ?? null,
});

/** The drawn region of a pass; none where it counts by other means, and for the first, which has nothing to give way to. */
export function regionOutline(passes: readonly Pass[], id: string): Outline | null {
  const at = passes.findIndex((p) => p.id === id);
  const pass = passes[at];
  if (!pass || at === 0 || pass.region.kind !== "drawn") return null;
  const name = `Region of pass ${passLabel(pass, at)}`;
  return {
    ...pass.region,
    kind: "region",
    id: `region-${id}`,
    name,
    put: (change, settled, what) => changeRegion(id, change, settled, `${name}: ${what}`),
    in: (recipe) => {
      const region = recipe.passes.find((p) => p.id === id)?.region;
      return region?.kind === "drawn" ? region : null;
    },
  };
}

/** The outlines that are edited on the picture in this step. */
export function outlinesOf(step: Bench["view"]["step"], recipe: Recipe, pass: string): Outline[] {
  if (step === "Bounds") return recipe.bounds.garbage.map(shapeOutline);
  const region = step === "Pull" ? regionOutline(recipe.passes, pass) : null;
  return region ? [region] : [];
}

/** The outline that takes keys and nudges: the chosen shape, or on Pull the region of the pass whose controls are shown. */
export function chosenOutline(s: Bench): Outline | undefined {
  const recipe = shownRecipe(s);
  const outlines = outlinesOf(s.view.step, recipe, currentPass(s, recipe).id);
  return s.view.step === "Pull" ? outlines[0] : outlines.find((o) => o.id === s.selectedShape);
}

/** Keys the outline on the shown frame: from then on it moves. */
export function keyOutline(outline: Outline): void {
  const { frame } = state().view;
  outline.put({ keys: keysWith(outline, frame, outlineAt(outline, frame)) }, true, `keyed on frame ${frame}`);
}

/** Takes the key of the shown frame out; the last one leaves its outline behind. */
export function unkeyOutline(outline: Outline): void {
  const { frame } = state().view;
  const keys = outline.keys.filter((k) => k.frame !== frame).map(copied);
  const points = keys.length ? outline.points : outlineAt(outline, frame);
  outline.put({ keys, points: [...points] }, true, `key of frame ${frame} removed`);
}

/** What changing the outline on the shown frame means: a key there for one that has keys, the outline itself otherwise. */
export function outlineChange(outline: KeyedOutline, points: readonly Point[]): OutlineChange {
  return outline.keys.length ? { keys: keysWith(outline, state().view.frame, points) } : { points: [...points] };
}

const copied = ({ frame, points }: KeyedOutline["keys"][number]) => ({ frame, points: [...points] });
const keysWith = ({ keys }: KeyedOutline, frame: number, points: readonly Point[]): Shape["keys"] =>
  withKey(keys, { frame, points }).map(copied);

/** Moves the chosen outline on the shown frame. */
export function nudgeOutline(dx: number, dy: number): void {
  const outline = chosenOutline(state());
  if (!outline) return;
  const points = outlineAt(outline, state().view.frame).map((p) => ({ x: p.x + dx, y: p.y + dy }));
  outline.put(outlineChange(outline, points), true, `nudged ${dx || dy} px`);
}

/** What is followed of an outline: it goes with what lies under it. */
function groundOf(outline: KeyedOutline & Pick<Outline, "smooth">): Ground {
  const points = outlineAt(outline, state().view.frame);
  return { points, outline: outline.smooth ? smoothOutline(points) : points };
}
/** The keys of an outline that was followed, and the last frame that it was followed to; null where it was lost at once. */
function keysOf({ keys }: KeyedOutline, found: FollowedGround): { readonly keys: Shape["keys"]; readonly last: number } | null {
  const last = found.outlines.slice(1).at(-1);
  return last ? { keys: shapeKeysFollowed(keys.map(copied), found, linesOf(state().shot.plate.info)), last: last.frame } : null;
}

/** Follows what lies under an outline from the shown frame to one end of the shot, and keys it. */
export async function followOutline(outline: Outline, towards: Towards): Promise<void> {
  const was = outline.in(state().recipe);
  const unchanged = () => outline.in(state().recipe) === was;
  await followGrounds(outline.id, outline.name, [groundOf(outline)], towards, unchanged, ([found], from) => {
    const followed = keysOf(outline, found as FollowedGround);
    if (!followed) return;
    const { keys, last } = followed;
    outline.put({ keys }, true, `followed from frame ${from} to ${last}, ${keys.length} keys`);
  });
}

/** The id that all holdouts are followed by. */
export const HOLDOUTS = "holdouts";

/** Follows what lies under every holdout, in one reading of the clip; one undoable change. */
export async function followHoldouts(towards: Towards): Promise<void> {
  const { garbage } = state().recipe.bounds;
  const holdouts = garbage.filter((s) => s.kind === "holdout");
  const unchanged = () => state().recipe.bounds.garbage === garbage;
  await followGrounds(HOLDOUTS, "A shape", holdouts.map(groundOf), towards, unchanged, (found, from) => {
    const keyed = new Map(holdouts.map((s, k) => [s.id, keysOf(s, found[k] as FollowedGround)?.keys]));
    const went = holdouts.filter((s) => keyed.get(s.id)).length;
    if (went > 0)
      settle("Bounds", `${went} holdouts followed from frame ${from} to the ${towards}`, (r) => ({
        ...r,
        bounds: { ...r.bounds, garbage: r.bounds.garbage.map((s) => ({ ...s, keys: keyed.get(s.id) ?? s.keys })) },
      }));
  });
}
