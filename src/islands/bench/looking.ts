import { toast } from "sonner";
import type { Region } from "../../core/image/plane";
import { clearTool, look, type Step, useBench } from "./store";

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

export function toggleWipe(versionId?: number): void {
  const { wipe, versions } = state();
  const chosen = versionId ?? versions[0]?.id;
  if (wipe && (versionId === undefined || wipe.versionId === versionId)) useBench.setState({ wipe: null, wipeDrawn: null });
  else if (chosen === undefined) toast("Keep a version first; then wipe against it.");
  else useBench.setState({ wipe: { versionId: chosen, at: 0.5 } });
}
