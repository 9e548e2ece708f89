import type { Picture } from "../image/plane";
import { type ColourReading, decodeRawFrame, type RawFrame } from "../image/raw-frame";
import type { SubjectOwn } from "../key/subject-difference";

/** A decoded frame and a key that changes whenever its pixels do. */
export interface Source {
  readonly key: string;
  /** Scene-linear, full size. */
  readonly picture: Picture;
}

/** The plate, with the frame as recorded where chroma is to be rebuilt. */
export interface PlateSource extends Source {
  readonly recorded?: { readonly raw: RawFrame; readonly reading: ColourReading };
  /** The clean plate synthesised from the frame at full size, where it is at hand: smaller sizes then need not make their own. */
  readonly cleanPlate?: Picture;
  /** What the first matte told of the subject's own colour at full size, by the very pull that is asked for: the same of it. */
  readonly subject?: SubjectOwn;
}

/** A plate's frame as a source: decoded, and as recorded. */
export const plateSource = (key: string, raw: RawFrame, reading: ColourReading): PlateSource => ({
  key,
  picture: decodeRawFrame(raw, reading),
  recorded: { raw, reading },
});

/** A neighbouring frame of the plate. */
export interface Nearby {
  readonly frame: number;
  readonly source: PlateSource;
}

export interface Sources {
  readonly plate: PlateSource;
  /** The frames before and after, as far as there are any: see framesNearby. */
  readonly nearby?: readonly Nearby[];
  /** A supplied clean plate, of the plate's size. */
  readonly clean?: Source;
  readonly background?: Source;
}
