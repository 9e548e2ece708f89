import { toast } from "sonner";
import type { Carried, Setup } from "../../core/documents/setup";
import type { LogEntry, Version } from "../../core/documents/shot";
import { carryRecipe, drawnRegions } from "../../core/recipe/carry";
import type { Measured } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import { call } from "../api";
import { measureWorker } from "./engine";
import { logged, look, plateFootage, settle, useBench } from "./store";

const state = useBench.getState;

/** Writes a note by hand into the log. */
export async function writeNote(text: string): Promise<void> {
  const { shot, view } = state();
  const entry = await call<LogEntry>(`/api/shots/${shot.id}/log`, "POST", { frame: view.frame, text });
  useBench.setState({ log: [entry, ...state().log] });
}

/** Entries of the whole log that hold all words. */
export const searchLog = (words: string): Promise<LogEntry[]> =>
  call<LogEntry[]>(`/api/shots/${state().shot.id}/log?search=${encodeURIComponent(words)}`);

/** Goes back to the recipe as it was after an entry; itself a change that can be undone. */
export async function restoreEntry(entry: LogEntry): Promise<void> {
  const { recipe } = await call<{ recipe: Recipe }>(`/api/shots/${state().shot.id}/log/${entry.id}`);
  settle(state().view.step, `Back to “${entry.what}”`.slice(0, 300), () => recipe);
}

/** Waits until the figures belong to the settled recipe; gives up after a while, or at once when there is no screen. */
const exactFigures = (): Promise<Measured | null> =>
  new Promise((resolve) => {
    const now = () => (state().exact ? state().figures : null);
    if (now() || !state().recipe.screen.colour) return resolve(now());
    const done = (figures: Measured | null) => {
      clearTimeout(timer);
      stop();
      resolve(figures);
    };
    const stop = useBench.subscribe((s) => s.exact && done(s.figures));
    const timer = setTimeout(() => done(null), 20_000);
  });

/** Keeps the recipe as a version, with the exact figures of the shown frame. */
export async function keep(name: string): Promise<void> {
  const { shot, recipe, view } = state();
  const figures = await exactFigures();
  const version = await call<Version>(`/api/shots/${shot.id}/versions`, "POST", {
    name,
    recipe,
    figures: figures && state().recipe === recipe ? logged(figures) : null,
    frame: view.frame,
  });
  useBench.setState({ versions: [version, ...state().versions] });
  toast.success(`Kept as version ${version.number}`);
}

export async function rename(version: Version, name: string): Promise<void> {
  const renamed = await call<Version>(`/api/shots/${state().shot.id}/versions/${version.id}`, "PATCH", { name });
  useBench.setState({ versions: state().versions.map((v) => (v.id === version.id ? renamed : v)) });
}

export const restore = (version: Version): void =>
  settle(state().view.step, `Version ${version.number} “${version.name}” restored`, () => structuredClone(version.recipe));

/** Carries the recipe to other shots of the job. */
export async function carryTo(shots: readonly number[], resample: boolean): Promise<readonly Carried[]> {
  const results = await call<Carried[]>(`/api/shots/${state().shot.id}/carry`, "POST", { shots, resample });
  const failed = results.filter((r) => r.problem);
  const done = results.length - failed.length;
  if (done) toast.success(`Carried to ${done} ${done === 1 ? "shot" : "shots"}`);
  if (done && drawnRegions(state().recipe)) toast("Passes that count in a drawn shape came along: look where they lie there.");
  for (const f of failed) toast.error(`${f.name}: ${f.problem}`);
  return results;
}

export const listSetups = (): Promise<Setup[]> => call<Setup[]>("/api/setups");

/** Keeps the recipe as a set-up that shows the chosen controls. */
export const keepSetup = (name: string, controls: readonly string[]): Promise<Setup> =>
  call<Setup>("/api/setups", "POST", { name, recipe: state().recipe, controls });

export const removeSetup = (id: number): Promise<void> => call(`/api/setups/${id}`, "DELETE");

/** Uses a set-up on this shot, with the screen sampled here or its colour as it is. */
export async function applySetup(setup: Setup, resample: boolean): Promise<void> {
  const { recipe, view } = state();
  const screen = resample ? await measureWorker().locate(recipe, plateFootage(), view.frame) : null;
  settle(view.step, `Set-up “${setup.name}” used${resample ? ", screen sampled here" : ""}`, (r) => carryRecipe(setup.recipe, r, screen));
  look({ setup: { name: setup.name, controls: [...setup.controls] } });
}
