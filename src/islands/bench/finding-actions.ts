import type { Finding, FindingKind } from "../../core/measure/findings";
import { withPart } from "../../core/recipe/path";
import { flyTo, goToFrame } from "./looking";
import { look, settle, useBench, withPass } from "./store";

const state = useBench.getState;

/** Applies a finding's remedy to the current pass, as one undoable change. */
export function tryRemedy(finding: Finding): void {
  const { changes } = finding;
  if (!changes) return;
  settle(finding.step, `Tried: ${finding.remedy}`, (r) =>
    withPass(r, (p) => changes.reduce((pass, c) => withPart(pass, c.path, c.value), p)),
  );
}

export const dismissFinding = (kind: FindingKind, note: string): void =>
  settle("Proof", `Finding dismissed: ${kind}${note ? `, ${note}` : ""}`, (r) => ({
    ...r,
    dismissed: [...r.dismissed.filter((d) => d.kind !== kind), { kind, note }],
  }));

export const takeBackFinding = (kind: FindingKind): void =>
  settle("Proof", `Finding taken back: ${kind}`, (r) => ({ ...r, dismissed: r.dismissed.filter((d) => d.kind !== kind) }));

let lastFinding = -1;
/** Flies to the next finding of the shown frame, the worst first. */
export function nextFinding(): void {
  const { findings, recipe } = state();
  const open = findings?.list.filter((f) => !recipe.dismissed.some((d) => d.kind === f.kind)) ?? [];
  if (open.length === 0) return;
  lastFinding = (lastFinding + 1) % open.length;
  look({ step: "Proof" });
  flyTo((open[lastFinding] as Finding).place);
}

let lastWorst = -1;
/** Goes to the next worst frame of the last proof. */
export function nextWorstFrame(): void {
  const frames = [...(state().proof?.frames ?? [])].sort((a, b) => b.holes + b.residue - (a.holes + a.residue));
  if (frames.length === 0) return;
  lastWorst = (lastWorst + 1) % Math.min(10, frames.length);
  goToFrame((frames[lastWorst] as { frame: number }).frame);
}
