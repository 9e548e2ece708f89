import { type ComponentType, lazy, Suspense } from "react";
import { percent, whole } from "../ui/format";
import { BoundsPanel } from "./bounds-panel";
import { DeliverPanel } from "./deliver";
import { FigureFacts, Section } from "./facts";
import { PassPicker } from "./passes";
import { PlatePanel } from "./plate-panel";
import { ProofPanel } from "./proof-panel";
import { PullPanel } from "./pull-panel";
import {
  blackUnder,
  kneeLevel,
  mostKneeLevel,
  NeedsScreen,
  PassControl,
  PassNumber,
  RecipeControl,
  whiteOver,
  withKneeLevel,
} from "./recipe-control";
import { ScenePanel } from "./scene-panel";
import { ScreenPanel } from "./screen-panel";
import { SetupControls } from "./setup-controls";
import { SpillPanel } from "./spill-panel";
import { currentPass, type Step, shownRecipe, useBench } from "./store";

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
        <SetupControls />
        <h2 className="text-base font-semibold">{step}</h2>
        <p className="mt-0.5 mb-3 text-soft">{INTRO[step]}</p>
        <Panel />
      </div>
    </aside>
  );
}

function MattePanel() {
  const { frames } = useBench((s) => s.shot.plate.info);
  const mostKnee = useBench((s) => 100 * mostKneeLevel(currentPass(s, shownRecipe(s))));
  return (
    <>
      <NeedsScreen />
      <PassPicker />
      <Suspense fallback={<div className="mb-2 h-[108px] rounded-md bg-page" />}>
        <MatteHistogram />
      </Suspense>
      <PassControl
        label="White point"
        step="Matte"
        initial={100}
        min={2}
        path="matte.white"
        adjust={blackUnder}
        hint="The matte level mapped to 1. Lower it to close holes."
      />
      <PassControl
        label="Black point"
        step="Matte"
        initial={0}
        max={98}
        path="matte.black"
        adjust={whiteOver}
        hint="The matte level mapped to 0. Raise it to clear residue."
      />
      <PassNumber
        label="White works from"
        step="Matte"
        initial={0}
        max={mostKnee}
        get={kneeLevel}
        put={withKneeLevel}
        hint="The matte level under which the white point does nothing: soft edges stay as they are, what is nearly solid becomes solid. It moves along with the white point."
      />
      <PassControl
        label="Gamma"
        step="Matte"
        unit=""
        factor={1}
        min={0.2}
        max={4}
        nudge={0.01}
        decimals={2}
        initial={1}
        hint="Over 1 lifts the greys between black and white point, under 1 lowers them; both ends stay."
        path="matte.gamma"
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
        path="matte.shift"
      />
      <PassControl
        label="Edge softness"
        step="Matte"
        unit="px"
        factor={1}
        max={10}
        initial={0}
        hint="Strong bounds leave a hard edge; 0.5 to 1 px gives it back its softness (common practice)."
        path="matte.soften"
      />
      <PassControl
        label="Soften motion blur"
        step="Matte"
        unit="px"
        factor={1}
        max={40}
        initial={0}
        hint="Smooths only greys that climb over many pixels; crisp edges keep every value."
        path="matte.softenBlur"
      />
      {frames > 1 && (
        <Section title="Over time">
          <RecipeControl
            label="Steady still edges"
            step="Matte"
            initial={0}
            path="time.steady"
            hint="Averages the matte with its neighbouring frames where plate and matte stand still, so that grain no longer makes edges crawl. What moves is left alone."
          />
          <RecipeControl
            label="Drop blinking specks under"
            step="Matte"
            unit="px²"
            factor={1}
            max={400}
            nudge={1}
            decimals={0}
            initial={0}
            path="time.blinking"
            hint="Specks and pinholes up to this area that are on one frame only go; what stays from frame to frame is real and is kept."
          />
        </Section>
      )}
      <div className="mt-2">
        <FigureFacts
          rows={(f) => [
            ["holes", f ? `${whole(f.holes)} px` : "–"],
            ["residue", f ? `${whole(f.residue)} px` : "–"],
            ["edge loss", f ? percent(f.edgeLoss) : "–"],
          ]}
        />
      </div>
      <LevelsSeen />
    </>
  );
}

function LevelsSeen() {
  const large = useBench((s) => {
    const { black, white } = currentPass(s, shownRecipe(s)).matte;
    return white - black < 0.4;
  });
  return (
    <p className="mt-3 text-faint">
      Seen in use: 6/86, 10/30, 35/75 % (common practice).{" "}
      {large ? "This is a large correction: a holdout or a second pull may cost less edge." : ""}
    </p>
  );
}

function EdgePanel() {
  const fringe = useBench((s) => currentPass(s, shownRecipe(s)).edge.fringe.strength);
  return (
    <>
      <NeedsScreen />
      <PassPicker />
      <PassControl
        label="Screen out of mixed pixels"
        step="Edge"
        initial={100}
        path="edge.screenOut"
        hint="Takes the known screen out of soft edges, strands and motion blur, so that no bright or dark line is left."
      />
      <PassControl
        label="Rim colour of coarse chroma"
        step="Edge"
        initial={0}
        path="edge.chroma"
        hint="4:2:0 and 4:2:2 share one colour sample between pixels on both sides of the edge. The rim takes the colour of the subject beside it, at its own brightness; all other pixels stay as recorded. Shows at full size; without effect on 4:4:4."
      />
      <PassControl
        label="Carry colour outwards"
        step="Edge"
        initial={0}
        path="edge.carry"
        hint="Mixes the nearest solid colour in under the soft band. For lines whose colour cannot be taken out."
      />
      <FigureFacts rows={(f) => [["edge loss by levels", f ? percent(f.edgeLoss) : "–"]]} />
      <Section title="Strand fringe">
        <PassControl
          label="Strength"
          step="Edge"
          max={60}
          initial={0}
          path="edge.fringe.strength"
          hint="A grown, softened copy of the key beneath the pull brings back the look of strands too fine for it. Gently (common practice)."
        />
        {fringe > 0 && (
          <>
            <PassControl
              label="Grow"
              step="Edge"
              unit="px"
              factor={1}
              max={60}
              initial={8}
              path="edge.fringe.grow"
              hint="How far the copy reaches."
            />
            <PassControl
              label="Soften"
              step="Edge"
              unit="px"
              factor={1}
              max={60}
              initial={6}
              path="edge.fringe.soft"
              hint="σ of its blur."
            />
          </>
        )}
      </Section>
    </>
  );
}
