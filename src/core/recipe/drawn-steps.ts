import { type Plane, type Region, wholeOf } from "../image/plane";
import { joinBeyond } from "../matte/beyond-screen";
import { outlineAt } from "../matte/keys";
import { type DrawnShape, shapesMatte } from "../matte/polygon";
import { insideBars } from "../screen/bars";
import type { AskedFrame } from "./asked-frame";
import type { PlateRun } from "./plate-steps";
import { keyOf } from "./step-key";

/** A plane that is worked out when it is asked for, and kept under its key. */
export interface KeyedPlane {
  readonly key: string;
  readonly plane: () => Plane;
}

/** What shapes on the picture, and the screen's ends, throw away or hold. */
export interface DrawnRun {
  /** 1 where bounds throw away; none where nothing is drawn and what lies beyond the screen stays. */
  readonly garbage: KeyedPlane | undefined;
  /** 1 where drawn holdouts hold. */
  readonly holdouts: KeyedPlane | undefined;
  /** The picture without black bars, where they are thrown away. */
  readonly inside: Region;
}

export function drawnSteps({ recipe, sources, reduce, number, cache }: AskedFrame, { plate, plateKey, primary }: PlateRun): DrawnRun {
  const { width, height } = plate;
  const full = sources.plate.picture;
  const drawn = (kind: "garbage" | "holdout"): DrawnShape[] =>
    recipe.bounds.garbage.filter((s) => s.kind === kind && s.points.length >= 3).map((s) => ({ ...s, points: outlineAt(s, number) }));
  const keyOfShapes = (list: readonly DrawnShape[]) =>
    keyOf(
      list.map(({ points, smooth, out, soft, lean }) => [points, smooth, out, soft, lean]),
      full.width,
      full.height,
      reduce,
    );
  const kept = (name: string, key: string, make: () => Plane): KeyedPlane => ({ key, plane: () => cache.plane(name, key, make) });
  const rasterised = (shapes: readonly DrawnShape[]) => shapesMatte(shapes, width, height, 1 / reduce);

  const holdoutShapes = drawn("holdout");
  const holdouts = holdoutShapes.length ? kept("holdoutShapes", keyOfShapes(holdoutShapes), () => rasterised(holdoutShapes)) : undefined;

  const beyond = recipe.bounds.beyond && primary;
  const inside = beyond ? cache.step("bars", plateKey, () => ({ value: insideBars(plate), owned: [] })) : wholeOf(plate);
  const shapes = drawn("garbage");
  const boundsKey = keyOf(keyOfShapes(shapes), beyond ? [plateKey, primary, holdouts?.key ?? null] : null);
  const garbage =
    shapes.length || beyond
      ? kept("bounds", boundsKey, () => {
          const plane = rasterised(shapes);
          if (beyond) joinBeyond(plane, plate, beyond, inside, holdouts?.plane());
          return plane;
        })
      : undefined;
  return { garbage, holdouts, inside };
}
