import { Plus, Trash2 } from "lucide-react";
import type { ComponentType } from "react";
import { encodeWith } from "../../core/color/transfer";
import type { Media } from "../../core/documents/media-info";
import { type Pass, PULL_METHODS, type Recipe } from "../../core/recipe/schema";
import { FITS } from "../../core/scene/fit";
import { describeColour } from "../../core/screen/find";
import { PRIMARY_NAME, screenPrimary } from "../../core/screen/primary";
import { SPILL_LIMITS, SPILL_REPLACEMENTS } from "../../core/spill/limit";
import { Button } from "../ui/button";
import { Control } from "../ui/control";
import { percent, whole } from "../ui/format";
import { ImportMedia } from "../ui/import-media";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { changeShape, goToFrame, removeShape, withPass } from "./actions";
import { DeliverPanel } from "./deliver";
import { proveShot } from "./engine";
import { Facts, Section } from "./facts";
import { MatteHistogram } from "./histogram";
import { PlatePanel } from "./plate-panel";
import { complain, look, move, refreshMedia, type Step, settle, shownRecipe, useBench } from "./store";

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

function ScreenPanel() {
  const recipe = useBench((s) => s.recipe);
  const tool = useBench((s) => s.tool);
  const evenness = useBench((s) => s.figures?.evenness ?? null);
  const { colour, boxes } = recipe.screen;
  const encode = encodeWith("srgb");
  const about = colour && describeColour(colour, encodeWith("bt709"));
  const css =
    colour && `rgb(${[colour.r, colour.g, colour.b].map((v) => Math.round(255 * Math.min(1, Math.max(0, encode(v))))).join(" ")})`;
  return (
    <>
      <Button
        look={tool === "sample" ? "chosen" : colour ? "plain" : "accent"}
        className="w-full"
        aria-pressed={tool === "sample"}
        onClick={() => useBench.setState({ tool: tool === "sample" ? "look" : "sample" })}
      >
        {tool === "sample" ? "Drag a box on the picture…" : colour ? "Sample again" : "Sample the screen"}
      </Button>
      {colour && about && css ? (
        <div className="mt-3">
          <div
            className="mb-3 h-14 rounded-md border border-black"
            role="img"
            aria-label={`Screen colour, ${PRIMARY_NAME[screenPrimary(colour)]}, hue ${about.hue.toFixed(0)} degrees`}
            style={{ background: css }}
          />
          <Facts
            rows={[
              ["screen primary", PRIMARY_NAME[screenPrimary(colour)]],
              ["linear", [colour.r, colour.g, colour.b].map((v) => v.toFixed(4)).join("  ")],
              ["hue", `${about.hue.toFixed(1)}°`],
              ["saturation", percent(about.saturation, 0)],
              ["level", `${about.level.toFixed(0)} % BT.709`],
              ["evenness", evenness === null ? "…" : `±${evenness.toFixed(2)} st`],
              ["sampled", boxes.length ? boxes.map((b) => `${b.width}×${b.height} px, frame ${b.frame}`).join("; ") : "typed"],
            ]}
          />
          <CleanPlate />
          <p className="mt-3 text-faint">
            About 40 % is common practice for the screen's level. Evenness matters more than the exact level.
          </p>
        </div>
      ) : (
        <p className="mt-3 text-soft">
          Choose clean screen close to the most important edge. Grain, markers and strands in the box are set aside.
        </p>
      )}
    </>
  );
}

const CLEAN_NAMES = { none: "one colour", synthesised: "its own pixels", supplied: "a clean plate" } as const;

/** What the pull reads the screen from, and the levelled plate that follows from it. */
function CleanPlate() {
  const { clean, cleanPlate } = useBench((s) => s.recipe.screen);
  const plate = useBench((s) => s.shot.plate);
  const media = useBench((s) => s.media);
  const fitting = media.filter((m) => m.id !== plate.id && m.info.width === plate.info.width && m.info.height === plate.info.height);
  const choose = (id: string | null, from: Recipe["screen"]["clean"], what: string) =>
    settle("Screen", what, (r) => ({ ...r, screen: { ...r.screen, clean: from, cleanPlate: id } }));
  return (
    <Section title="Clean plate">
      <Select
        label="Read the screen from"
        value={clean === "supplied" && cleanPlate ? cleanPlate : clean}
        choices={[["none", CLEAN_NAMES.none], ["synthesised", CLEAN_NAMES.synthesised], ...fitting.map((m) => [m.id, m.name] as const)]}
        onChange={(v) =>
          v === "none" || v === "synthesised"
            ? choose(null, v, `Screen read from ${CLEAN_NAMES[v]}`)
            : choose(v, "supplied", `Clean plate: ${media.find((m) => m.id === v)?.name ?? ""}`)
        }
      />
      <ImportMedia
        label={
          <>
            <Plus size={14} /> Bring in a clean plate
          </>
        }
        onDone={async (m) => {
          await refreshMedia();
          if (m.info.width !== plate.info.width || m.info.height !== plate.info.height)
            complain(
              new Error(
                `${m.name} is ${m.info.width}×${m.info.height}, the plate ${plate.info.width}×${plate.info.height}: a clean plate must be of the same size.`,
              ),
            );
          else choose(m.id, "supplied", `Clean plate: ${m.name}`);
        }}
      />
      {clean !== "none" && (
        <>
          <RecipeControl
            label="Level the plate"
            step="Screen"
            initial={100}
            hint="How far the levelled plate's screen is brought to the sampled colour. The picture itself keeps its own pixels."
            get={(r) => r.screen.level}
            put={(r, level) => ({ ...r, screen: { ...r.screen, level } })}
          />
          <div className="mt-1 flex gap-2">
            <Button className="grow" onClick={() => look({ view: "cleanPlate" })}>
              Clean plate
            </Button>
            <Button className="grow" onClick={() => look({ view: "levelled" })}>
              Levelled plate
            </Button>
          </div>
        </>
      )}
    </Section>
  );
}

function BoundsPanel() {
  const shapes = useBench((s) => shownRecipe(s).bounds.garbage);
  const tool = useBench((s) => s.tool);
  const selected = useBench((s) => s.selectedShape);
  const clearance = useBench((s) => s.figures?.clearance ?? null);
  return (
    <>
      <Button
        look={tool === "draw" ? "chosen" : "plain"}
        className="w-full"
        aria-pressed={tool === "draw"}
        onClick={() => useBench.setState({ tool: tool === "draw" ? "look" : "draw" })}
      >
        {tool === "draw" ? "Click corners on the picture…" : "Draw a garbage matte"}
      </Button>
      {shapes.length === 0 && (
        <p className="mt-3 text-soft">
          Throw away every part of the frame the subject never enters: unlit corners, stands, the screen's edge.
        </p>
      )}
      {shapes.map((shape) => (
        <section
          key={shape.id}
          aria-label={shape.name}
          className={`mt-3 rounded-md border p-2.5 ${shape.id === selected ? "border-amber" : "border-line"}`}
          onPointerDown={() => useBench.setState({ selectedShape: shape.id })}
        >
          <div className="flex items-center gap-2">
            <input
              aria-label="Name of the shape"
              className="min-w-0 grow rounded bg-transparent px-1 py-0.5 font-medium hover:bg-page focus:bg-page"
              defaultValue={shape.name}
              onBlur={(e) =>
                e.target.value.trim() &&
                e.target.value !== shape.name &&
                changeShape(shape.id, { name: e.target.value.trim().slice(0, 80) }, true, `${shape.name} renamed ${e.target.value.trim()}`)
              }
            />
            <Button look="quiet" aria-label={`Remove ${shape.name}`} onClick={() => removeShape(shape.id)}>
              <Trash2 size={14} />
            </Button>
          </div>
          <Select
            label="Thrown away"
            value={shape.out}
            choices={[
              ["outside", "outside of it"],
              ["inside", "inside of it"],
            ]}
            onChange={(out) => changeShape(shape.id, { out }, true, `${shape.name}: ${out} is out`)}
          />
          <Control
            label="Soft edge"
            value={shape.soft}
            min={0}
            max={100}
            step={0.5}
            unit="px"
            initial={6}
            hint="Repeats the frame's edge pixels, so that the border stays solid."
            onMove={(soft) => changeShape(shape.id, { soft }, false, "")}
            onSettle={(soft) =>
              changeShape(shape.id, { soft }, true, `${shape.name}: soft edge ${shape.soft.toFixed(1)} → ${soft.toFixed(1)} px`)
            }
          />
        </section>
      ))}
      {shapes.length > 0 && (
        <div className="mt-3">
          <Facts rows={[["clearance on this frame", clearance === null ? "…" : `${whole(clearance)} px`]]} />
          <p className="mt-2 text-faint">Drag corners. Double-click the line to add one, a corner to remove it.</p>
        </div>
      )}
      <AutomaticBounds />
    </>
  );
}

type AutoBounds = Pass["matte"]["bounds"];

/** Bounds that follow the subject without keyframes, and what lies beyond the screen. */
function AutomaticBounds() {
  const on = useBench((s) => (s.recipe.passes[0] as Pass).matte.bounds.on);
  const beyond = useBench((s) => s.recipe.bounds.beyond);
  const put = (p: Pass, change: Partial<AutoBounds>): Pass => ({ ...p, matte: { ...p.matte, bounds: { ...p.matte.bounds, ...change } } });
  const px = (label: string, key: "grow" | "shrink" | "soft", initial: number, max: number, hint: string) => (
    <PassControl
      label={label}
      step="Bounds"
      unit="px"
      factor={1}
      max={max}
      initial={initial}
      hint={hint}
      get={(p) => p.matte.bounds[key]}
      put={(p, v) => put(p, { [key]: v })}
    />
  );
  return (
    <Section title="Automatic">
      <Switch
        label="Beyond the screen is out"
        checked={beyond}
        onChange={(v) =>
          settle("Bounds", v ? "Beyond the screen thrown away" : "Beyond the screen kept", (r) => ({
            ...r,
            bounds: { ...r.bounds, beyond: v },
          }))
        }
      />
      <Switch
        label="Follow the subject"
        checked={on}
        onChange={(v) => settle("Bounds", v ? "Automatic bounds on" : "Automatic bounds off", (r) => withPass(r, (p) => put(p, { on: v })))}
      />
      {on && (
        <>
          <PassControl
            label="Out under"
            step="Bounds"
            initial={6}
            hint="A matte under this is empty, once it lies clear of anything above it."
            get={(p) => p.matte.bounds.outLevel}
            put={(p, v) => put(p, { outLevel: v })}
          />
          {px("Grow", "grow", 6, 60, "How far out the subject's surroundings are kept.")}
          <PassControl
            label="In over"
            step="Bounds"
            initial={80}
            hint="A matte over this is solid, once nothing softer lies near. Strands stay as they are."
            get={(p) => p.matte.bounds.inLevel}
            put={(p, v) => put(p, { inLevel: v })}
          />
          {px("Shrink", "shrink", 6, 60, "How far inside the outline the subject is held solid.")}
          {px("Soft edge", "soft", 3, 30, "Width of both edges.")}
          <PassControl
            label="Drop specks under"
            step="Bounds"
            unit="px²"
            factor={1}
            max={400}
            nudge={1}
            initial={12}
            hint="Islands and lone pinholes up to this area go."
            get={(p) => p.matte.bounds.specks}
            put={(p, v) => put(p, { specks: v })}
          />
          <Button className="mt-1 w-full" onClick={() => look({ view: "autoBounds" })}>
            Show in, out and undecided
          </Button>
        </>
      )}
    </Section>
  );
}

/** A number of the recipe as a control; `factor` is what the panel shows for 1 in the recipe. */
function RecipeControl(props: {
  label: string;
  step: Step;
  hint?: string;
  initial: number;
  min?: number;
  max?: number;
  unit?: string;
  factor?: number;
  nudge?: number;
  get: (r: Recipe) => number;
  put: (r: Recipe, v: number) => Recipe;
}) {
  const { label, step, hint, initial, min = 0, max = 100, unit = "%", factor = 100, nudge = 0.1, get, put } = props;
  const value = useBench((s) => factor * get(shownRecipe(s)));
  const settled = useBench((s) => factor * get(s.recipe));
  const change = (v: number) => (r: Recipe) => put(r, v / factor);
  return (
    <Control
      label={label}
      value={value}
      min={min}
      max={max}
      step={nudge}
      unit={unit}
      initial={initial}
      {...(hint ? { hint } : {})}
      onMove={(v) => move(change(v))}
      onSettle={(v) =>
        Math.abs(v - settled) > 1e-9
          ? settle(step, `${label} ${settled.toFixed(1)} → ${v.toFixed(1)} ${unit}`, change(v))
          : useBench.setState({ live: null })
      }
    />
  );
}

type RecipeControlProps = Parameters<typeof RecipeControl>[0];

/** A number of the pass as a control. */
function PassControl({
  get,
  put,
  ...rest
}: Omit<RecipeControlProps, "get" | "put"> & { get: (p: Pass) => number; put: (p: Pass, v: number) => Pass }) {
  return <RecipeControl {...rest} get={(r) => get(r.passes[0] as Pass)} put={(r, v) => withPass(r, (p) => put(p, v))} />;
}

function NeedsScreen() {
  const none = useBench((s) => s.recipe.screen.colour === null);
  return none ? <p className="mb-2 rounded-md bg-raised p-2.5 text-soft">Sample the screen first: there is no matte yet.</p> : null;
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
      <MatteHistogram />
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

function ScenePanel() {
  const media = useBench((s) => s.media);
  const plateId = useBench((s) => s.shot.plate.id);
  const scene = useBench((s) => shownRecipe(s).scene);
  const settled = useBench((s) => s.recipe.scene);
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
        </Section>
      )}
    </>
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

function ProofPanel() {
  const proof = useBench((s) => s.proof);
  const recipe = useBench((s) => s.recipe);
  const f = useBench((s) => s.figures);
  const current = proof?.recipe === recipe;
  const measured = current && proof ? proof.frames : [];
  const running = current && proof && measured.length < proof.total;
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
          <p className="mt-2 text-faint">Measured at reduced size; the figures of the shown frame are exact.</p>
        </Section>
      )}
      {proof && !current && <p className="mt-3 text-soft">The recipe has changed since: measure again.</p>}
    </>
  );
}
