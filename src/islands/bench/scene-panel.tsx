import { Plus } from "lucide-react";
import type { Media } from "../../core/documents/media-info";
import { WRAP_BLENDS } from "../../core/edge/light-wrap";
import type { Recipe } from "../../core/recipe/schema";
import { FITS } from "../../core/scene/fit";
import { Control } from "../ui/control";
import { ImportMedia } from "../ui/import-media";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { Section } from "./facts";
import { RecipeControl } from "./recipe-control";
import { move, refreshMedia, settle, shownRecipe, useBench } from "./store";

/** The background and its fit. */
export function ScenePanel() {
  const media = useBench((s) => s.media);
  const plateId = useBench((s) => s.shot.plate.id);
  const scene = useBench((s) => shownRecipe(s).scene);
  const settled = useBench((s) => s.recipe.scene);
  const overridden = useBench(
    (s) => s.recipe.scene.asPlate || s.recipe.plate.transfer !== undefined || s.recipe.plate.primaries !== undefined,
  );
  const choose = (m: Media | null) =>
    settle("Scene", m ? `Background: ${m.name}` : "No background", (r) => ({ ...r, scene: { ...r.scene, background: m?.id ?? null } }));
  const put = (change: Partial<Recipe["scene"]>) => (r: Recipe) => ({ ...r, scene: { ...r.scene, ...change } });
  const number = (
    key: "scale" | "x" | "y",
    label: string,
    unit: string,
    min: number,
    max: number,
    step: number,
    initial: number,
    factor: number,
  ) => (
    <Control
      label={label}
      value={scene[key] * factor}
      min={min}
      max={max}
      step={step}
      unit={unit}
      initial={initial}
      onMove={(v) => move(put({ [key]: v / factor }))}
      onSettle={(v) =>
        settle("Scene", `${label} ${(settled[key] * factor).toFixed(1)} → ${v.toFixed(1)} ${unit}`, put({ [key]: v / factor }))
      }
    />
  );
  const choices = media.filter((m) => m.id !== plateId);
  return (
    <>
      <div className="grid grid-cols-2 gap-2" role="radiogroup" aria-label="Background">
        <Tile label="No background" chosen={scene.background === null} onClick={() => choose(null)} />
        {choices.map((m) => (
          <Tile
            key={m.id}
            label={m.name}
            picture={`/api/media/${m.id}/thumb`}
            chosen={scene.background === m.id}
            onClick={() => choose(m)}
          />
        ))}
      </div>
      <div className="mt-2">
        <ImportMedia
          label={
            <>
              <Plus size={14} /> Bring in a background
            </>
          }
          onDone={async (m) => {
            await refreshMedia();
            choose(m);
          }}
        />
      </div>
      {scene.background && (
        <Section title="Fit">
          <Select
            label="Fit"
            value={scene.fit}
            choices={FITS.map(
              (f) => [f, { fill: "fill the frame", whole: "show all of it", stretch: "stretch", pixels: "own pixels" }[f]] as const,
            )}
            onChange={(fit) => settle("Scene", `Fit: ${fit}`, put({ fit }))}
          />
          {number("scale", "Enlarge", "%", 10, 400, 1, 100, 100)}
          {number("x", "Shift right", "px", -2000, 2000, 1, 0, 1)}
          {number("y", "Shift down", "px", -2000, 2000, 1, 0, 1)}
          {overridden && (
            <Switch
              label="Read as the plate is"
              hint="By the plate's curve and primaries, where one camera recorded both and its file does not say so."
              checked={scene.asPlate}
              onChange={(asPlate) =>
                settle("Scene", `Background read ${asPlate ? "as the plate is" : "as its file says"}`, put({ asPlate }))
              }
            />
          )}
        </Section>
      )}
      {scene.background && <Wrap />}
    </>
  );
}

const BLEND_NAMES = { screen: "as light (screen)", add: "added", normal: "laid over" } as const;

/** The background's light on the subject's rim. */
function Wrap() {
  const { strength, blend } = useBench((s) => s.recipe.scene.wrap);
  const px = (label: string, path: "reach" | "blur" | "grow", min: number, max: number, initial: number, hint: string) => (
    <RecipeControl
      label={label}
      step="Scene"
      unit="px"
      factor={1}
      min={min}
      max={max}
      initial={initial}
      hint={hint}
      path={`scene.wrap.${path}`}
    />
  );
  return (
    <Section title="Light wrap">
      <RecipeControl
        label="Strength"
        step="Scene"
        initial={0}
        hint="The background's general light over the rim. Subtle; some leave it off for graphic backgrounds (common practice)."
        path="scene.wrap.strength"
      />
      {strength > 0 && (
        <>
          {px("Reach", "reach", 1, 100, 12, "How far in from the edge.")}
          {px("Blur of the background", "blur", 1, 200, 70, "Only its general light should remain; about 70 px at HD is common practice.")}
          {px("Grow first", "grow", 0, 10, 1, "Cures a dark line at the outer edge.")}
          <Select
            label="Blend"
            value={blend}
            choices={WRAP_BLENDS.map((b) => [b, BLEND_NAMES[b]] as const)}
            onChange={(b) =>
              settle("Scene", `Light wrap ${BLEND_NAMES[b]}`, (r) => ({ ...r, scene: { ...r.scene, wrap: { ...r.scene.wrap, blend: b } } }))
            }
          />
        </>
      )}
      <p className="mt-1 text-faint">It belongs to the composite; the delivered foreground does not hold it.</p>
    </Section>
  );
}

function Tile({ label, picture, chosen, onClick }: { label: string; picture?: string; chosen: boolean; onClick: () => void }) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a picture tile, not a native radio
    <button
      type="button"
      role="radio"
      aria-checked={chosen}
      onClick={onClick}
      className={`overflow-hidden rounded-md border-2 text-left ${chosen ? "border-amber" : "border-line hover:border-faint"}`}
    >
      {picture ? (
        <img src={picture} alt="" className="aspect-video w-full object-cover" />
      ) : (
        <span className="block aspect-video w-full bg-page" />
      )}
      <span className="block truncate px-1.5 py-1 text-[12px]" title={label}>
        {label}
      </span>
    </button>
  );
}
