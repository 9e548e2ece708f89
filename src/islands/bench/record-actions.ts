import { toast } from "sonner";
import type { Carried, Setup } from "../../core/documents/setup";
import type { LogEntry, Version, VersionChange } from "../../core/documents/shot";
import { carryRecipe, drawnRegions } from "../../core/recipe/carry";
import type { Measured } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import { call } from "../api";
import { measureWorker } from "./engine";
import { complain, logged, look, plateFootage, settle, useBench } from "./store";

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

/** Waits for the exact figures of the recipe and frame as they are now; null when either changes first, or there is no screen. */
const exactFigures = (): Promise<Measured | null> =>
  new Promise((resolve) => {
    const { recipe, view } = state();
    const settled = (s: ReturnType<typeof state>) => s.exact || s.recipe !== recipe || s.view.frame !== view.frame;
    const figuresOf = (s: ReturnType<typeof state>) => (s.exact && s.recipe === recipe && s.view.frame === view.frame ? s.figures : null);
    if (settled(state()) || !recipe.screen.colour) return resolve(figuresOf(state()));
    const stop = useBench.subscribe((s) => {
      if (!settled(s)) return;
      stop();
      resolve(figuresOf(s));
    });
  });

/** Keeps the recipe as a version at once; the exact figures of the shown frame go to it as soon as they are measured. */
export async function keep(name: string): Promise<void> {
  const { shot, recipe, view } = state();
  const measured = exactFigures();
  const version = await call<Version>(`/api/shots/${shot.id}/versions`, "POST", { name, recipe, figures: null, frame: view.frame });
  useBench.setState({ versions: [version, ...state().versions] });
  toast.success(`Kept as version ${version.number}`);
  void measured.then((figures) => figures && changeVersion(version, { figures: logged(figures) })).catch(complain);
}

export const rename = (version: Version, name: string): Promise<void> => changeVersion(version, { name });

async function changeVersion(version: Version, change: VersionChange): Promise<void> {
  const changed = await call<Version>(`/api/shots/${state().shot.id}/versions/${version.id}`, "PATCH", change);
  useBench.setState({ versions: state().versions.map((v) => (v.id === version.id ? changed : v)) });
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
