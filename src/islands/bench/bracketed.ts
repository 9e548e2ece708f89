import type { Recipe } from "../../core/recipe/schema";
import type { Step } from "./store";

/** A control that a bracket can be opened on. Values, range and spread in the unit shown. */
export interface Bracketed {
  readonly label: string;
  readonly step: Step;
  readonly unit: string;
  readonly decimals: number;
  readonly min: number;
  readonly max: number;
  /** Distance between two variants. */
  readonly spread: number;
  /** What the panel shows for 1 in the recipe. */
  readonly factor: number;
  readonly get: (r: Recipe) => number;
  readonly put: (r: Recipe, value: number) => Recipe;
}

const known = new Map<string, Bracketed>();

/** Controls on the panel make themselves known, so that two of them can be bracketed together. Returns what takes them off. */
export function offerBracket(control: Bracketed): () => void {
  const key = `${control.step}/${control.label}`;
  known.set(key, control);
  return () => {
    if (known.get(key) === control) known.delete(key);
  };
}

export const bracketables = (step: Step): Bracketed[] => [...known.values()].filter((c) => c.step === step);

/** A round step of about a twenty-fifth of the range, and no finer than the control's own. */
export function spreadOf(min: number, max: number, nudge: number): number {
  const wanted = (max - min) / 25;
  const power = 10 ** Math.floor(Math.log10(wanted));
  const round = [1, 2, 4, 5, 10].map((k) => k * power).find((v) => v >= wanted * 0.9) as number;
  return Math.max(nudge, round);
}
