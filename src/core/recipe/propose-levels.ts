import { boxMean } from "../image/box";
import { linesOf, type Picture, type Plane, type Region, regionInFull } from "../image/plane";
import { percentile } from "../image/rank";
import { glossyDepth } from "../matte/glossy-rims";
import { edgeWidths } from "../measure/edge-width";
import { share } from "../measure/judged";
import type { LocatedScreen } from "../screen/locate";
import { blockNoise } from "../screen/noise";
import { screenInShade } from "../screen/shade";
import { shadedMarkers } from "../screen/shaded-markers";
import { areSwarm, largestIsland, setOfMarkers } from "./marker-set";
import type { Pass } from "./schema";

/** Levels that automatic bounds start from at the least and at the most. */
const OUT_LEAST = 0.03;
const OUT_MOST = 0.2;
/** Share of the frame's lines by which bounds keep clear of the edge. */
const CLEAR = 1 / 120;
/** Area of an island against its marker's own box: shadow and soft rim come on top. */
const MARKER_ROOM = 1.5;
/** Deviations of the screen's grain up to which it reaches. */
const GRAINS = 6;
/** How far levels go, as a share of the grain. */
const LEVELS = 0.25;
/** Grain under which there is none to speak of. */
const NO_GRAIN = 0.01;
/** Grain up to which mixtures can be told from shade, and how deep rims are then looked through, as a share of the frame's lines. */
const RIM_GRAIN = 0.04;
const RIM = 1 / 270;
const RIM_OF_COARSE_CHROMA = 1 / 540;
/** Width of the sharpest edges, px, over which the plate is soft; and how deep its rims are looked through, as a share of that width. */
const SOFT = 2;
const SOFT_RIM = 1.6;
/** Lines of a frame on whose copy edges must be as sharp as that, for its glossy rims to be told from soft ones. */
const GLOSSY_LINES = 360;
/** Where grain and coarse chroma open the outermost pixels of the subject: what is nearly solid is solid; under the knee soft edges stay. */
const NEARLY_SOLID = 0.908;
const KNEE = 0.82;
/** Matte under which a small island that stands alone on the screen is of a recording that compresses. */
const FAINT = 0.12;
/** How deep a place beside an edge may be open that coarse chroma leaves there. */
const DIPS = 0.4;

/** What levels are read from. */
export interface SeenForLevels {
  readonly located: LocatedScreen;
  /** The first matte of the unmix, and the screen behind every pixel; of the plate's size. */
  readonly pull: Plane;
  readonly cleanPlate: Picture;
  /** Places of the reduced copy that are deep in the screen, and small patches with screen all around. */
  readonly outside: Uint32Array;
  readonly markers: readonly Region[];
  /** Whether these lie as by chance. */
  readonly scattered: boolean;
  /** Whether colour is coarser than the picture, and whether grain was taken off it. */
  readonly subsampled: boolean;
  readonly denoised: boolean;
}

/** What a proposal sets by the grain and the sharpness of a plate, and why. */
export interface ProposedLevels {
  readonly unmix: Pick<Pass["pull"]["unmix"], "floor" | "waver" | "rims">;
  readonly matte: Pick<Pass["matte"], "black" | "white" | "knee" | "bounds">;
  readonly reasons: readonly string[];
}

/** Noise floor, automatic bounds and levels, read at full size, where the grain is. */
export function proposeLevels(plate: Picture, seen: SeenForLevels): ProposedLevels {
  const { located, pull, cleanPlate, outside, subsampled } = seen;
  const { found, small, factor } = located;
  const lines = linesOf(plate);
  const reasons: string[] = [];
  const calm = boxMean(pull.data, pull.width, pull.height, 1);
  const onScreen = new Float32Array(outside.length);
  for (let k = 0; k < onScreen.length; k++) {
    const i = outside[k] as number;
    const x = Math.min(plate.width - 1, (i % small.width) * factor);
    const y = Math.min(plate.height - 1, Math.floor(i / small.width) * factor);
    onScreen[k] = calm[y * plate.width + x] as number;
  }
  const sigma = blockNoise(calm, found.mask, plate.width, plate.height, { factor });
  // What lies far over the grain on the screen is smoke, or shadow; it says nothing of the grain.
  const farthest = percentile(onScreen, 0.98, 0);
  const screenTop = Math.min(farthest, percentile(onScreen, 0.5, 0) + GRAINS * sigma);
  const outLevel = Math.min(OUT_MOST, Math.max(OUT_LEAST, Math.round(1000 * (1.5 * screenTop + 0.01)) / 1000));
  const patches = seen.markers.map((m) => regionInFull(m, factor));
  const swarm = seen.scattered || areSwarm(patches, pull, plate, cleanPlate);
  const markers = swarm ? [] : patches;
  const shaded = shadedMarkers({ ...pull, data: calm }, () => screenInShade(plate, cleanPlate, found.primary), outLevel).filter(
    (m) => !markers.some((k) => m.x < k.x + k.width && k.x < m.x + m.width && m.y < k.y + k.height && k.y < m.y + m.height),
  );
  // Stains are alike by chance: among many of them a set of crosses must not be lost. Leaves of a swarm may have the screen's own colour.
  const sets = swarm && shaded.length < patches.length ? [[]] : [markers, shaded, [...markers, ...shaded]];
  const all = sets.reduce((a, b) => (setOfMarkers(b).largest > setOfMarkers(a).largest ? b : a));
  const set = setOfMarkers(all);
  const islands = set.count && Math.max(Math.round(MARKER_ROOM * set.largest), largestIsland(all, set.usual, pull, calm, outLevel));
  if (islands > 0)
    reasons.push(
      `Bounds: ${set.count} markers on the screen, so islands up to ${islands} px² are dropped, those too that hang on the subject by their shadow alone; cut off those that touch it with a garbage shape, and hold what is small and flies, bees say, with a holdout.`,
    );
  const grain = Math.min(0.05, Math.round(1000 * screenTop) / 1000);
  // Subject wavers with light and texture as well as grain: as much as anything on the screen does.
  const waver = Math.min(0.075, Math.max(1.5 * grain, Math.round(1500 * farthest) / 1000));
  const opened = grain >= NO_GRAIN || seen.denoised || subsampled;
  const clear = Math.max(2, Math.round(lines * CLEAR));
  reasons.push(
    `Automatic bounds: out ${clear} px beyond a matte of ${share(outLevel)} (the grain of the screen reaches ${share(screenTop)}), held ${clear} px inside one of 88 %; what lies under the grain, ${share(grain)}, is empty.`,
  );
  reasons.push(
    "Automatic bounds: folds, seams and stains of the screen that the clean plate does not follow are out, where they hang on no subject; seams and shadows that run up to one are cut off at it.",
  );
  if (opened)
    reasons.push(
      `Automatic bounds: small islands that stand alone on the screen and stay under ${share(FAINT)} are out, as blocks and ripples of compression are.`,
    );
  if (subsampled)
    reasons.push(
      `Automatic bounds: places beside the edge that coarse chroma leaves open by up to ${share(DIPS)} are closed where most around them is solid.`,
    );
  const { sharp } = edgeWidths(pull);
  const glossy = sharp > SOFT * Math.max(1, lines / GLOSSY_LINES) ? 0 : glossyDepth(lines);
  if (glossy === 0)
    reasons.push(
      `Automatic bounds: the sharpest edges are ${sharp.toFixed(1)} px wide, too soft to tell rims that mirror the screen; they are left open.`,
    );
  else
    reasons.push(
      `Automatic bounds: rims of metal and glaze that mirror the screen stand open behind a sharp outline, and are closed where they grow solid within ${glossy} px of it.`,
    );
  const usualRims = Math.max(1, Math.round(lines * (subsampled ? RIM_OF_COARSE_CHROMA : RIM)));
  const rims = grain >= RIM_GRAIN ? 0 : sharp > SOFT ? Math.max(usualRims, Math.round(SOFT_RIM * sharp)) : usualRims;
  if (rims > 0)
    reasons.push(
      `Pull: little enough grain to tell a mixture from a shade, so rims are looked through ${rims} px deep for screen in what passes for solid, and blurred edges as deep as cover climbs.`,
    );
  // The unmix has cleared what is under the grain already.
  const black = Math.round(1000 * LEVELS * grain) / 1000;
  const levelled = opened
    ? "the black point goes a quarter as far as the screen wavers"
    : "black and white points go a quarter as far as screen and subject waver";
  reasons.push(`Matte: ${levelled}, since each step costs soft edge.`);
  const white = opened ? NEARLY_SOLID : 1 - Math.round((1000 * LEVELS * waver) / 1.5) / 1000;
  const knee = opened ? Math.round((1000 * KNEE) / NEARLY_SOLID) / 1000 : 0;
  if (opened)
    reasons.push(
      `Matte: grain and coarse chroma open the subject's outermost pixels, so what is over ${share(NEARLY_SOLID)} is solid; under ${share(KNEE)} the white point does nothing, and soft edges stay as pulled.`,
    );
  const bounds = {
    on: true,
    outLevel,
    grow: clear,
    inLevel: 0.88,
    shrink: clear,
    soft: Math.max(2, clear / 2),
    specks: Math.round((lines / 270) ** 2),
    islands,
    faint: opened ? FAINT : 0,
    shade: true,
    dips: subsampled ? DIPS : 0,
    glossy,
  };
  return { unmix: { floor: grain, waver, rims }, matte: { black, white, knee, bounds }, reasons };
}
