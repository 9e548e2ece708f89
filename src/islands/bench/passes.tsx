import { ArrowDown, ArrowUp, Copy, Plus, Trash2 } from "lucide-react";
import type { Combine } from "../../core/matte/combine";
import { type Pass, ROLES } from "../../core/recipe/schema";
import { Button } from "../ui/button";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { Section } from "./facts";
import { PassChoice, PassControl } from "./recipe-control";
import { currentPass, settle, useBench, withPass } from "./store";

const MOST = 8;
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

const label = (p: Pass, k: number) => `${k + 1} ${p.role}`;

/** Which pass the controls below belong to, where there are several. */
export function PassPicker() {
  const passes = useBench((s) => s.recipe.passes);
  const pass = useBench((s) => currentPass(s));
  if (passes.length < 2) return null;
  return (
    <Select
      label="Pass"
      value={pass.id}
      choices={passes.map((p, k) => [p.id, label(p, k)] as const)}
      onChange={(id) => useBench.setState({ selectedPass: id })}
    />
  );
}

/** The pulls of the shot in the order in which they combine. */
export function PassList() {
  const passes = useBench((s) => s.recipe.passes);
  const pass = useBench((s) => currentPass(s));
  const put = (next: Pass[], what: string, select = pass.id) => {
    settle("Pull", what, (r) => ({ ...r, passes: next }));
    useBench.setState({ selectedPass: select });
  };
  const at = passes.findIndex((p) => p.id === pass.id);
  const add = (like: Pass, what: string, change: Partial<Pass>) => {
    let n = passes.length + 1;
    while (passes.some((p) => p.id === `pass-${n}`)) n++;
    const made: Pass = { ...structuredClone(like), id: `pass-${n}`, on: true, ...change };
    put([...passes, made], what, made.id);
  };
  const moveBy = (by: 1 | -1) => {
    const next = [...passes];
    const [taken] = next.splice(at, 1) as [Pass];
    next.splice(at + by, 0, taken);
    put(next, `Pass ${label(pass, at)} moved ${by < 0 ? "up" : "down"}`);
  };
  return (
    <Section title={passes.length > 1 ? `Passes, ${passes.length}` : "Passes"}>
      {passes.length > 1 && (
        <ol className="mb-2 flex flex-col gap-1">
          {passes.map((p, k) => (
            <li
              key={p.id}
              className={`flex items-center gap-2 rounded-md border px-2 py-1 ${p.id === pass.id ? "border-amber" : "border-line"}`}
            >
              <input
                type="checkbox"
                className="accent-white"
                checked={p.on}
                aria-label={`Pass ${label(p, k)} on`}
                onChange={(e) =>
                  put(
                    passes.map((q) => (q.id === p.id ? { ...q, on: e.target.checked } : q)),
                    `Pass ${label(p, k)} ${e.target.checked ? "on" : "off"}`,
                  )
                }
              />
              <button
                type="button"
                aria-pressed={p.id === pass.id}
                className="min-w-0 grow truncate text-left"
                onClick={() => useBench.setState({ selectedPass: p.id })}
              >
                {label(p, k)}
                <span className="text-faint">{k > 0 ? ` · ${p.combine}` : ""}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      <div className="flex flex-wrap gap-1.5">
        <Button
          disabled={passes.length >= MOST}
          title="A second pull on what the passes before it left open"
          onClick={() => add(pass, "Pass added", { role: "detail", combine: "join", region: { kind: "left" } })}
        >
          <Plus size={14} /> Add
        </Button>
        <Button
          disabled={passes.length >= MOST}
          onClick={() => add(pass, `Pass ${label(pass, at)} doubled`, {})}
          aria-label="Double the pass"
          title="Double"
        >
          <Copy size={14} />
        </Button>
        {passes.length > 1 && (
          <>
            <Button aria-label="Move the pass up" disabled={at === 0} onClick={() => moveBy(-1)}>
              <ArrowUp size={14} />
            </Button>
            <Button aria-label="Move the pass down" disabled={at === passes.length - 1} onClick={() => moveBy(1)}>
              <ArrowDown size={14} />
            </Button>
            <Button
              aria-label="Remove the pass"
              onClick={() =>
                put(
                  passes.filter((p) => p.id !== pass.id),
                  `Pass ${label(pass, at)} removed`,
                  (passes[at === 0 ? 1 : at - 1] as Pass).id,
                )
              }
            >
              <Trash2 size={14} />
            </Button>
          </>
        )}
      </div>
      {passes.length > 1 && (
        <div className="mt-2">
          <PassChoice label="Role" step="Pull" names={ROLE_NAMES} path="role" get={(p) => p.role} />
          {at > 0 && <Combination pass={pass} />}
        </div>
      )}
    </Section>
  );
}

/** How the pass joins those before it, and where it counts. */
function Combination({ pass }: { pass: Pass }) {
  const tool = useBench((s) => s.tool);
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
        </>
      )}
    </>
  );
}
