import { linesOf, type Region } from "../image/plane";
import { describeFringes } from "../measure/fringes";
import { screenName } from "./primary";
import type { PlateReport } from "./report";

/** A measured problem of the plate. */
export interface PlateFinding {
  readonly figure: string;
  readonly what: string;
  readonly remedy: string;
  /** The step that mends it. */
  readonly step: "Plate" | "Screen" | "Bounds" | "Pull" | "Matte" | "Spill" | "Edge";
  readonly place: Region | null;
}

/** The report's figures. */
type Figures = Omit<PlateReport, "findings">;

/** The frame, and how the screen lies in it, px. */
export interface PlateFrame {
  readonly width: number;
  readonly height: number;
  /** Share of each border of the picture beyond the screen's end, 0…1. */
  readonly ends: { readonly left: number; readonly right: number; readonly top: number };
  /** Where the subject passes the screen's end. */
  readonly passes: readonly Region[];
  /** The picture without black bars. */
  readonly inside: Region;
}

type Add = (weight: number, figure: string, what: string, remedy: string, step: PlateFinding["step"], place?: Region | null) => void;

/** What of the figures is a problem, worst first, and which step mends it. The bounds are common practice. */
export function plateFindings(r: Figures, frame: PlateFrame): PlateFinding[] {
  const found: (PlateFinding & { weight: number })[] = [];
  const add: Add = (weight, figure, what, remedy, step, place = null) => found.push({ weight, figure, what, remedy, step, place });
  ofLight(r, frame, add);
  ofColour(r, add);
  ofRecording(r, add);
  ofFraming(r, frame, add);
  ofSubject(r, frame, add);
  return found.sort((a, b) => b.weight - a.weight).map(({ weight: _, ...f }) => f);
}

/** Side of the place that is shown around a spot, px. */
const sideOf = (frame: PlateFrame) => Math.round(linesOf(frame) / 6);

const around = (x: number, y: number, size: number): Region => ({
  x: Math.max(0, x - size / 2),
  y: Math.max(0, y - size / 2),
  width: size,
  height: size,
});

/** How evenly the screen is lit. */
function ofLight({ evenness: light }: Figures, frame: PlateFrame, add: Add): void {
  const side = sideOf(frame);
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
}

/** The screen's colour, level and grain. */
function ofColour({ screen, noise }: Figures, add: Add): void {
  const noisiest = Math.max(noise.r, noise.g, noise.b);
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
}

/** What recording did to the picture. */
function ofRecording({ chromaFormat, traces, pixelAspect, codes, fringes, overshoot }: Figures, add: Add): void {
  const fringe = Math.max(Math.abs(fringes.red), Math.abs(fringes.blue));
  if (fringe > 0)
    add(
      0.5 + fringe,
      `${fringe.toFixed(2)} px`,
      `The lens leaves coloured fringes: ${describeFringes(fringes)}`,
      "Bring them to one size for the matte: Propose sets both, under The matte's own copy",
      "Pull",
    );
  if (overshoot > 0)
    add(
      0.5 + 5 * overshoot,
      `at least ${(100 * overshoot).toFixed(0)} %`,
      "The camera sharpened its picture: along edges luma goes beyond the screen's",
      "Undo it for the matte: Propose sets how far, under The matte's own copy; sharpening is best switched off when shooting for a key",
      "Pull",
    );
  if (codes.logarithmic)
    add(
      3,
      `${(100 * codes.low).toFixed(0)} to ${(100 * codes.high).toFixed(0)} %`,
      "Codes keep away from black and white: the plate may be a camera's logarithm",
      "If it is, choose its curve under Read as: read as video, the mixtures of every edge come out wrong",
      "Plate",
    );
  if (chromaFormat === "4:2:0" || traces.trueChroma === "4:2:0")
    add(
      0.6,
      "4:2:0",
      chromaFormat === "4:2:0"
        ? "Colour is stored at half the picture's resolution in both directions: fine edges step"
        : `The file says ${chromaFormat}, but its colour holds half the resolution in both directions`,
      "Chroma is rebuilt along luma for the matte",
      "Plate",
    );
  else if (traces.trueChroma === "4:2:2" && chromaFormat !== "4:2:2")
    add(
      0.4,
      "4:2:2",
      `The file says ${chromaFormat}, but its colour holds half the resolution across`,
      "Chroma is rebuilt along luma for the matte",
      "Plate",
    );
  if (traces.mosaic)
    add(
      0.4,
      "mosaic",
      "The camera saw one colour at each pixel and interpolated the others: false colour stands beside edges and in fine patterns",
      "It is cleared along luma for the matte: Propose does so, under The matte's own copy",
      "Pull",
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
  if (Math.abs(pixelAspect - 1) > 0.01)
    add(
      0.3,
      pixelAspect.toFixed(3),
      "Pixels are not square",
      "The viewer shows them at their true shape; grow and shrink are meant in plate pixels",
      "Plate",
    );
}

/** What lies on the screen and where it ends. */
function ofFraming({ markers, screen }: Figures, { width, height, ends, passes, inside }: PlateFrame, add: Add): void {
  // Markers are put up several at a time.
  const [marker, ...others] = markers;
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
      `${markers.length}`,
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
}

/** The subject before the screen. */
function ofSubject({ subject, edges, clipped }: Figures, frame: PlateFrame, add: Add): void {
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
  if (edges.widest > Math.max(6, linesOf(frame) / 120))
    add(
      0.7,
      `${edges.widest.toFixed(0)} px`,
      "Edges are smeared by movement, defocus or glass",
      "Keep the white point high; let the screen be taken out of mixed pixels",
      "Edge",
      edges.at && around(edges.at.x, edges.at.y, sideOf(frame)),
    );
  if (clipped > 0.005)
    add(
      0.6,
      `${(100 * clipped).toFixed(1)} %`,
      "Clipped pixels: their colour is lost",
      "They cannot be told from glossy white: a holdout keeps them solid",
      "Matte",
    );
}
