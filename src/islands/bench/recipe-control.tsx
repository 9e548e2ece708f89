import { useEffect } from "react";
import { type NumberPath, numberAt, withPart } from "../../core/recipe/path";
import { MOST_KNEE, type Pass, type Recipe } from "../../core/recipe/schema";
import { WEIGHT_RANGE, weightRange } from "../../core/screen/primary";
import { Control } from "../ui/control";
import { Select } from "../ui/select";
import { type Bracketed, offerBracket, spreadOf } from "./bracketed";
import { warmBracket } from "./engine";
import { currentPass, move, type Step, settle, shownRecipe, useBench, withPass } from "./store";

interface NumberProps {
  readonly label: string;
  readonly step: Step;
  readonly hint?: string;
  readonly initial: number;
  readonly min?: number;
  readonly max?: number;
  readonly unit?: string;
  /** What the panel shows for 1 in the recipe. */
  readonly factor?: number;
  readonly nudge?: number;
  readonly decimals?: number;
}

function NumberControl(props: NumberProps & { get: (r: Recipe) => number; put: (r: Recipe, v: number) => Recipe }) {
  const { label, step, hint, initial, min = 0, max = 100, unit = "%", factor = 100, nudge = 0.1, decimals = 1, get, put } = props;
  const value = useBench((s) => factor * get(shownRecipe(s)));
  const settled = useBench((s) => factor * get(s.recipe));
  const change = (v: number) => (r: Recipe) => put(r, v / factor);
  const ready = useBench((s) => s.recipe.screen.colour !== null);
  const bracketed: Bracketed = { label, step, unit, decimals, min, max, spread: spreadOf(min, max, nudge), factor, get, put };
  // Controls are made anew with every drawing; what they do is told by their label.
  useEffect(() => offerBracket(bracketed));
  return (
    <Control
      {...(ready ? { onBracket: () => useBench.setState({ bracket: bracketed }), onBracketNear: warmBracket } : {})}
      label={label}
      value={value}
      min={min}
      max={max}
      step={nudge}
      unit={unit}
      initial={initial}
      decimals={decimals}
      {...(hint ? { hint } : {})}
      onMove={(v) => move(change(v))}
      onSettle={(v) =>
        Math.abs(v - settled) > 1e-9
          ? settle(step, `${label} ${settled.toFixed(decimals)} → ${v.toFixed(decimals)} ${unit}`, change(v))
          : useBench.setState({ live: null })
      }
    />
  );
}

/** A number of the recipe as a control. */
export const RecipeControl = ({ path, ...rest }: NumberProps & { path: NumberPath<Recipe> }) => (
  <NumberControl {...rest} get={(r) => numberAt(r, path)} put={(r, v) => withPart(r, path, v)} />
);

/** A number that a pass gives and takes as a control. */
export const PassNumber = ({ get, put, ...rest }: NumberProps & { get: (p: Pass) => number; put: (p: Pass, v: number) => Pass }) => (
  <NumberControl {...rest} get={(r) => get(currentPass(useBench.getState(), r))} put={(r, v) => withPass(r, (p) => put(p, v))} />
);

/** A number of the pass as a control. @param adjust keeps what the number stands with in order, as black under white */
export const PassControl = ({
  path,
  adjust = (p) => p,
  ...rest
}: NumberProps & { path: NumberPath<Pass>; adjust?: (p: Pass, v: number) => Pass }) => (
  <PassNumber {...rest} get={(p) => numberAt(p, path)} put={(p, v) => adjust(withPart(p, path, v), v)} />
);

/** How far a pull's weight of the other channels may go, in percent. */
export const PULL_WEIGHTS = { min: 100 * WEIGHT_RANGE[0], max: 100 * WEIGHT_RANGE[1] };

/** How far a spill limit's weight may go before this screen, in percent. */
export function useWeightRange(): { min: number; max: number } {
  const colour = useBench((s) => s.recipe.screen.colour);
  const [least, most] = colour ? weightRange(colour) : [0, 1];
  return { min: 100 * least, max: 100 * most };
}

/** A white point with the black point kept under it, and the other way round. */
export const blackUnder = (p: Pass, white: number): Pass => ({
  ...p,
  matte: { ...p.matte, black: Math.min(p.matte.black, Math.max(0, white - 0.01)) },
});
export const whiteOver = (p: Pass, black: number): Pass => ({
  ...p,
  matte: { ...p.matte, white: Math.max(p.matte.white, Math.min(1, black + 0.01)) },
});

/** The matte level from which the white point works; the recipe holds it as a share of that point, so that it stays under it. */
export const kneeLevel = (p: Pass): number => p.matte.knee * p.matte.white;
export const mostKneeLevel = (p: Pass): number => MOST_KNEE * p.matte.white;
export const withKneeLevel = (p: Pass, level: number): Pass => ({
  ...p,
  matte: { ...p.matte, knee: Math.min(MOST_KNEE, level / p.matte.white) },
});

/** A choice of the pass; `names` gives each in words. */
export function PassChoice<T extends string>(props: {
  label: string;
  step: Step;
  names: Record<T, string>;
  get: (p: Pass) => T;
  path: string;
}) {
  const { label, step, names, get, path } = props;
  const value = useBench((s) => get(currentPass(s)));
  return (
    <Select
      label={label}
      value={value}
      choices={Object.entries<string>(names) as [T, string][]}
      onChange={(v) => settle(step, `${label}: ${names[v]}`, (r) => withPass(r, (p) => withPart(p, path, v)))}
    />
  );
}

/** Says so where there is no matte yet. */
export function NeedsScreen() {
  const none = useBench((s) => s.recipe.screen.colour === null);
  return none ? <p className="mb-2 rounded-md bg-raised p-2.5 text-soft">Sample the screen first: there is no matte yet.</p> : null;
}
