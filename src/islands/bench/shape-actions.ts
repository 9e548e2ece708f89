import * as Comlink from "comlink";
import { z } from "zod";
import { linesOf } from "../../core/image/plane";
import type { Point } from "../../core/matte/polygon";
import { outlineOfPath, shapesToSvg } from "../../core/matte/svg";
import type { Tightest } from "../../core/matte/tightest";
import { MOST_SHAPES, type Shape, shapeSchema } from "../../core/recipe/drawn-schema";
import { holdoutAlong, newShape } from "../../core/recipe/new-shape";
import { explainIssues, type Recipe } from "../../core/recipe/schema";
import { measureWorker } from "./engine";
import { cleanFootage, complain, move, plateFootage, settle, useBench } from "./store";

const state = useBench.getState;
const TOO_MANY = `A shot holds at most ${MOST_SHAPES} shapes; remove some first.`;

/** Adds a shape as it was drawn. */
export const addShape = (points: readonly Point[], kind: Shape["kind"]): void =>
  takeShapes([newShape(points, kind, state().recipe.bounds.garbage)], `drawn, ${points.length} corners`);

/** Adds holdouts along the outlines of places that stay open; one undoable change. */
export function holdPlaces(outlines: readonly (readonly Point[])[]): void {
  const { garbage } = state().recipe.bounds;
  const added: Shape[] = [];
  for (const outline of outlines) added.push(holdoutAlong(outline, [...garbage, ...added]));
  takeShapes(added, added.length === 1 ? "closes a place that stayed open" : "close places that stayed open");
}

function takeShapes(shapes: readonly Shape[], how: string): void {
  if (state().recipe.bounds.garbage.length + shapes.length > MOST_SHAPES) {
    complain(new Error(TOO_MANY));
    return;
  }
  settle("Bounds", `${shapes.map((s) => s.name).join(", ")} ${how}`, (r) => ({
    ...r,
    bounds: { ...r.bounds, garbage: [...r.bounds.garbage, ...shapes] },
  }));
  useBench.setState({ selectedShape: shapes[0]?.id ?? null });
}

export function changeShape(id: string, change: Partial<Shape>, settled: boolean, what: string): void {
  const apply = (r: Recipe): Recipe => ({
    ...r,
    bounds: { ...r.bounds, garbage: r.bounds.garbage.map((s) => (s.id === id ? { ...s, ...change } : s)) },
  });
  if (settled) settle("Bounds", what, apply);
  else move(apply);
}

/** Distance that "tightest safe" keeps to the subject, px at 1080 lines, besides half the shape's own soft edge. */
const SAFE = 8;

/** A search for the tightest safe outline: how far it is, or what it found. */
export type TightestSearch =
  | { readonly shape: string; readonly frame: number }
  | { readonly shape: string; readonly recipe: Recipe; readonly margin: number; readonly found: Tightest };

/** Finds over the whole shot how close a garbage shape may come. A second call while it looks stops it. */
export async function findTightest(shape: Shape): Promise<void> {
  if (state().tightest && !("found" in (state().tightest as TightestSearch))) {
    useBench.setState({ tightest: null });
    return;
  }
  const { recipe, shot } = state();
  const margin = (SAFE * linesOf(shot.plate.info)) / 1080 + 0.5 * shape.soft;
  useBench.setState({ tightest: { shape: shape.id, frame: 0 } });
  const going = () => state().recipe === recipe && state().tightest?.shape === shape.id;
  const { points, smooth, out } = shape;
  try {
    const onFrame = Comlink.proxy(async (frame: number) => {
      if (!going()) return false;
      useBench.setState({ tightest: { shape: shape.id, frame } });
      return true;
    });
    const found = await measureWorker().tightest(recipe, plateFootage(), cleanFootage(recipe), { points, smooth, out }, margin, onFrame);
    useBench.setState({ tightest: found && going() ? { shape: shape.id, recipe, margin, found } : null });
  } catch (error) {
    useBench.setState({ tightest: null });
    complain(error);
  }
}

/** Draws the shape as close as was found safe. */
export function takeTightest(shape: Shape, found: Tightest): void {
  const most = Math.max(...found.moved);
  changeShape(
    shape.id,
    { points: [...found.points] },
    true,
    `${shape.name}: brought up to ${most.toFixed(0)} px closer, as far as is safe`,
  );
  useBench.setState({ tightest: null });
}

/** All shapes as an SVG file, one group a key. */
export function saveShapes(): void {
  const { recipe, shot } = state();
  const { width, height } = shot.plate.info;
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([shapesToSvg(recipe.bounds.garbage, width, height)], { type: "image/svg+xml" }));
  link.download = `${shot.name} shapes.svg`;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Adds the shapes of an SVG file: groups as they are written here, or every path of another one as garbage. */
export function bringInShapes(text: string): void {
  try {
    const file = new DOMParser().parseFromString(text, "image/svg+xml");
    if (file.querySelector("parsererror") || file.documentElement.nodeName !== "svg")
      throw new RangeError("This is not an SVG file that can be read. Save the shapes as SVG and try again.");
    const groups = [...file.querySelectorAll("g[data-kind]")];
    const { garbage } = state().recipe.bounds;
    const read = groups.length
      ? groups.map(shapeOfGroup)
      : [...file.querySelectorAll("path")].map((p) => shapeOfPaths([[null, p.getAttribute("d") ?? ""]], {}));
    if (read.length === 0) throw new RangeError("The SVG file holds no path.");
    if (garbage.length + read.length > MOST_SHAPES) throw new RangeError(TOO_MANY);
    const added = read.map((shape, k): Shape => {
      let n = garbage.length + k + 1;
      while (garbage.some((s) => s.id === `${shape.kind}-${n}`)) n++;
      return shapeSchema.parse({
        ...shape,
        id: `${shape.kind}-${n}`,
        name: shape.name || `${shape.kind === "garbage" ? "Garbage" : "Holdout"} ${n}`,
      });
    });
    settle("Bounds", `${added.length} ${added.length === 1 ? "shape" : "shapes"} brought in from SVG`, (r) => ({
      ...r,
      bounds: { ...r.bounds, garbage: [...r.bounds.garbage, ...added] },
    }));
  } catch (error) {
    complain(error instanceof z.ZodError ? new Error(`The SVG file's shapes cannot be used: ${explainIssues(error)}.`) : error);
  }
}

function shapeOfGroup(group: Element): Omit<Shape, "id"> {
  const keyed = [...group.querySelectorAll("g[data-frame] path")].map(
    (p) => [Number(p.parentElement?.getAttribute("data-frame")), p.getAttribute("d") ?? ""] as [number, string],
  );
  const alone = group.querySelector("path")?.getAttribute("d") ?? "";
  return shapeOfPaths(
    keyed.length ? keyed : [[null, alone]],
    (group as HTMLElement).dataset,
    group.querySelector("title")?.textContent ?? "",
  );
}

function shapeOfPaths(paths: [number | null, string][], data: DOMStringMap, name = ""): Omit<Shape, "id"> {
  const outlines = paths.map(([frame, d]) => ({ frame, ...outlineOfPath(d) })).sort((a, b) => (a.frame ?? 0) - (b.frame ?? 0));
  const first = outlines[0] as (typeof outlines)[0];
  const number = (text: string | undefined, otherwise: number) =>
    text !== undefined && Number.isFinite(Number(text)) ? Number(text) : otherwise;
  return {
    name: name.trim().slice(0, 80),
    kind: data.kind === "holdout" ? "holdout" : "garbage",
    out: data.out === "inside" ? "inside" : "outside",
    smooth: data.smooth === undefined ? first.smooth : data.smooth === "true",
    soft: number(data.soft, 6),
    lean: number(data.lean, 0),
    points: first.points,
    keys: first.frame === null ? [] : outlines.map((o) => ({ frame: o.frame as number, points: o.points })),
  };
}

export function removeShape(id: string): void {
  const shape = state().recipe.bounds.garbage.find((s) => s.id === id);
  if (!shape) return;
  settle("Bounds", `${shape.name} removed`, (r) => ({
    ...r,
    bounds: { ...r.bounds, garbage: r.bounds.garbage.filter((s) => s.id !== id) },
  }));
  useBench.setState({ selectedShape: null });
}
