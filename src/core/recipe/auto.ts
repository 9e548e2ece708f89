import type { Rgb } from "../color/hue";
import { encodeWith, isVideo } from "../color/transfer";
import type { NotSolved, Proposed } from "../documents/proposed";
import { lumaOf } from "../image/luma";
import { linesOf, type Picture } from "../image/plane";
import { placesWhere } from "../image/rank";
import { factorTo, shrinkChannel, shrinkPicture } from "../image/resample";
import { share } from "../measure/judged";
import { partAreas } from "../screen/areas";
import { insideBars, reducedInside } from "../screen/bars";
import { clippedFrom } from "../screen/clipped";
import { codeRange, looksLogarithmic } from "../screen/code-range";
import { screenLightOf } from "../screen/light";
import { locateScreen } from "../screen/locate";
import { type Primary, screenName, screenPrimary, secondOf } from "../screen/primary";
import { sampleScreen } from "../screen/sample";
import { beyondChannels } from "../spill/limit";
import { type Evaluation, evaluate, type OutputName } from "./evaluate";
import { beyondTheKey, clippedAway, leftOpen } from "./not-solved";
import { proposeLevels } from "./propose-levels";
import { proposePreparation } from "./propose-preparation";
import { proposeWeight } from "./propose-weight";
import { defaultRecipe, type Pass, type Recipe } from "./schema";
import type { PlateSource } from "./sources";
import { StepCache } from "./step-cache";

export interface Proposal extends Proposed {
  readonly recipe: Recipe;
}

/** How far subject colours are looked for, as a share of the frame's lines, so that large frames are pulled as small ones are; px at least. */
const REACH = 0.11;
const LEAST_REACH = 48;
/** About how long the longer side of the copy is on which what stays open is looked for, px. */
const LOOKED_AT = 640;
/** Share of certain subject in a near-screen colour from which on it is told of. */
const WARDROBE = 0.004;

/** How far a sampled screen may have changed, as a share of its light, and still be the plate's. */
const AS_SAMPLED = 0.15;

/** What a proposal may lean on besides the decoded plate. */
export interface ProposalSources {
  /** The frame as recorded, so that chroma can be rebuilt. */
  readonly recorded?: PlateSource["recorded"];
  /** A supplied clean plate; its hash goes into the recipe. */
  readonly clean?: { readonly id: string; readonly picture: Picture };
  /** Steps that whoever shows the proposal goes on with, and the plate's key among them. */
  readonly shared?: { readonly steps: StepCache; readonly plateKey: string };
}

/**
 * Proposes a complete recipe from the plate alone: screen colour from its cleanest area, a clean plate from the screen's
 * own pixels, preparation by chroma format, a pull that takes the subject's own colour into account, bounds from the
 * noise floor, spill and edge.
 * @param frame the number of the frame that `plate` shows
 * @param base what is kept of a recipe; where its screen was sampled on this frame, a screen of that primary is looked for
 * @throws RangeError when no screen is found
 */
export function proposeRecipe(plate: Picture, frame: number, base: Recipe = defaultRecipe(), sources: ProposalSources = {}): Proposal {
  const located = locateScreen(plate, sampledPrimary(plate, frame, base.screen));
  const { found, small, factor, box, sample } = located;
  const { primary } = found;
  const reasons: string[] = [
    `Screen: ${screenName(sample.colour)}, averaged over the most even ${box.width}×${box.height} px near the subject; ${share(found.share)} of the frame is screen.`,
  ];
  const notSolved: NotSolved[] = [];
  const curve = sources.recorded?.reading.transfer ?? "linear";
  const picture = insideBars(plate);
  const inFrame = reducedInside(picture, plate, small, factor);
  const codes = isVideo(curve) && codeRange(small, inFrame, encodeWith(curve));
  if (codes && looksLogarithmic(codes))
    reasons.push(
      `Curve: codes keep between ${share(codes.low)} and ${share(codes.high)}, as a camera's logarithm does. If it is one, choose it under Read as first, and propose again.`,
    );

  const { subsampled, ...preparation } = proposePreparation(plate, located, sources.recorded);
  reasons.push(...preparation.reasons);
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
    prepare: { ...base.prepare, ...preparation.prepare },
  };
  const looked = {
    plate: { key: sources.shared?.plateKey ?? "proposal", picture: plate, ...(sources.recorded ? { recorded: sources.recorded } : {}) },
    ...(sources.clean ? { clean: { key: sources.clean.id, picture: sources.clean.picture } } : {}),
  };
  // What was made for one look at the frame serves the next.
  const steps = sources.shared?.steps ?? new StepCache();
  const look = (recipe: Recipe, ...outputs: OutputName[]) =>
    evaluate(recipe, looked, { reduce: 1, outputs, frame }, steps) as Required<Evaluation>;

  const luma = lumaOf(small).data;
  const areas = partAreas(found.mask, luma, screenLightOf(luma, small[primary], found.mask), small.width, small.height, inFrame);

  // Read before the next look, which may take its memory back.
  const behind = look(known, "cleanPlate").cleanPlate;
  const screenPlate = shrinkPicture(behind, factor);
  const { weight, outside, ...parted } = proposeWeight(plate, located, { cleanPlate: behind, screenPlate, beyond: areas.beyond });
  reasons.push(parted.reason);

  const ends = Math.max(areas.ends.left, areas.ends.right, areas.ends.top) > 0.05;
  if (ends) reasons.push("Bounds: the screen ends inside the frame; what lies beyond it is thrown away.");
  notSolved.push(...beyondTheKey(areas, factor, plate));
  const bars = picture.width < plate.width || picture.height < plate.height;
  if (bars) reasons.push(`Bounds: black bars stand around a picture of ${picture.width}×${picture.height} px; they are thrown away.`);
  const beyond = ends || bars;

  // By what spill is told by: the mean of the two other channels; or the pull's mix of them, beyond them before a screen between two primaries,
  // and for thin things, which have no inside that would tell what of the screen's primary is their own.
  const ofTwo = secondOf(sample.colour) !== null && beyondChannels("mix", weight);
  const byMix = ofTwo || parted.thin;

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
          unmix: { ...(base.passes[0] as Pass).pull.unmix, reach: Math.max(LEAST_REACH, Math.round(linesOf(plate) * REACH)) },
        },
        matte: { ...(base.passes[0] as Pass).matte, black: 0, white: 1 },
        spill: {
          ...(base.passes[0] as Pass).spill,
          ...(byMix ? { limit: "mix" as const, mix: weight } : { limit: "average" as const }),
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
  const { pull, cleanPlate, subject } = look(first, "pull", "cleanPlate", "subject");
  const ofItsHue = subject ? shrinkChannel(subject.nearScreen, plate.width, plate.height, factor) : null;
  const places = placesWhere((i) => areas.subject[i] === 1, areas.subject.length);
  const wardrobe = places.filter((i) => ofItsHue && (ofItsHue[i] as number) > 0.5).length / Math.max(1, places.length);
  reasons.push(
    `Spill: ${
      ofTwo
        ? "light of the screen's own hue, which lies between two primaries, is taken where the pull's weight tells it"
        : parted.thin
          ? "the screen primary is limited to the mix of the other two channels that parts thin things from the screen"
          : "the screen primary is limited to the mean of the other two channels"
    }, beyond what each surface has of it well inside the subject, which is its own and stays${
      wardrobe > WARDROBE ? ` (${share(wardrobe)} of the subject has the screen's own hue)` : ""
    }; neutral light of the same luminance goes back.`,
  );
  reasons.push("Edge: the known screen is taken out of mixed pixels, so that no line is left over any ground.");
  if (subsampled)
    reasons.push(
      "Edge: coarse chroma has mixed the screen's colour into the rim; the rim takes the colour of the subject beside it, at its own luma, and all other pixels stay the plate's own.",
    );
  notSolved.push(...clippedAway(plate, pull, primary, clippedFrom(curve, sources.recorded?.raw)));
  const { markers, scattered } = areas;
  const denoised = preparation.prepare.denoiseChroma > 0;
  const levels = proposeLevels(plate, { located, pull, cleanPlate, outside, markers, scattered, subsampled, denoised });
  reasons.push(...levels.reasons);
  const pass = recipe.passes[0] as Pass;
  pass.pull.unmix = { ...pass.pull.unmix, ...levels.unmix };
  pass.matte = { ...pass.matte, ...levels.matte };

  // What stays open inside the subject and looks like the screen: a mirror, a glossy face. No key can tell.
  const reduce = factorTo(LOOKED_AT, plate);
  // By steps of its own: a clean plate that was reduced is not the one that a reduced frame makes, nor is what is told of the subject.
  const knowing = { ...looked, plate: { ...looked.plate, cleanPlate, ...(subject ? { subject } : {}) } };
  const reduced = () => evaluate(recipe, knowing, { reduce, outputs: ["matte"], frame });
  const { matte } = reduce === 1 ? look(recipe, "matte") : (reduced() as Required<Evaluation>);
  notSolved.push(...leftOpen(matte, pull, reduce));
  return { recipe, reasons, notSolved };
}

/** The primary of a screen that was sampled on this very plate: where the boxes and strokes of a recipe still show the colour that it has. */
function sampledPrimary(plate: Picture, frame: number, { boxes, strokes, colour }: Recipe["screen"]): Primary | undefined {
  const [b, s] = [boxes.filter((k) => k.frame === frame), strokes.filter((k) => k.frame === frame)];
  if (!colour || b.length + s.length === 0) return undefined;
  let shown: Rgb;
  try {
    shown = sampleScreen(plate, b, s).colour;
  } catch {
    // Boxes of a recipe from a larger plate lie outside this one.
    return undefined;
  }
  const apart = Math.hypot(shown.r - colour.r, shown.g - colour.g, shown.b - colour.b);
  return apart <= AS_SAMPLED * Math.hypot(colour.r, colour.g, colour.b) ? screenPrimary(colour) : undefined;
}
