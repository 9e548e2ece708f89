import { linesOf } from "../../core/image/plane";
import { thinned } from "../../core/image/stroke";
import type { FollowedGround } from "../../core/matte/follow";
import type { Point } from "../../core/matte/polygon";
import { strokeFollowed, strokeGround } from "../../core/spill/follow-paint";
import { strokesOn } from "../../core/spill/paint";
import { measureWorker } from "./engine";
import { followGrounds, type Towards } from "./follow-actions";
import { cleanFootage, complain, currentPass, plateFootage, settle, useBench, withPass } from "./store";

const state = useBench.getState;

/** Sets amount and reach of the pass to what the picture asks for. */
export async function measureSpill(): Promise<void> {
  const { recipe, view } = state();
  try {
    const found = await measureWorker().spillReach(recipe, plateFootage(), cleanFootage(recipe), view.frame, currentPass(state()).id);
    if (!found) {
      complain(new Error("The subject has no rim and no inside that could be compared: pull the key first."));
      return;
    }
    const { amount, reachWarm, reachCool } = found;
    settle(
      "Spill",
      `Spill measured: amount ${Math.round(100 * amount)} %, reach ${Math.round(reachWarm)}° warm, ${Math.round(reachCool)}° cool`,
      (r) => withPass(r, (p) => ({ ...p, spill: { ...p.spill, amount, reachWarm, reachCool } })),
    );
  } catch (error) {
    complain(error);
  }
}

/** Takes up the averaged colour around a place of the shown frame. */
export async function pickBrush(x: number, y: number): Promise<void> {
  const { recipe, view } = state();
  try {
    const colour = await measureWorker().colourAt(recipe, plateFootage(), cleanFootage(recipe), view.frame, x, y);
    if (colour) useBench.setState({ brush: { ...state().brush, colour }, tool: "paint" });
  } catch (error) {
    complain(error);
  }
}

/** Lays one stroke on the paint layer, or rubs out along it. */
export function paint(points: readonly Point[], erase: boolean): void {
  const { brush, view, recipe, shot } = state();
  if (!erase && !brush.colour) return;
  let n = recipe.paint.length + 1;
  while (recipe.paint.some((p) => p.id === `stroke-${n}`)) n++;
  const stroke = {
    id: `stroke-${n}`,
    first: brush.every ? 1 : view.frame,
    last: brush.every ? shot.plate.info.frames : view.frame,
    points: thinned(points, brush.radius / 4),
    radius: brush.radius,
    soft: brush.soft,
    strength: erase ? 1 : brush.strength,
    colour: erase ? null : brush.colour,
    keys: [],
  };
  settle("Spill", erase ? "Paint rubbed out" : "Colour painted", (r) => ({ ...r, paint: [...r.paint, stroke].slice(-500) }));
}

export const clearPaint = (): void => settle("Spill", "Paint layer cleared", (r) => ({ ...r, paint: [] }));

/** The id that strokes of paint are followed by. */
export const PAINT = "paint";

/** Lets the strokes that show on this frame go with what lies under them, from there to one end of the shot. */
export async function followPaint(towards: Towards): Promise<void> {
  const { recipe, view, shot } = state();
  const lines = linesOf(shot.plate.info);
  const { frame } = view;
  const strokes = strokesOn(recipe.paint, frame);
  const grounds = strokes.map((s) => strokeGround(s, frame, lines));
  const unchanged = () => state().recipe.paint === recipe.paint;
  await followGrounds(PAINT, "The paint layer", grounds, towards, unchanged, (found, from) => {
    const followed = new Map(strokes.map((s, k) => [s, strokeFollowed(s, found[k] as FollowedGround, lines)]));
    const went = strokes.filter((s) => followed.get(s) !== s).length;
    if (went > 0)
      settle("Spill", `${went === 1 ? "A stroke" : `${went} strokes`} of paint followed from frame ${from} to the ${towards}`, (r) => ({
        ...r,
        paint: r.paint.map((s) => followed.get(s) ?? s),
      }));
  });
}
