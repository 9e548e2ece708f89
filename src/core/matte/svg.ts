import type { ShapeKey } from "./keys";
import type { DrawnShape, Point } from "./polygon";

/** A shape as it is written to and read from a file. */
export interface FiledShape extends DrawnShape {
  readonly id: string;
  readonly name: string;
  readonly keys: readonly ShapeKey[];
}

const escaped = (text: string): string =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");
const num = (v: number): string => String(Math.round(v * 1000) / 1000);
const at = (p: Point): string => `${num(p.x)} ${num(p.y)}`;

/** Path data of a closed outline: straight sides, or the very curve that the shape is drawn with, as cubic Béziers. */
export function pathOf(points: readonly Point[], smooth: boolean): string {
  const n = points.length;
  const first = points[0] as Point;
  if (!smooth || n < 3) return `M ${points.map(at).join(" L ")} Z`;
  const parts = points.map((b, k) => {
    const [a, c, d] = [-1, 1, 2].map((o) => points[(k + o + n) % n] as Point) as [Point, Point, Point];
    // Uniform Catmull–Rom from b to c in Bézier form.
    const one = { x: b.x + (c.x - a.x) / 6, y: b.y + (c.y - a.y) / 6 };
    const two = { x: c.x - (d.x - b.x) / 6, y: c.y - (d.y - b.y) / 6 };
    return `C ${at(one)}, ${at(two)}, ${at(c)}`;
  });
  return `M ${at(first)} ${parts.join(" ")} Z`;
}

/**
 * Shapes as an SVG document (W3C, Scalable Vector Graphics 1.1) in pixels of the plate: a group for each shape, in it a group with one path for each key, or
 * one for a shape that stands still. What SVG has no words for is kept in data- attributes.
 */
export function shapesToSvg(shapes: readonly FiledShape[], width: number, height: number): string {
  const lines = [`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`];
  for (const s of shapes) {
    lines.push(
      `  <g id="${escaped(s.id)}" data-kind="${s.kind}" data-out="${s.out}" data-smooth="${s.smooth}" data-soft="${num(s.soft)}" data-lean="${num(s.lean ?? 0)}" fill="none" stroke="black">`,
      `    <title>${escaped(s.name)}</title>`,
    );
    const keys = s.keys.length ? s.keys : [{ frame: null, points: s.points }];
    keys.forEach((k, i) => {
      // Elsewhere one outline is enough to look at.
      const hidden = i > 0 ? ' visibility="hidden"' : "";
      lines.push(`    <g${k.frame === null ? "" : ` data-frame="${k.frame}"`}${hidden}><path d="${pathOf(k.points, s.smooth)}"/></g>`);
    });
    lines.push("  </g>");
  }
  lines.push("</svg>", "");
  return lines.join("\n");
}

const TOKEN = /([MmLlHhVvCcSsQqTtAaZz])|(-?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)/g;
/** Numbers that each command takes. */
const TAKES: Record<string, number> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 };

/**
 * The corners of a path: the ends of its pieces up to where it first closes. Curves become a smooth outline through their ends, which is exact for paths that
 * were written here and near for others. Source: SVG 1.1, 8.3 Path data.
 * @throws RangeError when the data is no path or has fewer than three corners
 */
export function outlineOfPath(d: string): { points: Point[]; smooth: boolean } {
  const tokens = [...d.matchAll(TOKEN)].map((m) => m[0]);
  const points: Point[] = [];
  let [x, y, i, smooth] = [0, 0, 0, false];
  let command = "";
  while (i < tokens.length) {
    if (/[a-zA-Z]/.test(tokens[i] as string) && !/^-?[\d.]/.test(tokens[i] as string)) command = tokens[i++] as string;
    const kind = command.toUpperCase();
    const takes = TAKES[kind];
    if (takes === undefined) throw new RangeError("The path data does not begin with a command; save the shape as an SVG path.");
    if (kind === "Z") break;
    const v = tokens.slice(i, i + takes).map(Number);
    if (v.length < takes || v.some((n) => !Number.isFinite(n))) throw new RangeError("The path data breaks off in the middle of a piece.");
    i += takes;
    const relative = command !== kind;
    if (kind === "H") x = (relative ? x : 0) + (v[0] as number);
    else if (kind === "V") y = (relative ? y : 0) + (v[0] as number);
    else {
      const [ex, ey] = v.slice(-2) as [number, number];
      x = (relative ? x : 0) + ex;
      y = (relative ? y : 0) + ey;
    }
    if (kind === "M" && points.length) break;
    if (/[CSQTA]/.test(kind)) smooth = true;
    points.push({ x, y });
    // Further pairs after a move are lines.
    if (kind === "M") command = relative ? "l" : "L";
  }
  const [first, last] = [points[0], points[points.length - 1]];
  if (first && last && points.length > 1 && Math.hypot(first.x - last.x, first.y - last.y) < 0.01) points.pop();
  if (points.length < 3) throw new RangeError("A shape needs three corners or more.");
  return { points, smooth };
}
