import type { Rgb } from "../color/hue";
import { linearToLab } from "../color/lab";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";
import { pointwise } from "../kernels/pointwise";

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
  const centre = isPicture(screen) ? chromaOf(screen) : linearToLab(screen);
  pointwise("chromaDistance", [inner, 1 / (outer - inner), stretch], [r, g, b, centre.a, centre.b], [data]);
  return { width, height, data };
}

/** a* and b* at every pixel. */
function chromaOf({ r, g, b }: Picture): { a: Float32Array; b: Float32Array } {
  const out = { a: new Float32Array(r.length), b: new Float32Array(r.length) };
  pointwise("chroma", [], [r, g, b], [out.a, out.b]);
  return out;
}
