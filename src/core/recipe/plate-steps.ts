import type { Rgb } from "../color/hue";
import { decodeWithRebuiltChroma, hasCoarseChroma } from "../image/chroma-rebuild";
import { withoutFalseColour } from "../image/mosaic-colour";
import { channels, type Picture } from "../image/plane";
import { decodeRawFrame } from "../image/raw-frame";
import { shrinkPicture } from "../image/resample";
import { type Sharpening, UNSHARPENED, withoutSharpening } from "../image/sharpening";
import { excessOf } from "../key/colour-difference";
import { stillPlaces } from "../matte/still";
import { suppliedCleanPlate, synthesiseCleanPlate } from "../screen/clean-plate";
import { denoiseOverTime } from "../screen/denoise-over-time";
import { isPrepared, prepareCopy } from "../screen/prepare";
import { otherChannels, type Primary, screenPrimary } from "../screen/primary";
import type { AskedFrame } from "./asked-frame";
import type { PlateSource } from "./sources";
import { keyOf } from "./step-key";

/** The plate and what is made of it before anything is pulled; each is worked out when it is asked for, and kept. */
export interface PlateRun {
  readonly plate: Picture;
  readonly plateKey: string;
  /** The copy that the matte is made from. */
  readonly prepared: () => Picture;
  readonly preparedKey: string;
  /** Whether it was recorded with less chroma than luma, and has all its pixels here; for RGB that takes time to tell. */
  readonly isCoarse: () => boolean;
  /** Such a plate with its chroma rebuilt. */
  readonly rebuilt: () => Picture;
  readonly primary: Primary | null;
  /** The screen without the subject; null where the pull is against one colour. */
  readonly cleanPlate: () => Picture | null;
  readonly cleanKey: string;
  /** Where the plate stands still against a neighbouring frame. */
  readonly still: (source: PlateSource) => ReturnType<typeof stillPlaces>;
}

export function plateSteps({ recipe, sources, reduce, cache, allocate }: AskedFrame): PlateRun {
  const shrunk = (source: PlateSource) =>
    cache.step("plate", keyOf(source.key, reduce), () => {
      const picture = shrinkPicture(source.picture, reduce);
      return { value: picture, owned: picture === source.picture ? [] : channels(picture) };
    });
  const plateKey = keyOf(sources.plate.key, reduce);
  const plate = shrunk(sources.plate);

  const { chroma, falseColour, overTime, sharpening, ...rest } = recipe.prepare;
  const { colour: screen, from: cleanFrom } = recipe.screen;
  const recorded = sources.plate.recorded;
  // At half size and below, chroma is as fine as luma anyway; false colour and what a camera sharpened are averaged away.
  const full = reduce === 1 && recorded !== undefined;
  const rebuild = chroma && full;
  const softened = sharpening.amount > 0 && full;
  const isCoarse = () => full && hasCoarseChroma(recorded.raw, recorded.reading.transfer);
  const clears = falseColour && full && !isCoarse();
  const others = sources.nearby ?? [];
  const averaged = overTime > 0 && screen !== null && others.length > 0;
  const still = (source: PlateSource) =>
    cache.step("still", keyOf(plateKey, source.key, reduce, screen), () => ({
      value: stillPlaces(plate, shrunk(source), screenLike(plate, screen as Rgb)),
      owned: [],
    }));
  const rebuilt = () => fromRecorded(sources.plate, true, UNSHARPENED, false);
  /** A frame as the matte's copy starts from it. */
  const untouched = (source: PlateSource) =>
    rebuild || clears || softened ? fromRecorded(source, rebuild, sharpening, clears) : shrunk(source);
  const fromRecorded = (source: PlateSource, rebuild: boolean, sharpening: Sharpening, clears: boolean) => {
    if (!source.recorded) return shrunk(source);
    const { reading } = source.recorded;
    const raw = clears ? withoutFalseColour(source.recorded.raw) : source.recorded.raw;
    return cache.picture("rebuilt", keyOf(source.key, rebuild, clears, sharpening.amount > 0 && sharpening), () =>
      rebuild ? decodeWithRebuiltChroma(raw, reading, allocate, sharpening) : decodeRawFrame(withoutSharpening(raw, sharpening), reading),
    );
  };
  const touched = averaged || isPrepared(rest, screen);
  const preparedKey =
    rebuild || clears || softened || touched
      ? keyOf(
          plateKey,
          rebuild,
          clears,
          softened && sharpening,
          rest,
          rest.flattenRounds ? screen : null,
          averaged ? [overTime, screen, others.map((o) => o.source.key)] : null,
        )
      : plateKey;
  const prepared = () =>
    !touched
      ? untouched(sources.plate)
      : cache.step("prepare", preparedKey, () => {
          const own = untouched(sources.plate);
          const base = averaged
            ? denoiseOverTime(
                own,
                others.map(({ source }) => ({ picture: untouched(source), still: still(source) })),
                overTime,
              )
            : own;
          const picture = prepareCopy(base, rest, screen, 1 / reduce);
          return { value: picture, owned: channels(picture).filter((c) => !channels(own).includes(c)) };
        });

  const primary = screen && screenPrimary(screen);
  const supplied = cleanFrom === "supplied" ? sources.clean : undefined;
  const cleanKey = cleanFrom === "none" ? "none" : keyOf(cleanFrom, supplied?.key ?? preparedKey, primary, reduce);
  const cleanPlate = (): Picture | null => {
    if (cleanFrom === "none" || !primary) return null;
    return cache.picture("clean", cleanKey, () => {
      if (supplied) return suppliedCleanPlate(shrinkPicture(supplied.picture, reduce), plate, primary);
      const made = sources.plate.cleanPlate;
      return made ? shrinkPicture(made, reduce) : synthesiseCleanPlate(prepared(), primary, allocate);
    });
  };

  return { plate, plateKey, prepared, preparedKey, isCoarse, rebuilt, primary, cleanPlate, cleanKey, still };
}

/** Which pixels show screen by their excess of its primary. */
function screenLike(plate: Picture, screen: Rgb): (i: number) => boolean {
  const primary = screenPrimary(screen);
  const [u, v] = otherChannels(primary);
  const least = 0.5 * excessOf(screen, primary, 0.5);
  return (i) => (plate[primary][i] as number) - 0.5 * ((plate[u][i] as number) + (plate[v][i] as number)) > least;
}
