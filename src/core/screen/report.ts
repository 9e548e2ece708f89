import type { Rgb } from "../color/hue";
import { encodeWith, type Transfer } from "../color/transfer";
import type { Picture, Region } from "../image/plane";
import { describeColour, type Evenness, findScreen, measureEvenness } from "./find";
import { PRIMARY_NAME, type Primary } from "./primary";

/** A measured problem of the plate. */
export interface PlateFinding {
  readonly figure: string;
  readonly what: string;
  readonly remedy: string;
  /** The step that mends it. */
  readonly step: "Plate" | "Screen" | "Bounds" | "Pull";
  readonly place: Region | null;
}

export interface PlateReport {
  readonly screen: {
    readonly primary: Primary;
    /** Linear light. */
    readonly colour: Rgb;
    /** Code values 0…1 under the plate's own curve. */
    readonly code: Rgb;
    /** Degrees. */
    readonly hue: number;
    /** 0…1, of the code values. */
    readonly saturation: number;
    /** Percent of BT.709 video level. */
    readonly level: number;
    /** Share of the frame, 0…1. */
    readonly share: number;
    readonly sampled: Region;
  };
  /** In stops. */
  readonly evenness: Evenness;
  /** Standard deviation of each channel in the sample, percent of full code range. */
  readonly noise: Rgb;
  /** As the file says, for instance 4:2:0. */
  readonly chromaFormat: string;
  readonly findings: readonly PlateFinding[];
}

/**
 * Measures a plate before anything is touched.
 * @param picture scene-linear, whole frame
 * @throws RangeError when no screen is found
 */
export function reportPlate(picture: Picture, transfer: Transfer, chromaFormat: string): PlateReport {
  const found = findScreen(picture);
  const encode = encodeWith(transfer);
  const { colour, noise } = found.sample;
  const code = { r: encode(colour.r), g: encode(colour.g), b: encode(colour.b) };
  const slope = (v: number) => (encode(v + 1e-4) - encode(Math.max(0, v - 1e-4))) / (v > 1e-4 ? 2e-4 : 1e-4 + v);
  const noisePercent = { r: 100 * noise.r * slope(colour.r), g: 100 * noise.g * slope(colour.g), b: 100 * noise.b * slope(colour.b) };
  const { hue, saturation } = describeColour(colour, encode);
  const { level } = describeColour(colour, encodeWith("bt709"));
  const evenness = measureEvenness(picture, found.mask);
  const findings: PlateFinding[] = [];
  const add = (f: PlateFinding) => findings.push(f);
  if (evenness.spread > 1)
    add({
      figure: `${evenness.spread.toFixed(2)} st`,
      what: "The screen is lit unevenly: one threshold cannot suit all of it",
      remedy: "Draw a garbage matte close to the subject, so that only the screen near it counts",
      step: "Bounds",
      place: null,
    });
  if (Math.max(noisePercent.r, noisePercent.g, noisePercent.b) > 2)
    add({
      figure: `${Math.max(noisePercent.r, noisePercent.g, noisePercent.b).toFixed(1)} %`,
      what: "The screen is noisy",
      remedy: "Sample a larger box and raise the black point to just above the grain",
      step: "Screen",
      place: found.box,
    });
  if (level < 25)
    add({
      figure: `${level.toFixed(0)} %`,
      what: "The screen is dark (about 40 % is common practice): noise weighs more in the matte",
      remedy: "Expect to raise the black point",
      step: "Pull",
      place: found.box,
    });
  if (saturation < 0.45)
    add({
      figure: `${(100 * saturation).toFixed(0)} %`,
      what: `The ${PRIMARY_NAME[found.primary]} of the screen is weak against its other channels`,
      remedy: "Check for stray light on the screen; set the weight so that the subject separates best",
      step: "Pull",
      place: found.box,
    });
  if (chromaFormat === "4:2:0")
    add({
      figure: "4:2:0",
      what: "Colour is stored at half the picture's resolution in both directions: fine edges step",
      remedy: "Keep the white point high and let the screen be taken out of mixed pixels",
      step: "Plate",
      place: null,
    });
  return {
    screen: { primary: found.primary, colour, code, hue, saturation, level, share: found.share, sampled: found.box },
    evenness,
    noise: noisePercent,
    chromaFormat,
    findings,
  };
}
