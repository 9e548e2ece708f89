import { Plus, Trash2 } from "lucide-react";
import { type ComponentType, useState } from "react";
import { encodeWith, TRANSFERS } from "../../core/color/transfer";
import { MATRICES, RANGES } from "../../core/color/ycbcr";
import { chromaFormat, type Media } from "../../core/documents/media-info";
import { SITINGS } from "../../core/image/raw-frame";
import type { Pass, Recipe } from "../../core/recipe/schema";
import { FITS } from "../../core/scene/fit";
import { describeColour } from "../../core/screen/find";
import { PRIMARY_NAME, screenPrimary } from "../../core/screen/primary";
import type { PlateReport } from "../../core/screen/report";
import { SPILL_LIMITS } from "../../core/spill/limit";
import { Button } from "../ui/button";
import { Control } from "../ui/control";
import { bytes, percent, whole } from "../ui/format";
import { ImportMedia } from "../ui/import-media";
import { Select } from "../ui/select";
import { changeShape, goToFrame, proposeAll, removeShape, withPass } from "./actions";
import { DeliverPanel } from "./deliver";
import { measureWorker, proveShot } from "./engine";
import { depthName, rateName } from "./facts";
import { MatteHistogram } from "./histogram";
import { complain, look, move, plateFootage, refreshMedia, type Step, settle, shownRecipe, useBench } from "./store";

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

function Facts({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
      {rows.map(([k, v]) => (
        <div key={k} className="contents">
          <dt className="text-faint">{k}</dt>
          <dd className="figure text-right break-words">{v}</dd>
        </div>
      ))}
    </dl>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="mt-4 border-t border-line pt-3">
      <h3 className="mb-1.5 font-semibold">{title}</h3>
      {children}
    </section>
  );
}

const READING_NAMES: Record<string, string> = {
  srgb: "sRGB",
  bt709: "BT.709",
  gamma22: "gamma 2.2",
  linear: "linear",
  bt601: "BT.601",
  bt2020: "BT.2020",
  limited: "limited",
  full: "full",
  left: "left",
  center: "centre",
  topleft: "top left",
};

function PlatePanel() {
  const shot = useBench((s) => s.shot);
  const recipe = useBench((s) => s.recipe);
  const frame = useBench((s) => s.view.frame);
  const [reasons, setReasons] = useState<readonly string[]>([]);
  const [report, setReport] = useState<PlateReport | null>(null);
  const { info, name } = shot.plate;
  const override = <K extends "transfer" | "matrix" | "range" | "siting">(
    key: K,
    label: string,
    values: readonly NonNullable<Recipe["plate"][K]>[],
  ) => {
    const own = `${READING_NAMES[info.reading[key]]} (${info.stated[key] ? "file" : "assumed"})`;
    return (
      <Select
        label={label}
        value={(recipe.plate[key] ?? "file") as string}
        choices={[["file", own], ...values.map((v) => [v as string, READING_NAMES[v as string] ?? (v as string)] as const)]}
        onChange={(v) => {
          const { [key]: _, ...rest } = recipe.plate;
          settle("Plate", `${label}: ${v === "file" ? "as the file says" : READING_NAMES[v]}`, (r) => ({
            ...r,
            plate: v === "file" ? rest : { ...r.plate, [key]: v },
          }));
        }}
      />
    );
  };
  return (
    <>
      <Button look="accent" className="w-full" onClick={async () => setReasons(await proposeAll())}>
        Propose the whole key
      </Button>
      {reasons.length > 0 && (
        <ul className="mt-2 space-y-1.5 text-soft" data-testid="reasons">
          {reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      )}
      <Section title="File">
        <Facts
          rows={[
            ["name", name],
            ["size", `${info.width}×${info.height} px`],
            ["frames", `${info.frames} · ${rateName(info)}`],
            ["codec", `${info.codec} in ${info.format}`],
            ["samples", `${chromaFormat(info)} · ${depthName(info)}`],
            ["pixel aspect", info.pixelAspect.toFixed(3)],
            ["fields", info.fieldOrder],
            ["timecode", info.timecode ?? "none"],
            ["sound", info.audio ? `${info.audio.codec} · ${info.audio.channels} ch` : "none"],
            ["bytes", bytes(shot.plate.bytes)],
          ]}
        />
        {info.warning && <p className="mt-2 rounded bg-raised p-2">{info.warning}</p>}
      </Section>
      <Section title="Read as">
        {override("transfer", "Curve", TRANSFERS)}
        {info.layout.kind === "ycbcr" && (
          <>
            {override("matrix", "Matrix", MATRICES)}
            {override("range", "Range", RANGES)}
            {override("siting", "Chroma siting", SITINGS)}
          </>
        )}
      </Section>
      <Section title="Report">
        {report ? (
          <>
            <Facts
              rows={[
                ["screen", `${PRIMARY_NAME[report.screen.primary]}, hue ${report.screen.hue.toFixed(0)}°`],
                ["share of frame", percent(report.screen.share, 0)],
                ["level", `${report.screen.level.toFixed(0)} % BT.709`],
                ["evenness", `±${report.evenness.deviation.toFixed(2)} st`],
                ["p5 to p95", `${report.evenness.spread.toFixed(2)} st`],
                ["noise", `${Math.max(report.noise.r, report.noise.g, report.noise.b).toFixed(2)} %`],
              ]}
            />
            <ul className="mt-2 space-y-2">
              {report.findings.map((f) => (
                <li key={f.what} className="rounded bg-raised p-2">
                  <span className="figure">{f.figure}</span> {f.what}. <span className="text-soft">{f.remedy}.</span>
                </li>
              ))}
            </ul>
          </>
        ) : (
          <Button onClick={() => measureWorker().report(recipe, plateFootage(), frame, { chromaFormat: chromaFormat(info), pixelAspect: info.pixelAspect }).then(setReport, complain)}>
            Measure the plate
          </Button>
        )}
      </Section>
    </>
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
    </>
  );
}

/** A control of the pass: percent on the panel, a fraction in the recipe. */
function PassControl(props: {
  label: string;
  step: Step;
  hint?: string;
  initial: number;
  min?: number;
  max?: number;
  get: (p: Pass) => number;
  put: (p: Pass, v: number) => Pass;
  disabled?: boolean;
}) {
  const { label, step, hint, initial, min = 0, max = 100, get, put, disabled } = props;
  const value = useBench((s) => 100 * get(shownRecipe(s).passes[0] as Pass));
  const settled = useBench((s) => 100 * get(s.recipe.passes[0] as Pass));
  const change = (v: number) => (r: Recipe) => withPass(r, (p) => put(p, v / 100));
  return (
    <Control
      label={label}
      value={value}
      min={min}
      max={max}
      step={0.1}
      unit="%"
      initial={initial}
      {...(hint ? { hint } : {})}
      disabled={disabled ?? false}
      onMove={(v) => move(change(v))}
      onSettle={(v) =>
        Math.abs(v - settled) > 1e-9
          ? settle(step, `${label} ${settled.toFixed(1)} → ${v.toFixed(1)} %`, change(v))
          : useBench.setState({ live: null })
      }
    />
  );
}

function NeedsScreen() {
  const none = useBench((s) => s.recipe.screen.colour === null);
  return none ? <p className="mb-2 rounded-md bg-raised p-2.5 text-soft">Sample the screen first: there is no matte yet.</p> : null;
}

function PullPanel() {
  const colour = useBench((s) => s.recipe.screen.colour);
  const others = colour ? { r: "green", g: "red", b: "red" }[screenPrimary(colour)] : "red";
  const soft = useBench((s) => s.figures?.softBand ?? null);
  return (
    <>
      <NeedsScreen />
      <Facts
        rows={[
          ["method", "colour difference"],
          ["soft band", soft === null ? "–" : percent(soft)],
        ]}
      />
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
        put={(p, white) => ({ ...p, matte: { black: Math.min(p.matte.black, Math.max(0, white - 0.01)), white } })}
        hint="The matte level mapped to 1. Lower it to close holes."
      />
      <PassControl
        label="Black point"
        step="Matte"
        initial={0}
        max={98}
        get={(p) => p.matte.black}
        put={(p, black) => ({ ...p, matte: { black, white: Math.max(p.matte.white, Math.min(1, black + 0.01)) } })}
        hint="The matte level mapped to 0. Raise it to clear residue."
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

function SpillPanel() {
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
