import { lazy, type PointerEvent, Suspense, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Region } from "../../core/image/plane";
import type { Point } from "../../core/matte/polygon";
import type { Drawn } from "../../workers/key-worker";
import { percent } from "../ui/format";
import { toCanvas } from "./drawn";
import { measureWorker, setWindow } from "./engine";
import { addRange, addSample, addStroke, STROKE_WIDTH } from "./screen-actions";
import { paint, pickBrush } from "./spill-actions";
import {
  backgroundFootage,
  cleanFootage,
  clearTool,
  drawsLine,
  drawsShape,
  look,
  plateFootage,
  shownRecipe,
  type Tool,
  useBench,
} from "./store";

const Bracket = lazy(() => import("./bracket"));
const ShapeLayer = lazy(() => import("./shapes"));

/** Least and most screen pixels for a frame pixel. */
export const MOST_ZOOM = 16;
const MARGIN = 20;

/** How frame pixels lie on the screen: screen = (frame − centre) × zoom + half the viewer. */
export interface Mapping {
  readonly zoomX: number;
  readonly zoomY: number;
  readonly left: number;
  readonly top: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

export const fitZoom = (viewer: Size, frame: Size, aspect: number): number =>
  Math.min((viewer.width - 2 * MARGIN) / (frame.width * aspect), (viewer.height - 2 * MARGIN) / frame.height);

/** The picture: drawn by the workers, panned and zoomed here. */
export function Viewer() {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const shot = useBench((s) => s.shot);
  const recipe = useBench((s) => s.recipe);
  const view = useBench((s) => s.view);
  const drawn = useBench((s) => s.drawn);
  const wipeDrawn = useBench((s) => s.wipeDrawn);
  const wipe = useBench((s) => s.wipe);
  const tool = useBench((s) => s.tool);
  const problem = useBench((s) => s.problem);
  const bracket = useBench((s) => s.bracket);
  const { info } = shot.plate;
  const aspect = recipe.plate.pixelAspect ?? info.pixelAspect;
  const frame: Size = { width: info.width, height: info.height };
  const zoom = view.zoom > 0 ? view.zoom : fitZoom(size, frame, aspect);
  const centerX = view.zoom > 0 ? view.centerX : frame.width / 2;
  const centerY = view.zoom > 0 ? view.centerY : frame.height / 2;
  const map: Mapping = {
    zoomX: zoom * aspect,
    zoomY: zoom,
    left: size.width / 2 - centerX * zoom * aspect,
    top: size.height / 2 - centerY * zoom,
  };
  const density = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;

  useLayoutEffect(() => {
    const element = box.current as HTMLDivElement;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    if (size.width === 0 || zoom <= 0) return;
    setWindow({
      x: -map.left / map.zoomX,
      y: -map.top / map.zoomY,
      width: size.width / map.zoomX,
      height: size.height / map.zoomY,
      density: zoom * density,
    });
  }, [size, zoom, map.left, map.top, map.zoomX, map.zoomY, density]);

  useLayoutEffect(() => {
    const c = canvas.current;
    if (!c || size.width === 0) return;
    c.width = Math.round(size.width * density);
    c.height = Math.round(size.height * density);
    const ctx = c.getContext("2d") as CanvasRenderingContext2D;
    ctx.imageSmoothingEnabled = zoom * density < 1;
    ctx.imageSmoothingQuality = "high";
    const paint = (d: Drawn) =>
      ctx.drawImage(
        toCanvas(d),
        (d.region.x * map.zoomX + map.left) * density,
        (d.region.y * map.zoomY + map.top) * density,
        d.region.width * map.zoomX * density,
        d.region.height * map.zoomY * density,
      );
    // Reduced frames round their size up; what lies over the frame's edge is cut.
    ctx.beginPath();
    ctx.rect(map.left * density, map.top * density, frame.width * map.zoomX * density, frame.height * map.zoomY * density);
    ctx.clip();
    if (drawn) paint(drawn);
    if (wipe && wipeDrawn) {
      const x = (map.left + frame.width * wipe.at * map.zoomX) * density;
      ctx.save();
      ctx.beginPath();
      ctx.rect(0, 0, x, c.height);
      ctx.clip();
      paint(wipeDrawn);
      ctx.restore();
      ctx.fillStyle = "#fff";
      ctx.fillRect(Math.round(x) - 1, 0, 2, c.height);
    }
  }, [drawn, wipeDrawn, wipe, size, zoom, map.left, map.top, map.zoomX, map.zoomY, density, frame.width, frame.height]);

  const toFrame = useCallback(
    (e: { clientX: number; clientY: number }) => {
      const r = (box.current as HTMLDivElement).getBoundingClientRect();
      return { x: (e.clientX - r.left - map.left) / map.zoomX, y: (e.clientY - r.top - map.top) / map.zoomY };
    },
    [map.left, map.top, map.zoomX, map.zoomY],
  );

  useEffect(() => {
    const element = box.current as HTMLDivElement;
    const onWheel = (e: WheelEvent) => {
      if ((e.target as Element).closest("[data-testid=bracket]")) return;
      e.preventDefault();
      const at = toFrame(e);
      const next = Math.min(MOST_ZOOM, Math.max(fitZoom(size, frame, aspect) / 2, zoom * 1.0015 ** -e.deltaY));
      zoomAbout(at, next, zoom, { x: centerX, y: centerY });
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  });

  const pan = useRef<{ x: number; y: number; centerX: number; centerY: number } | null>(null);
  const [dragBox, setDragBox] = useState<Region | null>(null);
  const [line, setLine] = useState<readonly Point[] | null>(null);
  const brush = useBench((s) => s.brush);
  const dragStart = useRef<{ x: number; y: number } | null>(null);

  const onDown = (e: PointerEvent<HTMLDivElement>) => {
    if (e.button === 1 || (e.button === 0 && tool === "look")) {
      pan.current = { x: e.clientX, y: e.clientY, centerX, centerY };
      e.currentTarget.setPointerCapture(e.pointerId);
    } else if (e.button === 0 && drawsLine(tool)) {
      setLine([toFrame(e)]);
      e.currentTarget.setPointerCapture(e.pointerId);
    } else if (e.button === 0 && tool === "paint-pick") {
      const p = toFrame(e);
      void pickBrush(p.x, p.y);
    } else if (e.button === 0 && !drawsShape(tool)) {
      dragStart.current = toFrame(e);
      setDragBox({ ...dragStart.current, width: 0, height: 0 });
      e.currentTarget.setPointerCapture(e.pointerId);
    }
  };
  const onMove = (e: PointerEvent<HTMLDivElement>) => {
    if (pan.current) {
      const dx = (e.clientX - pan.current.x) / map.zoomX;
      const dy = (e.clientY - pan.current.y) / map.zoomY;
      if (dx || dy) look({ zoom, centerX: pan.current.centerX - dx, centerY: pan.current.centerY - dy });
      return;
    }
    const p = toFrame(e);
    if (line) {
      setLine([...line, p]);
      return;
    }
    const from = dragStart.current;
    if (from)
      setDragBox({ x: Math.min(from.x, p.x), y: Math.min(from.y, p.y), width: Math.abs(p.x - from.x), height: Math.abs(p.y - from.y) });
    requestProbe(p.x, p.y);
  };
  const onUp = () => {
    pan.current = null;
    if (line) {
      setLine(null);
      if (tool === "sample-stroke") {
        clearTool();
        void addStroke(line, STROKE_WIDTH / 2 / map.zoomY);
      } else paint(line, tool === "paint-erase");
      return;
    }
    if (dragStart.current && dragBox) {
      const p = dragStart.current;
      dragStart.current = null;
      setDragBox(null);
      // A click without a drag takes the 5×5 neighbourhood.
      const small = dragBox.width < 2 || dragBox.height < 2;
      const taken = small ? { x: Math.floor(p.x) - 2, y: Math.floor(p.y) - 2, width: 5, height: 5 } : dragBox;
      if (tool === "range-add" || tool === "range-take") void addRange(taken, tool === "range-take");
      else void addSample(taken, tool === "sample-more");
      clearTool();
    }
  };

  return (
    <div
      ref={box}
      data-testid="viewer"
      role="application"
      aria-label={`Picture, frame ${view.frame}`}
      className={`relative min-h-0 grow touch-none overflow-hidden bg-surround ${tool === "look" ? "cursor-grab active:cursor-grabbing" : "cursor-crosshair"}`}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerLeave={() => useBench.setState({ probe: null })}
    >
      <canvas ref={canvas} data-testid="picture" className="absolute inset-0 size-full" />
      {(drawsShape(tool) || view.step === "Bounds") && (
        <Suspense>
          <ShapeLayer size={size} map={map} />
        </Suspense>
      )}
      {view.step === "Screen" && <SampleStrokes map={map} />}
      {recipe.screen.boxes.length > 0 && view.step === "Screen" && <SampleBoxes map={map} />}
      {dragBox && <BoxOutline map={map} box={dragBox} dashed />}
      {line && <LineDrawn map={map} line={line} width={tool === "sample-stroke" ? STROKE_WIDTH : 2 * brush.radius * map.zoomY} />}
      {wipe && <WipeHandle map={map} frame={frame} at={wipe.at} />}
      <ProbeReadout />
      {tool !== "look" && <ToolHint tool={tool} />}
      {bracket && (
        // Presses on the bracket do not pan the picture beneath.
        <div onPointerDown={(e) => e.stopPropagation()}>
          <Suspense>
            <Bracket key={bracket.label} />
          </Suspense>
        </div>
      )}
      {problem && (
        <div role="alert" className="absolute inset-x-0 top-1/3 mx-auto max-w-md rounded-lg border border-line bg-panel p-4 text-center">
          <p className="font-semibold">The picture could not be drawn</p>
          <p className="mt-1 text-soft">{problem}</p>
        </div>
      )}
      {!drawn && !problem && <p className="absolute inset-x-0 top-1/2 text-center text-soft">Loading frame {view.frame}…</p>}
    </div>
  );
}

/** Zooms so that the frame point under the pointer stays where it is. */
export function zoomAbout(at: { x: number; y: number }, next: number, now: number, center: { x: number; y: number }): void {
  look({ zoom: next, centerX: at.x + ((center.x - at.x) * now) / next, centerY: at.y + ((center.y - at.y) * now) / next });
}

let probeBusy = false;
let probeNext: { x: number; y: number } | null = null;
function requestProbe(x: number, y: number): void {
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
      const recipe = shownRecipe(s);
      try {
        const probe = await measureWorker().probe(
          { recipe, plate: plateFootage(), clean: cleanFootage(recipe), background: backgroundFootage(recipe), frame: s.view.frame },
          px,
          py,
          s.probeSize,
        );
        useBench.setState({ probe });
      } catch {
        useBench.setState({ probe: null });
      }
    }
    probeBusy = false;
  })();
}

const three = (v: number) => v.toFixed(3).replace(/^(-?)0\./, "$1.");

function ProbeReadout() {
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

function BoxOutline({ map, box, dashed, label }: { map: Mapping; box: Region; dashed?: boolean; label?: string }) {
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
function LineDrawn({ map, line, width }: { map: Mapping; line: readonly Point[]; width: number }) {
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
function SampleStrokes({ map }: { map: Mapping }) {
  const strokes = useBench((s) => s.recipe.screen.strokes);
  const frame = useBench((s) => s.view.frame);
  return strokes
    .filter((s) => s.frame === frame)
    .map((s, i) => <LineDrawn key={i} map={map} line={s.points} width={2 * s.radius * map.zoomY} />);
}

function SampleBoxes({ map }: { map: Mapping }) {
  const boxes = useBench((s) => s.recipe.screen.boxes);
  const frame = useBench((s) => s.view.frame);
  return boxes
    .filter((b) => b.frame === frame)
    .map((b, i) => <BoxOutline key={`${b.x}/${b.y}/${i}`} map={map} box={b} label={`sample ${boxes.indexOf(b) + 1}`} />);
}

function WipeHandle({ map, frame, at }: { map: Mapping; frame: Size; at: number }) {
  const version = useBench((s) => s.versions.find((v) => v.id === s.wipe?.versionId));
  const dragging = useRef(false);
  const x = map.left + frame.width * at * map.zoomX;
  const moveTo = (clientX: number, box: DOMRect) => {
    const share = (clientX - box.left - map.left) / (frame.width * map.zoomX);
    const wipe = useBench.getState().wipe;
    if (wipe) useBench.setState({ wipe: { ...wipe, at: Math.min(1, Math.max(0, share)) } });
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Wipe against version ${version?.number ?? ""}`}
      aria-valuenow={Math.round(at * 100)}
      className="absolute inset-y-0 w-5 -translate-x-1/2 cursor-col-resize"
      style={{ left: x }}
      onKeyDown={(e) => {
        const d = e.key === "ArrowLeft" ? -0.02 : e.key === "ArrowRight" ? 0.02 : 0;
        const wipe = useBench.getState().wipe;
        if (d && wipe) {
          e.stopPropagation();
          useBench.setState({ wipe: { ...wipe, at: Math.min(1, Math.max(0, at + d)) } });
        }
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        dragging.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => dragging.current && moveTo(e.clientX, (e.currentTarget.parentElement as HTMLElement).getBoundingClientRect())}
      onPointerUp={() => {
        dragging.current = false;
      }}
    >
      <span className="absolute top-3 right-4 rounded bg-panel px-1.5 py-0.5 whitespace-nowrap">{version?.name}</span>
      <span className="absolute top-3 left-4 rounded bg-panel px-1.5 py-0.5">now</span>
    </div>
  );
}

const HINTS: Record<Exclude<Tool, "look">, string> = {
  sample: "Drag a box on clean screen close to the most important edge. A click takes 5×5 px. Esc stops.",
  "sample-more": "Drag another box on clean screen: the colour becomes the average of all. Esc stops.",
  "sample-stroke": "Draw a line over clean screen; what is under it counts too. Esc stops.",
  paint: "Paint: only colour changes, light and shade stay. Esc stops.",
  "paint-erase": "Rub out what was painted. Esc stops.",
  "paint-pick": "Click on clean colour of the subject: 5×5 px are averaged. Esc stops.",
  "range-add": "Drag a box on a colour that belongs to the screen. A click takes 5×5 px. Esc stops.",
  "range-take": "Drag a box on a colour that must stay in the subject. A click takes 5×5 px. Esc stops.",
  draw: "Click corners around the subject. Enter, or a click on the first corner, closes the shape. Esc stops.",
  "draw-holdout": "Click corners well inside the subject, around what no key can fill. Enter closes the shape. Esc stops.",
  "draw-region": "Click corners around the place where this pass counts. Enter closes the shape. Esc stops.",
};

function ToolHint({ tool }: { tool: Exclude<Tool, "look"> }) {
  return <p className="pointer-events-none absolute top-3 left-3 rounded-md bg-panel/95 px-3 py-1.5">{HINTS[tool]}</p>;
}

/** Zoom in words, for the bar under the picture. */
export function ZoomReadout() {
  const zoom = useBench((s) => s.view.zoom);
  return <span className="figure text-soft">{zoom > 0 ? percent(zoom, 0) : "fit"}</span>;
}
