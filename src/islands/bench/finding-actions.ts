import type { Finding, FindingKind } from "../../core/measure/findings";
import type { ShotFrame } from "../../core/recipe/judge";
import { withPart } from "../../core/recipe/path";
import type { Recipe } from "../../core/recipe/schema";
import { flyTo, goToFrame } from "./looking";
import { currentPass, look, settle, useBench, withPass } from "./store";

const state = useBench.getState;

/** Applies a finding's remedy to the current pass, as one undoable change. */
export function tryRemedy(finding: Finding): void {
  const { changes } = finding;
  if (!changes) return;
  settle(finding.step, `Tried: ${finding.remedy}`, (r) =>
    withPass(
      changes.filter((c) => c.recipe).reduce((recipe, c) => withPart(recipe, c.path, c.value), r),
      (p) => changes.filter((c) => !c.recipe).reduce((pass, c) => withPart(pass, c.path, c.value), p),
    ),
  );
}

export const dismissFinding = (kind: FindingKind, note: string): void =>
  settle("Proof", `Finding dismissed: ${kind}${note ? `, ${note}` : ""}`, (r) => ({
    ...r,
    dismissed: [...r.dismissed.filter((d) => d.kind !== kind), { kind, note }],
  }));

export const takeBackFinding = (kind: FindingKind): void =>
  settle("Proof", `Finding taken back: ${kind}`, (r) => ({ ...r, dismissed: r.dismissed.filter((d) => d.kind !== kind) }));

/**
 * Findings of the shown frame that were not dismissed, worst first: those of the whole shot where they are known, which are told at full size and
 * with what blinks; the live ones otherwise, and for a pass whose remedies they do not tell.
 */
export function openFindings(s: ReturnType<typeof state>): Finding[] {
  const measured = s.proof?.recipe === s.recipe ? s.proof.frames.find((p) => p.frame === s.view.frame) : undefined;
  const own = currentPass(s) === (s.recipe.passes.find((p) => p.on) ?? s.recipe.passes[0]);
  const list = (own && measured?.findings) || (s.findings?.list ?? []);
  return list.filter((f) => !s.recipe.dismissed.some((d) => d.kind === f.kind)).sort((a, b) => b.severity - a.severity);
}

/** A kind of finding over the whole shot. */
export interface ShotFinding {
  readonly finding: Finding;
  /** The frame on which it is worst, and all on which it is. */
  readonly frame: number;
  readonly frames: readonly number[];
}

/** What is wrong over the measured frames, worst first; dismissed kinds left out. */
export function shotFindings(frames: readonly ShotFrame[], dismissed: Recipe["dismissed"]): ShotFinding[] {
  const kinds = new Map<FindingKind, ShotFinding>();
  for (const { frame, findings } of frames)
    for (const finding of findings) {
      if (dismissed.some((d) => d.kind === finding.kind)) continue;
      const found = kinds.get(finding.kind);
      const worse = !found || finding.severity > found.finding.severity;
      kinds.set(finding.kind, {
        finding: worse ? finding : found.finding,
        frame: worse ? frame : found.frame,
        frames: [...(found?.frames ?? []), frame],
      });
    }
  return [...kinds.values()].sort((a, b) => b.finding.severity - a.finding.severity);
}

/** The view that shows each kind best. */
const VIEW: Partial<Record<FindingKind, "matte" | "stretched">> = {
  holes: "matte",
  "near-screen": "matte",
  residue: "stretched",
  "hard-edge": "matte",
  "grain-in-background": "stretched",
  "blinking-specks": "stretched",
  "touches-garbage": "matte",
};

/** Goes to where a finding shows. */
export function goToFinding(f: Finding): void {
  look({ view: VIEW[f.kind] ?? "composite" });
  flyTo(f.place);
}

let lastFinding = -1;
/** Flies to the next finding of the shown frame, the worst first. */
export function nextFinding(): void {
  const open = openFindings(state());
  if (open.length === 0) return;
  lastFinding = (lastFinding + 1) % open.length;
  look({ step: "Proof" });
  goToFinding(open[lastFinding] as Finding);
}

let lastWorst = -1;
/** Goes to the next worst frame of the last proof. */
export function nextWorstFrame(): void {
  const frames = [...(state().proof?.frames ?? [])].sort((a, b) => b.holes + b.residue - (a.holes + a.residue));
  if (frames.length === 0) return;
  lastWorst = (lastWorst + 1) % Math.min(10, frames.length);
  goToFrame((frames[lastWorst] as { frame: number }).frame);
}
