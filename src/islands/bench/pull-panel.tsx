import { X } from "lucide-react";
import type { PullSettings } from "../../core/recipe/schema";
import { screenPrimary } from "../../core/screen/primary";
import { Button } from "../ui/button";
import { percent } from "../ui/format";
import { FigureFacts } from "./facts";
import { MattesCopy } from "./mattes-copy";
import { PassList, PassPicker } from "./passes";
import { NeedsScreen, PassChoice, PassControl, PULL_WEIGHTS } from "./recipe-control";
import { currentPass, settle, useBench, withPass } from "./store";

const METHODS: Record<PullSettings["method"], string> = {
  "colour-difference": "colour difference",
  "subject-difference": "subject-aware difference",
  unmix: "unmix",
  "chroma-distance": "chroma distance",
  "colour-ranges": "colour ranges",
  "clean-difference": "clean-plate difference",
  luminance: "luminance",
};

const ABOUT: Record<PullSettings["method"], string> = {
  "colour-difference": "The screen primary against the other two. The plain way; exact for neutral subjects.",
  "subject-difference":
    "The same, with the subject's own colour carried in from where it is certain: for warm, green-tinged and spill-lit subjects.",
  unmix:
    "Cover and subject colour solved together from the known screen and nearby subject colours: for motion blur, soft edges and glass.",
  "chroma-distance": "How far a colour's hue and saturation lie from the screen's, whatever the light. Hard on mixed edges.",
  "colour-ranges": "Ranges of hue, saturation and luma that you sample. For a second look at what other pulls miss.",
  "clean-difference":
    "Whatever differs from the clean plate beyond its grain, of any colour. Tells that something is there, not how much of it.",
  luminance: "Light alone, between two levels: smoke before black, silhouettes before white.",
};

/** The matte computed from picture and screen. */
export function PullPanel() {
  const method = useBench((s) => currentPass(s).pull.method);
  return (
    <>
      <NeedsScreen />
      <PassPicker />
      <PassChoice label="Method" step="Pull" names={METHODS} path="pull.method" get={(p) => p.pull.method} />
      <p className="mb-2 text-faint">{ABOUT[method]}</p>
      <FigureFacts rows={(f) => [["soft band", f ? percent(f.softBand) : "–"]]} />
      <div className="mt-2">
        <MethodControls method={method} />
      </div>
      <PassList />
      <MattesCopy />
    </>
  );
}

function MethodControls({ method }: { method: PullSettings["method"] }) {
  const colour = useBench((s) => s.recipe.screen.colour);
  const others = colour ? { r: "green", g: "red", b: "red" }[screenPrimary(colour)] : "red";
  const weight = (
    <>
      <PassControl
        label={`Weight on ${others}`}
        step="Pull"
        {...PULL_WEIGHTS}
        initial={50}
        hint="What the screen primary is compared with: all on one other channel, or their mean. Shift it when a subject colour comes close to the screen; beyond 0 and 100 % a second channel counts for the screen, which parts leaves from green, and warm colours from hues between two primaries."
        path="pull.weight"
      />
      <p className="mt-1 mb-2 text-faint">
        Something close to the screen's colour? Shift the weight until it reads grey in the pull, then lower the white point; about 30–35 %
        in a hard case is common practice.
      </p>
    </>
  );
  if (method === "unmix")
    return (
      <>
        <PassControl
          label="Look for colours within"
          step="Pull"
          unit="px"
          factor={1}
          min={2}
          max={200}
          nudge={1}
          initial={48}
          hint="How far subject colours are looked for around a mixed pixel."
          path="pull.unmix.reach"
        />
        <PassControl
          label="Follow the picture's edges"
          step="Pull"
          initial={0}
          hint="Calms a noisy matte along edges that the picture shows; costs the finest strands."
          path="pull.unmix.follow"
        />
        <PassControl
          label="Noise floor"
          step="Pull"
          max={20}
          initial={0}
          hint="A first matte under this is screen for certain."
          path="pull.unmix.floor"
        />
        <PassControl
          label="Solid wavers by"
          step="Pull"
          max={20}
          initial={0}
          hint="A first matte this far under white is subject for certain. With 0 one and a half times the noise floor."
          path="pull.unmix.waver"
        />
        <PassControl
          label="Look through rims"
          step="Pull"
          unit="px"
          factor={1}
          max={20}
          nudge={1}
          initial={0}
          hint="How deep rims that pass for solid are searched for screen showing in them. For plates of little grain: much of it opens solid rims."
          path="pull.unmix.rims"
        />
        {weight}
      </>
    );
  if (method === "chroma-distance")
    return (
      <>
        <PassControl
          label="Inner radius"
          step="Pull"
          unit="Δab"
          factor={1}
          max={80}
          initial={12}
          hint="Up to this far from the screen's hue and saturation everything is screen (CIELAB a*b*)."
          path="pull.chroma.inner"
          adjust={(p, v) => ({ ...p, pull: { ...p.pull, chroma: { ...p.pull.chroma, outer: Math.max(p.pull.chroma.outer, v + 0.5) } } })}
        />
        <PassControl
          label="Outer radius"
          step="Pull"
          unit="Δab"
          factor={1}
          min={1}
          max={120}
          initial={38}
          hint="From this far on everything is subject."
          path="pull.chroma.outer"
          adjust={(p, v) => ({ ...p, pull: { ...p.pull, chroma: { ...p.pull.chroma, inner: Math.min(p.pull.chroma.inner, v - 0.5) } } })}
        />
        <PassControl
          label="Stretch along saturation"
          step="Pull"
          unit="×"
          factor={1}
          min={0.5}
          max={4}
          initial={1.8}
          hint="Shade and dilution move a screen along its saturation; another hue lies across."
          path="pull.chroma.stretch"
        />
      </>
    );
  if (method === "colour-ranges") return <Ranges />;
  if (method === "clean-difference")
    return (
      <>
        <PassControl
          label="Grain up to"
          step="Pull"
          unit="σ"
          factor={1}
          max={60}
          initial={6}
          hint="Differences up to this many standard deviations of the screen's grain are nothing."
          path="pull.deviations.inner"
          adjust={(p, v) => ({
            ...p,
            pull: { ...p.pull, deviations: { ...p.pull.deviations, outer: Math.max(p.pull.deviations.outer, v + 0.5) } },
          })}
        />
        <PassControl
          label="Subject from"
          step="Pull"
          unit="σ"
          factor={1}
          min={1}
          max={200}
          initial={40}
          hint="From this many standard deviations on it is subject."
          path="pull.deviations.outer"
          adjust={(p, v) => ({
            ...p,
            pull: { ...p.pull, deviations: { ...p.pull.deviations, inner: Math.min(p.pull.deviations.inner, v - 0.5) } },
          })}
        />
        <p className="text-faint">Best with a clean plate: see Screen.</p>
      </>
    );
  if (method === "luminance")
    return (
      <>
        <PassControl
          label="Empty at"
          step="Pull"
          initial={5}
          hint="The level (sRGB code) that is 0 in the matte."
          path="pull.luminance.empty"
        />
        <PassControl
          label="Solid at"
          step="Pull"
          initial={60}
          hint="The level that is 1; under the first for silhouettes before white."
          path="pull.luminance.solid"
        />
      </>
    );
  return weight;
}

/** Sampled ranges of colour: added to the screen, or taken from it. */
function Ranges() {
  const ranges = useBench((s) => currentPass(s).pull.ranges);
  const tool = useBench((s) => s.tool);
  const put = (next: PullSettings["ranges"], what: string) =>
    settle("Pull", what, (r) => withPass(r, (p) => ({ ...p, pull: { ...p.pull, ranges: next } })));
  const sampler = (which: "range-add" | "range-take", name: string) => (
    <Button
      className="grow"
      look={tool === which ? "chosen" : "plain"}
      aria-pressed={tool === which}
      onClick={() => useBench.setState({ tool: tool === which ? "look" : which })}
    >
      {name}
    </Button>
  );
  return (
    <>
      <div className="mb-2 flex gap-2">
        {sampler("range-add", "Add a sample")}
        {sampler("range-take", "Take one away")}
      </div>
      {ranges.length === 0 && <p className="mb-2 text-soft">Add a sample of the screen first.</p>}
      <ul className="mb-2 flex flex-col gap-1">
        {ranges.map((range, i) => (
          <li key={i} className="figure flex items-center justify-between gap-1 rounded bg-raised px-2 py-1 text-[12px]">
            <span>
              {`${range.take ? "−" : "+"} hue ${range.hue.toFixed(0)}° ± ${range.hueReach.toFixed(0)}°, sat ${(100 * range.saturation[0]).toFixed(0)}–${(100 * range.saturation[1]).toFixed(0)}, luma ${(100 * range.luma[0]).toFixed(0)}–${(100 * range.luma[1]).toFixed(0)} %`}
            </span>
            <button
              type="button"
              aria-label={`Remove range ${i + 1}`}
              className="rounded p-0.5 hover:bg-lifted"
              onClick={() =>
                put(
                  ranges.filter((_, k) => k !== i),
                  `Colour range ${i + 1} removed`,
                )
              }
            >
              <X size={13} />
            </button>
          </li>
        ))}
      </ul>
      <PassControl label="Softness" step="Pull" max={50} initial={8} hint="Width of every range's shoulders." path="pull.softness" />
    </>
  );
}
