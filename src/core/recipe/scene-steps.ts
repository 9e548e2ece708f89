import { lightWrap } from "../edge/light-wrap";
import { channels, type Picture, type Plane } from "../image/plane";
import { placePicture } from "../image/resample";
import { wideBlur } from "../image/wide-blur";
import { fitPlacement } from "../scene/fit";
import { straightOverOpaque } from "../scene/over";
import type { AskedFrame } from "./asked-frame";
import { keyOf } from "./step-key";

/** What stands behind the subject; each is worked out when it is asked for, and kept. */
export interface SceneRun {
  /** Names the background and how it is placed; "none" without one. */
  readonly key: string;
  /** The background as it is placed; none where the recipe's sources have none. */
  readonly background: () => Picture | undefined;
  /** Its general light. */
  readonly light: () => { readonly key: string; readonly picture: Picture } | undefined;
  /** The subject over the background, or over black. */
  readonly composite: (front: { readonly key: string; readonly picture: Picture }, matte: Plane, matteKey: string) => Picture;
}

/** @param width,height of the reduced plate, px */
export function sceneSteps({ recipe, sources, reduce, cache, allocate }: AskedFrame, width: number, height: number): SceneRun {
  const { fit, scale: enlarge, x, y, wrap } = recipe.scene;
  const scale = 1 / reduce;
  const full = sources.plate.picture;
  const key = sources.background ? keyOf(sources.background.key, recipe.scene) : "none";

  const background = () => {
    const back = sources.background;
    if (!back) return undefined;
    return cache.picture("background", keyOf(back.key, fit, enlarge, x, y, reduce, full.width, full.height), () => {
      const p = fitPlacement(back.picture.width, back.picture.height, full.width, full.height, { fit, scale: enlarge, x, y });
      const place = { scaleX: p.scaleX * scale, scaleY: p.scaleY * scale, offsetX: p.offsetX * scale, offsetY: p.offsetY * scale };
      // What the background leaves free is black; where it has alpha, it is premultiplied so that it lies over black too.
      const placed = placePicture(back.picture, width, height, place, false);
      const a = placed.a as Float32Array;
      for (const c of [placed.r, placed.g, placed.b]) for (let i = 0; i < c.length; i++) c[i] = (c[i] as number) * (a[i] as number);
      return placed;
    });
  };

  const light = () => {
    const back = background();
    if (!back) return undefined;
    const picture = cache.step("light", keyOf("light", key, reduce), () => {
      const blur = (c: Float32Array) => wideBlur(c, width, height, Math.max(1, wrap.blur * scale));
      return { value: { width, height, r: blur(back.r), g: blur(back.g), b: blur(back.b) }, owned: [] };
    });
    return { key, picture };
  };

  const composite = (front: { readonly key: string; readonly picture: Picture }, matte: Plane, matteKey: string) => {
    const back = background();
    return cache.picture("composite", keyOf(front.key, matteKey, back ? key : null), () => {
      const behind = back ?? { width, height, r: zeros(width * height), g: zeros(width * height), b: zeros(width * height) };
      const over = straightOverOpaque(front.picture, matte.data, behind, allocate);
      if (!back || wrap.strength === 0) return over;
      const lengths = { reach: wrap.reach * scale, blur: wrap.blur * scale, grow: wrap.grow * scale };
      const picture = lightWrap(over, matte, back, { ...wrap, ...lengths }, allocate);
      cache.pool.give(...channels(over));
      return picture;
    });
  };
  return { key, background, light, composite };
}

let zero = new Float32Array(0);
const zeros = (n: number): Float32Array => {
  if (zero.length !== n) zero = new Float32Array(n);
  return zero;
};
