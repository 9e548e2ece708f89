import { boxMean } from "../image/box";
import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import type { Picture } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import { otherChannels, type Primary } from "./primary";

/** Own light of a pixel, the two other channels together, as a share of the light it lacks, up to which only light is missing; black hair has four times that. */
const OWN = 0.01;
/** By how much more where there is grain, as a share of its own median. */
const OWN_OF_GRAIN = 1;
/** Median own light of certain screen, as a share of its light, from which colour is averaged over 3 × 3 pixels before it is judged. */
const GRAINY = 0.005;
/** Every which pixel of certain screen grain is measured at. */
const STRIDE = 3;
/** Share of the filled screen's light under which a pixel is in shade, and the least that may be left of it. */
const SHADED = 0.95;
const DARKEST = 0.04;
/** Least whole part (3 × 3 pixels around each are in shade too) of a patch of shade, as a share of the frame: the walls of a glass are thin. */
const PATCH = 1 / 6000;
/** Least light of a pixel beside a patch, as a share of the patch's, that the patch can lie behind. */
const RIM = 0.5;
const CHANNELS = ["r", "g", "b"] as const;

/**
 * Follows the screen into the shade that lies beside a subject, between its parts and around what stands before the screen. There the
 * plate is darker than the screen filled in from around, and nothing else: of the light that is missing nothing has come instead,
 * to a hundredth. Strands and cloth, however dark, add light of their own to the channels that the screen has little of.
 * Only what certain screen leads to counts, pixel by pixel through screen.
 * @param clean channels of the filled screen at the copy's size, darkened in place in the shade and one pixel around it
 * @param certain 1 where the plate shows nothing but screen
 * @param deep 1 where it is certain to show the screen in deep shade
 */
export function followShade(
  clean: readonly Float32Array[],
  small: Picture,
  primary: Primary,
  certain: Float32Array,
  deep: Uint8Array,
): void {
  const { width, height } = small;
  const shade = shadeBeside(clean, small, primary, certain, deep);
  if (!shade.includes(1)) return;
  const weight = Float32Array.from(shade);
  const total = boxMean(weight, width, height, 1);
  const away = distanceTo(shade, width, height, 2);
  const sums = CHANNELS.map((c) =>
    boxMean(
      small[c].map((v, i) => v * (weight[i] as number)),
      width,
      height,
      1,
    ),
  );
  const main = CHANNELS.indexOf(primary);
  const most = sums[main] as Float32Array;
  for (let i = 0; i < shade.length; i++) {
    if ((away[i] as number) > 1) continue;
    // A pixel that is darker by far than the shade beside it holds none of it to speak of.
    if (!shade[i] && (small[primary][i] as number) * (total[i] as number) < RIM * (most[i] as number)) continue;
    sums.forEach((sum, k) => {
      const channel = clean[k] as Float32Array;
      channel[i] = Math.min(channel[i] as number, (sum[i] as number) / (total[i] as number));
    });
  }
}

/** 1 where the plate shows the screen in shade. */
function shadeBeside(
  clean: readonly Float32Array[],
  small: Picture,
  primary: Primary,
  certain: Float32Array,
  deep: Uint8Array,
): Uint8Array {
  const { width, height } = small;
  const n = width * height;
  const others = otherChannels(primary);
  const [light, u, v] = [primary, ...others].map((c) => clean[CHANNELS.indexOf(c)]) as [Float32Array, Float32Array, Float32Array];
  const beyond = new Float32Array(n);
  /** What the two other channels hold beyond the screen at the pixel's own light. */
  const compare = (M: Float32Array, U: Float32Array, V: Float32Array) => {
    for (let i = 0; i < n; i++) {
      const left = (M[i] as number) / Math.max(1e-6, light[i] as number);
      beyond[i] = (U[i] as number) + (V[i] as number) - left * ((u[i] as number) + (v[i] as number));
    }
  };
  let main = small[primary];
  compare(main, small[others[0]], small[others[1]]);
  const grains = valuesWhere(beyond, certain, STRIDE);
  const lights = valuesWhere(light, certain, STRIDE);
  for (let k = 0; k < grains.length; k++) grains[k] = Math.abs(grains[k] as number) / Math.max(1e-6, lights[k] as number);
  const grain = middleOf(grains, 0);
  if (grain > GRAINY) {
    const calm = (c: Float32Array) => boxMean(c, width, height, 1);
    main = calm(main);
    compare(main, calm(small[others[0]]), calm(small[others[1]]));
  }
  const most = OWN + OWN_OF_GRAIN * grain;
  const screen = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const p = light[i] as number;
    const m = main[i] as number;
    const lacks = Math.max(p - m, (1 - SHADED) * p);
    if (certain[i] || deep[i] || (m >= DARKEST * p && (beyond[i] as number) <= most * lacks)) screen[i] = 1;
  }
  const led = labelComponents(screen, width, height);
  const leads = new Uint8Array(led.areas.length);
  for (let i = 0; i < n; i++) if (certain[i] || deep[i]) leads[led.labels[i] as number] = 1;
  const [shaded, lit] = [new Uint8Array(n), new Uint8Array(n)];
  for (let i = 0; i < n; i++)
    if (deep[i] || (leads[led.labels[i] as number] && !certain[i] && (main[i] as number) <= SHADED * (light[i] as number))) shaded[i] = 1;
    else lit[i] = 1;
  // Patches with a whole part large enough, and those around deep shade.
  const toLit = distanceTo(lit, width, height, 2);
  const patches = labelComponents(shaded, width, height);
  const whole = new Float64Array(patches.areas.length);
  for (let i = 0; i < n; i++) if (shaded[i]) whole[patches.labels[i]!]! += deep[i] ? n : (toLit[i] as number) > 1 ? 1 : 0;
  for (let i = 0; i < n; i++) if (shaded[i] && (whole[patches.labels[i] as number] as number) < PATCH * n) shaded[i] = 0;
  return shaded;
}
