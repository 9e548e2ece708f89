import { toast } from "sonner";
import type { Region } from "../../core/image/plane";
import type { View } from "../../workers/views";
import { type Compare, clearTool, look, type Step, type Tool, useBench } from "./store";

const state = useBench.getState;

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

/** Goes to a step with one of its tools in the hand. */
export function takeTool(step: Step, tool: Tool): void {
  goToStep(step);
  useBench.setState({ tool });
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
export function zoomStep(direction: 1 | -1): void {
  const { zoom } = state().view;
  const now = zoom > 0 ? zoom : 0.5;
  const next = direction > 0 ? ZOOMS.find((z) => z > now * 1.01) : ZOOMS.findLast((z) => z < now * 0.99);
  if (next) zoomTo(next);
}

/** Compares the picture with a version, the newest without one; the same once more ends it. */
export function toggleCompare(how: Compare["how"], versionId?: number): void {
  const { compare, versions } = state();
  const chosen = versionId ?? compare?.versionId ?? versions[0]?.id;
  if (compare?.how === how && compare.versionId === chosen) useBench.setState({ compare: null, compareDrawn: null });
  else if (chosen === undefined) toast("Keep a version first (K); then compare with it.");
  else useBench.setState({ compare: { versionId: chosen, how, at: compare?.at ?? 0.5, shows: false }, four: null, fourDrawn: [] });
}

/** Shows the other of the two pictures that are blinked between. */
export function flipBlink(): void {
  const { compare } = state();
  if (compare?.how === "blink") useBench.setState({ compare: { ...compare, shows: !compare.shows } });
  else toggleCompare("blink");
}

const FOUR: readonly View[] = ["composite", "matte", "plate", "spillRemoved"];
export function toggleFour(): void {
  const { four } = state();
  useBench.setState(four ? { four: null, fourDrawn: [] } : { four: FOUR, compare: null, compareDrawn: null });
}

export const toggleLoupe = (): void => useBench.setState({ loupe: !state().loupe });

/** Shows one pass by itself, or all again. Only looked at: the recipe stays. */
export const toggleSolo = (pass: string): void => useBench.setState({ solo: state().solo === pass ? null : pass });

/** The part of the page that fills the screen. */
export const VIEWING = "viewing";
export function toggleFullScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else
    document
      .getElementById(VIEWING)
      ?.requestFullscreen()
      .catch(() => toast("The browser does not allow full screen here."));
}

/** Keeps a probe on the picture, at whole px of the plate; a click on one that is there takes it away. */
export function pinProbe(x: number, y: number, near: number): void {
  const { probes } = state().view;
  const at = { x: Math.floor(x), y: Math.floor(y) };
  const others = probes.filter((p) => Math.hypot(p.x - at.x, p.y - at.y) > near);
  if (others.length === probes.length && probes.length >= 12) toast("Twelve probes are the most; click one to remove it.");
  else look({ probes: others.length < probes.length ? others : [...probes, at] });
}
