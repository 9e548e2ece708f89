/** Where a place of one frame lies in another, px: x' = a·x + b·y + x0, y' = c·x + d·y + y0. */
export interface Affine {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly x: number;
  readonly y: number;
}

/** Everything stays where it is. */
export const UNMOVED: Affine = { a: 1, b: 0, c: 0, d: 1, x: 0, y: 0 };

export const movedBy = (m: Affine, p: { readonly x: number; readonly y: number }) => ({
  x: m.a * p.x + m.b * p.y + m.x,
  y: m.c * p.x + m.d * p.y + m.y,
});

/** First `inner`, then `outer`. */
export function movedTwice(outer: Affine, inner: Affine): Affine {
  const { x, y } = movedBy(outer, inner);
  return {
    a: outer.a * inner.a + outer.b * inner.c,
    b: outer.a * inner.b + outer.b * inner.d,
    c: outer.c * inner.a + outer.d * inner.c,
    d: outer.c * inner.b + outer.d * inner.d,
    x,
    y,
  };
}

/** The way back. */
export function movedBack({ a, b, c, d, x, y }: Affine): Affine {
  const det = a * d - b * c;
  return { a: d / det, b: -b / det, c: -c / det, d: a / det, x: (b * y - d * x) / det, y: (c * x - a * y) / det };
}

/** How many times as long things become, across and down together. */
export const growthOf = ({ a, b, c, d }: Affine): number => Math.sqrt(Math.abs(a * d - b * c));
