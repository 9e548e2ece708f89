import type { NumberPath } from "../../core/recipe/path";
import type { Pass } from "../../core/recipe/schema";
import { Button } from "../ui/button";
import { blackUnder, PassControl, PULL_WEIGHTS, whiteOver } from "./recipe-control";
import { look, type Step, useBench } from "./store";

interface Exposable {
  readonly path: NumberPath<Pass>;
  readonly label: string;
  readonly step: Step;
  /** Without them: percent, 0 to 100, back to 0. */
  readonly range?: { readonly min: number; readonly max: number; readonly unit: string; readonly factor: number };
  readonly initial?: number;
  /** Keeps what it stands with in order. */
  readonly adjust?: (p: Pass, v: number) => Pass;
}
const px = (min: number, max: number) => ({ min, max, unit: "px", factor: 1 });

/** The controls of a pass that a set-up can show. */
export const EXPOSABLE: readonly Exposable[] = [
  { path: "pull.weight", label: "Weight", step: "Pull", range: { ...PULL_WEIGHTS, unit: "%", factor: 100 }, initial: 50 },
  { path: "pull.unmix.floor", label: "Noise floor", step: "Pull", range: { min: 0, max: 20, unit: "%", factor: 100 } },
  { path: "matte.black", label: "Black point", step: "Matte", range: { min: 0, max: 98, unit: "%", factor: 100 }, adjust: whiteOver },
  {
    path: "matte.white",
    label: "White point",
    step: "Matte",
    range: { min: 2, max: 100, unit: "%", factor: 100 },
    initial: 100,
    adjust: blackUnder,
  },
  { path: "matte.bounds.grow", label: "Bounds grow", step: "Bounds", range: px(0, 60), initial: 6 },
  { path: "matte.bounds.shrink", label: "Bounds shrink", step: "Bounds", range: px(0, 60), initial: 6 },
  { path: "matte.bounds.dips", label: "Close dips up to", step: "Bounds" },
  { path: "matte.bounds.glossy", label: "Close glossy rims", step: "Bounds", range: px(0, 60) },
  { path: "matte.shift", label: "Edge position", step: "Matte", range: px(-10, 10) },
  { path: "matte.soften", label: "Edge softness", step: "Matte", range: px(0, 10) },
  { path: "spill.amount", label: "Spill amount", step: "Spill", initial: 100 },
  { path: "spill.protect", label: "Keep own colour", step: "Spill" },
  { path: "edge.screenOut", label: "Screen out", step: "Edge", initial: 100 },
  { path: "edge.chroma", label: "Rim colour", step: "Edge" },
  { path: "edge.carry", label: "Carry colour", step: "Edge" },
];

export const exposedName = (path: string): string => EXPOSABLE.find((e) => e.path === path)?.label ?? path;

/** The few controls of the set-up in use, above those of every step. */
export function SetupControls() {
  const setup = useBench((s) => s.view.setup);
  if (!setup) return null;
  const shown = EXPOSABLE.filter((e) => setup.controls.includes(e.path));
  return (
    <section aria-label={`Set-up ${setup.name}`} className="mb-3 rounded-md border border-line p-2.5">
      <div className="flex items-center justify-between gap-2">
        <h3 className="truncate font-semibold">{setup.name}</h3>
        <Button look="quiet" onClick={() => look({ setup: null })}>
          Hide
        </Button>
      </div>
      {shown.map(({ path, label, step, range, initial = 0, adjust }) => (
        <PassControl key={path} path={path} label={label} step={step} initial={initial} {...range} {...(adjust ? { adjust } : {})} />
      ))}
    </section>
  );
}
