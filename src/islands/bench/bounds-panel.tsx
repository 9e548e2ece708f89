import { Trash2 } from "lucide-react";
import { useRef } from "react";
import type { Tightest } from "../../core/matte/tightest";
import type { Shape } from "../../core/recipe/drawn-schema";
import { withPart } from "../../core/recipe/path";
import { Button } from "../ui/button";
import { Control } from "../ui/control";
import { whole } from "../ui/format";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { Facts, Section } from "./facts";
import { Follow, FrameButton } from "./follow";
import { flyTo } from "./looking";
import { followHoldouts, HOLDOUTS, shapeOutline } from "./outline-actions";
import { OutlineKeys, TransformWhole } from "./outline-keys";
import { PassPicker } from "./passes";
import { PassControl } from "./recipe-control";
import { bringInShapes, changeShape, findTightest, removeShape, saveShapes, takeTightest } from "./shape-actions";
import { complain, currentPass, look, settle, shownRecipe, useBench, withPass } from "./store";

const DRAW = [
  ["draw", "Draw garbage"],
  ["draw-holdout", "Draw a holdout"],
] as const;

/** Drawn garbage and holdout mattes, and automatic bounds. */
export function BoundsPanel() {
  const shapes = useBench((s) => shownRecipe(s).bounds.garbage);
  const tool = useBench((s) => s.tool);
  const selected = useBench((s) => s.selectedShape);
  const clearance = useBench((s) => s.figures?.clearance ?? null);
  const { frames } = useBench((s) => s.shot.plate.info);
  const holdouts = shapes.filter((s) => s.kind === "holdout").length;
  return (
    <>
      <div className="flex gap-2">
        {DRAW.map(([which, name]) => (
          <Button
            key={which}
            look={tool === which ? "chosen" : "plain"}
            className="grow"
            aria-pressed={tool === which}
            onClick={() => useBench.setState({ tool: tool === which ? "look" : which })}
          >
            {name}
          </Button>
        ))}
      </div>
      {shapes.length === 0 && (
        <p className="mt-3 text-soft">
          Throw away every part of the frame the subject never enters: unlit corners, stands, the screen's edge. Hold what no key can tell
          from the screen, well inside the edge: mirror-like metal, glossy white, cloth of nearly its colour.
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
          <Switch
            label="Smooth curve"
            checked={shape.smooth}
            onChange={(smooth) => changeShape(shape.id, { smooth }, true, `${shape.name}: ${smooth ? "smooth" : "straight sides"}`)}
          />
          <Select
            label={shape.kind === "garbage" ? "Thrown away" : "Held"}
            value={shape.out}
            choices={[
              ["outside", "outside of it"],
              ["inside", "inside of it"],
            ]}
            onChange={(out) =>
              changeShape(shape.id, { out }, true, `${shape.name}: ${out} is ${shape.kind === "garbage" ? "out" : "held"}`)
            }
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
          {shape.soft > 0 && (
            <Control
              label="Softness falls"
              value={100 * shape.lean}
              min={-100}
              max={100}
              step={1}
              unit="%"
              initial={0}
              hint="−100 % all inside the outline, 0 half and half, 100 % all outside."
              onMove={(v) => changeShape(shape.id, { lean: v / 100 }, false, "")}
              onSettle={(v) =>
                changeShape(
                  shape.id,
                  { lean: v / 100 },
                  true,
                  `${shape.name}: softness falls ${(100 * shape.lean).toFixed(0)} → ${v.toFixed(0)} %`,
                )
              }
            />
          )}
          {frames > 1 && <OutlineKeys outline={shapeOutline(shape)} />}
          {shape.id === selected && <TransformWhole of="shape" />}
          {shape.kind === "garbage" && shape.keys.length === 0 && <TightestSafe shape={shape} />}
        </section>
      ))}
      {frames > 1 && holdouts > 1 && (
        <div className="mt-3">
          <Follow
            of={HOLDOUTS}
            label="Follow all"
            within={`Keys all ${holdouts} holdouts by what lies under each.`}
            anew="Look at those there."
            parts="holdouts"
            turns
            onFollow={(towards) => void followHoldouts(towards)}
          />
        </div>
      )}
      {shapes.length > 0 && (
        <div className="mt-3">
          <Facts rows={[["clearance on this frame", clearance === null ? "…" : `${whole(clearance)} px`]]} />
          <p className="mt-2 text-faint">Drag corners. Double-click the line to add one, a corner to remove it.</p>
        </div>
      )}
      <ShapeFiles />
      <AutomaticBounds />
    </>
  );
}

/** How close the shape may come over the whole shot, and the frames that decide it. */
function TightestSafe({ shape }: { shape: Shape }) {
  const search = useBench((s) => (s.tightest?.shape === shape.id ? s.tightest : null));
  const current = useBench((s) => search !== null && (!("found" in search) || search.recipe === s.recipe));
  const { frames } = useBench((s) => s.shot.plate.info);
  const ready = useBench((s) => s.recipe.screen.colour !== null);
  const looking = search !== null && !("found" in search);
  const found = search && current && "found" in search ? search : null;
  return (
    <div data-testid="tightest">
      <Button
        className="mt-1.5 w-full"
        disabled={!ready}
        title="Over the whole shot: how close it may come without touching the subject"
        onClick={() => void findTightest(shape)}
      >
        {looking ? `Stop · frame ${search.frame} of ${frames}` : "Tightest safe…"}
      </Button>
      {found && <TightestFound shape={shape} found={found.found} margin={found.margin} />}
    </div>
  );
}

function TightestFound({ shape, found, margin }: { shape: Shape; found: Tightest; margin: number }) {
  const most = Math.max(...found.moved);
  const deciding = [...new Set(found.deciders.map((d) => d.frame))].sort((a, b) => a - b);
  return (
    <div className="mt-1.5">
      <p>
        {most > 0 ? (
          <>
            Up to <span className="figure font-semibold">{whole(most)} px</span> closer, with {whole(margin)} px kept to the subject on
            every frame.
          </>
        ) : (
          "It cannot come closer."
        )}
        {found.before < margin && ` At its nearest the subject comes within ${whole(found.before)} px: that side stays.`}
      </p>
      <p className="mt-1 text-soft">
        Decided by frame{" "}
        {deciding.slice(0, 8).map((n) => (
          <FrameButton
            key={n}
            frame={n}
            label={`Go to frame ${n}, which decides it`}
            onGo={() => {
              const at = found.deciders.find((d) => d.frame === n)?.at;
              if (at) flyTo({ x: at.x - 20, y: at.y - 20, width: 40, height: 40 });
            }}
          />
        ))}
      </p>
      <Button className="mt-1.5 w-full" look="accent" disabled={most === 0} onClick={() => takeTightest(shape, found)}>
        Bring it that close
      </Button>
    </div>
  );
}

/** Shapes to and from an SVG file. */
function ShapeFiles() {
  const shapes = useBench((s) => s.recipe.bounds.garbage.length);
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="mt-2 flex gap-2">
      <input
        ref={input}
        type="file"
        accept=".svg,image/svg+xml"
        data-testid="shape-file"
        className="sr-only"
        tabIndex={-1}
        aria-label="Choose an SVG file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (!file) return;
          if (file.size > MOST_SVG) complain(new Error("The SVG file is larger than 10 MB. Save the shapes alone."));
          else void file.text().then(bringInShapes, complain);
        }}
      />
      <Button look="quiet" className="grow" disabled={shapes === 0} onClick={saveShapes}>
        Save as SVG
      </Button>
      <Button look="quiet" className="grow" onClick={() => input.current?.click()}>
        Bring in SVG
      </Button>
    </div>
  );
}
const MOST_SVG = 10 * 1024 * 1024;

/** Bounds that follow the subject without keyframes, and what lies beyond the screen. */
function AutomaticBounds() {
  const on = useBench((s) => currentPass(s).matte.bounds.on);
  const beyond = useBench((s) => s.recipe.bounds.beyond);
  const shade = useBench((s) => currentPass(s).matte.bounds.shade);
  const px = (label: string, key: "grow" | "shrink" | "soft" | "glossy", initial: number, max: number, hint: string) => (
    <PassControl label={label} step="Bounds" unit="px" factor={1} max={max} initial={initial} hint={hint} path={`matte.bounds.${key}`} />
  );
  return (
    <Section title="Automatic">
      <PassPicker />
      <Switch
        label="Beyond the screen, and black bars, out"
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
        onChange={(v) =>
          settle("Bounds", v ? "Automatic bounds on" : "Automatic bounds off", (r) => withPass(r, (p) => withPart(p, "matte.bounds.on", v)))
        }
      />
      {on && (
        <>
          <PassControl
            label="Out under"
            step="Bounds"
            initial={6}
            hint="A matte under this is empty, once it lies clear of anything above it."
            path="matte.bounds.outLevel"
          />
          {px("Grow", "grow", 6, 60, "How far out the subject's surroundings are kept.")}
          <PassControl
            label="In over"
            step="Bounds"
            initial={80}
            hint="A matte over this is solid, once nothing softer lies near. Strands stay as they are."
            path="matte.bounds.inLevel"
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
            path="matte.bounds.specks"
          />
          <PassControl
            label="Drop islands under"
            step="Bounds"
            unit="px²"
            factor={1}
            max={4000}
            nudge={10}
            initial={0}
            hint="Markers on the screen go, those too that hang on the subject by their shadow alone; pinholes are left. So does whatever else is small and stands alone: hold that."
            path="matte.bounds.islands"
          />
          <PassControl
            label="Drop faint islands under"
            step="Bounds"
            initial={0}
            max={50}
            hint="Small islands that stay under this matte and stand alone on the screen go: blocks and ripples of compression. Strands and mesh lie in crowds, and stay."
            path="matte.bounds.faint"
          />
          <Switch
            label="Screen in shade is out"
            checked={shade}
            onChange={(v) =>
              settle("Bounds", v ? "Screen in shade thrown away" : "Screen in shade kept", (r) =>
                withPass(r, (p) => withPart(p, "matte.bounds.shade", v)),
              )
            }
          />
          <p className="text-faint">
            Folds, seams and stains that hang on no subject go; a seam that runs up to one is cut off at it. A shadow you want to keep goes
            with them: hold that.
          </p>
          <PassControl
            label="Close dips up to"
            step="Bounds"
            initial={0}
            hint="Places beside the edge that are open by no more than this, with most around them solid: what grain and coarse chroma leave. Gaps between strands stay."
            path="matte.bounds.dips"
          />
          {px(
            "Close glossy rims",
            "glossy",
            0,
            60,
            "Metal and glaze mirror the screen at their rims. Nearly solid places behind a sharp outline are closed this far in; smoke, blur and mesh stay.",
          )}
          <Button className="mt-1 w-full" onClick={() => look({ view: "autoBounds" })}>
            Show in, out and undecided
          </Button>
        </>
      )}
    </Section>
  );
}
