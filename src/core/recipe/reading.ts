import { transferKey } from "../color/transfer";
import type { ColourReading } from "../image/raw-frame";
import type { Recipe } from "./schema";

/** How the plate is read: as its file says, with the recipe's overrides on top. */
export function plateReading(file: ColourReading, recipe: Recipe): ColourReading {
  const { transfer, matrix, range, siting, primaries } = recipe.plate;
  return {
    transfer: transfer ?? file.transfer,
    matrix: matrix ?? file.matrix,
    range: range ?? file.range,
    siting: siting ?? file.siting,
    primaries: primaries ?? file.primaries,
  };
}

/** How a supplied clean plate is read: as the plate where both files say the same, for then one camera made them; else as its own file says. */
export function cleanReading(clean: ColourReading, plate: ColourReading, recipe: Recipe): ColourReading {
  const said = (r: ColourReading) => readingKey({ ...r, siting: plate.siting });
  return said(clean) === said(plate) ? { ...plateReading(clean, recipe), siting: clean.siting } : clean;
}

/** How the background is read: as its own file says, or by the plate's curve and primaries. */
export function backgroundReading(background: ColourReading, plate: ColourReading, recipe: Recipe): ColourReading {
  if (!recipe.scene.asPlate) return background;
  const { transfer, primaries } = plateReading(plate, recipe);
  return { ...background, transfer, primaries };
}

/** A short text that changes with the reading, for cache keys. */
export const readingKey = (r: ColourReading): string =>
  `${transferKey(r.transfer)}/${r.matrix}/${r.range}/${r.siting}/${r.primaries ?? "bt709"}`;
