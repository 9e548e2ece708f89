import type { Ground } from "../../workers/grounds";
import type { View } from "../../workers/views";

/** Every view of the picture by its name. */
export const VIEW_NAMES: Record<View, string> = {
  composite: "Composite",
  matte: "Matte",
  stretched: "Stretched",
  owners: "Owners",
  edgeColour: "Edge colour",
  pull: "Pull",
  plate: "Plate",
  prepared: "Prepared copy",
  cleanPlate: "Clean plate",
  levelled: "Levelled",
  evenness: "Evenness",
  noise: "Noise",
  bounds: "Bounds",
  autoBounds: "Automatic bounds",
  spillRemoved: "Spill out",
  spillMap: "Spill map",
};

export const GROUND_NAMES: Record<Ground, string> = { scene: "Scene", bright: "Bright", black: "Black", white: "White", checker: "Checks" };
