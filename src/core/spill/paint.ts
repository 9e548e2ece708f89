import { luminance, type Rgb } from "../color/hue";
import { type Affine, growthOf, movedBy, UNMOVED } from "../image/affine";
import { type Allocate, fresh, type Picture } from "../image/plane";
import { type BrushStroke, underStroke } from "../image/stroke";
import { keysAround } from "../matte/keys";

/** Where the stroke as it was drawn lies on a frame. */
export type StrokeKey = Affine & { readonly frame: number };

/** A stroke of the paint layer; lengths in pixels of the full frame. */
export interface PaintStroke extends BrushStroke {
  /** Frames on which it shows, from 1. */
  readonly first: number;
  readonly last: number;
  /** Share of the radius over which the brush falls off, 0…1. */
  readonly soft: number;
  /** How much of the colour is taken on, 0…1. */
  readonly strength: number;
  /** Linear light; only its colour counts. null erases what strokes before it painted. */
  readonly colour: Rgb | null;
  /** In order of frames; none for a stroke that stands still. */
  readonly keys: readonly StrokeKey[];
}

/** Those that show on a frame. */
export const strokesOn = <S extends Pick<PaintStroke, "first" | "last">>(strokes: readonly S[], frame: number): S[] =>
  strokes.filter((s) => frame >= s.first && frame <= s.last);

/** How a stroke is moved on a frame: evenly from one key to the next, at rest before the first and after the last. */
export function strokeMotion({ keys }: Pick<PaintStroke, "keys">, frame: number): Affine {
  const around = keysAround(keys, frame);
  if (!around) return UNMOVED;
  const { from, to, t } = around;
  const at = (c: keyof Affine) => from[c] + t * (to[c] - from[c]);
  return { a: at("a"), b: at("b"), c: at("c"), d: at("d"), x: at("x"), y: at("y") };
}

/**
 * Lays strokes over a picture in their order, in colour only: the luminance of every pixel stays, so that form and grain remain.
 * The layer is its own: an erasing stroke takes from the strokes before it, never from the picture. Linear light.
 * @param frame number of the frame, from 1
 * @param scale this picture's size over the full one's
 */
export function paintColour(
  picture: Picture,
  strokes: readonly PaintStroke[],
  frame: number,
  scale: number,
  allocate: Allocate = fresh,
): Picture {
  const { width, height } = picture;
  const n = width * height;
  const [cover, r, g, b] = [allocate(n), allocate(n), allocate(n), allocate(n)];
  for (const c of [cover, r, g, b]) c.fill(0);
  for (const stroke of strokesOn(strokes, frame)) {
    const { colour } = stroke;
    const y = colour ? Math.max(1e-6, luminance(colour)) : 1;
    const ratio = colour && { r: colour.r / y, g: colour.g / y, b: colour.b / y };
    const motion = strokeMotion(stroke, frame);
    const radius = Math.max(0.5, stroke.radius * growthOf(motion) * scale);
    const hard = radius * (1 - stroke.soft);
    const points = stroke.points.map((p) => {
      const { x, y } = movedBy(motion, p);
      return { x: x * scale, y: y * scale };
    });
    underStroke({ points, radius }, width, height, (i, d) => {
      const t = d <= hard ? 0 : (d - hard) / Math.max(1e-6, radius - hard);
      const a = stroke.strength * (1 - t * t * (3 - 2 * t));
      const keep = 1 - a;
      cover[i] = (cover[i] as number) * keep + (ratio ? a : 0);
      r[i] = (r[i] as number) * keep + (ratio ? a * ratio.r : 0);
      g[i] = (g[i] as number) * keep + (ratio ? a * ratio.g : 0);
      b[i] = (b[i] as number) * keep + (ratio ? a * ratio.b : 0);
    });
  }
  for (let i = 0; i < n; i++) {
    const k = 1 - (cover[i] as number);
    const [pr, pg, pb] = [picture.r[i] as number, picture.g[i] as number, picture.b[i] as number];
    const y = luminance({ r: pr, g: pg, b: pb });
    r[i] = k * pr + y * (r[i] as number);
    g[i] = k * pg + y * (g[i] as number);
    b[i] = k * pb + y * (b[i] as number);
  }
  return { width, height, r, g, b };
}
