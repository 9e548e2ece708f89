import type { Rgb } from "../color/hue";
import { linearToLab } from "../color/lab";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";
import { type Operand, pointwise } from "../kernels/pointwise";

export interface ChromaDistance {
  /** The screen at every pixel (a clean plate), or one colour; linear light. */
  readonly screen: Picture | Rgb;
  /** Distance up to which everything is screen, and from which on everything is subject; units of CIELAB a*b*. */
  readonly inner: number;
  readonly outer: number;
  /** How much farther a difference of saturation may reach than one of hue, 1 for a circle. */
  readonly stretch: number;
}

/**
 * Pull by distance from the screen's chroma in CIELAB a*b*, whatever the light: an ellipse whose long axis points from
 * grey through the screen colour, since shade and dilution move a screen along it while another hue lies across.
 * α = (d − inner) / (outer − inner), clipped. Not linear in coverage: mixed pixels come out by hue, not by share.
 * Source: CIE 15:2004 for a*b*; the ellipse is common practice.
 * @throws RangeError unless outer lies above inner
 */
export function chromaDistance(picture: Picture, key: ChromaDistance, allocate: Allocate = fresh): Plane {
  const { screen, inner, outer, stretch } = key;
  if (!(outer > inner)) throw new RangeError("The outer radius must lie above the inner one.");
  const { width, height, r, g, b } = picture;
  const data = allocate(r.length);
  pointwise("chromaDistance", [inner, 1 / (outer - inner), stretch], [r, g, b, ...centreOf(screen)], [data]);
  return { width, height, data };
}

/** a* and b* of the screen, and their direction from grey; a grey screen has none, and the ellipse lies along a*. */
function centreOf(screen: Picture | Rgb): readonly Operand[] {
  if (isPicture(screen)) {
    const out = Array.from({ length: 4 }, () => new Float32Array(screen.r.length));
    pointwise("chroma", [], [screen.r, screen.g, screen.b], out);
    return out;
  }
  const { a, b } = linearToLab(screen);
  const length = Math.hypot(a, b);
  return length > 1e-6 ? [a, b, a / length, b / length] : [a, b, 1, 0];
}
