import type { Rgb } from "../core/color/hue";
import type { Picture, Plane, Region } from "../core/image/plane";
import type { Evaluation, OutputName } from "../core/recipe/evaluate";
import type { Recipe } from "../core/recipe/schema";
import { straightOverOpaque } from "../core/scene/over";
import { displayMap, displayMatte, displayNoise, displayOwners, displayPicture, displayStops } from "./display";
import { type Ground, makeGround } from "./grounds";
import { STRETCH, type Stretch } from "./stretch";
import type { View } from "./views";

/** What is looked at, and how. */
export interface ViewRequest {
  readonly recipe: Recipe;
  readonly view: View;
  readonly ground: Ground;
  /** How the stretched matte is stretched. */
  readonly stretch?: Stretch;
  readonly reduce: number;
}

/** The plate, with what bounds throw away darkened. */
function dimmed({ plate, garbage }: Evaluation): Picture {
  const p = plate as Picture;
  if (!garbage) return p;
  const dim = (c: Float32Array) => c.map((v, i) => v * (1 - 0.9 * (garbage.data[i] as number)));
  return { width: p.width, height: p.height, r: dim(p.r), g: dim(p.g), b: dim(p.b) };
}

/** A picture of one colour. */
const flat = (like: Picture, colour: Rgb): Picture => ({
  width: like.width,
  height: like.height,
  r: new Float32Array(like.r.length).fill(colour.r),
  g: new Float32Array(like.r.length).fill(colour.g),
  b: new Float32Array(like.r.length).fill(colour.b),
});

/** A view of what was evaluated, ready for a canvas. @param ask evaluates the request's region @param region in full-frame px */
export function drawView(
  { view, ground, recipe, reduce, stretch }: ViewRequest,
  ask: (...o: OutputName[]) => Evaluation,
  region: Region,
): Uint8ClampedArray<ArrayBuffer> {
  if (view === "bounds") return displayPicture(dimmed(ask("plate", "garbage")));
  // Before a screen is sampled there is only the plate to see.
  if (view === "plate" || !recipe.screen.colour) return displayPicture(ask("plate").plate as Picture);
  if (view === "prepared") return displayPicture(ask("prepared").prepared as Picture);
  if (view === "cleanPlate") {
    const e = ask("cleanPlate", "plate");
    return displayPicture(e.cleanPlate ?? flat(e.plate as Picture, recipe.screen.colour));
  }
  if (view === "levelled") return displayPicture(ask("levelled").levelled as Picture);
  if (view === "noise") return displayNoise(ask("plate").plate as Picture);
  if (view === "evenness") return displayStops(ask("plate").plate as Picture, recipe.screen.colour);
  if (view === "autoBounds") return displayMatte(ask("autoBounds", "pull").autoBounds ?? (ask("pull").pull as Plane));
  if (view === "matte") return displayMatte(ask("matte").matte as Plane);
  if (view === "owners") {
    const { matte, owners } = ask("matte", "owners");
    return displayOwners(matte as Plane, owners as Plane, region.x / reduce, region.y / reduce);
  }
  if (view === "edgeColour") return displayPicture(ask("foreground").foreground as Picture);
  if (view === "pull") return displayMatte(ask("pull").pull as Plane);
  if (view === "stretched") return displayMatte(ask("matte").matte as Plane, stretch ?? STRETCH);
  if (view === "spillRemoved") return displayPicture(ask("spillRemoved").spillRemoved as Picture);
  if (view === "spillMap") return displayMap(ask("spillMap").spillMap as Plane);
  if (ground === "scene") return displayPicture(ask("composite").composite as Picture);
  const front = ask("foreground").foreground as Picture;
  return displayPicture(
    straightOverOpaque(front, front.a as Float32Array, makeGround(ground, front.width, front.height, reduce, region.x, region.y)),
  );
}
