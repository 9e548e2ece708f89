import { luminance, type Rgb } from "../color/hue";
import { encodeWith, type Transfer } from "../color/transfer";
import { lumaOf } from "../image/luma";
import { type Picture, type Region, regionInFull } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import type { RawFrame } from "../image/raw-frame";
import { shrinkPicture } from "../image/resample";
import { colourDifference } from "../key/colour-difference";
import { type EdgeWidths, edgeWidths } from "../measure/edge-width";
import { partAreas } from "./areas";
import { insideBars, reducedInside } from "./bars";
import { CLIPPED } from "./clipped";
import { type CodecTraces, measureCodecTraces } from "./codec-traces";
import { describeColour, findScreen } from "./find";
import { measureLight, overviewFactor, type ScreenLight } from "./light";
import { blockNoise } from "./noise";
import { type Primary, screenName } from "./primary";
import { measureSubject, type SubjectReport } from "./subject";

/** A measured problem of the plate. */
export interface PlateFinding {
  readonly figure: string;
  readonly what: string;
  readonly remedy: string;
  /** The step that mends it. */
  readonly step: "Plate" | "Screen" | "Bounds" | "Pull" | "Matte" | "Spill" | "Edge";
  readonly place: Region | null;
}

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
  readonly markers: readonly Region[];
  readonly subject: SubjectReport;
  readonly edges: EdgeWidths;
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

const around = (x: number, y: number, size: number): Region => ({
  x: Math.max(0, x - size / 2),
  y: Math.max(0, y - size / 2),
  width: size,
  height: size,
});

/**
 * Measures a plate before anything is touched.
 * @param picture scene-linear, whole frame
 * @throws RangeError when no screen is found
 */
export function reportPlate(picture: Picture, file: PlateFile): PlateReport {
  const { width, height } = picture;
  // What is large is measured on a reduced copy; grain, edges and codes on the frame itself.
  const factor = overviewFactor(width);
  const small = shrinkPicture(picture, factor);
  const found = findScreen(small);
  const encode = encodeWith(file.transfer);
  const { colour } = found.sample;
  const code = { r: encode(colour.r), g: encode(colour.g), b: encode(colour.b) };
  const luma = lumaOf(small);
  const light = measureLight(luma, found.mask);
  const screenLight = screenMedian(luma.data, found.mask) ?? luminance(colour);
  const inside = insideBars(picture);
  const areas = partAreas(found.mask, luma.data, screenLight, small.width, small.height, reducedInside(inside, picture, small, factor));
  const subject = measureSubject(small, areas.subject, colour, found.primary);

  const mask = enlargeMask(found.mask, small.width, factor, width, height);
  const slope = (v: number) => (encode(v + 1e-4) - encode(Math.max(0, v - 1e-4))) / (v > 1e-4 ? 2e-4 : 1e-4 + v);
  const grain = (c: "r" | "g" | "b") => 100 * blockNoise(picture[c], mask, width, height) * slope(Math.max(1e-3, colour[c]));
  const noise = { r: grain("r"), g: grain("g"), b: grain("b") };

  const alpha = colourDifference(picture, { screen: colour, primary: found.primary, weight: 0.5 });
  const edges = edgeWidths(alpha);
  const { r, g, b } = picture;
  // Every third pixel tells the share as well as all.
  let clipped = 0;
  for (let i = 0; i < r.length; i += 3)
    if ((r[i] as number) >= CLIPPED || (g[i] as number) >= CLIPPED || (b[i] as number) >= CLIPPED) clipped += 3;
  clipped /= width * height;

  const { hue, saturation } = describeColour(colour, encode);
  const video = encodeWith("bt709");
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
    traces: file.raw ? measureCodecTraces(file.raw) : { trueChroma: null, blocking: 0, combing: 0 },
    pixelAspect: file.pixelAspect,
    markers: areas.markers.map(large),
    subject: { ...subject, colours: subject.colours.map((c) => ({ ...c, place: large(c.place) })) },
    edges,
    clipped,
  };
  return { ...report, findings: judge(report, picture, areas.ends, areas.passes.map(large), inside) };
}

/** Median light where the mask is 1, of every fifth pixel. */
function screenMedian(luma: Float32Array, mask: Uint8Array): number | undefined {
  return middleOf(valuesWhere(luma, mask, 5), undefined);
}

/** What of the figures is a problem, worst first, and which step mends it. The bounds are common practice. */
function judge(
  r: Omit<PlateReport, "findings">,
  { width, height }: Picture,
  ends: { left: number; right: number; top: number },
  passes: readonly Region[],
  inside: Region,
): PlateFinding[] {
  const found: (PlateFinding & { weight: number })[] = [];
  const add = (weight: number, figure: string, what: string, remedy: string, step: PlateFinding["step"], place: Region | null = null) =>
    found.push({ weight, figure, what, remedy, step, place });
  const { screen, evenness: light, traces, subject } = r;
  const noisiest = Math.max(r.noise.r, r.noise.g, r.noise.b);
  const side = Math.round(height / 6);

  if (light.spread > 0.8)
    add(
      light.spread,
      `${light.spread.toFixed(2)} st`,
      "The screen is lit unevenly: one threshold cannot suit all of it",
      "Pull against a synthesised clean plate, and draw a garbage matte close to the subject",
      "Screen",
    );
  for (const s of light.hotSpots)
    add(
      s.stops,
      `+${s.stops.toFixed(2)} st`,
      "A hot spot on the screen",
      "Pull against a synthesised clean plate, or keep it out with a garbage matte",
      "Screen",
      around(s.x, s.y, side),
    );
  for (const s of light.darkSpots)
    add(
      -s.stops,
      `${s.stops.toFixed(2)} st`,
      "A dark patch on the screen: a shadow or a fold",
      "Pull against a synthesised clean plate; a cast shadow may be kept for the scene",
      "Screen",
      around(s.x, s.y, side),
    );
  if (light.wrinkles > 0.1)
    add(
      3 * light.wrinkles,
      `±${light.wrinkles.toFixed(2)} st`,
      "Creases in the screen",
      "Pull against a synthesised clean plate",
      "Screen",
    );
  if (noisiest > 1.5)
    add(
      noisiest / 2,
      `${noisiest.toFixed(1)} %`,
      "The screen is noisy",
      "Let the matte be made from a denoised copy; raise the black point only to just above the grain",
      "Pull",
      screen.sampled,
    );
  if (screen.level < 22)
    add(
      1.2,
      `${screen.level.toFixed(0)} %`,
      "The screen is dark (about 40 % is common practice): noise weighs more in the matte",
      "Denoise for the matte",
      "Pull",
      screen.sampled,
    );
  if (screen.saturation < 0.45)
    add(
      1.5,
      `${(100 * screen.saturation).toFixed(0)} %`,
      `The ${screenName(screen.colour)} of the screen is weak against its other channels`,
      "Set the weight so that the subject separates best",
      "Pull",
      screen.sampled,
    );
  if (r.chromaFormat === "4:2:0" || traces.trueChroma === "4:2:0")
    add(
      0.6,
      "4:2:0",
      r.chromaFormat === "4:2:0"
        ? "Colour is stored at half the picture's resolution in both directions: fine edges step"
        : `The file says ${r.chromaFormat}, but its colour holds half the resolution in both directions`,
      "Chroma is rebuilt along luma for the matte",
      "Plate",
    );
  else if (traces.trueChroma === "4:2:2" && r.chromaFormat !== "4:2:2")
    add(
      0.4,
      "4:2:2",
      `The file says ${r.chromaFormat}, but its colour holds half the resolution across`,
      "Chroma is rebuilt along luma for the matte",
      "Plate",
    );
  if (traces.blocking > 0.35)
    add(
      0.5 + traces.blocking / 2,
      `+${(100 * traces.blocking).toFixed(0)} %`,
      "Block compression shows: steps stand on the borders of 8 px blocks",
      "Blur the matte's copy slightly (about 0.5 px is common practice)",
      "Pull",
    );
  if (traces.combing > 0.002)
    add(
      2,
      `${(100 * traces.combing).toFixed(1)} %`,
      "Interlaced: moving edges comb",
      "Deinterlace before the key; half of the lines belong to another moment",
      "Plate",
    );
  if (Math.abs(r.pixelAspect - 1) > 0.01)
    add(
      0.3,
      r.pixelAspect.toFixed(3),
      "Pixels are not square",
      "The viewer shows them at their true shape; grow and shrink are meant in plate pixels",
      "Plate",
    );
  // Markers are put up several at a time.
  const [marker, ...others] = r.markers;
  if (marker && others.length === 0)
    add(
      0.8,
      `${Math.round(marker.width)}×${Math.round(marker.height)} px`,
      "A small patch stands alone on the screen",
      "If it is a marker or a stain, throw it out with a garbage matte; a glint on glass stays",
      "Bounds",
      marker,
    );
  else if (marker)
    add(
      0.8,
      `${r.markers.length}`,
      "Markers on the screen",
      "Throw them out with a garbage matte, or let islands be dropped",
      "Bounds",
      marker,
    );
  const edge = (["left", "right", "top"] as const).filter((e) => ends[e] > 0.05);
  if (edge.length > 0) {
    const [from, to] = screen.span;
    const place =
      ends.right > 0.05
        ? { x: to * width, y: 0, width: (1 - to) * width, height }
        : ends.left > 0.05
          ? { x: 0, y: 0, width: from * width, height }
          : null;
    add(
      2.5,
      `${(100 * Math.max(ends.left, ends.right, ends.top)).toFixed(0)} %`,
      `The screen ends inside the frame (${edge.join(", ")})`,
      "Throw away what lies beyond it with a garbage matte",
      "Bounds",
      place && place.width >= 1 ? place : null,
    );
  }
  for (const place of passes)
    add(
      2.4,
      `${Math.max(place.width, place.height)} px`,
      "The subject passes the screen's end",
      "Hold what lies beyond it with a holdout along its outline: no key parts it there",
      "Bounds",
      place,
    );
  if (inside.width < width || inside.height < height)
    add(
      2.6,
      `${inside.width}×${inside.height} px`,
      "Black bars stand around the picture",
      "They are thrown away with what lies beyond the screen",
      "Bounds",
    );
  const near = subject.colours.find((c) => c.hueDistance < 45 && c.share > 0.01);
  if (near)
    add(
      2 + near.share,
      `${near.hueDistance.toFixed(0)}°`,
      `A subject colour lies close to the screen (${(100 * near.share).toFixed(0)} % of the subject, hue ${near.hue.toFixed(0)}°)`,
      "Shift the weight, protect it from spill treatment, or draw a holdout",
      "Pull",
      near.place,
    );
  if (subject.spill > 0.05)
    add(
      10 * subject.spill,
      `${(100 * subject.spill).toFixed(1)} %`,
      "Screen light on the subject",
      "Take it out in Spill, judged over the background",
      "Spill",
    );
  if (r.edges.widest > Math.max(6, height / 120))
    add(
      0.7,
      `${r.edges.widest.toFixed(0)} px`,
      "Edges are smeared by movement, defocus or glass",
      "Keep the white point high; let the screen be taken out of mixed pixels",
      "Edge",
      r.edges.at && around(r.edges.at.x, r.edges.at.y, side),
    );
  if (r.clipped > 0.005)
    add(
      0.6,
      `${(100 * r.clipped).toFixed(1)} %`,
      "Clipped pixels: their colour is lost",
      "They cannot be told from glossy white: a holdout keeps them solid",
      "Matte",
    );
  return found.sort((a, b) => b.weight - a.weight).map(({ weight: _, ...f }) => f);
}
