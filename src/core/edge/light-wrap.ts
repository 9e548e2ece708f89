import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { wideBlur } from "../image/wide-blur";
import { adjustEdge } from "../matte/edge";

export const WRAP_BLENDS = ["screen", "add", "normal"] as const;

export interface LightWrap {
  /** Share of the background's light, 0…1; 0 is off. */
  readonly strength: number;
  /** How far in from the edge the light reaches, px. */
  readonly reach: number;
  /** Blur of the background, σ in px: only its general light should remain. */
  readonly blur: number;
  readonly blend: (typeof WRAP_BLENDS)[number];
  /** How far the matte is grown before it is blurred, px: cures a dark line at the outer edge. */
  readonly grow: number;
}

/** Standard deviations of the matte's blur that the reach spans. */
const REACH_SIGMAS = 2;

/** Where light wraps: the matte times what its blurred self leaves over, so only inside the edge and only near it. */
export function wrapMask(matte: Plane, { reach, grow }: LightWrap): Float32Array {
  const { width, height, data } = matte;
  const grown = grow > 0 ? adjustEdge(matte, grow, 0).data : data;
  const blurred = wideBlur(grown, width, height, Math.max(0.3, reach / REACH_SIGMAS));
  const out = new Float32Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = (data[i] as number) * Math.max(0, 1 - (blurred[i] as number));
  return out;
}

/**
 * Lays the background's blurred light over the subject's rim in a finished composite (linear light). Common practice: a blur of about
 * 70 px at 1080 lines, matte × inverted blurred matte, laid on as light; subtle, and confined to the rim.
 * @returns the composite with the light on it
 */
export function lightWrap(composite: Picture, matte: Plane, background: Picture, wrap: LightWrap, allocate: Allocate = fresh): Picture {
  const { width, height } = composite;
  const mask = wrapMask(matte, wrap);
  const channel = (c: "r" | "g" | "b") => {
    const light = wideBlur(background[c], width, height, wrap.blur);
    const from = composite[c];
    const out = allocate(from.length);
    for (let i = 0; i < out.length; i++) {
      const here = from[i] as number;
      const k = wrap.strength * (mask[i] as number);
      const l = Math.max(0, light[i] as number);
      if (wrap.blend === "add") out[i] = here + k * l;
      else if (wrap.blend === "normal") out[i] = here + k * (l - here);
      // Screen keeps to 1 what lies under 1, and leaves what is over it.
      else out[i] = here >= 1 ? here : 1 - (1 - here) * (1 - k * Math.min(1, l));
    }
    return out;
  };
  return { width, height, r: channel("r"), g: channel("g"), b: channel("b") };
}
