import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { GROUNDS } from "../../workers/grounds";
import { STRETCH } from "../../workers/stretch";
import type { View } from "../../workers/views";
import { Button } from "../ui/button";
import { Control } from "../ui/control";
import { Select } from "../ui/select";
import { Switch } from "../ui/switch";
import { toggleCompare, toggleFour, toggleFullScreen, toggleLoupe, zoomTo } from "./looking";
import { COMPARES, look, useBench } from "./store";
import { ZoomReadout } from "./viewer";
import { GROUND_NAMES, VIEW_NAMES } from "./views";

const SMALL = "!px-1.5 !py-0.5 !text-[12px] whitespace-nowrap";

/** The views that are one click away, and their keys; the others stand under Looking. */
const FIRST: readonly (readonly [View, string])[] = [
  ["composite", "C"],
  ["matte", "M"],
  ["stretched", "X"],
  ["pull", "U"],
  ["plate", "P"],
  ["spillRemoved", "R"],
];
const MORE: readonly View[] = ["owners", "edgeColour", "prepared", "cleanPlate", "levelled", "bounds", "autoBounds", "spillMap"];

/** What is shown, on what ground, compared with what, how large. */
export function ViewBar({ onProbes }: { onProbes: () => void }) {
  const view = useBench((s) => s.view.view);
  const ground = useBench((s) => s.view.ground);
  const zoom = useBench((s) => s.view.zoom);
  return (
    <div className="flex min-h-11 shrink-0 flex-wrap items-center gap-1 bg-surround px-1.5 py-1">
      <div role="radiogroup" aria-label="View" className="flex rounded-md bg-panel p-0.5">
        {FIRST.map(([v, key]) => (
          <Button
            key={v}
            role="radio"
            aria-checked={view === v}
            look={view === v ? "chosen" : "quiet"}
            title={`${VIEW_NAMES[v]} (${key})`}
            className={SMALL}
            onClick={() => look({ view: v })}
          >
            {VIEW_NAMES[v]}
          </Button>
        ))}
      </div>
      <div role="radiogroup" aria-label="Ground" className="flex rounded-md bg-panel p-0.5">
        {GROUNDS.map((g) => (
          <Button
            key={g}
            role="radio"
            aria-checked={ground === g}
            look={ground === g && view === "composite" ? "chosen" : "quiet"}
            title={`${GROUND_NAMES[g]} (G for the next)`}
            className={SMALL}
            onClick={() => look({ ground: g, view: "composite" })}
          >
            {GROUND_NAMES[g]}
          </Button>
        ))}
      </div>
      <div className="ml-auto flex items-center gap-0.5">
        <CompareMenu />
        <LookingMenu onProbes={onProbes} />
        <Button look={zoom === 0 ? "chosen" : "quiet"} className={SMALL} title="Fit (F)" onClick={() => zoomTo(0)}>
          Fit
        </Button>
        <Button look="quiet" className={SMALL} title="One to one (O)" onClick={() => zoomTo(1 / (devicePixelRatio || 1))}>
          1:1
        </Button>
        <span className="w-9 whitespace-nowrap text-right">
          <ZoomReadout />
        </span>
      </div>
    </div>
  );
}

function Menu({ name, active, children }: { name: string; active: boolean; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look={active ? "chosen" : "quiet"} className={SMALL}>
          {name}
        </Button>
      </Popover.Trigger>
      <Popover.Content
        side="top"
        align="end"
        sideOffset={6}
        aria-label={name}
        className="z-10 max-h-[70vh] w-64 overflow-y-auto rounded-lg border border-line bg-panel p-3 shadow-2xl"
      >
        {children}
      </Popover.Content>
    </Popover.Root>
  );
}

const HOW_NAMES = { wipe: "Wipe", difference: "Difference", blink: "Blink" } as const;

function CompareMenu() {
  const versions = useBench((s) => s.versions);
  const compare = useBench((s) => s.compare);
  const chosen = compare?.versionId ?? versions[0]?.id;
  return (
    <Menu name="Compare" active={compare !== null}>
      {chosen === undefined ? (
        <p className="text-soft">Keep a version first (K): then the picture can be compared with it.</p>
      ) : (
        <>
          <Select
            label="With version"
            value={String(chosen)}
            choices={versions.map((v) => [String(v.id), `${v.number} ${v.name}`] as const)}
            onChange={(id) => compare && useBench.setState({ compare: { ...compare, versionId: Number(id) } })}
          />
          <div className="mt-1 flex gap-1.5">
            {COMPARES.map((how) => (
              <Button
                key={how}
                className="grow"
                look={compare?.how === how ? "chosen" : "plain"}
                aria-pressed={compare?.how === how}
                onClick={() => toggleCompare(how, chosen)}
              >
                {HOW_NAMES[how]}
              </Button>
            ))}
          </div>
        </>
      )}
    </Menu>
  );
}

function LookingMenu({ onProbes }: { onProbes: () => void }) {
  const view = useBench((s) => s.view);
  const four = useBench((s) => s.four !== null);
  const loupe = useBench((s) => s.loupe);
  const probeSize = useBench((s) => s.probeSize);
  const tool = useBench((s) => s.tool);
  const aspect = useBench((s) => s.recipe.plate.pixelAspect ?? s.shot.plate.info.pixelAspect);
  const { stretch } = view;
  const gain = (label: string, key: "black" | "white", hint: string) => (
    <Control
      label={label}
      value={stretch[key]}
      min={1}
      max={64}
      step={0.5}
      unit="×"
      initial={STRETCH[key]}
      hint={hint}
      onMove={(v) => look({ view: "stretched", stretch: { ...stretch, [key]: v } })}
      onSettle={(v) => look({ view: "stretched", stretch: { ...stretch, [key]: v } })}
    />
  );
  return (
    <Menu name="Looking" active={four || loupe || view.square || MORE.includes(view.view)}>
      <div className="grid grid-cols-2 gap-1">
        {MORE.map((v) => (
          <Button key={v} look={view.view === v ? "chosen" : "plain"} aria-pressed={view.view === v} onClick={() => look({ view: v })}>
            {VIEW_NAMES[v]}
          </Button>
        ))}
      </div>
      <div className="mt-2 border-t border-line pt-2">
        <Switch label="Four views at once" checked={four} onChange={toggleFour} />
        <Switch label="Loupe" checked={loupe} onChange={toggleLoupe} />
        {Math.abs(aspect - 1) > 0.001 && (
          <Switch label="Show pixels as square" checked={view.square} onChange={(square) => look({ square })} />
        )}
        <Button className="mt-1 w-full" onClick={toggleFullScreen}>
          Full screen
        </Button>
      </div>
      <div className="mt-2 border-t border-line pt-2">
        <h3 className="font-semibold">Stretched matte</h3>
        {gain("Gain at black", "black", "How many times faint grey in black is raised.")}
        {gain("Gain at white", "white", "How many times faint holes in white are deepened.")}
        <Control
          label="Gamma"
          value={stretch.gamma}
          min={0.2}
          max={5}
          step={0.05}
          unit=""
          decimals={2}
          initial={1}
          hint="Over 1 lifts every grey."
          onMove={(gamma) => look({ view: "stretched", stretch: { ...stretch, gamma } })}
          onSettle={(gamma) => look({ view: "stretched", stretch: { ...stretch, gamma } })}
        />
      </div>
      <div className="mt-2 border-t border-line pt-2">
        <Select
          label="Probe averages"
          value={String(probeSize)}
          choices={["1", "5", "15"].map((n) => [n, `${n}×${n} px`] as const)}
          onChange={(n) => useBench.setState({ probeSize: Number(n) })}
        />
        <div className="mt-1 flex gap-1.5">
          <Button
            className="grow"
            look={tool === "probe" ? "chosen" : "plain"}
            onClick={() => useBench.setState({ tool: tool === "probe" ? "look" : "probe" })}
          >
            Put probes
          </Button>
          <Button className="grow" disabled={view.probes.length === 0} onClick={onProbes}>
            Over frames
          </Button>
        </div>
      </div>
    </Menu>
  );
}
