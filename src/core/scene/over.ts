import { type Allocate, fresh, makePicture, type Picture } from "../image/plane";
import { pointwise } from "../kernels/pointwise";

/**
 * Compositing of Porter & Duff, "Compositing Digital Images", SIGGRAPH 1984. Linear light.
 * A picture with `a` is straight (colour not multiplied by coverage) or premultiplied; names say which.
 */

const names = ["r", "g", "b"] as const;
const needAlpha = (p: Picture): Float32Array => {
  if (!p.a) throw new RangeError("The foreground has no alpha.");
  return p.a;
};

/** Straight to premultiplied. */
export function premultiply(straight: Picture): Picture {
  const a = needAlpha(straight);
  const out = makePicture(straight.width, straight.height);
  for (const c of names) for (let i = 0; i < a.length; i++) out[c][i] = (straight[c][i] as number) * (a[i] as number);
  return { ...out, a };
}

/** Premultiplied to straight; where coverage is 0 the colour is 0. */
export function unpremultiply(premultiplied: Picture): Picture {
  const a = needAlpha(premultiplied);
  const out = makePicture(premultiplied.width, premultiplied.height);
  for (const c of names)
    for (let i = 0; i < a.length; i++) out[c][i] = (a[i] as number) > 0 ? (premultiplied[c][i] as number) / (a[i] as number) : 0;
  return { ...out, a };
}

/** A over B, both premultiplied: C = A + (1 − αA)·B. A background without alpha is opaque. */
export function over(front: Picture, back: Picture): Picture {
  const fa = needAlpha(front);
  const out = makePicture(front.width, front.height);
  for (const c of names)
    for (let i = 0; i < fa.length; i++) out[c][i] = (front[c][i] as number) + (1 - (fa[i] as number)) * (back[c][i] as number);
  const a = new Float32Array(fa.length);
  for (let i = 0; i < a.length; i++) a[i] = (fa[i] as number) + (1 - (fa[i] as number)) * (back.a ? (back.a[i] as number) : 1);
  return { ...out, a };
}

/** Straight foreground over an opaque background, in one pass: C = α·F + (1 − α)·B. */
export function straightOverOpaque(front: Picture, alpha: Float32Array, back: Picture, allocate: Allocate = fresh): Picture {
  const n = alpha.length;
  const out = { width: front.width, height: front.height, r: allocate(n), g: allocate(n), b: allocate(n) };
  pointwise("over", [], [alpha, front.r, front.g, front.b, back.r, back.g, back.b], [out.r, out.g, out.b]);
  return out;
}
