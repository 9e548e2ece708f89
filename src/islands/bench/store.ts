import { toast } from "sonner";
import { temporal } from "zundo";
import { create } from "zustand";
import type { Rgb } from "../../core/color/hue";
import type { Media } from "../../core/documents/media-info";
import type { Proposed } from "../../core/documents/proposed";
import type { Completed, LastProposed, LogEntry, LoggedFigures, Shot, ShotView, Version } from "../../core/documents/shot";
import { linesOf, type Region } from "../../core/image/plane";
import type { Found, Measured, ShotFrame } from "../../core/recipe/judge";
import type { Pass, Recipe } from "../../core/recipe/schema";
import type { Footage } from "../../workers/footage";
import type { Ground } from "../../workers/grounds";
import type { Drawn, Probe } from "../../workers/key-worker";
import type { View } from "../../workers/views";
import { call, ServerError } from "../api";
import type { Bracketed } from "./bracketed";
import type { Following } from "./follow-actions";
import type { TightestSearch } from "./shape-actions";

export const STEPS = ["Plate", "Screen", "Bounds", "Pull", "Matte", "Spill", "Edge", "Scene", "Proof", "Deliver"] as const;
export type Step = (typeof STEPS)[number];

/** What a click or drag on the picture does. */
export type Tool =
  | "look"
  | "sample"
  | "sample-more"
  | "sample-stroke"
  | "paint"
  | "paint-erase"
  | "paint-pick"
  | "probe"
  | "range-add"
  | "range-take"
  | "draw"
  | "draw-holdout"
  | "draw-region";
/** Tools that draw a shape on the picture; the others but "look" drag a box on it. */
export const drawsShape = (tool: Tool): boolean => tool.startsWith("draw");
/** Tools that draw a freehand line on the picture. */
export const drawsLine = (tool: Tool): boolean => tool === "sample-stroke" || tool === "paint" || tool === "paint-erase";

export const COMPARES = ["wipe", "difference", "blink"] as const;
/** A version that the picture is compared with, and how. */
export interface Compare {
  readonly versionId: number;
  readonly how: (typeof COMPARES)[number];
  /** Where the wipe's line stands, 0…1 of the frame's width. */
  readonly at: number;
  /** While blinking: whether the version is the one that shows. */
  readonly shows: boolean;
}

/** The paint brush; the radius in px of the plate, the colour linear. */
export interface Brush {
  readonly radius: number;
  readonly soft: number;
  readonly strength: number;
  readonly colour: Rgb | null;
  /** Strokes show on every frame, or on the shown one only. */
  readonly every: boolean;
}

export interface BenchView extends Omit<ShotView, "step" | "view" | "ground"> {
  readonly step: Step;
  readonly view: View;
  readonly ground: Ground;
}

export interface Bench {
  shot: Shot;
  /** The settled recipe: what is saved and undone. */
  recipe: Recipe;
  /** The recipe while a hand moves. */
  live: Recipe | null;
  view: BenchView;
  media: Media[];
  versions: readonly Version[];
  log: readonly LogEntry[];
  /** The last proposal that was taken: why it is as it is, and what it leaves. */
  proposed: LastProposed | null;
  /** Figures of the shown frame; `exact` when measured at full size for the settled recipe. */
  figures: Measured | null;
  exact: boolean;
  drawn: Drawn | null;
  /** The version that the picture is compared with, drawn for the same place. */
  compareDrawn: Drawn | null;
  compare: Compare | null;
  /** Id of the pass that is shown alone. */
  solo: string | null;
  /** The four views that are shown at once, and their pictures. */
  four: readonly View[] | null;
  fourDrawn: readonly Drawn[];
  loupe: boolean;
  /** Looping playback: the rate at which frames really change, and how many of them are drawn. */
  playing: { rate: number | null; drawn: number; total: number } | null;
  thumbs: Partial<Record<Step, Drawn>>;
  /** Figures over frames, measured by the server, and the recipe they belong to. */
  proof: { recipe: Recipe; frames: readonly ShotFrame[]; total: number; running: boolean } | null;
  /** What is wrong with a frame, and the recipe it was measured for. */
  findings: ({ recipe: Recipe; frame: number } & Found) | null;
  /** The control whose bracket is open. */
  bracket: Bracketed | null;
  /** Where brackets look, px of the plate; where the picture changes most without it. */
  bracketCrop: Region | null;
  tool: Tool;
  selectedShape: string | null;
  /** The chosen shape is moved, turned and scaled as a whole. */
  transforming: boolean;
  /** How close a garbage shape may come: being looked for, or found. */
  tightest: TightestSearch | null;
  /** What lies under a shape, or under paint: being followed, or where it was followed to. */
  following: Following | null;
  /** Id of the pass whose controls are shown; the first without one. */
  selectedPass: string | null;
  brush: Brush;
  probe: Probe | null;
  probeSize: number;
  /** The picture is older than what is set, or was drawn quickly at reduced size: another one is on its way. */
  drawing: boolean;
  problem: string | null;
  saving: "saved" | "saving" | "failed";
}

export const useBench = create<Bench>()(
  temporal((): Bench => ({}) as Bench, {
    partialize: (s) => ({ recipe: s.recipe, proposed: s.proposed }),
    equality: (a, b) => a.recipe === b.recipe,
    limit: 500,
  }),
);

const set = useBench.setState;
const get = useBench.getState;

/** Fills the store for one shot. Called once, before anything is shown. */
export function loadShot(shot: Shot, media: Media[]): void {
  set({
    shot,
    recipe: shot.recipe,
    live: null,
    view: { ...shot.view, frame: Math.min(shot.view.frame, shot.plate.info.frames) } as BenchView,
    media,
    versions: shot.versions,
    log: shot.log,
    proposed: shot.proposed,
    figures: null,
    exact: false,
    drawn: null,
    compareDrawn: null,
    compare: null,
    solo: null,
    four: null,
    fourDrawn: [],
    loupe: false,
    playing: null,
    thumbs: {},
    proof: null,
    findings: null,
    bracket: null,
    bracketCrop: null,
    tool: "look",
    selectedShape: null,
    transforming: false,
    tightest: null,
    following: null,
    selectedPass: null,
    brush: { radius: Math.max(4, Math.round(linesOf(shot.plate.info) / 60)), soft: 1, strength: 0.6, colour: null, every: false },
    probe: null,
    probeSize: 5,
    drawing: true,
    problem: null,
    saving: "saved",
  });
  useBench.temporal.getState().clear();
  revision = shot.revision;
}

export const plateFootage = (): Footage => {
  const { id, info } = get().shot.plate;
  return { id, frames: info.frames, reading: info.reading };
};

function backgroundFootage(recipe: Recipe): Footage | null {
  const found = get().media.find((m) => m.id === recipe.scene.background);
  return found ? { id: found.id, frames: found.info.frames, reading: found.info.reading } : null;
}

/** The clean plate that a recipe was given, as the workers need to know it. */
export function cleanFootage(recipe: Recipe): Footage | null {
  if (recipe.screen.from !== "supplied") return null;
  const found = get().media.find((m) => m.id === recipe.screen.cleanPlate);
  return found ? { id: found.id, frames: found.info.frames, reading: found.info.reading } : null;
}

/** A recipe with the media that it looks at, as the workers need to know them. */
export const withFootage = (recipe: Recipe) => ({
  recipe,
  plate: plateFootage(),
  clean: cleanFootage(recipe),
  background: backgroundFootage(recipe),
});

/** The recipe to draw: the one in the hand, or the settled one. */
export const shownRecipe = (s: Bench): Recipe => s.live ?? s.recipe;
/** The recipe as the viewer draws it: with one pass alone where one is looked at by itself. */
export function viewedRecipe(s: Bench): Recipe {
  const recipe = shownRecipe(s);
  const pass = recipe.passes.find((p) => p.id === s.solo);
  return pass ? { ...recipe, passes: [{ ...pass, on: true, combine: "join", region: { kind: "everything" } }] } : recipe;
}
/** The pass whose controls are shown; of the settled recipe, or of the given one. */
export const currentPass = (s: Bench, recipe: Recipe = s.recipe): Pass =>
  recipe.passes.find((p) => p.id === s.selectedPass) ?? (recipe.passes[0] as Pass);

/** Figures as the log and versions keep them. */
export const logged = (f: Measured): LoggedFigures => ({
  holes: f.holes,
  residue: f.residue,
  edgeLoss: f.edgeLoss,
  clearance: f.clearance,
  spill: f.spill,
});

// --- Saving -------------------------------------------------------------------------------------------------------

/** The revision that the server has, once everything that waits is saved. */
export const savedRevision = (): Promise<number> => queue.then(() => revision);

let revision = 0;
let queue: Promise<void> = Promise.resolve();
/** An entry of the log on the shown frame: its number once it is saved, null when it could not be. */
interface Entry {
  readonly frame: number;
  readonly id: Promise<number | null>;
}
/** Entries that wait for the figures after them, by the recipe they belong to: undo and redo come back to one. */
const waiting = new Map<Recipe, Entry[]>();

/** Saves in order, again and again until the server answers. */
function enqueue<T>(work: () => Promise<T>): Promise<T | null> {
  const run = async (): Promise<T | null> => {
    for (let wait = 500; ; wait = Math.min(8000, wait * 2)) {
      try {
        set({ saving: "saving" });
        const value = await work();
        set({ saving: "saved" });
        return value;
      } catch (error) {
        set({ saving: "failed" });
        if (!(error instanceof ServerError) || error.status !== 0) {
          toast.error(error instanceof Error ? error.message : String(error));
          return null;
        }
        toast.error(error.message, { id: "offline" });
        await new Promise((r) => setTimeout(r, wait));
      }
    }
  };
  const result = queue.then(run);
  queue = result.then(() => undefined);
  return result;
}

function save(recipe: Recipe, step: Step, what: string, before: LoggedFigures | null, proposed?: Proposed): void {
  const { shot, view } = get();
  const saved = enqueue(async () => {
    const answer = await call<{ revision: number; entry: LogEntry | null }>(`/api/shots/${shot.id}/changes`, "POST", {
      recipe,
      revision,
      entry: { frame: view.frame, step, what, before, proposed },
    });
    revision = answer.revision;
    if (answer.entry) set({ log: [answer.entry, ...get().log] });
    return answer.entry?.id ?? null;
  });
  waiting.set(recipe, [...(waiting.get(recipe) ?? []), { frame: view.frame, id: saved }]);
}

function complete(entries: readonly Entry[], what: Completed): void {
  const { shot } = get();
  for (const entry of entries)
    void entry.id.then((id) => {
      if (id === null) return;
      void enqueue(async () => {
        const updated = await call<LogEntry>(`/api/shots/${shot.id}/log/${id}`, "PATCH", what);
        set({ log: get().log.map((e) => (e.id === id ? updated : e)) });
      });
    });
}

/** Hands the exact figures of a settled recipe on a frame to the entries that wait for them. Returns what gives those a small picture, a data address. */
export function figuresMeasured(recipe: Recipe, frame: number, figures: Measured): (thumb: string) => void {
  lastExact = { frame, figures };
  const all = waiting.get(recipe) ?? [];
  const entries = all.filter((e) => e.frame === frame);
  const others = all.filter((e) => e.frame !== frame);
  if (others.length) waiting.set(recipe, others);
  else waiting.delete(recipe);
  complete(entries, { after: logged(figures) });
  return (thumb) => complete(entries, { thumb });
}

// --- Changing -----------------------------------------------------------------------------------------------------

/** A change while the hand moves: drawn, not saved. */
export function move(change: (recipe: Recipe) => Recipe): void {
  set({ live: change(get().recipe), exact: false });
}

/** A settled change: one step of undo, one line in the log, saved at once. @param proposed where it is a proposed key, why it is as it is */
export function settle(step: Step, what: string, change: (recipe: Recipe) => Recipe, proposed?: Proposed): void {
  const state = get();
  const next = change(state.recipe);
  const before = figuresBefore();
  set({ recipe: next, live: null, exact: false, ...(proposed ? { proposed: { frame: state.view.frame, ...proposed } } : {}) });
  save(next, step, what, before, proposed);
}

let lastExact: { frame: number; figures: Measured } | null = null;
/** What was last measured at full size, where that was on the shown frame. */
const figuresBefore = () => (lastExact?.frame === get().view.frame ? logged(lastExact.figures) : null);

export function undo(): void {
  const { undo: back, pastStates } = useBench.temporal.getState();
  if (!pastStates.length) return;
  const before = figuresBefore();
  back();
  set({ live: null, exact: false, following: null });
  save(get().recipe, get().view.step, "Undo", before);
}

export function redo(): void {
  const { redo: forward, futureStates } = useBench.temporal.getState();
  if (!futureStates.length) return;
  const before = figuresBefore();
  forward();
  set({ live: null, exact: false, following: null });
  save(get().recipe, get().view.step, "Redo", before);
}

let viewTimer: ReturnType<typeof setTimeout> | undefined;
/** Changes what is shown; kept so that a reload comes back to it. */
export function look(change: Partial<BenchView>): void {
  const was = get().view;
  const view = { ...was, ...change };
  set({ view, exact: get().exact && view.frame === was.frame });
  clearTimeout(viewTimer);
  viewTimer = setTimeout(() => void call(`/api/shots/${get().shot.id}/view`, "PUT", view).catch(() => {}), 250);
}

/** Saves the view at once when the page goes. */
export function flushView(): void {
  if (get().shot)
    navigator.sendBeacon(`/api/shots/${get().shot.id}/view`, new Blob([JSON.stringify(get().view)], { type: "application/json" }));
}

export async function refreshMedia(): Promise<void> {
  set({ media: await call<Media[]>("/api/media") });
}

/** Says a failure of a background action. */
export const complain = (error: unknown): void => void toast.error(error instanceof Error ? error.message : String(error));

export const clearTool = (): void => set({ tool: "look" });

/** The recipe with the pass changed whose controls are shown. */
export function withPass(recipe: Recipe, change: (pass: Pass) => Pass): Recipe {
  const { id } = currentPass(get(), recipe);
  return { ...recipe, passes: recipe.passes.map((p) => (p.id === id ? change(p) : p)) };
}
