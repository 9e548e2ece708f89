import type { Rgb } from "../color/hue";
import { carryColour } from "../edge/carry-colour";
import { edgeColour } from "../edge/edge-colour";
import { rimChroma } from "../edge/rim-chroma";
import { strandFringe } from "../edge/strand-fringe";
import { channels, linesOf, type Picture, type Plane } from "../image/plane";
import { PULLS } from "../key/pulls";
import { type SubjectOwn, shrinkOwn, subjectExcess } from "../key/subject-difference";
import { applyBounds, automaticBounds, type Bounds } from "../matte/auto-bounds";
import { combineMattes } from "../matte/combine";
import { closeDips } from "../matte/dips";
import { adjustEdge, softenWideGreys } from "../matte/edge";
import { closeGlossyRims } from "../matte/glossy-rims";
import { outlineAt } from "../matte/keys";
import { holdIn, matteLevels } from "../matte/levels";
import { shapesMatte } from "../matte/polygon";
import type { Primary } from "../screen/primary";
import { missingLight, screenInShade, thinShade } from "../screen/shade";
import { limitSpill, type SpillSettings, unitLuminance } from "../spill/limit";
import { ownExcess } from "../spill/own-colour";
import { refillColour } from "../spill/refill";
import type { AskedFrame } from "./asked-frame";
import type { DrawnRun } from "./drawn-steps";
import type { PlateRun } from "./plate-steps";
import type { SceneRun } from "./scene-steps";
import type { Pass } from "./schema";
import { keyOf } from "./step-key";

/** What the passes of one frame share. */
export interface PassFrame
  extends Pick<AskedFrame, "sources" | "reduce" | "number" | "cache" | "allocate">,
    Pick<PlateRun, "plate" | "plateKey" | "prepared" | "preparedKey" | "cleanKey" | "isCoarse">,
    Pick<DrawnRun, "holdouts" | "inside">,
    Pick<SceneRun, "light"> {
  /** This frame's size over the full one's. */
  readonly scale: number;
  /** The plate with its coarse chroma rebuilt; none where rims keep theirs, or it has chroma at every pixel. */
  readonly rebuilt: (() => Picture) | undefined;
  readonly screen: Rgb;
  readonly primary: Primary;
  /** The screen at every pixel, or the one colour. */
  readonly against: () => Picture | Rgb;
}

/** The steps of one pass; each is worked out when it is asked for, and kept. */
export interface PassRun {
  readonly pullKey: string;
  readonly pull: () => Plane;
  /** What the pull tells of the subject's own colour; null where it does not look for that, or finds none. */
  readonly subject: () => SubjectOwn | null;
  readonly bounds: () => Bounds | undefined;
  readonly matteKey: string;
  readonly matte: () => Plane;
  /** The plate with the colour of rims put right. */
  readonly ownColour: () => Picture;
  readonly spillKey: string;
  readonly spill: () => { readonly picture: Picture; readonly removed: Float32Array };
  readonly colourKey: string;
  /** Straight colour with the screen out of mixed pixels. */
  readonly colour: () => Picture;
}

/** How far the surroundings of a drained patch are looked for, as a share of the frame's lines. */
const REFILL_REACH = 1 / 40;

/** One pull with everything done to it: levels, bounds, edge, fringe, spill and colour. */
export function passSteps(frame: PassFrame, pass: Pass): PassRun {
  const { cache, allocate, scale, plate, plateKey, prepared, preparedKey, screen, primary, inside, against, cleanKey } = frame;
  const { method, weight } = pass.pull;
  const plane = cache.plane.bind(cache);

  const pullKey = keyOf(preparedKey, cleanKey, screen, pass.pull);
  const subjectKey = keyOf(preparedKey, cleanKey, screen, weight, "own");
  /** The subject's own excess: needed by pulls that take it into account, and to protect near-screen surfaces. */
  const own = (): SubjectOwn | null =>
    cache.step("own", subjectKey, () => {
      const known = frame.sources.plate.subject;
      const value = known
        ? shrinkOwn(known, frame.sources.plate.picture, frame.reduce)
        : subjectExcess(prepared(), { primary, weight, screen: against() }, scale, allocate);
      return { value, owned: value ? Object.values(value).filter((plane) => plane !== null) : [] };
    });
  const pull = () =>
    plane("pull", pullKey, () =>
      PULLS[method]({ plate: prepared(), colour: screen, screen: against(), primary, own, scale }, pass.pull, allocate),
    );

  const { bounds: auto, shift, soften, softenBlur, black, white, knee, gamma } = pass.matte;
  const { dips, glossy, ...settled } = auto;
  const autoKey = keyOf(pullKey, settled, inside);
  /** Where the screen may show itself at less light; marks, so that it costs little to keep. */
  const shadeKey = keyOf(preparedKey, cleanKey, screen);
  const shade = () => cache.step("shade", shadeKey, () => ({ value: screenInShade(prepared(), against(), primary), owned: [] }));
  const thin = () => cache.step("thinShade", shadeKey, () => ({ value: thinShade(prepared(), against(), primary), owned: [] }));
  const allShade = () => ({ wide: shade(), thin: thin(), missing: missingLight(prepared(), against(), primary) });
  const bounds = () =>
    auto.on
      ? cache.step("autoBounds", autoKey, () => {
          const value = automaticBounds(pull(), auto, scale, allocate, auto.shade ? allShade() : null, inside);
          return { value, owned: [value.out, value.in] };
        })
      : undefined;
  const levelsKey = keyOf(pullKey, black, white, knee, gamma);
  const leveled = () => plane("matte", levelsKey, () => matteLevels(pull(), { black, white, knee, gamma }, allocate));
  const boundedKey = auto.on ? keyOf(levelsKey, autoKey, dips, glossy) : levelsKey;
  const bounded = () => {
    const b = bounds();
    if (!b) return leveled();
    return plane("bounded", boundedKey, () => {
      let within = applyBounds(leveled(), b, allocate);
      const own = () => within.data;
      if (glossy > 0) within = closeGlossyRims(within, glossy * scale, auto.shade ? shade() : null, own, { lens: !frame.isCoarse() });
      if (dips > 0) within = closeDips(within, dips, scale, own);
      return within;
    });
  };
  const wideKey = softenBlur > 0 ? keyOf(boundedKey, softenBlur) : boundedKey;
  const widened = () =>
    softenBlur > 0 ? plane("softenBlur", wideKey, () => softenWideGreys(bounded(), softenBlur * scale, scale, allocate)) : bounded();
  const edgedKey = shift !== 0 || soften > 0 ? keyOf(wideKey, shift, soften) : wideKey;
  const edged = () =>
    edgedKey === wideKey ? widened() : plane("edgeShift", edgedKey, () => adjustEdge(widened(), shift * scale, soften * scale, allocate));
  const { fringe } = pass.edge;
  const matteKey = fringe.strength > 0 ? keyOf(edgedKey, fringe) : edgedKey;
  const matte = () =>
    fringe.strength > 0
      ? plane("fringe", matteKey, () =>
          strandFringe(edged(), { ...fringe, grow: fringe.grow * scale, soft: fringe.soft * scale }, allocate),
        )
      : edged();

  // Coarse chroma has mixed the rim's colour with the screen's before any of it is treated.
  const { rebuilt } = frame;
  const rims = rebuilt && pass.edge.chroma > 0 ? rebuilt : undefined;
  const ownColourKey = rims ? keyOf(plateKey, pullKey, pass.edge.chroma) : plateKey;
  const ownColour = () =>
    rims ? cache.picture("rimChroma", ownColourKey, () => rimChroma(plate, rims(), pull(), pass.edge.chroma, allocate)) : plate;

  const { protect, refill, ...limits } = pass.spill;
  // The light of the background needs one; without it neutral light goes back.
  const light = limits.replace === "background" ? frame.light() : undefined;
  const settings: SpillSettings = { ...limits, primary, screen, ...(light ? { light: light.picture } : {}) };
  const ownKey = keyOf(plateKey, pullKey, subjectKey, limits.limit, limits.mix, protect);
  /** What each surface keeps of the excess as its own. */
  const surface = (): Float32Array | undefined =>
    protect > 0
      ? (cache.step("surface", ownKey, () => {
          const value = ownExcess(
            plate,
            pull(),
            { primary, limit: limits.limit, mix: limits.mix, nearScreen: own()?.nearScreen },
            allocate,
          );
          if (value && protect < 1) for (let i = 0; i < value.length; i++) value[i] = protect * (value[i] as number);
          return { value, owned: value ? [value] : [] };
        }) ?? undefined)
      : undefined;
  const limitKey = keyOf(ownColourKey, limits, primary, screen, protect > 0 ? ownKey : null, light?.key ?? null);
  const limited = () =>
    cache.step("spill", limitKey, () => {
      const source = ownColour();
      const treated = limitSpill(source, settings, allocate, surface());
      const fresh = channels(treated.picture).filter((c) => c !== source.r && c !== source.g && c !== source.b);
      return { value: treated, owned: [treated.removed, ...fresh] };
    });

  const spillKey = refill > 0 ? keyOf(limitKey, refill) : limitKey;
  const spill = () =>
    refill > 0
      ? cache.step("refill", spillKey, () => {
          const { picture, removed } = limited();
          const filled = refillColour(picture, removed, unitLuminance(primary), refill, REFILL_REACH * linesOf(plate), allocate);
          return { value: { picture: filled, removed }, owned: channels(filled) };
        })
      : limited();

  // What is screen in a mixed pixel is told by the key itself: neither a garbage matte's soft edge across the subject nor a
  // fringe laid beneath it changes how much screen the pixel holds. What a holdout holds is no mixture.
  const heldKey = keyOf(edgedKey, frame.holdouts?.key ?? null);
  const held = () => {
    const { holdouts } = frame;
    return holdouts ? plane("held", heldKey, () => holdIn(edged(), holdouts.plane(), allocate)) : edged();
  };
  const { screenOut } = pass.edge;
  const edgeKey = keyOf(spillKey, heldKey, screen, cleanKey, screenOut);
  const unmixed = () =>
    screenOut > 0
      ? cache.picture("edge", edgeKey, () =>
          edgeColour(ownColour(), spill().picture, held(), against(), screenOut, settings, allocate, surface()),
        )
      : spill().picture;
  // A fringe shows where nothing but screen is: its colour is the subject's, carried out.
  const carry = fringe.strength > 0 ? 1 : pass.edge.carry;
  const colourKey = keyOf(edgeKey, carry);
  const colour = () => (carry > 0 ? cache.picture("carry", colourKey, () => carryColour(unmixed(), held(), carry, allocate)) : unmixed());
  const looksForHue = method === "subject-difference" || method === "unmix";
  const subject = () => (looksForHue ? own() : null);
  return { pullKey, pull, subject, bounds, matteKey, matte, ownColour, spillKey, spill, colourKey, colour };
}

/** Cover that must be missing for a place to count as left open in full. */
const OPEN = 0.25;

/** Passes combined in their order. */
export interface Joined {
  readonly key: string;
  readonly plane: Plane;
  /** For each pass after the first, how much of a pixel's cover is its own. */
  readonly shares: readonly Float32Array[];
}

function join(frame: PassFrame, passes: readonly Pass[], name: string, keys: readonly string[], planes: readonly (() => Plane)[]): Joined {
  const { cache, allocate, scale, number } = frame;
  let key = keys[0] as string;
  let plane = (planes[0] as () => Plane)();
  const shares: Float32Array[] = [];
  for (let k = 1; k < passes.length; k++) {
    const { combine, softly, region: drawn } = passes[k] as Pass;
    const region = drawn.kind === "drawn" ? { ...drawn, points: outlineAt(drawn, number), keys: [] } : drawn;
    const before = plane;
    key = keyOf(key, keys[k], combine, softly, region);
    const made = cache.step(name, key, () => {
      const next = (planes[k] as () => Plane)();
      const where =
        region.kind === "left"
          ? before.data.map((m) => Math.min(1, (1 - m) / OPEN))
          : region.kind === "drawn"
            ? shapesMatte([{ ...region, kind: "holdout", out: "inside" }], next.width, next.height, scale).data
            : undefined;
      const value = combineMattes(before, next, { how: combine, softly }, where, allocate);
      return { value, owned: [value.matte.data, value.share] };
    });
    plane = made.matte;
    shares.push(made.share);
  }
  return { key, plane, shares };
}

/** The passes' mattes, combined as the recipe says. */
export const joinPasses = (frame: PassFrame, passes: readonly Pass[], runs: readonly PassRun[]): Joined =>
  join(
    frame,
    passes,
    "join",
    runs.map((r) => r.matteKey),
    runs.map((r) => r.matte),
  );

/** Their pulls, before levels and bounds, combined in the same way: what figures compare the matte with. */
export const joinPulls = (frame: PassFrame, passes: readonly Pass[], runs: readonly PassRun[]): Joined =>
  join(
    frame,
    passes,
    "joinPulls",
    runs.map((r) => r.pullKey),
    runs.map((r) => r.pull),
  );

/** The passes' colours, each in the share of the cover that is its own. */
export function joinColours(frame: PassFrame, runs: readonly PassRun[], joined: Joined): { key: string; picture: Picture } {
  const { cache, allocate } = frame;
  let key = (runs[0] as PassRun).colourKey;
  let picture = (runs[0] as PassRun).colour();
  runs.slice(1).forEach((run, k) => {
    const before = picture;
    const share = joined.shares[k] as Float32Array;
    key = keyOf(key, run.colourKey, joined.key, k);
    picture = cache.picture("joinColours", key, () => {
      const own = run.colour();
      const mixed = (c: "r" | "g" | "b") => {
        const out = allocate(share.length);
        for (let i = 0; i < out.length; i++)
          out[i] = (before[c][i] as number) + (share[i] as number) * ((own[c][i] as number) - (before[c][i] as number));
        return out;
      };
      return { width: own.width, height: own.height, r: mixed("r"), g: mixed("g"), b: mixed("b") };
    });
  });
  return { key, picture };
}
