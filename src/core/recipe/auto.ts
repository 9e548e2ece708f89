import { boxMean } from "../image/box";
import { recordedBehindRgb } from "../image/chroma-behind-rgb";
import { distanceTo } from "../image/distance";
import { lumaOf } from "../image/luma";
import { notOf } from "../image/mask";
import { type Picture, type Region, regionInFull } from "../image/plane";
import { middleOf, valueAt, valuesWhere } from "../image/rank";
import { shrinkPicture } from "../image/resample";
import { excessOf } from "../key/colour-difference";
import { partingWeight } from "../key/parting-weight";
import { subjectExcess } from "../key/subject-difference";
import { glossyDepth } from "../matte/glossy-rims";
import { densestPlace } from "../measure/densest";
import { edgeWidths } from "../measure/edge-width";
import { openPlaces, placeAround } from "../measure/open-places";
import { openStretches } from "../measure/open-stretches";
import { partAreas } from "../screen/areas";
import { insideBars, reducedInside } from "../screen/bars";
import { clippedScreen } from "../screen/clipped";
import { locateScreen } from "../screen/locate";
import { blockNoise, SMOOTHEST } from "../screen/noise";
import { excessPlane, PRIMARY_NAME, screenName } from "../screen/primary";
import { screenInShade } from "../screen/shade";
import { shadedMarkers } from "../screen/shaded-markers";
import { beyondChannels } from "../spill/limit";
import { type Evaluation, evaluate, type OutputName } from "./evaluate";
import { defaultRecipe, type Pass, type Recipe } from "./schema";
import type { PlateSource } from "./sources";
import { StepCache } from "./step-cache";

export interface Proposal {
  readonly recipe: Recipe;
  /** Why each value was chosen, a sentence each. */
  readonly reasons: readonly string[];
  /** What the key cannot solve, and what would. */
  readonly notSolved: readonly NotSolved[];
}

/** Levels that automatic bounds start from at the least and at the most. */
const OUT_LEAST = 0.03;
const OUT_MOST = 0.12;
/** Share of the frame's height by which bounds keep clear of the edge. */
const CLEAR = 1 / 120;
/** Area of an island against its marker's own box: shadow and soft rim come on top. */
const MARKER_ROOM = 1.5;
/** Markers of one size that make a set. */
const MARKERS_LEAST = 3;
/** How far subject colours are looked for, as a share of the frame's height, so that large frames are pulled as small ones are; px at least. */
const REACH = 0.11;
const LEAST_REACH = 48;
/** Deviations of the screen's grain up to which it reaches. */
const GRAINS = 6;
/**
 * How much grain is taken off colour where every pixel has its own, as a share of the grain of the screen's primary; the least that is worth it, and
 * the most that a recipe holds.
 */
const DENOISED = 0.8;
const LEAST_DENOISED = 0.003;
const MOST_DENOISED = 0.1;
/** How far levels go, as a share of the grain. */
const LEVELS = 0.25;
/** Grain under which there is none to speak of. */
const NO_GRAIN = 0.01;
/** Grain up to which mixtures can be told from shade, and how deep rims are then looked through, as a share of the height. */
const RIM_GRAIN = 0.04;
const RIM = 1 / 270;
const RIM_OF_COARSE_CHROMA = 1 / 540;
/** Width of the sharpest edges, px, over which the plate is soft; and how deep its rims are looked through, as a share of that width. */
const SOFT = 2;
const SOFT_RIM = 1.6;
/**
 * Grain of the screen's excess, as a share of it, from which on it comes off light too: high sensitivity, or a dim screen. How much of it, and at
 * most; and how much of that comes off coarse chroma: as much costs strands there, half leaves a fraction of the specks.
 */
const HEAVY_GRAIN = 0.05;
const OF_HEAVY = 0.5;
const MOST_OF_HEAVY = 0.1;
const COARSE_COLOUR = 0.5;
/** Lines of a frame on whose copy edges must be as sharp as that, for its glossy rims to be told from soft ones. */
const GLOSSY_LINES = 360;
/** Where grain and coarse chroma open the outermost pixels of the subject: what is nearly solid is solid; under the knee soft edges stay. */
const NEARLY_SOLID = 0.908;
const KNEE = 0.82;
/** Matte under which a small island that stands alone on the screen is of a recording that compresses. */
const FAINT = 0.12;
/** How deep a place beside an edge may be open that coarse chroma leaves there. */
const DIPS = 0.4;
/** Share of the frame in which the screen is clipped, from which on it is told of. */
const CLIPPED_LEAST = 0.005;
/** Share of certain subject in a near-screen colour from which on it is told of. */
const WARDROBE = 0.004;
/** Most half open stretches that are told of, each by itself. */
const STRETCHES = 3;

const percentile = (values: Float32Array, q: number): number =>
  values.length === 0 ? 0 : valueAt(values, Math.round(q * (values.length - 1)));
const toTenThousandth = (v: number) => Math.round(10_000 * v) / 10_000;
const percent = (v: number) => `${(100 * v).toFixed(1)} %`;

/**
 * Something that the key cannot solve: what stays half open inside the subject, mirrors or cloth, where the subject passes the screen's end, what is
 * lit beside the screen and may be room or set, and where the screen is clipped.
 */
export interface NotSolved {
  readonly kind: "half-open" | "near-screen" | "passes-end" | "lit-wall" | "clipped";
  readonly what: string;
  /** Where, px of the plate. */
  readonly place: Region;
}

/** What a proposal may lean on besides the decoded plate. */
export interface ProposalSources {
  /** The frame as recorded, so that chroma can be rebuilt. */
  readonly recorded?: PlateSource["recorded"];
  /** A supplied clean plate; its hash goes into the recipe. */
  readonly clean?: { readonly id: string; readonly picture: Picture };
}

/**
 * Proposes a complete recipe from the plate alone: screen colour from its cleanest area, a clean plate from the screen's
 * own pixels, preparation by chroma format, a pull that takes the subject's own colour into account, bounds from the
 * noise floor, spill and edge.
 * @param frame the number of the frame that `plate` shows
 * @throws RangeError when no screen is found
 */
export function proposeRecipe(plate: Picture, frame: number, base: Recipe = defaultRecipe(), sources: ProposalSources = {}): Proposal {
  const { found, small, factor, box, sample } = locateScreen(plate);
  const { primary } = found;
  const n = small.width * small.height;
  const reasons: string[] = [
    `Screen: ${screenName(sample.colour)}, averaged over the most even ${box.width}×${box.height} px near the subject; ${percent(found.share)} of the frame is screen.`,
  ];
  const notSolved: NotSolved[] = [];

  const recorded = sources.recorded && (recordedBehindRgb(sources.recorded.raw, sources.recorded.reading.transfer) ?? sources.recorded);
  const layout = recorded?.raw.layout;
  const subsampled = layout?.kind === "ycbcr" && layout.subsampling !== "444";
  if (subsampled)
    reasons.push(
      `Chroma rebuilt along luma for the matte: ${recorded === sources.recorded ? "the file stores colour" : "the file is RGB, but its colour was recorded"} as ${layout.subsampling.split("").join(":")}.`,
    );
  const colourGrain = DENOISED * blockNoise(plate[primary], found.mask, plate.width, plate.height, { quantile: SMOOTHEST, factor });
  const grainOnScreen = blockNoise(excessPlane(plate, primary, 0.5), found.mask, plate.width, plate.height, {
    quantile: SMOOTHEST,
    factor,
  });
  const grainy = grainOnScreen / excessOf(sample.colour, primary, 0.5);
  const denoiseLuma =
    grainy < HEAVY_GRAIN
      ? 0
      : toTenThousandth(Math.min(MOST_OF_HEAVY, OF_HEAVY * blockNoise(plate[primary], found.mask, plate.width, plate.height, { factor })));
  const ofColour = subsampled || colourGrain < LEAST_DENOISED ? 0 : toTenThousandth(Math.min(MOST_DENOISED, colourGrain));
  const denoiseChroma = Math.max(ofColour, toTenThousandth(COARSE_COLOUR * denoiseLuma));
  if (denoiseLuma > 0)
    reasons.push(
      `Grain taken off light and colour for the matte, up to ${denoiseLuma} of light: it reaches ${percent(grainy)} of what parts the screen from grey, more than levels and bounds can take without a loss.`,
    );
  else if (denoiseChroma > 0)
    reasons.push(
      `Grain taken off colour for the matte, up to ${denoiseChroma} of light: colour was recorded for every pixel, with all of its grain.`,
    );
  reasons.push(
    sources.clean
      ? "Clean plate: the one supplied, brought to the plate's exposure."
      : "Clean plate: made from the screen's own pixels, so that gradients, creases and shadows do not count.",
  );

  const known: Recipe = {
    ...base,
    screen: {
      ...base.screen,
      boxes: [{ frame, ...box }],
      strokes: [],
      colour: sample.colour,
      from: sources.clean ? "supplied" : "synthesised",
      cleanPlate: sources.clean?.id ?? null,
    },
    prepare: { ...base.prepare, chroma: subsampled, denoiseLuma, denoiseChroma },
  };
  const looked = {
    plate: { key: "proposal", picture: plate, ...(recorded ? { recorded } : {}) },
    ...(sources.clean ? { clean: { key: sources.clean.id, picture: sources.clean.picture } } : {}),
  };
  // What was made for one look at the frame serves the next.
  const steps = new StepCache();
  const look = (recipe: Recipe, ...outputs: OutputName[]) =>
    evaluate(recipe, looked, { reduce: 1, outputs }, steps) as Required<Evaluation>;

  // The weight that parts certain subject from certain screen best, on the reduced copy.
  const screenPlate = shrinkPicture(look(known, "cleanPlate").cleanPlate, factor);
  const margin = Math.max(3, small.height / 90);
  const toScreen = distanceTo(found.mask, small.width, small.height);
  const toOther = distanceTo(notOf(found.mask), small.width, small.height);
  const inside = placesWhere((i) => (toScreen[i] as number) > margin, n);
  const outside = placesWhere((i) => (toScreen[i] as number) <= margin && (toOther[i] as number) > margin, n);
  const weight = partingWeight(small, screenPlate, sample.colour, inside, outside, margin);
  reasons.push(
    `Pull: unmix. The screen is known at every pixel, the subject's colours come from the nearest certain subject; a first matte by colour difference, weight ${percent(weight)}: of all tried, it parts certain subject from certain screen best.`,
  );

  const luma = lumaOf(small).data;
  const picture = insideBars(plate);
  const middle = middleOf(valuesWhere(luma, found.mask), 0);
  const areas = partAreas(found.mask, luma, middle, small.width, small.height, reducedInside(picture, plate, small, factor));
  const ends = Math.max(areas.ends.left, areas.ends.right, areas.ends.top) > 0.05;
  if (ends) reasons.push("Bounds: the screen ends inside the frame; what lies beyond it is thrown away.");
  for (const at of areas.passes) {
    const place = regionInFull(at, factor);
    notSolved.push({
      kind: "passes-end",
      what: `The subject passes the screen's end at ${Math.round(place.x + place.width / 2)}, ${Math.round(place.y + place.height / 2)}; what of it lies beyond is thrown away, since no key parts it there: draw a holdout along its outline to keep it.`,
      place: marginAround(place, plate),
    });
  }
  for (const at of areas.walls)
    notSolved.push({
      kind: "lit-wall",
      what: "The screen ends along a straight line before something lit, and does not go down to the frame's bottom: if that is the room, throw it away with a garbage shape; if it is the set around a window or a display, it stays.",
      place: regionInFull(at, factor),
    });
  const bars = picture.width < plate.width || picture.height < plate.height;
  if (bars) reasons.push(`Bounds: black bars stand around a picture of ${picture.width}×${picture.height} px; they are thrown away.`);
  const beyond = ends || bars;

  // By what spill is told by: the mean of the two other channels, or the mix beyond them.
  const own = subjectExcess(small, { primary, weight: beyondChannels("mix", weight) ? weight : 0.5, screen: screenPlate });
  const wardrobe = own ? own.nearScreen.filter((v, i) => v > 0.5 && areas.subject[i] === 1).length : 0;
  const subjects = Math.max(
    1,
    areas.subject.reduce((s, v) => s + v, 0),
  );
  reasons.push(
    `Spill: ${
      beyondChannels("mix", weight)
        ? "light of the screen's own hue, which lies between two primaries, is taken where the pull's weight tells it"
        : "the screen primary is limited to the mean of the other two channels"
    }, beyond what each surface has of it well inside the subject, which is its own and stays${
      wardrobe > WARDROBE * subjects ? ` (${percent(wardrobe / subjects)} of the subject has the screen's own hue)` : ""
    }; neutral light of the same luminance goes back.`,
  );
  reasons.push("Edge: the known screen is taken out of mixed pixels, so that no line is left over any ground.");
  if (subsampled)
    reasons.push(
      "Edge: coarse chroma has mixed the screen's colour into the rim; the rim takes the colour of the subject beside it, at its own luma, and all other pixels stay the plate's own.",
    );

  const recipe: Recipe = {
    ...known,
    bounds: { ...base.bounds, beyond },
    passes: [
      {
        ...(base.passes[0] as Pass),
        pull: {
          ...(base.passes[0] as Pass).pull,
          method: "unmix",
          weight,
          unmix: { ...(base.passes[0] as Pass).pull.unmix, reach: Math.max(LEAST_REACH, Math.round(plate.height * REACH)) },
        },
        matte: { ...(base.passes[0] as Pass).matte, black: 0, white: 1 },
        spill: {
          ...(base.passes[0] as Pass).spill,
          ...(beyondChannels("mix", weight) ? { limit: "mix" as const, mix: weight } : { limit: "average" as const }),
          amount: 1,
          replace: "neutral",
          reachWarm: 180,
          reachCool: 180,
          protect: 1,
        },
        edge: { ...(base.passes[0] as Pass).edge, screenOut: 1, chroma: subsampled ? 1 : 0 },
      },
    ],
  };

  // Levels are read at full size, where the grain is, from the first matte of the unmix: on screen and solid subject it is the pull.
  const first = structuredClone(recipe);
  (first.passes[0] as Pass).pull.method = "subject-difference";
  const { pull, cleanPlate } = look(first, "pull", "cleanPlate");
  const clipped = clippedScreen(plate, pull, primary);
  if (clipped.share > CLIPPED_LEAST) {
    const place = densestPlace(clipped.marks, plate.width, plate.height, 1, Math.max(12, plate.height / 9)) as Region;
    notSolved.push({
      kind: "clipped",
      what: `The screen, or what it shows through, is clipped in ${PRIMARY_NAME[primary]} over ${percent(clipped.share)} of the frame, most at ${Math.round(place.x + place.width / 2)}, ${Math.round(place.y + place.height / 2)}: how much screen lies there is lost. Bring the plate in darker from its source, where that holds more; else draw those places.`,
      place,
    });
  }
  const calm = boxMean(pull.data, pull.width, pull.height, 1);
  const onScreen: number[] = [];
  for (let i = 0; i < n; i++)
    if ((toOther[i] as number) > margin) {
      const x = Math.min(plate.width - 1, (i % small.width) * factor);
      const y = Math.min(plate.height - 1, Math.floor(i / small.width) * factor);
      onScreen.push(calm[y * plate.width + x] as number);
    }
  const sigma = blockNoise(calm, found.mask, plate.width, plate.height, { factor });
  // What lies far over the grain on the screen is smoke, or shadow; it says nothing of the grain.
  const levelsOnScreen = Float32Array.from(onScreen);
  const farthest = percentile(levelsOnScreen, 0.98);
  const screenTop = Math.min(farthest, percentile(levelsOnScreen, 0.5) + GRAINS * sigma);
  const outLevel = Math.min(OUT_MOST, Math.max(OUT_LEAST, Math.round(1000 * (1.5 * screenTop + 0.01)) / 1000));
  const markers = areas.markers.map((m) => regionInFull(m, factor));
  const shaded = shadedMarkers({ ...pull, data: calm }, () => screenInShade(plate, cleanPlate, primary), outLevel).filter(
    (m) => !markers.some((k) => m.x < k.x + k.width && k.x < m.x + m.width && m.y < k.y + k.height && k.y < m.y + m.height),
  );
  // Stains are alike by chance: among many of them a set of crosses must not be lost.
  const set = [markers, shaded, [...markers, ...shaded]].map(setOfMarkers).reduce((a, b) => (b.largest > a.largest ? b : a));
  const islands = Math.round(MARKER_ROOM * set.largest);
  if (islands > 0)
    reasons.push(
      `Bounds: ${set.count} markers on the screen, so islands up to ${islands} px² are dropped; cut off those that touch the subject with a garbage shape, and hold what is small and flies, bees say, with a holdout.`,
    );
  const grain = Math.min(0.05, Math.round(1000 * screenTop) / 1000);
  // Subject wavers with light and texture as well as grain: as much as anything on the screen does.
  const waver = Math.min(0.075, Math.max(1.5 * grain, Math.round(1500 * farthest) / 1000));
  const opened = grain >= NO_GRAIN || subsampled || denoiseChroma > 0;
  const clear = Math.max(2, Math.round(plate.height * CLEAR));
  reasons.push(
    `Automatic bounds: out ${clear} px beyond a matte of ${percent(outLevel)} (the grain of the screen reaches ${percent(screenTop)}), held ${clear} px inside one of 88 %; what lies under the grain, ${percent(grain)}, is empty.`,
  );
  reasons.push(
    "Automatic bounds: folds, seams and stains of the screen that the clean plate does not follow are out, where they hang on no subject; seams and shadows that run up to one are cut off at it.",
  );
  if (opened)
    reasons.push(
      `Automatic bounds: small islands that stand alone on the screen and stay under ${percent(FAINT)} are out, as blocks and ripples of compression are.`,
    );
  if (subsampled)
    reasons.push(
      `Automatic bounds: places beside the edge that coarse chroma leaves open by up to ${percent(DIPS)} are closed where most around them is solid.`,
    );
  const { sharp } = edgeWidths(pull);
  const glossy = sharp > SOFT * Math.max(1, plate.height / GLOSSY_LINES) ? 0 : glossyDepth(plate.height);
  if (glossy === 0)
    reasons.push(
      `Automatic bounds: the sharpest edges are ${sharp.toFixed(1)} px wide, too soft to tell rims that mirror the screen; they are left open.`,
    );
  else
    reasons.push(
      `Automatic bounds: rims of metal and glaze that mirror the screen stand open behind a sharp outline, and are closed where they grow solid within ${glossy} px of it.`,
    );
  const levels = (recipe.passes[0] as Pass).matte;
  const usualRims = Math.max(1, Math.round(plate.height * (subsampled ? RIM_OF_COARSE_CHROMA : RIM)));
  const rims = grain >= RIM_GRAIN ? 0 : sharp > SOFT ? Math.max(usualRims, Math.round(SOFT_RIM * sharp)) : usualRims;
  if (rims > 0)
    reasons.push(
      `Pull: little enough grain to tell a mixture from a shade, so rims are looked through ${rims} px deep for screen in what passes for solid, and blurred edges as deep as cover climbs.`,
    );
  (recipe.passes[0] as Pass).pull.unmix = { ...(recipe.passes[0] as Pass).pull.unmix, floor: grain, waver, rims };
  // The unmix has cleared what is under the grain already.
  levels.black = Math.round(1000 * LEVELS * grain) / 1000;
  const levelled = opened
    ? "the black point goes a quarter as far as the screen wavers"
    : "black and white points go a quarter as far as screen and subject waver";
  reasons.push(`Matte: ${levelled}, since each step costs soft edge.`);
  levels.white = opened ? NEARLY_SOLID : 1 - Math.round((1000 * LEVELS * waver) / 1.5) / 1000;
  levels.knee = opened ? Math.round((1000 * KNEE) / NEARLY_SOLID) / 1000 : 0;
  if (opened)
    reasons.push(
      `Matte: grain and coarse chroma open the subject's outermost pixels, so what is over ${percent(NEARLY_SOLID)} is solid; under ${percent(KNEE)} the white point does nothing, and soft edges stay as pulled.`,
    );
  levels.bounds = {
    on: true,
    outLevel,
    grow: clear,
    inLevel: 0.88,
    shrink: clear,
    soft: Math.max(2, clear / 2),
    specks: Math.round((plate.height / 270) ** 2),
    islands,
    faint: opened ? FAINT : 0,
    shade: true,
    dips: subsampled ? DIPS : 0,
    glossy,
  };

  // What stays open inside the subject and looks like the screen: a mirror, a glossy face. No key can tell.
  const reduce = Math.max(1, Math.round(plate.width / 640));
  const reduced = () => evaluate(recipe, { ...looked, plate: { ...looked.plate, cleanPlate } }, { reduce, outputs: ["matte"] });
  const { matte } = reduce === 1 ? look(recipe, "matte") : (reduced() as Required<Evaluation>);
  const open = openPlaces(matte, pull, reduce);
  for (const o of open)
    notSolved.push({
      kind: "half-open",
      what: `A place of ${o.area} px² at ${o.x}, ${o.y} stays half open inside the subject, as mirror-like metal and glossy white do: draw a holdout there.`,
      place: placeAround(o),
    });
  // What is closed in all around has been told of.
  const told = open.map(placeAround);
  const stretches = openStretches(matte, reduce).filter(
    (s) => !told.some((t) => s.x >= t.x && s.x < t.x + t.width && s.y >= t.y && s.y < t.y + t.height),
  );
  for (const o of stretches.slice(0, STRETCHES))
    notSolved.push({
      kind: "near-screen",
      what: `A stretch of ${o.area} px² around ${o.x}, ${o.y} stays half open between solid parts, as cloth near the screen's colour does: where nothing shows through it, draw a holdout.`,
      place: placeAround(o),
    });
  return { recipe, reasons, notSolved };
}

/** A place with room around it to see what it is part of. */
function marginAround({ x, y, width, height }: Region, plate: Picture): Region {
  const room = Math.round(plate.height / 12);
  return { x: x - room, y: y - room, width: width + 2 * room, height: height + 2 * room };
}

/** Pixels that meet a condition. */
function placesWhere(holds: (i: number) => boolean, n: number): Uint32Array {
  const places = new Uint32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) if (holds(i)) places[count++] = i;
  return places.subarray(0, count);
}

/**
 * The set that markers make: how many of them are alike, and the largest's area, px²; 0 where there is no set. Markers are
 * put up several at a time and alike; a single patch may be smoke, or part of the subject.
 */
function setOfMarkers(markers: readonly Region[]): { count: number; largest: number } {
  const sizes = markers.map((m) => m.width * m.height).sort((a, b) => a - b);
  const usual = sizes[sizes.length >> 1] ?? 0;
  const alike = sizes.filter((s) => s > usual / 2 && s < 2 * usual);
  return alike.length < MARKERS_LEAST ? { count: 0, largest: 0 } : { count: alike.length, largest: Math.max(...alike) };
}
