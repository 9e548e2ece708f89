import {
  type ComponentType,
  lazy,
  type PointerEvent,
  Suspense,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Region, Size } from "../../core/image/plane";
import type { Point } from "../../core/matte/polygon";
import { VIEWS, type View } from "../../workers/views";
import { CompareNote, WipeHandle } from "./compare";
import { setWindow } from "./engine";
import { pinProbe } from "./looking";
import { Loupe } from "./loupe";
import { PANES, paintViewer } from "./paint-viewer";
import { usePinch } from "./pinch";
import { ProbeMarks, ProbeReadout, probeAt } from "./probe";
import { addRange, addSample, addStroke, STROKE_WIDTH } from "./screen-actions";
import { paint, pickBrush } from "./spill-actions";
import { clearTool, drawsLine, drawsShape, look, useBench } from "./store";
import { BoxOutline, LineDrawn, OwnersLegend, SampleBoxes, SampleStrokes, SoloNote, ToolHint } from "./viewer-marks";
import { VIEW_NAMES } from "./views";

/** Steps on which outlines are drawn and edited: what draws them is there before the hand asks for it. */
const HAS_OUTLINES: readonly string[] = ["Bounds", "Pull"];
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
  const compareDrawn = useBench((s) => s.compareDrawn);
  const compare = useBench((s) => s.compare);
  const four = useBench((s) => s.four);
  const fourDrawn = useBench((s) => s.fourDrawn);
  const loupe = useBench((s) => s.loupe);
  const tool = useBench((s) => s.tool);
  const problem = useBench((s) => s.problem);
  const drawing = useBench((s) => s.drawing);
  const live = useBench((s) => s.live);
  const bracket = useBench((s) => s.bracket);
  const { info } = shot.plate;
  const aspect = view.square ? 1 : (recipe.plate.pixelAspect ?? info.pixelAspect);
  const frame: Size = { width: info.width, height: info.height };
  /** What the mapping fills: the viewer, or each of its four panes. */
  const pane = useMemo(() => (four ? { width: size.width / 2, height: size.height / 2 } : size), [four, size]);
  const zoom = view.zoom > 0 ? view.zoom : fitZoom(pane, frame, aspect);
  const centerX = view.zoom > 0 ? view.centerX : frame.width / 2;
  const centerY = view.zoom > 0 ? view.centerY : frame.height / 2;
  const map: Mapping = {
    zoomX: zoom * aspect,
    zoomY: zoom,
    left: pane.width / 2 - centerX * zoom * aspect,
    top: pane.height / 2 - centerY * zoom,
  };
  const density = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;

  // Fetched while the first picture is looked at, so that the first bracket waits neither for it nor for Suspense.
  const [Bracket, setBracket] = useState<ComponentType | null>(null);
  const pictured = drawn !== null;
  useEffect(() => {
    if (pictured) void import("./bracket").then((m) => setBracket(() => m.default));
  }, [pictured]);

  useLayoutEffect(() => {
    const element = box.current as HTMLDivElement;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    if (pane.width === 0 || zoom <= 0) return;
    setWindow({
      x: -map.left / map.zoomX,
      y: -map.top / map.zoomY,
      width: pane.width / map.zoomX,
      height: pane.height / map.zoomY,
      density: zoom * density,
    });
  }, [pane, zoom, map.left, map.top, map.zoomX, map.zoomY, density]);

  useLayoutEffect(() => {
    const c = canvas.current;
    if (!c || size.width === 0) return;
    const [w, h] = [Math.round(size.width * density), Math.round(size.height * density)];
    // A canvas that is given its size is emptied and made anew, even where it has that size already.
    if (c.width !== w || c.height !== h) {
      c.width = w;
      c.height = h;
    }
    paintViewer(c, { drawn, compare, compareDrawn, four: fourDrawn }, map, pane, frame, density);
  });

  /** Where a pointer is in its pane, CSS px. */
  const inPane = useCallback(
    (e: { clientX: number; clientY: number }) => {
      const r = (box.current as HTMLDivElement).getBoundingClientRect();
      return { x: (e.clientX - r.left) % pane.width, y: (e.clientY - r.top) % pane.height };
    },
    [pane],
  );
  const toFrame = useCallback(
    (e: { clientX: number; clientY: number }) => {
      const { x, y } = inPane(e);
      return { x: (x - map.left) / map.zoomX, y: (y - map.top) / map.zoomY };
    },
    [map.left, map.top, map.zoomX, map.zoomY, inPane],
  );

  const withinZoom = (z: number) => Math.min(MOST_ZOOM, Math.max(fitZoom(pane, frame, aspect) / 2, z));
  const pinch = usePinch((from, to, times) => {
    const next = withinZoom(zoom * times);
    // What lay between the fingers stays between them.
    const at = toFrame(from);
    const { x, y } = inPane(to);
    look({ zoom: next, centerX: at.x + (pane.width / 2 - x) / (next * aspect), centerY: at.y + (pane.height / 2 - y) / next });
  });
  useEffect(() => {
    const element = box.current as HTMLDivElement;
    const onWheel = (e: WheelEvent) => {
      if ((e.target as Element).closest("[data-testid=bracket]")) return;
      e.preventDefault();
      const at = toFrame(e);
      zoomAbout(at, withinZoom(zoom * 1.0015 ** -e.deltaY), zoom, { x: centerX, y: centerY });
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
    if (pinch.down(e)) {
      pan.current = null;
      dragStart.current = null;
      setDragBox(null);
      setLine(null);
      e.currentTarget.setPointerCapture(e.pointerId);
    } else if (e.button === 1 || (e.button === 0 && tool === "look")) {
      pan.current = { x: e.clientX, y: e.clientY, centerX, centerY };
      e.currentTarget.setPointerCapture(e.pointerId);
    } else if (e.button === 0 && drawsLine(tool)) {
      setLine([toFrame(e)]);
      e.currentTarget.setPointerCapture(e.pointerId);
    } else if (e.button === 0 && tool === "paint-pick") {
      const p = toFrame(e);
      void pickBrush(p.x, p.y);
    } else if (e.button === 0 && tool === "probe") {
      const p = toFrame(e);
      pinProbe(p.x, p.y, 8 / map.zoomY);
    } else if (e.button === 0 && !drawsShape(tool)) {
      dragStart.current = toFrame(e);
      setDragBox({ ...dragStart.current, width: 0, height: 0 });
      e.currentTarget.setPointerCapture(e.pointerId);
    }
  };
  const onMove = (e: PointerEvent<HTMLDivElement>) => {
    if (pinch.move(e)) return;
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
    probeAt(p);
  };
  const onUp = (e: PointerEvent<HTMLDivElement>) => {
    pinch.up(e);
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
      onPointerCancel={(e) => {
        pinch.up(e);
        pan.current = null;
      }}
      onPointerLeave={() => probeAt(null)}
    >
      <canvas ref={canvas} data-testid="picture" aria-busy={drawing} className="absolute inset-0 size-full" />
      {!four && (
        <>
          {(drawsShape(tool) || HAS_OUTLINES.includes(view.step)) && (
            <Suspense>
              <ShapeLayer size={size} map={map} />
            </Suspense>
          )}
          {view.step === "Screen" && <SampleStrokes map={map} />}
          {recipe.screen.boxes.length > 0 && view.step === "Screen" && <SampleBoxes map={map} />}
          {dragBox && <BoxOutline map={map} box={dragBox} dashed />}
          {line && <LineDrawn map={map} line={line} width={tool === "sample-stroke" ? STROKE_WIDTH : 2 * brush.radius * map.zoomY} />}
          {compare?.how === "wipe" && <WipeHandle map={map} frame={frame} compare={compare} />}
          <ProbeMarks map={map} />
          {view.view === "owners" && <OwnersLegend />}
        </>
      )}
      {four && <PaneNames />}
      <div className="pointer-events-none absolute top-3 left-1/2 flex -translate-x-1/2 flex-col items-center gap-1.5">
        <SoloNote />
        {compare && <CompareNote compare={compare} />}
      </div>
      {loupe && <Loupe />}
      <ProbeReadout />
      {tool !== "look" && <ToolHint tool={tool} />}
      {bracket && Bracket && (
        // Presses on the bracket do not pan the picture beneath.
        <div onPointerDown={(e) => e.stopPropagation()}>
          <Bracket key={bracket.label} />
        </div>
      )}
      {problem && (
        <div role="alert" className="absolute inset-x-0 top-1/3 mx-auto max-w-md rounded-lg border border-line bg-panel p-4 text-center">
          <p className="font-semibold">The picture could not be drawn</p>
          <p className="mt-1 text-soft">{problem}</p>
        </div>
      )}
      {drawn && drawing && !live && (
        <p className="late pointer-events-none absolute right-3 bottom-3 rounded-md bg-panel/95 px-2 py-1 text-soft">drawing…</p>
      )}
      {!drawn && !problem && <p className="absolute inset-x-0 top-1/2 text-center text-soft">Loading frame {view.frame}…</p>}
    </div>
  );
}

/** The name of each of the four views, and the choice of another. */
function PaneNames() {
  const four = useBench((s) => s.four) as readonly View[];
  return PANES.map(([x, y], k) => (
    <select
      key={`${x}/${y}`}
      aria-label={`View of pane ${k + 1}`}
      value={four[k]}
      onPointerDown={(e) => e.stopPropagation()}
      onChange={(e) => useBench.setState({ four: four.map((v, i) => (i === k ? (e.target.value as View) : v)) })}
      className="absolute m-2 rounded border border-line bg-panel px-1.5 py-0.5 text-[12px]"
      style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
    >
      {VIEWS.map((v) => (
        <option key={v} value={v}>
          {VIEW_NAMES[v]}
        </option>
      ))}
    </select>
  ));
}

/** Zooms so that the frame point under the pointer stays where it is. */
function zoomAbout(at: { x: number; y: number }, next: number, now: number, center: { x: number; y: number }): void {
  look({ zoom: next, centerX: at.x + ((center.x - at.x) * now) / next, centerY: at.y + ((center.y - at.y) * now) / next });
}

/** Zoom in words, for the bar under the picture: screen pixels for a frame pixel. */
export function ZoomReadout() {
  const zoom = useBench((s) => s.view.zoom);
  return <span className="figure !text-[11px] text-soft">{zoom > 0 ? `${zoom.toFixed(zoom < 9.995 ? 2 : 1)}×` : "fit"}</span>;
}
