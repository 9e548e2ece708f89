import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import type { PullSettings } from "../recipe/schema";
import { screenMask } from "../screen/find";
import { blockNoise } from "../screen/noise";
import type { Primary } from "../screen/primary";
import { chromaDistance } from "./chroma-distance";
import { cleanDifference } from "./clean-difference";
import { colourDifference } from "./colour-difference";
import { colourRanges } from "./colour-ranges";
import { luminancePull } from "./luminance-pull";
import { type SubjectOwn, subjectDifference } from "./subject-difference";
import { unmix } from "./unmix";

/** What a pull may look at. */
export interface PullSources {
  /** The copy that the matte is made from, linear light. */
  readonly plate: Picture;
  /** The sampled screen colour, and the screen at every pixel where there is a clean plate. */
  readonly colour: Rgb;
  readonly screen: Picture | Rgb;
  readonly primary: Primary;
  /** The subject's own excess; worked out when asked for. */
  readonly own: () => SubjectOwn | null;
  /** This plane's size over the full frame's. */
  readonly scale: number;
}

type Pull = (sources: PullSources, settings: PullSettings, allocate: Allocate) => Plane;

const subjectAware: Pull = ({ plate, screen, primary, own }, { weight }, allocate) =>
  subjectDifference(plate, { primary, weight, screen }, own(), allocate);

/** Grain of the screen, per channel: what a difference from the clean plate is counted in. */
function grainOf(plate: Picture, primary: Primary): Rgb {
  const { mask } = screenMask(plate, primary);
  const of = (c: "r" | "g" | "b") => blockNoise(plate[c], mask, plate.width, plate.height);
  return { r: of("r"), g: of("g"), b: of("b") };
}

/** Every pull by the name a recipe calls it. A new one is a file, and a line here and in the recipe's list of methods. */
export const PULLS: Record<PullSettings["method"], Pull> = {
  "colour-difference": ({ plate, colour, screen, primary }, { weight }, allocate) =>
    screen === colour
      ? colourDifference(plate, { screen: colour, primary, weight }, allocate)
      : subjectDifference(plate, { primary, weight, screen }, null, allocate),
  "subject-difference": subjectAware,
  unmix: (sources, settings, allocate) => {
    const { reach, follow, floor, waver, rims } = settings.unmix;
    const { plate, screen, primary } = sources;
    const prior = subjectAware(sources, settings, fresh);
    const own = sources.own();
    const { nearScreen, paler, passed } = own ?? {};
    // What is solid only if it is less warm than it may be is not certain.
    const sure = own?.warmest
      ? subjectDifference(plate, { primary, weight: settings.weight, screen }, { excess: own.warmest, paler: own.paler })
      : prior;
    // Rims that the difference tells nothing of are solved too.
    if (paler) for (let i = 0; i < paler.length; i++) prior.data[i] = Math.max(prior.data[i] as number, paler[i] as number);
    return unmix(
      plate,
      {
        screen,
        primary,
        prior,
        sure,
        reach: Math.max(2, reach * sources.scale),
        follow,
        floor,
        waver,
        rims: Math.ceil(rims * sources.scale),
        ...(nearScreen ? { nearScreen } : {}),
        ...(passed ? { passed } : {}),
      },
      allocate,
    );
  },
  "chroma-distance": ({ plate, screen }, { chroma }, allocate) => chromaDistance(plate, { screen, ...chroma }, allocate),
  "colour-ranges": ({ plate }, { ranges, softness }, allocate) => colourRanges(plate, { ranges, softness }, allocate),
  "clean-difference": ({ plate, screen, colour, primary }, { deviations }, allocate) =>
    cleanDifference(plate, { screen, noise: grainOf(plate, primary), at: colour, ...deviations }, allocate),
  luminance: ({ plate }, { luminance }, allocate) => luminancePull(plate, luminance, allocate),
};
