import { boxMean } from "../image/box";
import { distanceTo } from "../image/distance";
import { enlargeChannel, fillIn, meansOfKnown } from "../image/fill-in";
import { maskOf } from "../image/mask";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import { factorTo, shrinkChannel, shrinkPicture } from "../image/resample";
import { findDrift, withoutDrift } from "./align";
import { dropBehindVeils } from "./behind-veils";
import { addMargin } from "./certain-margin";
import { filledScreen } from "./falloff";
import { fillMaterials, joinMaterials, sharpenSeam, type TwoMaterials } from "./fill-materials";
import { screenMask } from "./find";
import { followShade, shadeBeside } from "./follow-shade";
import { blockNoise } from "./noise";
import { excessPlane, type Primary } from "./primary";
import { tellMaterials } from "./two-materials";

/** Longer side of the reduced copy that a clean plate is synthesised on, px: fine enough for creases, coarse enough for grain to average out. */
export const CLEAN_SIDE = 480;
/** Rim of the screen area that the subject may have contaminated, in reduced px. */
export const CLEAN_RIM = 2.5;
/** How much greyer than the screen's middle a pixel may be: mean of the other channels over the primary. Smoke and glass are greyer. */
const GREYER = 0.03;
/**
 * How much less grey it must be to be deep shade, however uneven: right under and behind a subject, between its boots, most of the light left has
 * bounced off the screen itself, and each bounce takes the paint's colour once more. Dark strands and cloth take no grey away.
 */
const PURER = 0.02;
/** Least part of the screen's middle excess that is left in deep shade. */
const DEEP = 0.04;
/** Rim of deep shade that is not counted, and how far it reaches beyond what is, reduced px. */
const DEEP_RIM = 2.5;
const DEEP_REACH = 7;
/** Relative deviation of the screen's excess around a pixel, beyond grain, that gives strands or mesh away. */
const TEXTURE = 0.03;
const CHANNELS = ["r", "g", "b"] as const;

/**
 * Where the plate shows nothing but screen: 1 for certain, 0 for not. On the reduced copy.
 * Screen is smooth once grain is set aside; strands, mesh and the rim of the subject are not, however dark and thin, and
 * what is smooth but greyer (smoke, glass) fails the colour test. Deep shade is told apart: it says nothing of the screen
 * around it. What has the screen's hue, certain or not, is given beside, and which of two materials is where.
 * Source: that light between surfaces takes on their colour, Goral, Torrance, Greenberg & Battaile, "Modeling the Interaction
 * of Light between Diffuse Surfaces", SIGGRAPH 1984; the thresholds are measured on the truth plates.
 */
export function certainScreen(
  plate: Picture,
  small: Picture,
  factor: number,
  primary: Primary,
): { certain: Float32Array; deep: Uint8Array; hue: Uint8Array; second: Uint8Array | null } {
  const { width: w, height: h } = small;
  const { mask, count } = screenMask(small, primary);
  const excess = excessPlane(plate, primary, 0.5);
  const cells = meanAndSquare(excess, plate.width, plate.height, factor);
  const noise = blockNoise(excess, mask, plate.width, plate.height, { factor });
  // Over a few cells, so that it tells of the surroundings; and of level apart from light, so that it is the same in shade.
  const texture = new Float32Array(w * h);
  const around = factor === 1 ? 2 : 1;
  const level = boxMean(cells.mean, w, h, around);
  const square = boxMean(cells.square, w, h, around);
  for (let i = 0; i < texture.length; i++) {
    const m = level[i] as number;
    texture[i] = m > 1e-6 ? Math.sqrt(Math.max(0, (square[i] as number) - m * m)) / m : 10;
  }
  // Colour of the screen apart from its light, from cells so that grain averages out.
  const ownExcess = excessPlane(small, primary, 0.5);
  const p = small[primary];
  const purity = new Float32Array(w * h);
  for (let i = 0; i < purity.length; i++) purity[i] = (ownExcess[i] as number) / Math.max(1e-6, p[i] as number);
  const calm = boxMean(purity, w, h, 1);
  const grey = new Float32Array(w * h);
  for (let i = 0; i < grey.length; i++) grey[i] = 1 - (calm[i] as number);
  const grained = (i: number) => ((level[i] as number) > 1e-6 ? noise / (level[i] as number) : 1);
  const smooth = maskOf(mask, (m, i) => m === 1 && (texture[i] as number) < TEXTURE + 1.35 * grained(i));
  const second = tellMaterials(small, mask, smooth);
  const ofMaterial = (k: number) => maskOf(mask, (m, i) => m === 1 && (second?.[i] ?? 0) === k);
  const usuals = (second ? [0, 1] : [0]).map((k) => middleOf(valuesWhere(grey, ofMaterial(k)), 0));
  const least = DEEP * middleOf(valuesWhere(ownExcess, mask), 0);
  const [rim, deepRim] = [new Uint8Array(w * h), new Uint8Array(w * h)];
  for (let i = 0; i < rim.length; i++) {
    const usual = usuals[second?.[i] ?? 0] as number;
    rim[i] = smooth[i] && (grey[i] as number) < usual + GREYER ? 0 : 1;
    deepRim[i] = (ownExcess[i] as number) >= least && (grey[i] as number) < usual - PURER ? 0 : 1;
  }
  const toRim = distanceTo(rim, w, h);
  const certain = new Float32Array(w * h);
  let known = 0;
  for (let i = 0; i < certain.length; i++)
    if ((toRim[i] as number) > CLEAN_RIM) {
      certain[i] = 1;
      known++;
    }
  const toDeepRim = distanceTo(deepRim, w, h, DEEP_RIM + 1);
  const deep = new Uint8Array(w * h);
  for (let i = 0; i < deep.length; i++) if ((toDeepRim[i] as number) > DEEP_RIM && !certain[i]) deep[i] = 1;
  // Where the screen shows only in slivers its rims must do.
  if (known < 0.005 * certain.length && count > 0) for (let i = 0; i < certain.length; i++) certain[i] = mask[i] as number;
  return { certain, deep, hue: mask, second };
}

/** Mean of a plane over blocks of `factor` × `factor` pixels, and of its square. */
function meanAndSquare(plane: Float32Array, width: number, height: number, factor: number) {
  const squares = new Float32Array(plane.length);
  for (let i = 0; i < squares.length; i++) squares[i] = (plane[i] as number) ** 2;
  return { mean: shrinkChannel(plane, width, height, factor), square: shrinkChannel(squares, width, height, factor) };
}

/**
 * A clean plate from the plate's own screen pixels: they are kept (averaged over a few pixels, so that grain goes and
 * gradients, creases and cast shadows stay), rims that the subject may have touched are dropped but for what shows nothing but
 * screen all the same, and what lies under the subject is filled in smoothly from around it. Deep shade under and between its parts is followed too, a few pixels around it,
 * and so is any shade that certain screen leads to. Two materials side by side are each filled in for themselves.
 * @returns the screen as it would look without the subject, at the plate's size, scene-linear
 * @throws RangeError when no screen of that primary is found
 */
export function synthesiseCleanPlate(plate: Picture, primary: Primary, allocate: Allocate = fresh): Picture {
  const { width, height } = plate;
  const factor = factorTo(CLEAN_SIDE, plate);
  const small = shrinkPicture(plate, factor);
  const { certain, deep, hue, second } = certainScreen(plate, small, factor, primary);
  if (certain.every((v) => v === 0))
    throw new RangeError("No screen was found to make a clean plate from. Sample the screen, or supply one.");
  dropBehindVeils(small, primary, certain, hue);
  const filled = (): { channels: Float32Array[]; materials: TwoMaterials | null } => {
    const materials = second && fillMaterials(plate, small, factor, certain, second);
    return { channels: materials ? joinMaterials(materials) : filledScreen(small, certain), materials };
  };
  let { channels, materials } = filled();
  if (addMargin(channels, small, primary, certain)) ({ channels, materials } = filled());
  // Told before deep shade is brought in, which is purer than what lies between it and the light.
  const shade = shadeBeside(channels, small, primary, certain, deep);
  joinDeepShade(channels, small, certain, deep);
  followShade(channels, small, primary, shade);
  const screen = enlargeFilled(channels, small.width, small.height, factor, width, height, allocate);
  if (materials) sharpenSeam(screen, plate, materials, small, factor);
  return screen;
}

/** Brings deep shade into a filled screen: its own light where it is certain, and falling off around it but for certain screen. */
function joinDeepShade(channels: readonly Float32Array[], small: Picture, certain: Float32Array, deep: Uint8Array): void {
  if (!deep.includes(1)) return;
  const { width, height } = small;
  const weight = Float32Array.from(deep);
  const own = meansOfKnown([small.r, small.g, small.b], weight, width, height, 1);
  fillIn(own, weight, width, height);
  const away = distanceTo(deep, width, height, DEEP_REACH + 1);
  channels.forEach((c, k) => {
    const dark = own[k] as Float32Array;
    for (let i = 0; i < c.length; i++) {
      if (certain[i]) continue;
      const share = 1 - Math.min(1, Math.max(0, (away[i] as number) - DEEP_RIM) / (DEEP_REACH - DEEP_RIM));
      if (share > 0) c[i] = (c[i] as number) + share * Math.min(0, (dark[i] as number) - (c[i] as number));
    }
  });
}

/** Three channels of the reduced copy brought to full size. */
export function enlargeFilled(
  small: readonly Float32Array[],
  w: number,
  h: number,
  factor: number,
  width: number,
  height: number,
  allocate: Allocate = fresh,
): Picture {
  const out = { width, height, r: allocate(width * height), g: allocate(width * height), b: allocate(width * height) };
  small.forEach((c, k) => {
    enlargeChannel(c, w, h, factor, width, height, out[CHANNELS[k] as "r"]);
  });
  return out;
}

/**
 * A supplied clean plate brought to the plate's position, to a fraction of a pixel, and to its exposure: per channel, by the
 * median ratio where the plate shows certain screen, since lights, lenses and tripods drift between the two takes.
 * @throws RangeError when sizes differ
 */
export function suppliedCleanPlate(supplied: Picture, plate: Picture, primary: Primary): Picture {
  if (supplied.width !== plate.width || supplied.height !== plate.height)
    throw new RangeError(
      `The clean plate is ${supplied.width}×${supplied.height}, the plate ${plate.width}×${plate.height}; supply one of the same size.`,
    );
  const factor = factorTo(CLEAN_SIDE, plate);
  const small = shrinkPicture(plate, factor);
  const { certain } = certainScreen(plate, small, factor, primary);
  // Markers and creases are not certain screen, yet they tell best where it lies: their surroundings count too.
  const shown = screenMask(small, primary).mask;
  const wide = new Uint8Array(plate.width * plate.height);
  for (let y = 0; y < plate.height; y++)
    for (let x = 0; x < plate.width; x++)
      wide[y * plate.width + x] = shown[Math.floor(y / factor) * small.width + Math.floor(x / factor)] as number;
  const drift = findDrift(supplied, plate, wide);
  const clean = drift ? withoutDrift(supplied, drift) : supplied;
  const other = shrinkPicture(clean, factor);
  const gain = (c: (typeof CHANNELS)[number]) => {
    const ratios = small[c].map((v, i) => v / Math.max(1e-5, other[c][i] as number));
    return middleOf(valuesWhere(ratios, certain), 1);
  };
  const brought = (c: (typeof CHANNELS)[number]) => {
    const k = gain(c);
    return clean[c].map((v) => v * k);
  };
  return { width: clean.width, height: clean.height, r: brought("r"), g: brought("g"), b: brought("b") };
}
