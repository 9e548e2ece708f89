import { type ComponentType, lazy, Suspense } from "react";
import { type Pass, PULL_METHODS } from "../../core/recipe/schema";
import { screenPrimary } from "../../core/screen/primary";
import { SPILL_LIMITS, SPILL_REPLACEMENTS } from "../../core/spill/limit";
import { Button } from "../ui/button";
import { percent, whole } from "../ui/format";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { goToFrame, withPass } from "./actions";
import { BoundsPanel } from "./bounds-panel";
import { DeliverPanel } from "./deliver";
import { proveShot } from "./engine";
import { Facts, Section } from "./facts";
import { PlatePanel } from "./plate-panel";
import { NeedsScreen, PassControl, RecipeControl } from "./recipe-control";
import { ScenePanel } from "./scene-panel";
import { ScreenPanel } from "./screen-panel";
import { complain, look, type Step, settle, shownRecipe, useBench } from "./store";

const MatteHistogram = lazy(() => import("./histogram"));

const INTRO: Record<Step, string> = {
  Plate: "What was filmed, and how its file is read.",
  Screen: "The measured colour of the keyed backing.",
  Bounds: "What is always out. Loose, wide enough for the whole shot.",
  Pull: "The matte computed from picture and screen, in linear light.",
  Matte: "Where the pull becomes solid. Each step inwards costs soft edge.",
  Spill: "Screen light on the subject, taken out after the pull.",
  Edge: "The subject's own colour where it mixes with the screen.",
  Scene: "What goes behind. Judge over it early.",
  Proof: "Measure every frame before it leaves.",
  Deliver: "Picture with alpha, background off.",
};

const PANELS: Record<Step, ComponentType> = {
  Plate: PlatePanel,
  Screen: ScreenPanel,
  Bounds: BoundsPanel,
  Pull: PullPanel,
  Matte: MattePanel,
  Spill: SpillPanel,
  Edge: EdgePanel,
  Scene: ScenePanel,
  Proof: ProofPanel,
  Deliver: DeliverPanel,
};

/** Only the current step's controls. */
export function Tuner() {
  const step = useBench((s) => s.view.step);
  const Panel = PANELS[step];
  return (
    <aside aria-label={`${step} controls`} className="flex w-[300px] shrink-0 flex-col border-l border-black bg-panel">
      <div className="min-h-0 flex-1 overflow-y-auto px-4 py-4">
        <h2 className="text-base font-semibold">{step}</h2>
        <p className="mt-0.5 mb-3 text-soft">{INTRO[step]}</p>
        <Panel />
      </div>
    </aside>
  );
}

const METHOD_NAMES = { "colour-difference": "colour difference", "subject-difference": "subject-aware difference" } as const;

function PullPanel() {
  const method = useBench((s) => (s.recipe.passes[0] as Pass).pull.method);
  const chroma = useBench((s) => s.recipe.prepare.chroma);
  const layout = useBench((s) => s.shot.plate.info.layout);
  const colour = useBench((s) => s.recipe.screen.colour);
  const others = colour ? { r: "green", g: "red", b: "red" }[screenPrimary(colour)] : "red";
  const soft = useBench((s) => s.figures?.softBand ?? null);
  return (
    <>
      <NeedsScreen />
      <Select
        label="Method"
        value={method}
        choices={PULL_METHODS.map((m) => [m, METHOD_NAMES[m]] as const)}
        onChange={(v) =>
          settle("Pull", `Method: ${METHOD_NAMES[v]}`, (r) => withPass(r, (p) => ({ ...p, pull: { ...p.pull, method: v } })))
        }
      />
      <Facts rows={[["soft band", soft === null ? "–" : percent(soft)]]} />
      <div className="mt-2">
        <PassControl
          label={`Weight on ${others}`}
          step="Pull"
          initial={50}
          hint="What the screen primary is compared with: all on one other channel, or their mean. Shift it when a subject colour comes close to the screen."
          get={(p) => p.pull.weight}
          put={(p, weight) => ({ ...p, pull: { ...p.pull, weight } })}
        />
      </div>
      <p className="mt-2 text-faint">
        Something close to the screen's colour? Shift the weight until it reads grey in the pull, then lower the white point; about 30–35 %
        in a hard case is common practice.
      </p>
      <Section title="The matte's own copy">
        {layout.kind === "ycbcr" && layout.subsampling !== "444" && (
          <Switch
            label="Rebuild chroma along luma"
            checked={chroma}
            onChange={(v) =>
              settle("Pull", v ? "Chroma rebuilt along luma" : "Chroma as stored", (r) => ({ ...r, prepare: { ...r.prepare, chroma: v } }))
            }
          />
        )}
        <RecipeControl
          label="Blur for the key"
          step="Pull"
          unit="px"
          factor={1}
          max={5}
          initial={0}
          hint="Stops edges of compressed footage from crawling; about 0.5 px is common practice. The picture stays sharp."
          get={(r) => r.prepare.blur}
          put={(r, blur) => ({ ...r, prepare: { ...r.prepare, blur } })}
        />
        <Button className="mt-1 w-full" onClick={() => look({ view: "prepared" })}>
          Show the copy
        </Button>
      </Section>
    </>
  );
}

function MattePanel() {
  const f = useBench((s) => s.figures);
  const pass = useBench((s) => shownRecipe(s).passes[0] as Pass);
  return (
    <>
      <NeedsScreen />
      <Suspense fallback={<div className="mb-2 h-[108px] rounded-md bg-page" />}>
        <MatteHistogram />
      </Suspense>
      <PassControl
        label="White point"
        step="Matte"
        initial={100}
        min={2}
        get={(p) => p.matte.white}
        put={(p, white) => ({ ...p, matte: { ...p.matte, black: Math.min(p.matte.black, Math.max(0, white - 0.01)), white } })}
        hint="The matte level mapped to 1. Lower it to close holes."
      />
      <PassControl
        label="Black point"
        step="Matte"
        initial={0}
        max={98}
        get={(p) => p.matte.black}
        put={(p, black) => ({ ...p, matte: { ...p.matte, black, white: Math.max(p.matte.white, Math.min(1, black + 0.01)) } })}
        hint="The matte level mapped to 0. Raise it to clear residue."
      />
      <PassControl
        label="Edge position"
        step="Matte"
        unit="px"
        factor={1}
        min={-10}
        max={10}
        initial={0}
        hint="Shrinks (−) or grows (+) the edge. 0.5 to 1 px inwards for a fringe is common practice."
        get={(p) => p.matte.shift}
        put={(p, v) => ({ ...p, matte: { ...p.matte, shift: v } })}
      />
      <PassControl
        label="Edge softness"
        step="Matte"
        unit="px"
        factor={1}
        max={10}
        initial={0}
        hint="Strong bounds leave a hard edge; 0.5 to 1 px gives it back its softness (common practice)."
        get={(p) => p.matte.soften}
        put={(p, v) => ({ ...p, matte: { ...p.matte, soften: v } })}
      />
      <div className="mt-2">
        <Facts
          rows={[
            ["holes", f ? `${whole(f.holes)} px` : "–"],
            ["residue", f ? `${whole(f.residue)} px` : "–"],
            ["edge loss", f ? percent(f.edgeLoss) : "–"],
          ]}
        />
      </div>
      <p className="mt-3 text-faint">
        Seen in use: 6/86, 10/30, 35/75 % (common practice).{" "}
        {pass.matte.white - pass.matte.black < 0.4 ? "This is a large correction: a holdout or a second pull may cost less edge." : ""}
      </p>
    </>
  );
}

const REPLACEMENT_NAMES = { nothing: "nothing", neutral: "neutral, same luminance" } as const;

function SpillPanel() {
  const replace = useBench((s) => (s.recipe.passes[0] as Pass).spill.replace);
  const limit = useBench((s) => (s.recipe.passes[0] as Pass).spill.limit);
  const spill = useBench((s) => s.figures?.spill ?? null);
  return (
    <>
      <NeedsScreen />
      <PassControl
        label="Amount"
        step="Spill"
        initial={100}
        get={(p) => p.spill.amount}
        put={(p, amount) => ({ ...p, spill: { ...p.spill, amount } })}
        hint="Share of the excess that is taken. Too much turns edges pink."
      />
      <Select
        label="Limit"
        value={limit}
        choices={SPILL_LIMITS.map(
          (l) => [l, { average: "mean of the others", maximum: "larger of the others", minimum: "smaller of the others" }[l]] as const,
        )}
        onChange={(v) =>
          settle("Spill", `Limit: ${v} of the other channels`, (r) => withPass(r, (p) => ({ ...p, spill: { ...p.spill, limit: v } })))
        }
      />
      <Select
        label="Put back"
        value={replace}
        choices={SPILL_REPLACEMENTS.map((v) => [v, REPLACEMENT_NAMES[v]] as const)}
        onChange={(v) =>
          settle("Spill", `Put back: ${REPLACEMENT_NAMES[v]}`, (r) => withPass(r, (p) => ({ ...p, spill: { ...p.spill, replace: v } })))
        }
      />
      {(["reachWarm", "reachCool"] as const).map((key) => (
        <PassControl
          key={key}
          label={key === "reachWarm" ? "Reach to the warm side" : "Reach to the cool side"}
          step="Spill"
          unit="°"
          factor={1}
          max={180}
          nudge={1}
          initial={180}
          hint="Hues this far from the screen's count as spill; 180° counts all. Skin lies about 100° to the warm side of green, spill on skin about 40° (common practice)."
          get={(p) => p.spill[key]}
          put={(p, v) => ({ ...p, spill: { ...p.spill, [key]: v } })}
        />
      ))}
      <PassControl
        label="Protect near-screen colours"
        step="Spill"
        initial={0}
        hint="Surfaces that have the screen's hue themselves, such as green cloth, keep it."
        get={(p) => p.spill.protect}
        put={(p, protect) => ({ ...p, spill: { ...p.spill, protect } })}
      />
      <div className="mt-2">
        <Facts rows={[["taken from the subject", spill === null ? "–" : percent(spill)]]} />
      </div>
      <Button className="mt-3 w-full" onClick={() => look({ view: "spillMap" })}>
        Show what is taken
      </Button>
      <p className="mt-3 text-faint">Judge it against the new background.</p>
    </>
  );
}

function EdgePanel() {
  const loss = useBench((s) => s.figures?.edgeLoss ?? null);
  return (
    <>
      <NeedsScreen />
      <PassControl
        label="Screen out of mixed pixels"
        step="Edge"
        initial={100}
        get={(p) => p.edge.screenOut}
        put={(p, screenOut) => ({ ...p, edge: { screenOut } })}
        hint="Takes the known screen out of soft edges, strands and motion blur, so that no bright or dark line is left."
      />
      <Facts rows={[["edge loss by levels", loss === null ? "–" : percent(loss)]]} />
    </>
  );
}

function ProofPanel() {
  const proof = useBench((s) => s.proof);
  const recipe = useBench((s) => s.recipe);
  const f = useBench((s) => s.figures);
  const current = proof?.recipe === recipe;
  const measured = current && proof ? proof.frames : [];
  const running = current && proof && measured.length < proof.total;
  const flicker = measured.filter((m) => m.flicker !== null).sort((a, b) => (b.flicker as number) - (a.flicker as number))[0];
  const tightest = measured.filter((m) => m.clearance !== null).sort((a, b) => (a.clearance as number) - (b.clearance as number))[0];
  const worst = [...measured].sort((a, b) => b.holes + b.residue - (a.holes + a.residue)).slice(0, 3);
  return (
    <>
      <NeedsScreen />
      <Button
        look="accent"
        className="w-full"
        disabled={!recipe.screen.colour || !!running}
        onClick={() => void proveShot().catch(complain)}
      >
        {running ? `Frame ${measured.length} of ${proof.total}` : "Measure every frame"}
      </Button>
      <Section title="This frame">
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
          <p className="mt-2 text-faint">Measured at reduced size; the figures of the shown frame are exact.</p>
        </Section>
      )}
      {proof && !current && <p className="mt-3 text-soft">The recipe has changed since: measure again.</p>}
    </>
  );
}
