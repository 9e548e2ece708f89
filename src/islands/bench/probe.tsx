import { measureWorker } from "./engine";
import { shownRecipe, useBench, withFootage } from "./store";
import type { Mapping } from "./viewer";

let probeBusy = false;
let probeNext: { x: number; y: number } | null = null;
/** Reads the probe at a place of the frame; the newest call wins. */
export function requestProbe(x: number, y: number): void {
  probeNext = { x, y };
  if (probeBusy) return;
  probeBusy = true;
  void (async () => {
    while (probeNext) {
      const { x: px, y: py } = probeNext;
      probeNext = null;
      const s = useBench.getState();
      const { width, height } = s.shot.plate.info;
      if (px < 0 || py < 0 || px >= width || py >= height) {
        useBench.setState({ probe: null });
        continue;
      }
      try {
        const probe = await measureWorker().probe({ ...withFootage(shownRecipe(s)), frame: s.view.frame }, px, py, s.probeSize);
        useBench.setState({ probe });
      } catch {
        useBench.setState({ probe: null });
      }
    }
    probeBusy = false;
  })();
}

/** A level with three decimals, without the zero before the point. */
export const three = (v: number) => v.toFixed(3).replace(/^(-?)0\./, "$1.");

/** What the probe reads under the pointer. */
export function ProbeReadout() {
  const probe = useBench((s) => s.probe);
  const size = useBench((s) => s.probeSize);
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
