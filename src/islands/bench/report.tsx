import { useEffect, useRef, useState } from "react";
import { chromaFormat } from "../../core/documents/media-info";
import type { Scope } from "../../core/measure/scopes";
import { screenName } from "../../core/screen/primary";
import type { PlateReport } from "../../core/screen/report";
import { STOP_STEPS, stopCode } from "../../workers/display";
import type { View } from "../../workers/views";
import { Button } from "../ui/button";
import { grouped, percent } from "../ui/format";
import { measureWorker } from "./engine";
import { Facts } from "./facts";
import { flyTo, goToStep } from "./looking";
import { prepareProposal } from "./screen-actions";
import { complain, look, plateFootage, useBench } from "./store";

interface Looked {
  readonly report: PlateReport;
  /** They follow the report. */
  readonly scopes?: { readonly waveform: Scope; readonly vectors: Scope };
}

/** How long a frame must be stayed on after its report until a key is proposed unasked, ms: while frames are passed over, reports go first. */
const STAYED_ON_MS = 800;

/** The plate report: figures with units, scopes, and findings that fly to their place. */
export function PlateReportView() {
  const shot = useBench((s) => s.shot);
  const frame = useBench((s) => s.view.frame);
  const reading = useBench((s) => s.recipe.plate);
  const [looked, setLooked] = useState<Looked | null>(null);
  const [busy, setBusy] = useState(true);
  const first = useRef(true);
  useEffect(() => {
    let stale = false;
    setBusy(true);
    const { info } = shot.plate;
    const { recipe } = useBench.getState();
    const about = { chromaFormat: chromaFormat(info), pixelAspect: recipe.plate.pixelAspect ?? info.pixelAspect };
    // Scrubbing passes over frames; only the one that is stayed on is measured. The first need not wait.
    let timer = setTimeout(
      () => {
        const plate = plateFootage();
        measureWorker()
          .report(recipe, plate, frame, about)
          .then((report) => {
            if (stale) return;
            setLooked({ report });
            setBusy(false);
            return measureWorker().scopes(recipe, plate, frame);
          })
          .then(
            (scopes) => {
              if (stale || !scopes) return;
              setLooked((l) => l && { ...l, scopes });
              timer = setTimeout(() => void prepareProposal(), STAYED_ON_MS);
            },
            (error) => {
              if (stale) return;
              setLooked(null);
              setBusy(false);
              complain(error);
            },
          );
      },
      first.current ? 0 : 120,
    );
    first.current = false;
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [shot.plate, frame, reading]);
  if (!looked)
    return (
      <p className="text-soft">
        {busy
          ? "Measuring the plate…"
          : "No screen stands out in this frame, so there is nothing to report yet. Sample the screen by hand."}
      </p>
    );
  const { report, scopes } = looked;
  const { screen, evenness, traces, subject, edges, fringes } = report;
  const signed = (px: number) => `${px > 0 ? "+" : px < 0 ? "−" : ""}${Math.abs(px).toFixed(2)}`;
  const degrees = (h: number | null) => (h === null ? "grey" : `${h.toFixed(0)}°`);
  return (
    <div aria-busy={busy} data-testid="report">
      <h4 className="font-medium">{report.findings.length ? "Findings" : "No findings"}</h4>
      <ul className="mt-1 mb-3 space-y-1.5">
        {report.findings.map((f) => (
          <li key={f.what} className="rounded bg-raised p-2">
            <button
              type="button"
              className="block w-full text-left hover:text-white"
              title={f.place ? "Fly there" : "It concerns the whole frame"}
              onClick={() => flyTo(f.place)}
            >
              <span className="figure">{grouped(f.figure)}</span> {f.what}.
            </button>
            <p className="mt-0.5 text-soft">
              {f.remedy}.{" "}
              {f.step !== "Plate" && (
                <button type="button" className="text-amber hover:underline" onClick={() => goToStep(f.step)}>
                  {f.step}
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
      <Facts
        rows={[
          ["screen", `${screenName(screen.colour)}, hue ${screen.hue.toFixed(0)}°, ${percent(screen.saturation, 0)}`],
          ["share of frame", percent(screen.share, 0)],
          ["evenness", `±${evenness.deviation.toFixed(2)} st`],
          ["p5 to p95", `${evenness.spread.toFixed(2)} st`],
          ["gradient", `${evenness.gradient.stops.toFixed(2)} st at ${evenness.gradient.angle.toFixed(0)}°`],
          ["creases", `±${evenness.wrinkles.toFixed(2)} st`],
          ["noise r g b", [report.noise.r, report.noise.g, report.noise.b].map((v) => v.toFixed(2)).join("  ")],
          ["true chroma", traces.mosaic ? "from a mosaic" : (traces.trueChroma ?? "as stored")],
          ["block steps", `+${(100 * traces.blocking).toFixed(0)} %`],
          ["combing", `${(100 * traces.combing).toFixed(2)} %`],
          ["spill on subject", percent(subject.spill)],
          ["hue inside, rim, screen", [subject.huePath.inside, subject.huePath.outline, subject.huePath.screen].map(degrees).join(" ")],
          ["edge width", `${edges.median.toFixed(1)} px, widest ${edges.widest.toFixed(1)}`],
          ["lens fringes r b", fringes.red || fringes.blue ? `${signed(fringes.red)}  ${signed(fringes.blue)} px` : "none told"],
          ["sharpening", report.overshoot > 0 ? `≥ ${percent(report.overshoot, 0)}` : "none told"],
          ["codes", `${(100 * report.codes.low).toFixed(0)} to ${percent(report.codes.high, 0)}`],
          ["clipped", percent(report.clipped)],
        ]}
      />
      <h4 className="mt-3 font-medium">Screen level, by school</h4>
      <ul className="mt-1 space-y-0.5">
        {screen.schools.map((s) => (
          <li key={s.school} className="flex justify-between gap-2">
            <span className="text-soft">
              {s.met ? "✓" : "–"} {s.school}
            </span>
            <span className="figure text-right">{s.measured}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-faint">Common practice; evenness matters more than the exact level.</p>
      <div className="mt-3 flex gap-2">
        <ScopeView scope={scopes?.waveform} label="Waveform: an even screen is one flat line" className="h-[120px] grow" />
        <ScopeView scope={scopes?.vectors} label="Vector plot of chroma, grey in the middle" className="size-[120px]" />
      </div>
      <Overlays />
    </div>
  );
}

const OVERLAYS: readonly (readonly [View, string])[] = [
  ["plate", "Plate"],
  ["evenness", "Evenness"],
  ["noise", "Noise"],
];

function Overlays() {
  const view = useBench((s) => s.view.view);
  const sampled = useBench((s) => s.recipe.screen.colour !== null);
  return (
    <div className="mt-3">
      <div role="radiogroup" aria-label="Overlay" className="flex rounded-md bg-page p-0.5">
        {OVERLAYS.map(([v, name]) => (
          <Button
            key={v}
            role="radio"
            aria-checked={view === v}
            look={view === v ? "chosen" : "quiet"}
            className="grow !py-0.5 !text-[12px]"
            disabled={v === "evenness" && !sampled}
            title={v === "evenness" && !sampled ? "Sample the screen first" : name}
            onClick={() => look({ view: v })}
          >
            {name}
          </Button>
        ))}
      </div>
      {view === "evenness" && (
        <div className="mt-2">
          <div className="flex" role="img" aria-label="Steps of light against the screen colour, in stops, from dark to light">
            {Array.from({ length: STOP_STEPS.length + 1 }, (_, step) => (
              <span key={step} className="h-4 grow" style={{ background: `rgb(${stopCode(step)} ${stopCode(step)} ${stopCode(step)})` }} />
            ))}
          </div>
          <div className="figure flex justify-around px-3 text-[10px] text-soft">
            {STOP_STEPS.map((s) => (
              <span key={s}>{s > 0 ? `+${s}` : s}</span>
            ))}
          </div>
          <p className="text-faint">Stops against the screen colour.</p>
        </div>
      )}
    </div>
  );
}

function ScopeView({ scope, label, className }: { scope: Scope | undefined; label: string; className: string }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas || !scope) return;
    canvas.width = scope.width;
    canvas.height = scope.height;
    const pixels = new Uint8ClampedArray(scope.width * scope.height * 4);
    const top = Math.log1p(scope.counts.reduce((m, v) => Math.max(m, v), 1));
    for (let i = 0; i < scope.counts.length; i++) {
      const n = scope.counts[i] as number;
      pixels.fill(n === 0 ? 20 : 60 + (195 * Math.log1p(n)) / top, 4 * i, 4 * i + 3);
      pixels[4 * i + 3] = 255;
    }
    canvas.getContext("2d")?.putImageData(new ImageData(pixels, scope.width, scope.height), 0, 0);
  }, [scope]);
  return <canvas ref={ref} role="img" aria-label={label} title={label} className={`min-w-0 rounded border border-black ${className}`} />;
}
