import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { Probe } from "../../workers/key-worker";
import { Button } from "../ui/button";
import { Select } from "../ui/select";
import { measureWorker } from "./engine";
import { goToFrame } from "./looking";
import { three } from "./probe";
import { complain, look, useBench, withFootage } from "./store";

const FIGURES = {
  matte: { name: "matte", of: (p: Probe) => p.matte, show: three },
  light: { name: "light", of: (p: Probe) => 0.2126 * p.plate.r + 0.7152 * p.plate.g + 0.0722 * p.plate.b, show: three },
  green: { name: "green code", of: (p: Probe) => p.code.g, show: three },
  red: { name: "red code", of: (p: Probe) => p.code.r, show: three },
  blue: { name: "blue code", of: (p: Probe) => p.code.b, show: three },
  hue: { name: "hue", of: (p: Probe) => p.hue, show: (v: number) => `${v.toFixed(0)}°` },
} as const;
type Figure = keyof typeof FIGURES;

/** Dashes tell the probes' curves apart. */
const DASHES = ["", "6 3", "2 3", "9 3 2 3", "1 2", "12 4", "4 2 1 2", "8 2", "3 6", "10 2 2 2 2 2", "5 5", "2 8"];

type Row = { readonly frame: number; readonly probes: readonly Probe[] };

/** What the probes read on every frame, as curves and as a table. */
export default function ProbeList({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const probes = useBench((s) => s.view.probes);
  const size = useBench((s) => s.probeSize);
  const recipe = useBench((s) => s.recipe);
  const frames = useBench((s) => s.shot.plate.info.frames);
  const [rows, setRows] = useState<readonly Row[]>([]);
  const [figure, setFigure] = useState<Figure>("matte");
  const { of, show, name } = FIGURES[figure];

  useEffect(() => {
    let stopped = false;
    setRows([]);
    void (async () => {
      const read: Row[] = [];
      for (let frame = 1; frame <= frames && !stopped; frame++) {
        const request = { ...withFootage(recipe), frame };
        const here: Probe[] = [];
        for (const p of probes) here.push(await measureWorker().probe(request, p.x, p.y, size));
        read.push({ frame, probes: here });
        if (!stopped) setRows([...read]);
      }
    })().catch(complain);
    return () => {
      stopped = true;
    };
  }, [probes, recipe, frames, size]);

  const points = rows.map((r) => ({ frame: r.frame, ...Object.fromEntries(r.probes.map((p, k) => [`p${k}`, of(p)])) }));
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 flex max-h-[80vh] w-[720px] -translate-x-1/2 flex-col rounded-xl border border-line bg-panel p-5 shadow-2xl"
        >
          <div className="flex items-center gap-4">
            <Dialog.Title className="text-base font-semibold">Probes over the frames</Dialog.Title>
            <span className="figure text-faint" role="status">
              {rows.length < frames ? `frame ${rows.length} of ${frames}` : `${frames} frames, ${size}×${size} px`}
            </span>
            <span className="ml-auto" />
            <Select
              label="Figure"
              value={figure}
              choices={(Object.keys(FIGURES) as Figure[]).map((f) => [f, FIGURES[f].name] as const)}
              onChange={setFigure}
            />
            <Dialog.Close className="rounded px-2 py-1 text-soft hover:bg-raised">Close</Dialog.Close>
          </div>
          {probes.length === 0 ? (
            <p className="mt-4 text-soft">No probe stands on the picture: press I, then click a place.</p>
          ) : (
            <>
              <div className="mt-3 h-40 shrink-0" aria-hidden="true">
                <ResponsiveContainer width="100%" height="100%">
                  <LineChart data={points} margin={{ top: 6, right: 8, bottom: 0, left: 0 }} accessibilityLayer={false}>
                    <CartesianGrid stroke="#333" vertical={false} />
                    <XAxis
                      dataKey="frame"
                      type="number"
                      domain={[1, Math.max(2, frames)]}
                      tick={{ fill: "#8f8f8f", fontSize: 11 }}
                      allowDecimals={false}
                    />
                    <YAxis width={44} domain={["auto", "auto"]} tick={{ fill: "#8f8f8f", fontSize: 11 }} tickFormatter={show} />
                    {probes.map((p, k) => (
                      <Line
                        key={`${p.x}/${p.y}`}
                        dataKey={`p${k}`}
                        stroke="#d0d0d0"
                        strokeWidth={1.5}
                        strokeDasharray={DASHES[k] as string}
                        dot={false}
                        isAnimationActive={false}
                      />
                    ))}
                  </LineChart>
                </ResponsiveContainer>
              </div>
              <div className="mt-3 min-h-0 overflow-y-auto">
                <table className="figure w-full text-right" data-testid="probe-table">
                  <caption className="sr-only">{name} of every probe on every frame</caption>
                  <thead className="sticky top-0 bg-panel text-faint">
                    <tr>
                      <th className="py-1 text-left font-normal">frame</th>
                      {probes.map((p, k) => (
                        <th key={`${p.x}/${p.y}`} className="font-normal">
                          {`${k + 1} at ${p.x}, ${p.y}`}
                          <Dash dash={DASHES[k] as string} />
                        </th>
                      ))}
                    </tr>
                  </thead>
                  <tbody>
                    {rows.map((r) => (
                      <tr key={r.frame} className="border-t border-raised">
                        <td className="text-left">
                          <button
                            type="button"
                            className="w-12 rounded px-1 text-left hover:bg-raised"
                            onClick={() => {
                              goToFrame(r.frame);
                              onOpenChange(false);
                            }}
                          >
                            {r.frame}
                          </button>
                        </td>
                        {r.probes.map((p, k) => {
                          const v = of(p);
                          return <td key={k}>{v === null ? "–" : show(v)}</td>;
                        })}
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
              <Button look="quiet" className="mt-3 self-start" onClick={() => look({ probes: [] })}>
                Take all probes away
              </Button>
            </>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Dash({ dash }: { dash: string }) {
  return (
    <svg width="22" height="4" aria-hidden="true" className="ml-1 inline-block">
      <line x1="0" x2="22" y1="2" y2="2" stroke="#d0d0d0" strokeWidth="2" strokeDasharray={dash} />
    </svg>
  );
}
