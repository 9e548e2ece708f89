import { luminance, type Rgb } from "../color/hue";
import { encodeWith, isVideo, type Transfer } from "../color/transfer";
import type { Fringes } from "../image/fringes";
import { lumaOf } from "../image/luma";
import { type Picture, type Region, regionInFull } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import type { RawFrame } from "../image/raw-frame";
import { shrinkPicture } from "../image/resample";
import { colourDifference } from "../key/colour-difference";
import { type EdgeWidths, edgeWidths } from "../measure/edge-width";
import { tellFringes } from "../measure/fringes";
import { tellSharpening } from "../measure/sharpening";
import { partAreas } from "./areas";
import { insideBars, reducedInside } from "./bars";
import { clippedFrom } from "./clipped";
import { type CodeRange, codeRange, looksLogarithmic } from "./code-range";
import { type CodecTraces, measureCodecTraces, NO_TRACES } from "./codec-traces";
import { describeColour, findScreen } from "./find";
import { measureLight, overviewFactor, type ScreenLight, screenLightOf } from "./light";
import { blockNoise } from "./noise";
import { type PlateFinding, plateFindings } from "./plate-findings";
import type { Primary } from "./primary";
import { measureSubject, type SubjectReport } from "./subject";

/** One rule of thumb for the screen's level, and whether the plate keeps to it. Common practice; schools differ. */
export interface LevelSchool {
  readonly school: string;
  readonly measured: string;
  readonly met: boolean;
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
    /** Stops under the subject's median luminance; negative when brighter. Null without a subject. */
    readonly under: number | null;
    readonly schools: readonly LevelSchool[];
    /** Share of the frame, 0…1. */
    readonly share: number;
    readonly sampled: Region;
    /** Columns with screen in them, as shares of the width. */
    readonly span: readonly [number, number];
  };
  readonly evenness: ScreenLight;
  /** Standard deviation of each channel's grain on the screen, percent of full code range. */
  readonly noise: Rgb;
  /** As the file says, for instance 4:2:0. */
  readonly chromaFormat: string;
  readonly traces: CodecTraces;
  readonly pixelAspect: number;
  /** Between which codes the frame lies; and whether, read as video, it looks like a camera's logarithm. */
  readonly codes: CodeRange & { readonly logarithmic: boolean };
  readonly markers: readonly Region[];
  readonly subject: SubjectReport;
  readonly edges: EdgeWidths;
  /** How much larger the lens draws red and blue than green, px at the corners; 0 where edges tell of none. */
  readonly fringes: Fringes;
  /** How far luma goes beyond the screen beside sharp edges at least, as a share of their step: what a camera's sharpening leaves. */
  readonly overshoot: number;
  /** Share of the frame at the top or bottom of the code range in any channel, 0…1. */
  readonly clipped: number;
  readonly findings: readonly PlateFinding[];
}

/** What the report needs to know of the file besides its picture. */
export interface PlateFile {
  readonly transfer: Transfer;
  readonly chromaFormat: string;
  readonly pixelAspect: number;
  /** The frame as recorded, for the traces of recording; without it they are not measured. */
  readonly raw?: RawFrame;
}

/** A mask of the reduced frame at full size. */
function enlargeMask(mask: Uint8Array, maskWidth: number, factor: number, width: number, height: number): Uint8Array {
  if (factor === 1) return mask;
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / factor) * maskWidth;
    for (let x = 0; x < width; x++) out[y * width + x] = mask[row + Math.floor(x / factor)] as number;
  }
  return out;
}

/**
 * Measures a plate before anything is touched.
 * @param picture scene-linear, whole frame
 * @throws RangeError when no screen is found
 */
export function reportPlate(picture: Picture, file: PlateFile): PlateReport {
  const { width, height } = picture;
  // What is large is measured on a reduced copy; grain, edges and codes on the frame itself.
  const factor = overviewFactor(picture);
  const small = shrinkPicture(picture, factor);
  const found = findScreen(small);
  const encode = encodeWith(file.transfer);
  const inside = insideBars(picture);
  const smallInside = reducedInside(inside, picture, small, factor);
  const codes = codeRange(small, smallInside, encode);
  const { colour } = found.sample;
  const code = { r: encode(colour.r), g: encode(colour.g), b: encode(colour.b) };
  const luma = lumaOf(small);
  const light = measureLight(luma, found.mask);
  const screenLight = screenMedian(luma.data, found.mask) ?? luminance(colour);
  const besides = screenLightOf(luma.data, small[found.primary], found.mask);
  const areas = partAreas(found.mask, luma.data, besides, small.width, small.height, smallInside);
  const subject = measureSubject(small, areas.subject, colour, found.primary);

  const mask = enlargeMask(found.mask, small.width, factor, width, height);
  const slope = (v: number) => (encode(v + 1e-4) - encode(Math.max(0, v - 1e-4))) / (v > 1e-4 ? 2e-4 : 1e-4 + v);
  const grain = (c: "r" | "g" | "b") => 100 * blockNoise(picture[c], mask, width, height) * slope(Math.max(1e-3, colour[c]));
  const noise = { r: grain("r"), g: grain("g"), b: grain("b") };

  const alpha = colourDifference(picture, { screen: colour, primary: found.primary, weight: 0.5 });
  const edges = edgeWidths(alpha);
  const { r, g, b } = picture;
  const top = clippedFrom(file.transfer, file.raw);
  // Every third pixel tells the share as well as all.
  let clipped = 0;
  for (let i = 0; i < r.length; i += 3) if ((r[i] as number) >= top || (g[i] as number) >= top || (b[i] as number) >= top) clipped += 3;
  clipped /= width * height;

  const video = encodeWith("bt709");
  // Hues and saturations of the trade are those of video: codes of a logarithm are all paler.
  const { hue, saturation } = describeColour(colour, isVideo(file.transfer) ? encode : video);
  // What a waveform shows: luma of the codes, for the sampled colour in the light of the screen's middle.
  const k = screenLight / luminance(colour);
  const { level } = describeColour({ r: k * colour.r, g: k * colour.g, b: k * colour.b }, video);
  const subjectLevel = subject.light === null ? null : 100 * video(subject.light);
  const under = subject.light && screenLight > 0 ? Math.log2(subject.light / screenLight) : null;
  const schools: LevelSchool[] = [
    { school: "about 40 % of BT.709", measured: `${level.toFixed(0)} %`, met: Math.abs(level - 40) <= 6 },
    {
      school: "screen under 50 %, subject over",
      measured: subjectLevel === null ? `${level.toFixed(0)} %` : `${level.toFixed(0)} %, subject ${subjectLevel.toFixed(0)} %`,
      met: level < 50 && (subjectLevel ?? 100) > 50,
    },
    {
      school: "two stops under the subject",
      measured: under === null ? "no subject" : `${under.toFixed(1)} st under`,
      met: under !== null && Math.abs(under - 2) <= 0.5,
    },
    {
      school: "bright and even",
      measured: `${level.toFixed(0)} %, ±${light.deviation.toFixed(2)} st`,
      met: level >= 40 && light.deviation < 0.25,
    },
  ];
  const traces = file.raw ? measureCodecTraces(file.raw) : NO_TRACES;
  const large = (r: Region): Region => regionInFull(r, factor);
  const spot = <T extends { x: number; y: number }>(at: T): T => ({ ...at, x: at.x * factor, y: at.y * factor });
  const report = {
    screen: {
      primary: found.primary,
      colour,
      code,
      hue,
      saturation,
      level,
      under,
      schools,
      share: found.share,
      sampled: large(found.box),
      span: areas.span,
    },
    evenness: { ...light, hotSpots: light.hotSpots.map(spot), darkSpots: light.darkSpots.map(spot) },
    noise,
    chromaFormat: file.chromaFormat,
    traces,
    pixelAspect: file.pixelAspect,
    codes: { ...codes, logarithmic: isVideo(file.transfer) && looksLogarithmic(codes) },
    markers: areas.scattered ? [] : areas.markers.map(large),
    subject: { ...subject, colours: subject.colours.map((c) => ({ ...c, place: large(c.place) })) },
    edges,
    fringes: tellFringes(picture, found.primary, traces.trueChroma !== null || file.chromaFormat.startsWith("4:2")),
    overshoot: file.raw ? tellSharpening(file.raw, alpha).overshoot : 0,
    clipped,
  };
  const { ends } = areas;
  const findings = plateFindings(report, { width, height, ends, passes: areas.passes.map(large), inside });
  return { ...report, findings };
}

/** Median light where the mask is 1, of every fifth pixel. */
function screenMedian(luma: Float32Array, mask: Uint8Array): number | undefined {
  return middleOf(valuesWhere(luma, mask, 5), undefined);
}
