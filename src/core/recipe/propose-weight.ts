import { distanceTo } from "../image/distance";
import { notOf } from "../image/mask";
import { linesOf, type Picture } from "../image/plane";
import { placesWhere } from "../image/rank";
import { partingWeight } from "../key/parting-weight";
import { weightOfThinThings } from "../key/thin-weight";
import { share } from "../measure/judged";
import type { LocatedScreen } from "../screen/locate";

/** Share of the subject that must lie deeper than the margin for that to tell its colours: of people nearly all does, of straws hardly any. */
const SCARCE = 0.1;

/** What a weight is read from. */
export interface SeenForWeight {
  /** The screen behind every pixel, of the plate's size and of the reduced copy's. */
  readonly cleanPlate: Picture;
  readonly screenPlate: Picture;
  /** 1 where the reduced copy lies beyond the screen. */
  readonly beyond: Uint8Array;
}

/** The channel weight, and why. */
export interface ProposedWeight {
  readonly weight: number;
  /** Whether hardly anything is wide enough to be certain subject. */
  readonly thin: boolean;
  /** Places of the reduced copy that are deep in the screen. */
  readonly outside: Uint32Array;
  readonly reason: string;
}

/** The weight that parts certain subject from certain screen best, on the reduced copy; at full size, where hardly anything is wide enough to be certain. */
export function proposeWeight(plate: Picture, located: LocatedScreen, seen: SeenForWeight): ProposedWeight {
  const { found, small, factor, sample } = located;
  const { width, height } = small;
  const n = width * height;
  const margin = Math.max(3, linesOf(small) / 90);
  const toScreen = distanceTo(found.mask, width, height);
  const toOther = distanceTo(notOf(found.mask), width, height);
  const inside = placesWhere((i) => (toScreen[i] as number) > margin, n);
  const outside = placesWhere((i) => (toScreen[i] as number) <= margin && (toOther[i] as number) > margin, n);
  const before = placesWhere((i) => (toScreen[i] as number) > 0 && !seen.beyond[i], n);
  const deep = before.filter((i) => (toScreen[i] as number) > margin);
  const told = deep.length < SCARCE * before.length ? null : partingWeight(small, seen.screenPlate, sample.colour, inside, outside, margin);
  const byCrests = (): number => {
    const inFull = outside.map((i) => factor * (Math.floor(i / width) * plate.width + (i % width)));
    const isBeyond = (i: number) => {
      const [x, y] = [Math.floor((i % plate.width) / factor), Math.floor(i / plate.width / factor)];
      return seen.beyond[Math.min(y, height - 1) * width + Math.min(x, width - 1)] === 1;
    };
    return weightOfThinThings(plate, seen.cleanPlate, sample.colour, inFull, isBeyond);
  };
  const weight = told ?? byCrests();
  const thin = told === null;
  const parts = thin
    ? "the pixels that thin or blurred things cover most, since nothing of them is wide enough to be certain,"
    : "certain subject";
  return {
    weight,
    thin,
    outside,
    reason: `Pull: unmix. The screen is known at every pixel, the subject's colours come from the nearest certain subject; a first matte by colour difference, weight ${share(weight)}: of all tried, it parts ${parts} from certain screen best.`,
  };
}
