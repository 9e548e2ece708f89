import type { Region } from "../../core/image/plane";
import type { Point } from "../../core/matte/polygon";
import type { Pass } from "../../core/recipe/schema";
import { ownerPattern } from "../../workers/owner-pattern";
import { passLabel } from "./pass-actions";
import { shownRecipe, type Tool, useBench } from "./store";
import type { Mapping } from "./viewer";

export function BoxOutline({ map, box, dashed, label }: { map: Mapping; box: Region; dashed?: boolean; label?: string }) {
  return (
    <div
      className={`pointer-events-none absolute border border-white outline outline-black ${dashed ? "border-dashed" : ""}`}
      style={{
        left: box.x * map.zoomX + map.left,
        top: box.y * map.zoomY + map.top,
        width: box.width * map.zoomX,
        height: box.height * map.zoomY,
      }}
    >
      {label && <span className="absolute -top-5 left-0 rounded bg-panel px-1 text-[11px] whitespace-nowrap">{label}</span>}
    </div>
  );
}

/** A freehand line while it is drawn. */
export function LineDrawn({ map, line, width }: { map: Mapping; line: readonly Point[]; width: number }) {
  const points = line.map((p) => `${p.x * map.zoomX + map.left},${p.y * map.zoomY + map.top}`).join(" ");
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden="true">
      <polyline
        points={points}
        fill="none"
        stroke="#fff"
        strokeOpacity={0.35}
        strokeWidth={width}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <polyline points={points} fill="none" stroke="#000" strokeOpacity={0.8} strokeWidth={1} />
    </svg>
  );
}

/** The strokes that the screen was sampled along, on the shown frame. */
export function SampleStrokes({ map }: { map: Mapping }) {
  const strokes = useBench((s) => s.recipe.screen.strokes);
  const frame = useBench((s) => s.view.frame);
  return strokes
    .filter((s) => s.frame === frame)
    .map((s, i) => <LineDrawn key={i} map={map} line={s.points} width={2 * s.radius * map.zoomY} />);
}

export function SampleBoxes({ map }: { map: Mapping }) {
  const boxes = useBench((s) => s.recipe.screen.boxes);
  const frame = useBench((s) => s.view.frame);
  return boxes
    .filter((b) => b.frame === frame)
    .map((b, i) => <BoxOutline key={`${b.x}/${b.y}/${i}`} map={map} box={b} label={`sample ${boxes.indexOf(b) + 1}`} />);
}

const HINTS: Record<Exclude<Tool, "look">, string> = {
  sample: "Drag a box on clean screen close to the most important edge. A click takes 5×5 px. Esc stops.",
  "sample-more": "Drag another box on clean screen: the colour becomes the average of all. Esc stops.",
  "sample-stroke": "Draw a line over clean screen; what is under it counts too. Esc stops.",
  paint: "Paint: only colour changes, light and shade stay. Esc stops.",
  "paint-erase": "Rub out what was painted. Esc stops.",
  "paint-pick": "Click on clean colour of the subject: 5×5 px are averaged. Esc stops.",
  probe: "Click a place to keep a probe there; click a probe to remove it. Esc stops.",
  "range-add": "Drag a box on a colour that belongs to the screen. A click takes 5×5 px. Esc stops.",
  "range-take": "Drag a box on a colour that must stay in the subject. A click takes 5×5 px. Esc stops.",
  draw: "Click corners around the subject. Enter, or a click on the first corner, closes the shape. Esc stops.",
  "draw-holdout": "Click corners well inside the subject, around what no key can fill. Enter closes the shape. Esc stops.",
  "draw-region": "Click corners around the place where this pass counts. Enter closes the shape. Esc stops.",
};

/** What the tool in the hand does. */
export function ToolHint({ tool }: { tool: Exclude<Tool, "look"> }) {
  return <p className="pointer-events-none absolute top-3 left-3 rounded-md bg-panel/95 px-3 py-1.5">{HINTS[tool]}</p>;
}

const SWATCH = 16;
/** The pattern of the k-th pass as a small picture. */
const swatches = new Map<number, string>();
function swatch(k: number): string {
  let url = swatches.get(k);
  if (!url) {
    const c = document.createElement("canvas");
    c.width = SWATCH;
    c.height = SWATCH;
    const ctx = c.getContext("2d") as CanvasRenderingContext2D;
    ctx.fillStyle = "#fff";
    ctx.fillRect(0, 0, SWATCH, SWATCH);
    ctx.fillStyle = "#737373";
    for (let y = 0; y < SWATCH; y++) for (let x = 0; x < SWATCH; x++) if (ownerPattern(k, x, y)) ctx.fillRect(x, y, 1, 1);
    url = c.toDataURL();
    swatches.set(k, url);
  }
  return url;
}

/** Which pattern is which pass. */
export function OwnersLegend() {
  const passes = useBench((s) => shownRecipe(s).passes);
  const on = passes.map((pass, k) => ({ pass, k })).filter(({ pass }) => pass.on);
  return (
    <ul aria-label="Owners" className="pointer-events-none absolute bottom-3 left-3 flex gap-3 rounded-md bg-panel/95 px-3 py-1.5">
      {on.map(({ pass, k }, n) => (
        <li key={pass.id} className="flex items-center gap-1.5">
          <img src={swatch(n + 1)} alt="" width={SWATCH} height={SWATCH} className="rounded-sm" />
          {passLabel(pass, k)}
        </li>
      ))}
    </ul>
  );
}

/** Says that one pass is looked at by itself. */
export function SoloNote() {
  const passes = useBench((s) => s.recipe.passes);
  const solo = useBench((s) => s.solo);
  const k = passes.findIndex((p) => p.id === solo);
  if (k < 0) return null;
  return (
    <p data-testid="solo" className="flex items-center gap-2 rounded-md bg-panel/95 px-3 py-1">
      Pass {passLabel(passes[k] as Pass, k)} alone
      <button
        type="button"
        className="pointer-events-auto rounded px-1 text-soft hover:text-text"
        onPointerDown={(e) => e.stopPropagation()}
        onClick={() => useBench.setState({ solo: null })}
      >
        show all
      </button>
    </p>
  );
}
