import type { Pass, Recipe } from "../../core/recipe/schema";
import { Control } from "../ui/control";
import { withPass } from "./actions";
import { move, type Step, settle, shownRecipe, useBench } from "./store";

/** A number of the recipe as a control; `factor` is what the panel shows for 1 in the recipe. */
export function RecipeControl(props: {
  label: string;
  step: Step;
  hint?: string;
  initial: number;
  min?: number;
  max?: number;
  unit?: string;
  factor?: number;
  nudge?: number;
  get: (r: Recipe) => number;
  put: (r: Recipe, v: number) => Recipe;
}) {
  const { label, step, hint, initial, min = 0, max = 100, unit = "%", factor = 100, nudge = 0.1, get, put } = props;
  const value = useBench((s) => factor * get(shownRecipe(s)));
  const settled = useBench((s) => factor * get(s.recipe));
  const change = (v: number) => (r: Recipe) => put(r, v / factor);
  return (
    <Control
      label={label}
      value={value}
      min={min}
      max={max}
      step={nudge}
      unit={unit}
      initial={initial}
      {...(hint ? { hint } : {})}
      onMove={(v) => move(change(v))}
      onSettle={(v) =>
        Math.abs(v - settled) > 1e-9
          ? settle(step, `${label} ${settled.toFixed(1)} → ${v.toFixed(1)} ${unit}`, change(v))
          : useBench.setState({ live: null })
      }
    />
  );
}

type RecipeControlProps = Parameters<typeof RecipeControl>[0];

/** A number of the pass as a control. */
export function PassControl({
  get,
  put,
  ...rest
}: Omit<RecipeControlProps, "get" | "put"> & { get: (p: Pass) => number; put: (p: Pass, v: number) => Pass }) {
  return <RecipeControl {...rest} get={(r) => get(r.passes[0] as Pass)} put={(r, v) => withPass(r, (p) => put(p, v))} />;
}

/** Says so where there is no matte yet. */
export function NeedsScreen() {
  const none = useBench((s) => s.recipe.screen.colour === null);
  return none ? <p className="mb-2 rounded-md bg-raised p-2.5 text-soft">Sample the screen first: there is no matte yet.</p> : null;
}
