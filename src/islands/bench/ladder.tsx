import { useEffect, useRef } from "react";
import { chromaFormat } from "../../core/documents/media-info";
import { brief, percent, whole } from "../ui/format";
import { toCanvas } from "./drawn";
import { openFindings } from "./finding-actions";
import { goToStep } from "./looking";
import { STEPS, type Step, shownRecipe, useBench } from "./store";

/** The ten steps in working order, each with its one telling figure and a small picture of its output. */
export function Ladder() {
  const current = useBench((s) => s.view.step);
  const exact = useBench((s) => s.exact);
  return (
    <nav aria-label="Steps" aria-busy={!exact} className="flex w-44 shrink-0 flex-col border-r border-black bg-page">
      {STEPS.map((step) => (
        <Rung key={step} step={step} chosen={step === current} />
      ))}
    </nav>
  );
}

function Rung({ step, chosen }: { step: Step; chosen: boolean }) {
  const figure = useFigure(step);
  return (
    <button
      type="button"
      onClick={() => goToStep(step)}
      aria-current={chosen ? "step" : undefined}
      className={`relative flex min-h-0 flex-1 items-center gap-2.5 border-b border-panel px-2.5 text-left focus-visible:-outline-offset-2 ${chosen ? "bg-raised" : "hover:bg-panel"}`}
    >
      {chosen && <span className="absolute inset-y-0 left-0 w-[3px] bg-amber" />}
      <Thumb step={step} />
      <span className="min-w-0">
        <span className={`block leading-4 ${chosen ? "font-semibold text-white" : "font-medium"}`}>{step}</span>
        <span data-testid={`figure-${step}`} className="figure block text-[11px] leading-[14px] text-soft" title={figure}>
          {figure}
        </span>
      </span>
    </button>
  );
}

function Thumb({ step }: { step: Step }) {
  const drawn = useBench((s) => s.thumbs[step]);
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = ref.current;
    if (!c || !drawn) return;
    c.width = 116;
    c.height = 66;
    const ctx = c.getContext("2d") as CanvasRenderingContext2D;
    const [across, down] = [c.width / drawn.width, c.height / drawn.height];
    // All of the picture, upright ones too; a common wide one fills the place, which is a hair narrower.
    const k = Math.abs(across / down - 1) < 0.05 ? Math.max(across, down) : Math.min(across, down);
    ctx.imageSmoothingQuality = "high";
    ctx.drawImage(toCanvas(drawn), (c.width - drawn.width * k) / 2, (c.height - drawn.height * k) / 2, drawn.width * k, drawn.height * k);
  }, [drawn]);
  return <canvas ref={ref} aria-hidden className="h-[33px] w-[58px] shrink-0 rounded-sm bg-raised" />;
}

const foundInWords = (n: number | undefined, without: string): string =>
  n === undefined ? without : n === 0 ? "nothing found" : n === 1 ? "1 finding" : `${n} findings`;

/** The one telling figure of a step, with its unit. */
function useFigure(step: Step): string {
  return useBench((s) => {
    const recipe = shownRecipe(s);
    const f = s.figures;
    const waiting = recipe.screen.colour ? "…" : "no screen";
    const { info } = s.shot.plate;
    switch (step) {
      case "Plate":
        return `${chromaFormat(info)} ${info.width}×${info.height}`;
      case "Screen":
        return !recipe.screen.colour ? "not sampled" : f?.evenness != null ? `±${f.evenness.toFixed(2)} st` : "…";
      case "Bounds":
        return recipe.bounds.garbage.length === 0
          ? recipe.screen.colour && recipe.passes.some((p) => p.on && p.matte.bounds.on)
            ? "automatic"
            : "none"
          : f?.clearance != null
            ? `clear ${whole(f.clearance)} px`
            : `${recipe.bounds.garbage.length} drawn`;
      case "Pull":
        return f ? `soft ${percent(f.softBand)}` : waiting;
      case "Matte":
        return f ? `holes ${brief(f.holes)} px` : waiting;
      case "Spill":
        return f ? `${percent(f.spill)} taken` : waiting;
      case "Edge":
        return f ? `loss ${percent(f.edgeLoss)}` : waiting;
      case "Scene":
        return recipe.scene.background ? recipe.scene.fit : "none";
      case "Proof":
        return foundInWords(s.findings ? openFindings(s).length : undefined, f ? "…" : "not run");
      case "Deliver":
        return recipe.screen.colour ? `${info.frames} ${info.frames === 1 ? "frame" : "frames"}` : "not yet";
    }
  });
}
