import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Finding, FindingKind } from "../../core/measure/findings";
import { Button } from "../ui/button";
import { grouped } from "../ui/format";
import { dismissFinding, goToFinding, openFindings, shotFindings, takeBackFinding, tryRemedy } from "./finding-actions";
import { goToFrame, goToStep, takeTool } from "./looking";
import { holdPlaces } from "./shape-actions";
import { currentPass, useBench } from "./store";

const NAMES: Record<FindingKind, string> = {
  holes: "holes",
  residue: "residue",
  "hard-edge": "hard edges",
  "spill-left": "spill left",
  "over-corrected": "over-corrected",
  "dark-line": "dark line",
  "touches-garbage": "touches garbage",
  "grain-in-background": "grain in the background",
  "near-screen": "half open",
  "screen-inside": "screen colour inside",
  "blinking-specks": "blinking specks",
  "grain-mismatch": "grain differs",
};

/** "frame 3", "frames 3–9, 14": frames as runs; nothing of none. */
function inRuns(frames: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const f of frames) {
    const last = runs[runs.length - 1];
    if (last && f === last[1] + 1) last[1] = f;
    else runs.push([f, f]);
  }
  if (!runs.length) return "";
  return `${frames.length === 1 ? "frame" : "frames"} ${runs.map(([a, b]) => (a === b ? `${a}` : `${a}–${b}`)).join(", ")}`;
}

/** What is wrong with the shown frame, worst first. */
export function Findings() {
  const found = useBench((s) => s.findings);
  const dismissed = useBench((s) => s.recipe.dismissed);
  const open = useBench(useShallow(openFindings));
  const moving = useBench((s) => s.shot.plate.info.frames > 1);
  const current = useBench((s) => s.findings?.recipe === s.recipe && s.findings.frame === s.view.frame);
  if (!found) return <p className="text-soft">Measuring…</p>;
  return (
    <div data-testid="findings" aria-busy={!current} className={current ? "" : "opacity-60"}>
      {open.length === 0 && (
        <>
          <p className="text-soft">
            {moving
              ? "Nothing that the figures can see on this frame. Measure every frame, then look at it in motion."
              : "Nothing that the figures can see. Look at it over the real background."}
          </p>
          <Button className="mt-2 w-full" onClick={() => goToStep("Deliver")}>
            Deliver…
          </Button>
        </>
      )}
      <ul className="space-y-2">
        {open.map((f) => (
          <FindingCard key={f.kind} finding={f} />
        ))}
      </ul>
      {dismissed.length > 0 && (
        <ul aria-label="Dismissed" className="mt-2 space-y-1">
          {dismissed.map((d) => (
            <li key={d.kind} className="flex items-baseline justify-between gap-2 text-faint">
              <span>
                {NAMES[d.kind]} dismissed{d.note ? `: ${d.note}` : ""}
              </span>
              <button type="button" className="rounded px-1 hover:bg-raised hover:text-text" onClick={() => takeBackFinding(d.kind)}>
                Take back
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** What is wrong over the whole shot, as far as it is measured: each kind at its worst frame. */
export function ShotFindings() {
  const frames = useBench((s) => (s.proof?.recipe === s.recipe ? s.proof.frames : null));
  const dismissed = useBench((s) => s.recipe.dismissed);
  if (!frames?.length) return null;
  const found = shotFindings(frames, dismissed);
  if (found.length === 0) return <p className="text-soft">Nothing on any measured frame.</p>;
  return (
    <ul data-testid="shot-findings" className="-mx-1.5">
      {found.map(({ finding, frame, frames: all }) => (
        <li key={finding.kind}>
          <button
            type="button"
            title="Fly to its worst frame"
            className="block w-full rounded px-1.5 py-1 text-left hover:bg-raised"
            onClick={() => {
              goToFrame(frame);
              goToFinding(finding);
            }}
          >
            <span className="block">{finding.what}</span>
            <span className="flex justify-between gap-2 text-[11px]">
              <span className="figure text-soft">{`${grouped(finding.figure)}, frame ${frame}`}</span>
              <span className="figure text-right text-faint">{inRuns(all)}</span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function FindingCard({ finding: f }: { finding: Finding }) {
  const [noting, setNoting] = useState(false);
  const [note, setNote] = useState("");
  const several = useBench((s) => s.recipe.passes.length > 1);
  const pass = useBench((s) => currentPass(s).role);
  const frames = useBench((s) =>
    s.proof?.recipe === s.recipe ? inRuns(s.proof.frames.filter((p) => p.findings.some((g) => g.kind === f.kind)).map((p) => p.frame)) : "",
  );
  return (
    <li className="rounded-md bg-raised p-2.5" data-kind={f.kind}>
      <button type="button" className="block w-full text-left hover:text-white" title="Fly there" onClick={() => goToFinding(f)}>
        <span className="figure mr-1.5 font-semibold">{grouped(f.figure)}</span>
        {f.what}
      </button>
      <p className="mt-0.5 text-soft">{grouped(f.why)}</p>
      <p className="mt-0.5">
        {f.remedy}
        {several && f.changes ? ` (${pass} pass)` : ""}.
      </p>
      {frames && <p className="figure mt-0.5 text-[12px] text-faint">{frames}</p>}
      {noting ? (
        <form
          className="mt-1.5 flex gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            dismissFinding(f.kind, note.trim());
          }}
        >
          <input
            value={note}
            onChange={(e) => setNote(e.target.value)}
            maxLength={200}
            aria-label="Why it may stay"
            placeholder="Why it may stay"
            className="min-w-0 grow rounded-md border border-line bg-page px-2 py-0.5"
          />
          <Button type="submit">Dismiss</Button>
        </form>
      ) : (
        <div className="mt-1.5 flex gap-1.5">
          {f.changes && (
            <Button className="grow" onClick={() => tryRemedy(f)}>
              Try it
            </Button>
          )}
          {f.hold && f.hold.length > 0 && (
            <Button className="grow whitespace-nowrap" title="Adds holdouts along their outlines" onClick={() => holdPlaces(f.hold ?? [])}>
              {f.hold.length === 1 ? "Hold it" : `Hold ${f.hold.length}`}
            </Button>
          )}
          {f.draw ? (
            <Button
              className="grow"
              onClick={() => {
                takeTool("Bounds", f.draw === "holdout" ? "draw-holdout" : "draw");
                goToFinding(f);
              }}
            >
              {f.hold?.length ? "Draw one" : `Draw a ${f.draw === "holdout" ? "holdout" : "garbage matte"}`}
            </Button>
          ) : (
            <Button className="grow" look={f.changes ? "quiet" : "plain"} onClick={() => goToStep(f.step)}>
              Open {f.step}
            </Button>
          )}
          <Button look="quiet" onClick={() => setNoting(true)}>
            Dismiss
          </Button>
        </div>
      )}
    </li>
  );
}
