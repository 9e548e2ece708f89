import { hasCoarseChroma } from "../../core/documents/media-info";
import { Button } from "../ui/button";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { Section } from "./facts";
import { RecipeControl } from "./recipe-control";
import { look, settle, useBench } from "./store";

const ROUNDS = { 0: "not at all", 1: "one round", 2: "two rounds" } as const;

const FRINGES = [
  {
    colour: "red",
    label: "Red fringe",
    hint: "How much larger the lens draws red than green at the frame's corners; taken out of the matte's copy. Measured by Propose.",
  },
  { colour: "blue", label: "Blue fringe", hint: "The same for blue." },
] as const;

/** What is done to the copy that only serves to make the matte. */
export function MattesCopy() {
  const { chroma, falseColour, flattenRounds, sharpening } = useBench((s) => s.recipe.prepare);
  const { frames, layout } = useBench((s) => s.shot.plate.info);
  // Cameras sharpen codes; half floats are no camera's.
  const codes = layout.kind !== "half";
  const coarse = useBench((s) => hasCoarseChroma(s.shot.plate.info));
  return (
    <Section title="The matte's own copy">
      {coarse && (
        <Switch
          label="Rebuild chroma along luma"
          checked={chroma}
          onChange={(v) =>
            settle("Pull", v ? "Chroma rebuilt along luma" : "Chroma as stored", (r) => ({ ...r, prepare: { ...r.prepare, chroma: v } }))
          }
        />
      )}
      {codes && !coarse && (
        <Switch
          label="Clear a mosaic's false colour"
          checked={falseColour}
          onChange={(v) =>
            settle("Pull", v ? "A mosaic's false colour cleared" : "Colour as stored", (r) => ({
              ...r,
              prepare: { ...r.prepare, falseColour: v },
            }))
          }
        />
      )}
      <RecipeControl
        label="Denoise luma"
        step="Pull"
        max={4}
        nudge={0.05}
        decimals={2}
        initial={0}
        hint="Grain up to about this share of full light is smoothed for the matte; edges stay. The picture keeps its grain."
        path="prepare.denoiseLuma"
      />
      <RecipeControl
        label="Denoise colour"
        step="Pull"
        max={4}
        nudge={0.05}
        decimals={2}
        initial={0}
        hint="Colour bears more than luma."
        path="prepare.denoiseChroma"
      />
      {frames > 1 && (
        <RecipeControl
          label="Denoise over time"
          step="Pull"
          initial={0}
          hint="Averages the copy with its neighbouring frames where the plate stands still: no edge is softened, and what moves keeps its own pixels."
          path="prepare.overTime"
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
        path="prepare.blur"
      />
      {codes && (
        <RecipeControl
          label="Undo sharpening"
          step="Pull"
          max={150}
          initial={0}
          hint="How far the camera sharpened its luma, in percent of an unsharp mask; undone for the matte, the picture stays. Measured by Propose. At full size only."
          path="prepare.sharpening.amount"
        />
      )}
      {codes && sharpening.amount > 0 && (
        <RecipeControl
          label="Its radius"
          step="Pull"
          unit="px"
          factor={1}
          min={0.3}
          max={3}
          nudge={0.1}
          decimals={1}
          initial={0.8}
          hint="σ of the blur that the camera's sharpening is made with; 0.8 px suits narrow ones and wide."
          path="prepare.sharpening.radius"
        />
      )}
      {FRINGES.map(({ colour, label, hint }) => (
        <RecipeControl
          key={colour}
          label={label}
          step="Pull"
          unit="px"
          factor={1}
          min={-10}
          max={10}
          nudge={0.05}
          decimals={2}
          initial={0}
          hint={hint}
          path={`prepare.fringes.${colour}`}
        />
      ))}
      <Select
        label="Flatten the screen"
        value={String(flattenRounds)}
        choices={Object.entries(ROUNDS)}
        onChange={(v) =>
          settle("Pull", `Screen's range flattened: ${ROUNDS[Number(v) as 0 | 1 | 2]}`, (r) => ({
            ...r,
            prepare: { ...r.prepare, flattenRounds: Number(v) as 0 | 1 | 2 },
          }))
        }
      />
      {flattenRounds > 0 && (
        <RecipeControl
          label="How far"
          step="Pull"
          initial={60}
          hint="Lowers the contrast of the screen's colour range and saturates it. Too much lets it bleed onto the subject."
          path="prepare.flattenAmount"
        />
      )}
      <Button className="mt-1 w-full" onClick={() => look({ view: "prepared" })}>
        Show the copy
      </Button>
    </Section>
  );
}
