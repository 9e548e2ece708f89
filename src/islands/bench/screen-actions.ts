import type { Media } from "../../core/documents/media-info";
import type { Region } from "../../core/image/plane";
import { thinned } from "../../core/image/stroke";
import type { Point } from "../../core/matte/polygon";
import type { Proposal } from "../../core/recipe/auto";
import type { Recipe } from "../../core/recipe/schema";
import { screenName } from "../../core/screen/primary";
import { call } from "../api";
import { drawAhead, drawWorker, measureWorker, warmView } from "./engine";
import { cleanFootage, complain, look, plateFootage, refreshMedia, settle, useBench, withPass } from "./store";

const state = useBench.getState;

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

async function sampleFrom(places: Pick<Recipe["screen"], "boxes" | "strokes">): Promise<void> {
  const { recipe, view } = state();
  try {
    const sample = await drawWorker().sample(recipe, plateFootage(), places);
    settle("Screen", `Screen sampled: ${screenName(sample.colour)}, ${sample.pixels} px, ${sample.rejected} set aside`, (r) => ({
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
    const range = await drawWorker().range(recipe, plateFootage(), view.frame, box, take);
    settle("Pull", `Colour range ${take ? "taken away" : "added"}: hue ${range.hue.toFixed(0)}° ± ${range.hueReach.toFixed(0)}°`, (r) =>
      withPass(r, (p) => ({ ...p, pull: { ...p.pull, ranges: [...p.pull.ranges, range].slice(-24) } })),
    );
  } catch (error) {
    complain(error);
  }
}

/** The last proposal, and what it was made for. */
let proposal: { readonly recipe: Recipe; readonly frame: number; readonly made: Promise<Proposal> } | undefined;

/** The proposal for the shown frame: made once for a recipe, whenever it is first asked for. */
function proposed(): Promise<Proposal> {
  const { recipe, view } = state();
  if (proposal?.recipe !== recipe || proposal.frame !== view.frame) {
    const made = measureWorker().propose(recipe, plateFootage(), cleanFootage(recipe), view.frame);
    proposal = { recipe, frame: view.frame, made };
    // One that failed is tried again when it is asked for again.
    made.catch(() => {
      if (proposal?.made === made) proposal = undefined;
    });
  }
  return proposal.made;
}

/** A proposed key is looked at where leftovers show. */
const lookOf = (key: Recipe) => ({ view: "composite", ground: key.scene.background ? "scene" : "bright" }) as const;

/** Frames of more pixels take too long to be worked on before anything is asked for. */
const UNASKED_PIXELS = 2_500_000;

/** Has the proposal for an untouched plate ready before it is asked for, and its picture. What goes wrong is told when it is asked for. */
export async function prepareProposal(): Promise<void> {
  const { recipe, shot } = state();
  const { width, height } = shot.plate.info;
  if (recipe.screen.colour || width * height > UNASKED_PIXELS) return;
  try {
    const { recipe: key } = await proposed();
    if (state().recipe === recipe) await warmView(key, lookOf(key));
  } catch {
    // Nobody has asked yet.
  }
}

/** Proposes everything from measurement; one undoable change. What is set while it is made counts: it is made again from that. */
export async function proposeAll(): Promise<void> {
  try {
    let from: Recipe;
    let found: Proposal;
    do {
      from = state().recipe;
      found = await proposed();
    } while (state().recipe !== from);
    const { recipe: key, reasons, notSolved } = found;
    drawAhead(key, lookOf(key));
    settle("Plate", "Whole key proposed from measurement", () => key, { reasons, notSolved });
    look(lookOf(key));
  } catch (error) {
    complain(error);
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
