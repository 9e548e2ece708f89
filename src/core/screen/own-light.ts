import { boxMean } from "../image/box";
import type { Picture } from "../image/plane";
import { middleOf, valuesWhere } from "../image/rank";
import { otherChannels, type Primary, secondOf } from "./primary";

/** Median own light of certain screen, as a share of its light, from which colour is averaged over 3 × 3 pixels before it is judged. */
const GRAINY = 0.005;
/** Every which pixel of certain screen grain is measured at. */
const STRIDE = 3;
const CHANNELS = ["r", "g", "b"] as const;

export interface OwnLight {
  /** The screen's primary as it is judged: averaged over 3 × 3 pixels where there is grain. Linear light. */
  readonly main: Float32Array;
  /** The screen's primary, filled in from certain screen. */
  readonly screen: Float32Array;
  /**
   * What the two other channels together hold beyond the screen at the pixel's own light; linear light, either sign. Before a screen between two
   * primaries twice what the one holds that the screen has least of, where that is more.
   */
  readonly beyond: Float32Array;
  /** Median of that over certain screen before it is averaged, as a share of the screen's light. */
  readonly grain: number;
}

/**
 * Light that a pixel has of its own beside the screen's, were the screen as bright there as the pixel: none wherever only the
 * light differs, however dark. Strands and cloth add light to the channels that the screen has little of.
 * @param clean channels of the filled screen, r g b, at the copy's size
 * @param certain 1 where the plate shows nothing but screen
 */
export function ownLight(clean: readonly Float32Array[], small: Picture, primary: Primary, certain: Float32Array): OwnLight {
  const { width, height } = small;
  const others = otherChannels(primary);
  const [screen, u, v] = [primary, ...others].map((c) => clean[CHANNELS.indexOf(c)]) as [Float32Array, Float32Array, Float32Array];
  const beyond = new Float32Array(width * height);
  // What leans the other way than such a screen has its own light in that channel, and none in sum.
  const [r, g, b] = clean.map((c) => middleOf(valuesWhere(c, certain, STRIDE), 0)) as [number, number, number];
  const second = secondOf({ r, g, b });
  const lesser = second === others[0] ? v : second === others[1] ? u : null;
  const compare = (M: Float32Array, U: Float32Array, V: Float32Array) => {
    for (let i = 0; i < beyond.length; i++) {
      const left = (M[i] as number) / Math.max(1e-6, screen[i] as number);
      const own = (U[i] as number) - left * (u[i] as number);
      const both = own + (V[i] as number) - left * (v[i] as number);
      beyond[i] = lesser ? Math.max(both, 2 * (lesser === u ? own : both - own)) : both;
    }
  };
  let main = small[primary];
  compare(main, small[others[0]], small[others[1]]);
  const grains = valuesWhere(beyond, certain, STRIDE);
  const lights = valuesWhere(screen, certain, STRIDE);
  for (let k = 0; k < grains.length; k++) grains[k] = Math.abs(grains[k] as number) / Math.max(1e-6, lights[k] as number);
  const grain = middleOf(grains, 0);
  if (grain > GRAINY) {
    const calm = (c: Float32Array) => boxMean(c, width, height, 1);
    main = calm(main);
    compare(main, calm(small[others[0]]), calm(small[others[1]]));
  }
  return { main, screen, beyond, grain };
}
