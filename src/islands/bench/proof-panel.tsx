import { shotReduce } from "../../core/documents/shot-figures";
import { findJumps } from "../../core/measure/jumps";
import { Button } from "../ui/button";
import { percent, whole } from "../ui/format";
import { Facts, Section } from "./facts";
import { Findings, ShotFindings } from "./findings";
import { goToFrame, goToStep } from "./looking";
import { NeedsScreen } from "./recipe-control";
import { proveShot, stopProving } from "./shot-figures";
import { complain, useBench } from "./store";

/** Findings of the shown frame, and the figures of every frame. */
export function ProofPanel() {
  const proof = useBench((s) => s.proof);
  const moving = useBench((s) => s.shot.plate.info.frames > 1);
  const recipe = useBench((s) => s.recipe);
  const f = useBench((s) => s.figures);
  const current = proof?.recipe === recipe;
  const measured = current && proof ? proof.frames : [];
  const running = current && proof?.running;
  const flicker = measured.filter((m) => m.flicker !== null).sort((a, b) => (b.flicker as number) - (a.flicker as number))[0];
  const tightest = measured.filter((m) => m.clearance !== null).sort((a, b) => (a.clearance as number) - (b.clearance as number))[0];
  const worst = [...measured].sort((a, b) => b.holes + b.residue - (a.holes + a.residue)).slice(0, 3);
  const least = useBench((s) => 0.0002 * s.shot.plate.info.width * s.shot.plate.info.height);
  const reduce = useBench((s) => shotReduce(s.shot.plate.info));
  const jumps = findJumps(
    measured.map((m) => m.holes + m.residue),
    least,
  ).map((i) => (measured[i] as { frame: number }).frame);
  return (
    <>
      <NeedsScreen />
      {!recipe.scene.background && (
        <p className="mb-2 rounded-md bg-raised p-2.5 text-soft">
          No background yet: light edges and leftovers hide over black.{" "}
          <button type="button" className="text-amber hover:underline" onClick={() => goToStep("Scene")}>
            Choose one
          </button>
        </p>
      )}
      {moving && (
        <Button
          look="accent"
          className="w-full"
          disabled={!recipe.screen.colour}
          onClick={() => void (running ? stopProving() : proveShot()).catch(complain)}
        >
          {running ? `Stop · ${measured.length} of ${proof.total} measured` : "Measure every frame"}
        </Button>
      )}
      {measured.length > 0 && (
        <Section title="Findings over the shot">
          <ShotFindings />
        </Section>
      )}
      <Section title="Findings on this frame">
        <Findings />
      </Section>
      <Section title="Figures of this frame">
        <Facts
          rows={[
            ["holes", f ? `${whole(f.holes)} px` : "–"],
            ["residue", f ? `${whole(f.residue)} px` : "–"],
            ["edge loss", f ? percent(f.edgeLoss) : "–"],
            ["clearance", f?.clearance != null ? `${whole(f.clearance)} px` : "–"],
            ["spill taken", f ? percent(f.spill) : "–"],
          ]}
        />
      </Section>
      {worst.length > 0 && (
        <Section title="Worst frames">
          {worst.map((w) => (
            <button
              type="button"
              key={w.frame}
              className="flex w-full justify-between rounded px-1.5 py-1 hover:bg-raised"
              onClick={() => goToFrame(w.frame)}
            >
              <span>Frame {w.frame}</span>
              <span className="figure text-soft">{`${whole(w.holes)} holes · ${whole(w.residue)} residue`}</span>
            </button>
          ))}
          <Facts
            rows={[
              ["worst edge flicker", flicker ? `${(flicker.flicker as number).toFixed(1)} ‰, frame ${flicker.frame}` : "–"],
              ["least clearance", tightest?.clearance != null ? `${whole(tightest.clearance)} px, frame ${tightest.frame}` : "–"],
            ]}
          />
          {jumps.length > 0 && (
            <p className="mt-2">
              Holes or residue jump on{" "}
              {jumps.slice(0, 6).map((n) => (
                <button type="button" key={n} className="figure mr-1 rounded bg-page px-1.5 hover:bg-lifted" onClick={() => goToFrame(n)}>
                  {n}
                </button>
              ))}
            </p>
          )}
          {reduce > 1 && <p className="mt-2 text-faint">{`Measured at 1/${reduce} size; the figures of the shown frame are exact.`}</p>}
        </Section>
      )}
      {proof && !current && <p className="mt-3 text-soft">The recipe has changed since: measure again.</p>}
    </>
  );
}
