import type Konva from "konva";
import { useEffect, useRef, useState } from "react";
import { Circle, Group, Layer, Line, Stage, Transformer } from "react-konva";
import type { Size } from "../../core/image/plane";
import { outlineAt } from "../../core/matte/keys";
import { type Point, smoothOutline } from "../../core/matte/polygon";
import { type Outline, outlineChange, outlinesOf } from "./outline-actions";
import { drawRegion } from "./pass-actions";
import { addShape } from "./shape-actions";
import { clearTool, currentPass, drawsShape, shownRecipe, useBench } from "./store";
import type { Mapping } from "./viewer";

/** Screen pixels within which a new corner goes to the frame's border. */
const SNAP = 10;

/** Shapes, and the regions of passes, drawn and edited on the picture. */
export default function ShapeLayer({ size, map }: { size: Size; map: Mapping }) {
  const tool = useBench((s) => s.tool);
  const step = useBench((s) => s.view.step);
  const recipe = useBench(shownRecipe);
  const pass = useBench((s) => currentPass(s, shownRecipe(s)).id);
  const outlines = outlinesOf(step, recipe, pass);
  const selected = useBench((s) => s.selectedShape);
  const frame = useBench((s) => s.shot.plate.info);
  const [corners, setCorners] = useState<Point[]>([]);
  const [pointer, setPointer] = useState<Point | null>(null);
  const drawing = drawsShape(tool);

  useEffect(() => {
    if (!drawing) {
      setCorners([]);
      setPointer(null);
    }
  }, [drawing]);

  useEffect(() => {
    if (!drawing) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "Enter" && corners.length >= 3) close();
      else if (e.key === "Backspace") setCorners(corners.slice(0, -1));
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  });

  const close = () => {
    if (tool === "draw-region") drawRegion(corners);
    else addShape(corners, tool === "draw-holdout" ? "holdout" : "garbage");
    clearTool();
  };

  if (size.width === 0) return null;
  const flat = (points: readonly Point[]) => points.flatMap((p) => [p.x * map.zoomX + map.left, p.y * map.zoomY + map.top]);
  const toFrame = (x: number, y: number): Point => ({ x: (x - map.left) / map.zoomX, y: (y - map.top) / map.zoomY });
  /** A corner put close to the frame's border means the border: what lies on it is kept whole. */
  const snap = (p: Point): Point => {
    const near = (v: number, edge: number, zoom: number) => (Math.abs(v - edge) * zoom < SNAP ? edge : v);
    return { x: near(near(p.x, 0, map.zoomX), frame.width, map.zoomX), y: near(near(p.y, 0, map.zoomY), frame.height, map.zoomY) };
  };
  const first = corners[0];

  return (
    <Stage
      width={size.width}
      height={size.height}
      className="absolute inset-0"
      style={{ pointerEvents: drawing || outlines.length > 0 ? "auto" : "none" }}
      onPointerDown={(e) => {
        if (!drawing || e.evt.button !== 0) return;
        e.evt.stopPropagation();
        const p = snap(toFrame(e.evt.offsetX, e.evt.offsetY));
        if (first && corners.length >= 3 && Math.hypot((p.x - first.x) * map.zoomX, (p.y - first.y) * map.zoomY) < 10) close();
        else setCorners([...corners, p]);
      }}
      onPointerMove={(e) => drawing && setPointer(toFrame(e.evt.offsetX, e.evt.offsetY))}
    >
      <Layer>
        {outlines.map((outline) => (
          <EditableOutline
            key={outline.id}
            of={outline}
            map={map}
            flat={flat}
            toFrame={toFrame}
            chosen={outline.kind === "region" || outline.id === selected}
            idle={drawing}
          />
        ))}
        {drawing && corners.length > 0 && (
          <Group listening={false}>
            <Line points={flat(pointer ? [...corners, pointer] : corners)} stroke="#000" strokeWidth={3} opacity={0.6} />
            <Line points={flat(pointer ? [...corners, pointer] : corners)} stroke="#fff" strokeWidth={1.2} />
            {corners.map((p, i) => (
              <Circle
                key={i}
                x={p.x * map.zoomX + map.left}
                y={p.y * map.zoomY + map.top}
                radius={i === 0 ? 6 : 4}
                fill="#fff"
                stroke="#000"
              />
            ))}
          </Group>
        )}
      </Layer>
    </Stage>
  );
}

interface EditProps {
  readonly of: Outline;
  readonly map: Mapping;
  readonly flat: (points: readonly Point[]) => number[];
  readonly toFrame: (x: number, y: number) => Point;
  readonly chosen: boolean;
  readonly idle: boolean;
}

/** An outline whose corners are dragged; a double click on its line puts a corner in, on a corner takes it out. */
function EditableOutline({ of, map, flat, toFrame, chosen, idle }: EditProps) {
  const frame = useBench((s) => s.view.frame);
  const transforming = useBench((s) => s.transforming);
  const points = outlineAt(of, frame);
  const drawn = (list: readonly Point[]) => (of.smooth ? smoothOutline(list) : list);
  const outline = drawn(points);
  // The keys before and after, faintly, to draw by.
  const besides = [of.keys.findLast((k) => k.frame < frame), of.keys.find((k) => k.frame > frame)].filter((k) => k !== undefined);
  const put = (next: readonly Point[], settled: boolean, what: string) => of.put(outlineChange(of, next), settled, what);
  const moved = (i: number, p: Point) => points.map((q, k) => (k === i ? p : q));
  /** A corner more or less is one on every key. */
  const everywhere = (change: (list: readonly Point[]) => Point[], what: string) =>
    of.put({ points: change(of.points), keys: of.keys.map((k) => ({ frame: k.frame, points: change(k.points) })) }, true, what);
  const insert = (at: Point) => {
    let best = { side: 0, along: 0.5, distance: Number.POSITIVE_INFINITY };
    points.forEach((a, side) => {
      const b = points[(side + 1) % points.length] as Point;
      const length2 = (b.x - a.x) ** 2 + (b.y - a.y) ** 2 || 1;
      const along = Math.min(1, Math.max(0, ((at.x - a.x) * (b.x - a.x) + (at.y - a.y) * (b.y - a.y)) / length2));
      const distance = Math.hypot(a.x + along * (b.x - a.x) - at.x, a.y + along * (b.y - a.y) - at.y);
      if (distance < best.distance) best = { side, along, distance };
    });
    everywhere((list) => {
      const a = list[best.side] as Point;
      const b = list[(best.side + 1) % list.length] as Point;
      const corner = { x: a.x + best.along * (b.x - a.x), y: a.y + best.along * (b.y - a.y) };
      return [...list.slice(0, best.side + 1), corner, ...list.slice(best.side + 1)];
    }, "corner added");
  };
  return (
    <Group listening={!idle}>
      {chosen &&
        besides.map((k) => (
          <Line
            key={k.frame}
            points={flat(drawn(k.points))}
            closed
            stroke="#fff"
            strokeWidth={1}
            opacity={0.4}
            dash={[1, 4]}
            listening={false}
          />
        ))}
      {chosen && transforming && <WholeShape key={frame} points={points} flat={flat} toFrame={toFrame} drawn={drawn} put={put} />}
      <Line points={flat(outline)} closed stroke="#000" strokeWidth={4} opacity={0.5} listening={false} />
      <Line
        points={flat(outline)}
        closed
        stroke="#fff"
        strokeWidth={chosen ? 2 : 1.2}
        {...dashOf(of.kind, chosen)}
        hitStrokeWidth={14}
        // Only the line takes the hand: inside a shape the picture is still panned.
        fillEnabled={false}
        onPointerDown={(e) => {
          e.evt.stopPropagation();
          if (of.kind !== "region") useBench.setState({ selectedShape: of.id });
        }}
        onDblClick={(e) => insert(toFrame(e.evt.offsetX, e.evt.offsetY))}
      />
      {chosen &&
        !transforming &&
        points.map((p, i) => (
          <Circle
            key={i}
            x={p.x * map.zoomX + map.left}
            y={p.y * map.zoomY + map.top}
            radius={5}
            hitStrokeWidth={12}
            fill="#fff"
            stroke="#000"
            draggable
            onPointerDown={(e) => e.evt.stopPropagation()}
            onDragMove={(e) => put(moved(i, toFrame(e.target.x(), e.target.y())), false, "corner moved")}
            onDragEnd={(e) => put(moved(i, toFrame(e.target.x(), e.target.y())), true, "corner moved")}
            onDblClick={() => points.length > 3 && everywhere((list) => list.filter((_, k) => k !== i), "corner removed")}
          />
        ))}
    </Group>
  );
}

/** What an outline is, by its line: a holdout dotted, a pass's region dashed and dotted, garbage whole where it is chosen. */
function dashOf(kind: Outline["kind"], chosen: boolean): { dash?: number[] } {
  if (kind === "region") return { dash: [10, 3, 2, 3] };
  if (kind === "holdout") return { dash: [2, 3] };
  return chosen ? {} : { dash: [6, 4] };
}

/** The whole outline between handles: dragged, scaled, turned. Drawn from where it lay when the hand took it. */
function WholeShape({
  points,
  flat,
  toFrame,
  drawn,
  put,
}: Pick<EditProps, "flat" | "toFrame"> & {
  points: readonly Point[];
  drawn: (list: readonly Point[]) => readonly Point[];
  put: (next: readonly Point[], settled: boolean, what: string) => void;
}) {
  const line = useRef<Konva.Line>(null);
  const handles = useRef<Konva.Transformer>(null);
  const [held, setHeld] = useState<readonly Point[] | null>(null);
  const base = held ?? points;
  useEffect(() => {
    handles.current?.nodes(line.current ? [line.current] : []);
  }, []);
  const change = (settled: boolean, what: string) => {
    const node = line.current as Konva.Line;
    const matrix = node.getTransform();
    const next = base.map((p) => {
      const [x, y] = flat([p]) as [number, number];
      const at = matrix.point({ x, y });
      return toFrame(at.x, at.y);
    });
    if (settled) {
      node.setAttrs({ x: 0, y: 0, scaleX: 1, scaleY: 1, rotation: 0, skewX: 0, skewY: 0 });
      setHeld(null);
    }
    put(next, settled, what);
  };
  return (
    <>
      <Line
        ref={line}
        points={flat(drawn(base))}
        closed
        fill="#ffffff14"
        draggable
        onPointerDown={(e) => e.evt.stopPropagation()}
        onDragStart={() => setHeld(points)}
        onDragMove={() => change(false, "")}
        onDragEnd={() => change(true, "moved")}
        onTransformStart={() => setHeld(points)}
        onTransform={() => change(false, "")}
        onTransformEnd={() => change(true, "scaled or turned")}
      />
      <Transformer
        ref={handles}
        onPointerDown={(e) => e.evt.stopPropagation()}
        borderStroke="#fff"
        anchorStroke="#000"
        anchorFill="#fff"
        anchorSize={9}
        rotateAnchorOffset={22}
        ignoreStroke
        flipEnabled={false}
      />
    </>
  );
}
