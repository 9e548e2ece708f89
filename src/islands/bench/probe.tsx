import { useEffect } from "react";
import { measureWorker } from "./engine";
import { shownRecipe, useBench, withFootage } from "./store";
import type { Mapping } from "./viewer";

/** Where the pointer is on the picture, px of the plate. */
let at: { readonly x: number; readonly y: number } | null = null;
let reading = false;
let changed = false;

/** Reads the probe at a place of the frame from now on; with null no more. */
export function probeAt(place: { readonly x: number; readonly y: number } | null): void {
  at = place;
  if (place) void read();
  else useBench.setState({ probe: null });
}

/** Reads the place under the pointer, and again for as long as something changed meanwhile. */
async function read(): Promise<void> {
  changed = true;
  if (reading) return;
  reading = true;
  while (changed) {
    changed = false;
    const s = useBench.getState();
    const { width, height } = s.shot.plate.info;
    const within = at && !s.playing && at.x >= 0 && at.y >= 0 && at.x < width && at.y < height ? at : null;
    const probe = within
      ? await measureWorker()
          .probe({ ...withFootage(shownRecipe(s)), frame: s.view.frame }, within.x, within.y, s.probeSize)
          .catch(() => null)
      : null;
    // What comes after the pointer has left, or the frame was, tells of nothing that is shown.
    const now = useBench.getState();
    useBench.setState({ probe: at && now.view.frame === s.view.frame && !now.playing ? probe : null });
  }
  reading = false;
}

/** A level with three decimals, without the zero before the point. */
export const three = (v: number) => v.toFixed(3).replace(/^(-?)0\./, "$1.");

/** What the probe reads under the pointer. */
export function ProbeReadout() {
  const probe = useBench((s) => s.probe);
  const size = useBench((s) => s.probeSize);
  const frame = useBench((s) => s.view.frame);
  const recipe = useBench(shownRecipe);
  const playing = useBench((s) => s.playing !== null);
  // Read anew when what lies under a resting pointer changes.
  useEffect(() => {
    if (at) void read();
  }, [frame, recipe, size, playing]);
  if (!probe) return null;
  const rows: [string, string][] = [
    ["linear", `${three(probe.plate.r)} ${three(probe.plate.g)} ${three(probe.plate.b)}`],
    ["code", `${three(probe.code.r)} ${three(probe.code.g)} ${three(probe.code.b)}`],
    ["hue", `${probe.hue.toFixed(0)}°`],
    ["matte", probe.matte === null ? "–" : probe.matte.toFixed(3)],
  ];
  return (
    <dl
      data-testid="probe"
      className="figure pointer-events-none absolute top-3 right-3 grid grid-cols-[auto_auto] gap-x-3 rounded-md bg-panel/95 px-3 py-2 text-[11px]"
    >
      <dt className="text-faint">{`${size}×${size}`}</dt>
      <dd>{`${probe.box.x + Math.floor(probe.box.width / 2)}, ${probe.box.y + Math.floor(probe.box.height / 2)}`}</dd>
      {rows.map(([k, v]) => (
        <div key={k} className="contents">
          <dt className="text-faint">{k}</dt>
          <dd>{v}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The probes that stay on the picture. */
export function ProbeMarks({ map }: { map: Mapping }) {
  const probes = useBench((s) => s.view.probes);
  return probes.map((p, k) => (
    <span
      key={`${p.x}/${p.y}`}
      data-testid="probe-mark"
      className="pointer-events-none absolute size-4 -translate-1/2 rounded-full border-2 border-white outline outline-black"
      style={{ left: (p.x + 0.5) * map.zoomX + map.left, top: (p.y + 0.5) * map.zoomY + map.top }}
    >
      <span className="figure absolute -top-1 left-4 rounded bg-panel px-1 text-[11px]">{k + 1}</span>
    </span>
  ));
}
