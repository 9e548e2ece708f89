import type { ShotFigures } from "../../core/documents/shot-figures";
import { call } from "../api";
import { complain, savedRevision, useBench } from "./store";

const state = useBench.getState;

/** How often progress is asked for, ms. */
const ASK = 700;

/** Takes what the server has measured, if it still belongs to the recipe shown. @returns whether it did */
function take(figures: ShotFigures, revision: number, running: boolean): boolean {
  if (figures.revision !== revision) return false;
  const { recipe } = state();
  useBench.setState({ proof: { recipe, frames: figures.frames, total: figures.total, running } });
  return true;
}

/** Shows what was measured before under the recipe as it is now. */
export async function recallFigures(): Promise<void> {
  const { shot, recipe } = state();
  try {
    const revision = await savedRevision();
    const figures = await call<ShotFigures>(`/api/shots/${shot.id}/figures`);
    if (state().recipe !== recipe || figures.frames.length === 0) return;
    take(figures, revision, figures.state === "running");
    if (figures.state === "running") await follow();
  } catch {
    // What is not recalled can be measured again.
  }
}

let following = 0;
/** Has the server measure every frame, and follows it. A change of the recipe stops it. */
export async function proveShot(): Promise<void> {
  const { shot, recipe } = state();
  useBench.setState({ proof: { recipe, frames: [], total: shot.plate.info.frames, running: true } });
  await savedRevision();
  await call<ShotFigures>(`/api/shots/${shot.id}/figures`, "POST", {});
  await follow();
}

async function follow(): Promise<void> {
  const mine = ++following;
  const { shot, recipe } = state();
  const address = `/api/shots/${shot.id}/figures`;
  const revision = await savedRevision();
  for (let restarts = 0; mine === following; ) {
    if (state().recipe !== recipe) {
      await call(address, "DELETE").catch(() => {});
      return;
    }
    const figures = await call<ShotFigures>(address);
    if (mine !== following || state().recipe !== recipe) continue;
    if (figures.state === "failed") {
      useBench.setState({ proof: null });
      complain(new Error(figures.error ?? "The frames could not be measured."));
      return;
    }
    // A server that was started again goes on where it stopped.
    if (figures.state !== "running" && figures.state !== "done" && restarts++ < 3) await call(address, "POST", {});
    if (!take(figures, revision, figures.state !== "done") || figures.state === "done") return;
    await new Promise((r) => setTimeout(r, ASK));
  }
}

/** Stops measuring; what is measured stays. */
export async function stopProving(): Promise<void> {
  following++;
  const { shot, proof } = state();
  await call(`/api/shots/${shot.id}/figures`, "DELETE").catch(complain);
  if (proof) useBench.setState({ proof: { ...proof, running: false } });
}
