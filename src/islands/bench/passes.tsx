import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Copy, GripVertical, Plus, Trash2 } from "lucide-react";
import type { Combine } from "../../core/matte/combine";
import { type Pass, ROLES } from "../../core/recipe/schema";
import { Button } from "../ui/button";
import { percent } from "../ui/format";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { Section } from "./facts";
import { flyTo, toggleSolo } from "./looking";
import { regionOutline } from "./outline-actions";
import { OutlineKeys, TransformWhole } from "./outline-keys";
import { addPass, addStrandsPass, MOST_PASSES, passLabel, putPasses } from "./pass-actions";
import { PassChoice, PassControl } from "./recipe-control";
import { currentPass, look, settle, shownRecipe, useBench, withPass } from "./store";

const ROLE_NAMES = Object.fromEntries(ROLES.map((r) => [r, r])) as Record<Pass["role"], string>;
const COMBINE_NAMES: Record<Combine, string> = {
  join: "joins the others",
  cut: "cuts from them",
  within: "keeps within them",
  replace: "replaces them",
};
const REGION_NAMES: Record<Pass["region"]["kind"], string> = {
  everything: "everywhere",
  left: "where it is left open",
  drawn: "in a drawn shape",
};

/** Which pass the controls below belong to, where there are several. */
export function PassPicker() {
  const passes = useBench((s) => s.recipe.passes);
  const pass = useBench((s) => currentPass(s));
  if (passes.length < 2) return null;
  return (
    <Select
      label="Pass"
      value={pass.id}
      choices={passes.map((p, k) => [p.id, passLabel(p, k)] as const)}
      onChange={(id) => useBench.setState({ selectedPass: id })}
    />
  );
}

/** The pulls of the shot in the order in which they combine. */
export function PassList() {
  const passes = useBench((s) => s.recipe.passes);
  const pass = useBench((s) => currentPass(s));
  const at = passes.findIndex((p) => p.id === pass.id);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const from = passes.findIndex((p) => p.id === active.id);
    const to = passes.findIndex((p) => p.id === over?.id);
    if (from < 0 || to < 0 || from === to) return;
    putPasses(arrayMove(passes, from, to), `Pass ${passLabel(passes[from] as Pass, from)} moved to ${to + 1}`);
  };
  return (
    <Section title={passes.length > 1 ? `Passes, ${passes.length}` : "Passes"}>
      {passes.length > 1 && (
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={passes.map((p) => p.id)} strategy={verticalListSortingStrategy}>
            <ol className="mb-2 flex flex-col gap-1" aria-label="Passes in their order">
              {passes.map((p, k) => (
                <PassRow key={p.id} pass={p} k={k} chosen={p.id === pass.id} />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
      )}
      <div className="flex flex-wrap gap-1.5">
        <Button
          disabled={passes.length >= MOST_PASSES}
          title="A second pull on what the passes before it left open"
          onClick={() => addPass(pass, "Pass added", { role: "detail", combine: "join", region: { kind: "left" } })}
        >
          <Plus size={14} /> Add
        </Button>
        <Button
          disabled={passes.length >= MOST_PASSES}
          onClick={() => addPass(pass, `Pass ${passLabel(pass, at)} doubled`, {})}
          aria-label="Double the pass"
          title="Double"
        >
          <Copy size={14} />
        </Button>
        {passes.length > 1 && (
          <>
            <Button
              aria-label="Remove the pass"
              title="Remove"
              onClick={() =>
                putPasses(
                  passes.filter((p) => p.id !== pass.id),
                  `Pass ${passLabel(pass, at)} removed`,
                  (passes[at === 0 ? 1 : at - 1] as Pass).id,
                )
              }
            >
              <Trash2 size={14} />
            </Button>
            <Button className="ml-auto" onClick={() => look({ view: "owners" })}>
              Show owners
            </Button>
          </>
        )}
      </div>
      <StrandsSuggestion />
      {passes.length > 1 && (
        <div className="mt-2">
          <PassChoice label="Role" step="Pull" names={ROLE_NAMES} path="role" get={(p) => p.role} />
          {at > 0 && <Combination pass={pass} />}
        </div>
      )}
    </Section>
  );
}

function PassRow({ pass: p, k, chosen }: { pass: Pass; k: number; chosen: boolean }) {
  const passes = useBench((s) => s.recipe.passes);
  const solo = useBench((s) => s.solo === p.id);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: p.id });
  const name = passLabel(p, k);
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-center gap-2 rounded-md border bg-panel px-1.5 py-1 ${chosen ? "border-amber" : "border-line"}`}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`Move pass ${name}`}
        className="cursor-grab touch-none rounded text-faint hover:text-text"
      >
        <GripVertical size={14} />
      </button>
      <input
        type="checkbox"
        className="accent-white"
        checked={p.on}
        aria-label={`Pass ${name} on`}
        onChange={(e) =>
          putPasses(
            passes.map((q) => (q.id === p.id ? { ...q, on: e.target.checked } : q)),
            `Pass ${name} ${e.target.checked ? "on" : "off"}`,
          )
        }
      />
      <button
        type="button"
        aria-pressed={chosen}
        className="min-w-0 grow truncate text-left"
        onClick={() => useBench.setState({ selectedPass: p.id })}
      >
        {name}
        <span className="text-faint">{k > 0 ? ` · ${p.combine}` : ""}</span>
      </button>
      <button
        type="button"
        aria-pressed={solo}
        title="Look at this pass alone (A); the recipe stays"
        className={`rounded px-1.5 text-[12px] ${solo ? "bg-amber text-black" : "text-faint hover:bg-raised hover:text-text"}`}
        onClick={() => toggleSolo(p.id)}
      >
        solo
      </button>
    </li>
  );
}

/** Where the passes so far cut strands, and a gentler one that brings them back. */
function StrandsSuggestion() {
  const strands = useBench((s) => (s.findings?.recipe === s.recipe ? s.findings.strands : null));
  const full = useBench((s) => s.recipe.passes.length >= MOST_PASSES);
  if (!strands || full) return null;
  return (
    <div data-testid="strands-suggestion" className="mt-2 rounded-md bg-raised p-2.5">
      <p>
        Soft edges lose <span className="figure font-semibold">{percent(strands.loss, 0)}</span> here: a gentler pass for strands brings
        them back.
      </p>
      <div className="mt-1.5 flex gap-1.5">
        <Button className="grow" onClick={() => addStrandsPass(strands)}>
          Add a strands pass here
        </Button>
        <Button look="quiet" onClick={() => flyTo(strands.place)}>
          Show
        </Button>
      </div>
    </div>
  );
}

/** How the pass joins those before it, and where it counts. */
function Combination({ pass }: { pass: Pass }) {
  const tool = useBench((s) => s.tool);
  const { frames } = useBench((s) => s.shot.plate.info);
  const passes = useBench((s) => shownRecipe(s).passes);
  const outline = regionOutline(passes, pass.id);
  const { region } = pass;
  return (
    <>
      <PassChoice label="Combine" step="Pull" names={COMBINE_NAMES} path="combine" get={(p) => p.combine} />
      {pass.combine !== "replace" && (
        <Switch
          label="Greys build up"
          checked={pass.softly}
          onChange={(softly) =>
            settle("Pull", softly ? "Greys build up" : "The stronger grey wins", (r) => withPass(r, (p) => ({ ...p, softly })))
          }
        />
      )}
      <Select
        label="Counts"
        value={region.kind}
        choices={Object.entries(REGION_NAMES) as [Pass["region"]["kind"], string][]}
        onChange={(kind) =>
          kind === "drawn"
            ? useBench.setState({ tool: "draw-region" })
            : settle("Pull", `Counts ${REGION_NAMES[kind]}`, (r) => withPass(r, (p) => ({ ...p, region: { kind } })))
        }
      />
      {region.kind === "drawn" && (
        <>
          <PassControl
            label="Soft edge of the region"
            step="Pull"
            unit="px"
            factor={1}
            max={200}
            initial={12}
            hint="How softly this pass gives way to those before it."
            path="region.soft"
          />
          <Button
            className="mb-1 w-full"
            look={tool === "draw-region" ? "chosen" : "plain"}
            onClick={() => useBench.setState({ tool: tool === "draw-region" ? "look" : "draw-region" })}
          >
            Draw the region again
          </Button>
          {outline && frames > 1 && <OutlineKeys outline={outline} />}
          {outline && <TransformWhole of="region" />}
        </>
      )}
    </>
  );
}
