import { encodeWith } from "../../core/color/transfer";
import type { SpillLimit, SpillReplacement } from "../../core/spill/limit";
import { strokesOn } from "../../core/spill/paint";
import { Button } from "../ui/button";
import { Control } from "../ui/control";
import { percent } from "../ui/format";
import { Select } from "../ui/select";
import { FigureFacts, Section } from "./facts";
import { Follow } from "./follow";
import { PassPicker } from "./passes";
import { NeedsScreen, PassChoice, PassControl, useWeightRange } from "./recipe-control";
import { clearPaint, followPaint, measureSpill, PAINT } from "./spill-actions";
import { type Brush, currentPass, look, type Tool, useBench } from "./store";

const LIMIT_NAMES: Record<SpillLimit, string> = {
  average: "mean of the others",
  maximum: "larger of the others",
  minimum: "smaller of the others",
  mix: "mix of the others",
};
const REPLACEMENT_NAMES: Record<SpillReplacement, string> = {
  nothing: "nothing",
  neutral: "neutral light",
  surface: "the surface's colour",
  original: "the original",
  muted: "muted screen hue",
  background: "background's light",
};

/** What is taken of the screen's light, what goes back, and the paint layer. */
export function SpillPanel() {
  const limit = useBench((s) => currentPass(s).spill.limit);
  const range = useWeightRange();
  return (
    <>
      <NeedsScreen />
      <PassPicker />
      <PassControl
        label="Amount"
        step="Spill"
        initial={100}
        path="spill.amount"
        hint="Share of the excess that is taken. Too much turns edges pink."
      />
      <PassChoice label="Limit" step="Spill" names={LIMIT_NAMES} path="spill.limit" get={(p) => p.spill.limit} />
      {limit === "mix" && (
        <PassControl
          label="Weight of the mix"
          step="Spill"
          {...range}
          initial={50}
          hint="Share of the first other channel (red before green and blue screens, green before red ones) in what the primary may not exceed. Beyond 0 and 100 %, for hues between two primaries, light of the screen's own hue is taken."
          path="spill.mix"
        />
      )}
      <PassChoice label="Put back" step="Spill" names={REPLACEMENT_NAMES} path="spill.replace" get={(p) => p.spill.replace} />
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
          path={`spill.${key}`}
        />
      ))}
      <PassControl
        label="Keep surfaces' own colour"
        step="Spill"
        initial={0}
        hint="What a surface has of the screen's hue well inside it (wood, straw, brass, green cloth) is its own; only what its rim has beyond that counts as spill."
        path="spill.protect"
      />
      <PassControl
        label="Refill drained patches"
        step="Spill"
        initial={0}
        hint="Where spill and surface cancelled out, a flat grey patch remains: it takes on the colour around it (common practice: put colour back, do not remove more)."
        path="spill.refill"
      />
      <div className="mt-2">
        <FigureFacts rows={(f) => [["taken from the subject", f ? percent(f.spill) : "–"]]} />
      </div>
      <div className="mt-3 flex gap-2">
        <Button
          className="grow"
          title="Compares the rim of the subject, where the screen's light falls, with its inside"
          onClick={() => void measureSpill()}
        >
          Measure
        </Button>
        <Button className="grow" onClick={() => look({ view: "spillMap" })}>
          Show what is taken
        </Button>
      </div>
      <p className="mt-3 text-faint">Judge it against the new background.</p>
      <PaintLayer />
    </>
  );
}

const PAINT_TOOLS: readonly (readonly [Tool, string])[] = [
  ["paint-pick", "Pick colour"],
  ["paint", "Paint"],
  ["paint-erase", "Rub out"],
];

/** The last resort: colour painted over what no control mends, on a layer of its own. */
function PaintLayer() {
  const brush = useBench((s) => s.brush);
  const tool = useBench((s) => s.tool);
  const strokes = useBench((s) => s.recipe.paint.length);
  const here = useBench((s) => strokesOn(s.recipe.paint, s.view.frame).length);
  const { frames } = useBench((s) => s.shot.plate.info);
  const change = (part: Partial<Brush>) => useBench.setState({ brush: { ...brush, ...part } });
  const encode = encodeWith("srgb");
  const code = (v: number) => Math.round(255 * Math.min(1, Math.max(0, encode(v))));
  const { colour } = brush;
  const control = (
    label: string,
    key: "radius" | "soft" | "strength",
    unit: string,
    max: number,
    factor: number,
    initial: number,
    hint: string,
  ) => (
    <Control
      label={label}
      value={factor * brush[key]}
      min={key === "radius" ? 1 : 0}
      max={max}
      step={1}
      unit={unit}
      decimals={0}
      initial={initial}
      hint={hint}
      onMove={(v) => change({ [key]: v / factor })}
      onSettle={(v) => change({ [key]: v / factor })}
    />
  );
  return (
    <Section title="Paint, the last resort">
      <div className="flex gap-1.5">
        {PAINT_TOOLS.map(([which, name]) => (
          <Button
            key={which}
            look={tool === which ? "chosen" : "plain"}
            className="grow px-1.5"
            aria-pressed={tool === which}
            disabled={which === "paint" && !colour}
            onClick={() => useBench.setState({ tool: tool === which ? "look" : which })}
          >
            {name}
          </Button>
        ))}
      </div>
      <div className="my-2 flex items-center gap-2 text-soft">
        <span
          className="size-6 rounded border border-black bg-page"
          {...(colour ? { style: { background: `rgb(${code(colour.r)} ${code(colour.g)} ${code(colour.b)})` } } : {})}
        />
        {colour ? "This colour; light and shade stay." : "Pick clean colour next to the place first."}
      </div>
      {control("Brush radius", "radius", "px", 200, 1, 18, "In pixels of the plate.")}
      {control("Brush softness", "soft", "%", 100, 100, 100, "Share of the radius over which it falls off.")}
      {control("Strength", "strength", "%", 100, 100, 60, "50 to 70 % is common practice.")}
      {frames > 1 && (
        <Select
          label="Strokes show on"
          value={brush.every ? "every" : "one"}
          choices={[
            ["one", "this frame"],
            ["every", "every frame"],
          ]}
          onChange={(v) => change({ every: v === "every" })}
        />
      )}
      {strokes > 0 && (
        <div className="mt-1 flex items-center justify-between">
          <span className="figure text-soft">
            {`${strokes} ${strokes === 1 ? "stroke" : "strokes"}${frames > 1 ? `, ${here} here` : ""}`}
          </span>
          <Button onClick={clearPaint}>Clear the layer</Button>
        </div>
      )}
      {frames > 1 && here > 0 && (
        <div className="mt-1.5">
          <Follow
            of={PAINT}
            label={here === 1 ? "Follow it" : `Follow these ${here}`}
            within="The strokes of this frame go with what lies under them, and show as far as they could be followed."
            anew="Paint it anew there and follow on."
            parts="strokes"
            onFollow={(towards) => void followPaint(towards)}
          />
        </div>
      )}
    </Section>
  );
}
