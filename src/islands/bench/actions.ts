import { toast } from "sonner";
import { z } from "zod";
import type { Media } from "../../core/documents/media-info";
import type { Region } from "../../core/image/plane";
import { outlineAt, withKey } from "../../core/matte/keys";
import type { Point } from "../../core/matte/polygon";
import { outlineOfPath, shapesToSvg } from "../../core/matte/svg";
import type { Finding, FindingKind } from "../../core/measure/findings";
import type { Proposal } from "../../core/recipe/auto";
import { withPart } from "../../core/recipe/path";
import { explainIssues, type Pass, type Recipe, type Shape, shapeSchema } from "../../core/recipe/schema";
import { PRIMARY_NAME, screenPrimary } from "../../core/screen/primary";
import { GROUNDS } from "../../workers/grounds";
import { call } from "../api";
import { measureWorker } from "./engine";
import {
  cleanFootage,
  complain,
  currentPass,
  keep,
  look,
  move,
  plateFootage,
  redo,
  refreshMedia,
  STEPS,
  type Step,
  settle,
  undo,
  useBench,
} from "./store";

const state = useBench.getState;

export const clearTool = (): void => useBench.setState({ tool: "look" });

/** The recipe with the pass changed whose controls are shown. */
export function withPass(recipe: Recipe, change: (pass: Pass) => Pass): Recipe {
  const { id } = currentPass(state(), recipe);
  return { ...recipe, passes: recipe.passes.map((p) => (p.id === id ? change(p) : p)) };
}

// --- Screen -------------------------------------------------------------------------------------------------------

/** Samples the screen in a box of the shown frame. `more` adds to the boxes that are there. */
export async function addSample(box: Region, more = false): Promise<void> {
  const { recipe, view } = state();
  const rounded = {
    frame: view.frame,
    x: Math.round(box.x),
    y: Math.round(box.y),
    width: Math.max(1, Math.round(box.width)),
    height: Math.max(1, Math.round(box.height)),
  };
  const { boxes, strokes } = recipe.screen;
  await sampleFrom(more ? { boxes: [...boxes, rounded], strokes } : { boxes: [rounded], strokes: [] });
}

/** Width of a sampling stroke on the screen, px of the window. */
export const STROKE_WIDTH = 16;

/** Samples the screen along a stroke on the shown frame, besides what was sampled before. */
export async function addStroke(points: readonly Point[], radius: number): Promise<void> {
  const { recipe, view } = state();
  const { boxes, strokes } = recipe.screen;
  const stroke = { frame: view.frame, points: thinned(points, radius / 2), radius: Math.max(1, radius) };
  await sampleFrom({ boxes, strokes: [...strokes, stroke].slice(-16) });
}

/** Every point that lies at least this far from the one kept before it, and the last; at most 500. */
function thinned(points: readonly Point[], apart: number): Point[] {
  const kept: Point[] = [];
  for (const p of points) {
    const last = kept[kept.length - 1];
    if (!last || Math.hypot(p.x - last.x, p.y - last.y) >= apart) kept.push({ x: p.x, y: p.y });
  }
  const every = Math.ceil(kept.length / 499);
  const end = points[points.length - 1] as Point;
  return [...kept.filter((_, i) => i % every === 0), { x: end.x, y: end.y }];
}

async function sampleFrom(places: Pick<Recipe["screen"], "boxes" | "strokes">): Promise<void> {
  const { recipe, view } = state();
  try {
    const sample = await measureWorker().sample(recipe, plateFootage(), places);
    const primary = PRIMARY_NAME[screenPrimary(sample.colour)];
    settle("Screen", `Screen sampled: ${primary}, ${sample.pixels} px, ${sample.rejected} set aside`, (r) => ({
      ...r,
      screen: { ...r.screen, ...places, colour: sample.colour },
    }));
    if (view.view === "plate" && !recipe.screen.colour) look({ view: "matte" });
  } catch (error) {
    complain(error);
  }
}

/** Samples a range of colour in a box of the shown frame: added to the screen, or taken from it. */
export async function addRange(box: Region, take: boolean): Promise<void> {
  const { recipe, view } = state();
  try {
    const range = await measureWorker().range(recipe, plateFootage(), view.frame, box, take);
    settle("Pull", `Colour range ${take ? "taken away" : "added"}: hue ${range.hue.toFixed(0)}° ± ${range.hueReach.toFixed(0)}°`, (r) =>
      withPass(r, (p) => ({ ...p, pull: { ...p.pull, ranges: [...p.pull.ranges, range].slice(-24) } })),
    );
  } catch (error) {
    complain(error);
  }
}

/** Proposes everything from measurement; one undoable change. */
export async function proposeAll(): Promise<Pick<Proposal, "reasons" | "notSolved">> {
  const { recipe, view } = state();
  try {
    const {
      recipe: proposed,
      reasons,
      notSolved,
    } = await measureWorker().propose(recipe, plateFootage(), cleanFootage(recipe), view.frame);
    settle("Plate", "Whole key proposed from measurement", () => proposed);
    return { reasons, notSolved };
  } catch (error) {
    complain(error);
    return { reasons: [], notSolved: [] };
  }
}

/** Makes a clean plate from the whole shot, and pulls against it. */
export async function cleanPlateOverTime(): Promise<void> {
  const { shot } = state();
  const { media, seen } = await call<{ media: Media; seen: number }>(`/api/shots/${shot.id}/clean-plate`, "POST");
  await refreshMedia();
  settle("Screen", `Clean plate made from the whole shot: the screen was seen in ${(100 * seen).toFixed(1)} % of the frame`, (r) => ({
    ...r,
    screen: { ...r.screen, from: "supplied", cleanPlate: media.id },
  }));
}

// --- Bounds -------------------------------------------------------------------------------------------------------

export function addShape(points: readonly Point[], kind: Shape["kind"]): void {
  const { garbage } = state().recipe.bounds;
  let n = garbage.filter((s) => s.kind === kind).length + 1;
  while (garbage.some((s) => s.id === `${kind}-${n}`)) n++;
  const shape: Shape = {
    id: `${kind}-${n}`,
    name: `${kind === "garbage" ? "Garbage" : "Holdout"} ${n}`,
    points: [...points],
    keys: [],
    kind,
    smooth: kind === "holdout",
    out: kind === "garbage" ? "outside" : "inside",
    soft: 6,
    lean: 0,
  };
  settle("Bounds", `${shape.name} drawn, ${points.length} corners`, (r) => ({
    ...r,
    bounds: { ...r.bounds, garbage: [...r.bounds.garbage, shape] },
  }));
  useBench.setState({ selectedShape: shape.id });
}

/** The current pass counts inside this outline. */
export function drawRegion(points: readonly Point[]): void {
  settle("Pull", `Counts in a drawn shape, ${points.length} corners`, (r) =>
    withPass(r, (p) => ({
      ...p,
      region: { kind: "drawn", points: [...points], smooth: true, soft: p.region.kind === "drawn" ? p.region.soft : 12 },
    })),
  );
}

export function changeShape(id: string, change: Partial<Shape>, settled: boolean, what: string): void {
  const apply = (r: Recipe): Recipe => ({
    ...r,
    bounds: { ...r.bounds, garbage: r.bounds.garbage.map((s) => (s.id === id ? { ...s, ...change } : s)) },
  });
  if (settled) settle("Bounds", what, apply);
  else move(apply);
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
    if (garbage.length + read.length > 64) throw new RangeError("A shot holds at most 64 shapes; remove some first.");
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

/** Keys the shape's outline on the shown frame: from then on it moves. */
export function keyShape(shape: Shape): void {
  const { frame } = state().view;
  const points = [...outlineAt(shape, frame)];
  changeShape(shape.id, { keys: keysWith(shape, frame, points) }, true, `${shape.name}: keyed on frame ${frame}`);
}

/** Takes the key of the shown frame out; the last one leaves its outline behind. */
export function unkeyShape(shape: Shape): void {
  const { frame } = state().view;
  const keys = shape.keys.filter((k) => k.frame !== frame);
  const points = keys.length ? shape.points : [...outlineAt(shape, frame)];
  changeShape(shape.id, { keys, points }, true, `${shape.name}: key of frame ${frame} removed`);
}

/** What changing the outline on the shown frame means: a key there for a keyed shape, the outline itself otherwise. */
export function outlineChange(shape: Shape, points: readonly Point[]): Partial<Shape> {
  return shape.keys.length ? { keys: keysWith(shape, state().view.frame, points) } : { points: [...points] };
}

const keysWith = (shape: Shape, frame: number, points: readonly Point[]): Shape["keys"] =>
  withKey(shape.keys, { frame, points }).map((k) => ({ frame: k.frame, points: [...k.points] }));

export function removeShape(id: string): void {
  const shape = state().recipe.bounds.garbage.find((s) => s.id === id);
  if (!shape) return;
  settle("Bounds", `${shape.name} removed`, (r) => ({
    ...r,
    bounds: { ...r.bounds, garbage: r.bounds.garbage.filter((s) => s.id !== id) },
  }));
  useBench.setState({ selectedShape: null });
}

// --- Findings -----------------------------------------------------------------------------------------------------

/** Applies a finding's remedy to the current pass, as one undoable change. */
export function tryRemedy(finding: Finding): void {
  const { changes } = finding;
  if (!changes) return;
  settle(finding.step, `Tried: ${finding.remedy}`, (r) =>
    withPass(r, (p) => changes.reduce((pass, c) => withPart(pass, c.path, c.value), p)),
  );
}

export const dismissFinding = (kind: FindingKind, note: string): void =>
  settle("Proof", `Finding dismissed: ${kind}${note ? `, ${note}` : ""}`, (r) => ({
    ...r,
    dismissed: [...r.dismissed.filter((d) => d.kind !== kind), { kind, note }],
  }));

export const takeBackFinding = (kind: FindingKind): void =>
  settle("Proof", `Finding taken back: ${kind}`, (r) => ({ ...r, dismissed: r.dismissed.filter((d) => d.kind !== kind) }));

/** Flies to the next finding of the shown frame, the worst first. */
let lastFinding = -1;
export function nextFinding(): void {
  const { findings, recipe } = state();
  const open = findings?.list.filter((f) => !recipe.dismissed.some((d) => d.kind === f.kind)) ?? [];
  if (open.length === 0) return;
  lastFinding = (lastFinding + 1) % open.length;
  look({ step: "Proof" });
  flyTo((open[lastFinding] as Finding).place);
}

/** Goes to the next worst frame of the last proof. */
let lastWorst = -1;
export function nextWorstFrame(): void {
  const frames = [...(state().proof?.frames ?? [])].sort((a, b) => b.holes + b.residue - (a.holes + a.residue));
  if (frames.length === 0) return;
  lastWorst = (lastWorst + 1) % Math.min(10, frames.length);
  goToFrame((frames[lastWorst] as { frame: number }).frame);
}

// --- Spill --------------------------------------------------------------------------------------------------------

/** Sets amount and reach of the pass to what the picture asks for. */
export async function measureSpill(): Promise<void> {
  const { recipe, view } = state();
  try {
    const found = await measureWorker().spillReach(recipe, plateFootage(), cleanFootage(recipe), view.frame, currentPass(state()).id);
    if (!found) {
      complain(new Error("The subject has no rim and no inside that could be compared: pull the key first."));
      return;
    }
    const { amount, reachWarm, reachCool } = found;
    settle(
      "Spill",
      `Spill measured: amount ${Math.round(100 * amount)} %, reach ${Math.round(reachWarm)}° warm, ${Math.round(reachCool)}° cool`,
      (r) => withPass(r, (p) => ({ ...p, spill: { ...p.spill, amount, reachWarm, reachCool } })),
    );
  } catch (error) {
    complain(error);
  }
}

/** Takes up the averaged colour around a place of the shown frame. */
export async function pickBrush(x: number, y: number): Promise<void> {
  const { recipe, view } = state();
  try {
    const colour = await measureWorker().colourAt(recipe, plateFootage(), cleanFootage(recipe), view.frame, x, y);
    if (colour) useBench.setState({ brush: { ...state().brush, colour }, tool: "paint" });
  } catch (error) {
    complain(error);
  }
}

/** Lays one stroke on the paint layer, or rubs out along it. */
export function paint(points: readonly Point[], erase: boolean): void {
  const { brush, view, recipe, shot } = state();
  if (!erase && !brush.colour) return;
  let n = recipe.paint.length + 1;
  while (recipe.paint.some((p) => p.id === `stroke-${n}`)) n++;
  const stroke = {
    id: `stroke-${n}`,
    first: brush.every ? 1 : view.frame,
    last: brush.every ? shot.plate.info.frames : view.frame,
    points: thinned(points, brush.radius / 4),
    radius: brush.radius,
    soft: brush.soft,
    strength: erase ? 1 : brush.strength,
    colour: erase ? null : brush.colour,
  };
  settle("Spill", erase ? "Paint rubbed out" : "Colour painted", (r) => ({ ...r, paint: [...r.paint, stroke].slice(-500) }));
}

export const clearPaint = (): void => settle("Spill", "Paint layer cleared", (r) => ({ ...r, paint: [] }));

// --- Looking ------------------------------------------------------------------------------------------------------

/** What each step is best judged on when it is entered. */
const STEP_VIEW: Partial<Record<Step, ReturnType<typeof state>["view"]["view"]>> = {
  Plate: "plate",
  Screen: "plate",
  Bounds: "bounds",
  Pull: "pull",
  Matte: "matte",
  Spill: "spillRemoved",
  Edge: "composite",
  Scene: "composite",
};

export function goToStep(step: Step): void {
  clearTool();
  useBench.setState({ bracket: null });
  look({ step, view: STEP_VIEW[step] ?? state().view.view });
}

/** Brings a place of the frame into view, with some room around it; the whole frame without a place. */
export function flyTo(place: Region | null): void {
  if (!place) {
    look({ zoom: 0 });
    return;
  }
  const { width, height } = state().shot.plate.info;
  const room = 2.5 * Math.max(place.width, (place.height * width) / height, width / 16);
  // The viewer is about 760 px wide at the smallest window that is supported.
  const zoom = Math.min(8, Math.max(0.25, 760 / room));
  look({ zoom, centerX: place.x + place.width / 2, centerY: place.y + place.height / 2 });
}

export function goToFrame(frame: number): void {
  const { frames } = state().shot.plate.info;
  look({ frame: Math.min(frames, Math.max(1, Math.round(frame))) });
}

/** @param zoom screen pixels for a frame pixel, about the middle of what is shown; 0 fits */
export function zoomTo(zoom: number): void {
  const { view, shot } = state();
  if (zoom === 0) look({ zoom: 0 });
  else if (view.zoom > 0) look({ zoom });
  else look({ zoom, centerX: shot.plate.info.width / 2, centerY: shot.plate.info.height / 2 });
}

const ZOOMS = [0.125, 0.25, 0.5, 1, 2, 4, 8, 16];
function zoomStep(direction: 1 | -1): void {
  const { zoom } = state().view;
  const now = zoom > 0 ? zoom : 0.5;
  const next = direction > 0 ? ZOOMS.find((z) => z > now * 1.01) : ZOOMS.findLast((z) => z < now * 0.99);
  if (next) zoomTo(next);
}

export function toggleWipe(versionId?: number): void {
  const { wipe, versions } = state();
  const chosen = versionId ?? versions[0]?.id;
  if (wipe && (versionId === undefined || wipe.versionId === versionId)) useBench.setState({ wipe: null, wipeDrawn: null });
  else if (chosen === undefined) toast("Keep a version first; then wipe against it.");
  else useBench.setState({ wipe: { versionId: chosen, at: 0.5 } });
}

// --- The list of actions: palette and keys -------------------------------------------------------------------------

export interface Action {
  readonly name: string;
  readonly group: string;
  /** As KeyboardEvent.key, with Ctrl+ and Shift+ before it. */
  readonly keys?: string;
  readonly run: () => void;
}

export function allActions(open: { deliver: () => void; log: () => void; palette: () => void }): Action[] {
  const view = (name: string, keys: string, v: ReturnType<typeof state>["view"]["view"]): Action => ({
    name: `Show ${name}`,
    group: "View",
    keys,
    run: () => look({ view: v }),
  });
  return [
    { name: "All actions", group: "General", keys: "Ctrl+k", run: open.palette },
    { name: "Undo", group: "General", keys: "Ctrl+z", run: undo },
    { name: "Redo", group: "General", keys: "Ctrl+Shift+z", run: redo },
    { name: "Next finding", group: "View", keys: "n", run: nextFinding },
    { name: "Next worst frame", group: "Frames", keys: "b", run: nextWorstFrame },
    { name: "Keep a version", group: "General", keys: "k", run: () => void keep(`Frame ${state().view.frame}`).catch(complain) },
    { name: "Wipe against the last version", group: "View", keys: "w", run: () => toggleWipe() },
    { name: "Log and versions", group: "General", keys: "l", run: open.log },
    { name: "Deliver…", group: "General", keys: "Ctrl+Enter", run: open.deliver },
    ...STEPS.map((step, i): Action => ({ name: `Go to ${step}`, group: "Steps", keys: String((i + 1) % 10), run: () => goToStep(step) })),
    { name: "Propose the whole key", group: "Steps", run: () => void proposeAll() },
    {
      name: "Sample the screen",
      group: "Tools",
      keys: "s",
      run: () => {
        goToStep("Screen");
        useBench.setState({ tool: "sample" });
      },
    },
    {
      name: "Draw a garbage matte",
      group: "Tools",
      keys: "d",
      run: () => {
        goToStep("Bounds");
        useBench.setState({ tool: "draw" });
      },
    },
    { name: "Put the tool down", group: "Tools", keys: "Escape", run: clearTool },
    {
      name: "Remove the chosen shape",
      group: "Tools",
      keys: "Delete",
      run: () => {
        const id = state().selectedShape;
        if (id) removeShape(id);
      },
    },
    view("composite", "c", "composite"),
    view("matte", "m", "matte"),
    view("matte stretched", "x", "stretched"),
    view("pull before levels", "u", "pull"),
    view("plate", "p", "plate"),
    view("spill removed", "r", "spillRemoved"),
    {
      name: "Next ground",
      group: "View",
      keys: "g",
      run: () => look({ ground: GROUNDS[(GROUNDS.indexOf(state().view.ground) + 1) % GROUNDS.length] as (typeof GROUNDS)[number] }),
    },
    { name: "Fit the frame", group: "View", keys: "f", run: () => zoomTo(0) },
    { name: "One to one", group: "View", keys: "o", run: () => zoomTo(1 / (devicePixelRatio || 1)) },
    { name: "Zoom in", group: "View", keys: "+", run: () => zoomStep(1) },
    { name: "Zoom out", group: "View", keys: "-", run: () => zoomStep(-1) },
    { name: "Next frame", group: "Frames", keys: "ArrowRight", run: () => goToFrame(state().view.frame + 1) },
    { name: "Previous frame", group: "Frames", keys: "ArrowLeft", run: () => goToFrame(state().view.frame - 1) },
    { name: "First frame", group: "Frames", keys: "Home", run: () => goToFrame(1) },
    { name: "Last frame", group: "Frames", keys: "End", run: () => goToFrame(state().shot.plate.info.frames) },
  ];
}

/** Runs the action of a key press, unless something is being typed or a list has the keys. */
export function handleKey(e: KeyboardEvent, actions: readonly Action[]): void {
  const target = e.target as HTMLElement | null;
  const ctrl = e.ctrlKey || e.metaKey;
  if (target?.closest("input, select, textarea, [role=slider], [role=dialog], [role=menu]") && !(ctrl && /^[zk]$/i.test(e.key))) return;
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const pressed = `${ctrl ? "Ctrl+" : ""}${e.shiftKey && ctrl ? "Shift+" : ""}${key}`;
  const action = actions.find((a) => a.keys === pressed);
  if (!action || e.altKey) return;
  e.preventDefault();
  action.run();
}
