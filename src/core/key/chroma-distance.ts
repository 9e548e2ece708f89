import type { Rgb } from "../color/hue";
import { linearToLab } from "../color/lab";
import { type Allocate, fresh, isPicture, type Picture, type Plane } from "../image/plane";

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
  const back = isPicture(screen) ? screen : null;
  let centre = linearToLab(back ? { r: 0, g: 0, b: 0 } : (screen as Rgb));
  let length = Math.hypot(centre.a, centre.b);
  const k = 1 / (outer - inner);
  for (let i = 0; i < data.length; i++) {
    if (back) {
      centre = linearToLab({ r: back.r[i] as number, g: back.g[i] as number, b: back.b[i] as number });
      length = Math.hypot(centre.a, centre.b);
    }
    const c = linearToLab({ r: r[i] as number, g: g[i] as number, b: b[i] as number });
    const [da, db] = [c.a - centre.a, c.b - centre.b];
    const [ua, ub] = length > 1e-6 ? [centre.a / length, centre.b / length] : [1, 0];
    const along = (da * ua + db * ub) / stretch;
    const across = da * ub - db * ua;
    const m = (Math.sqrt(along * along + across * across) - inner) * k;
    data[i] = m < 0 ? 0 : m > 1 ? 1 : m;
  }
  return { width, height, data };
}
