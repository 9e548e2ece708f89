/** What a variant costs and gains; units as in core/measure/figures. */
export interface TradeOff {
  readonly holes: number;
  readonly residue: number;
  /** 0…1. */
  readonly edgeLoss: number;
  /** In 1/1000; null where there is no frame to compare with. */
  readonly flicker: number | null;
}

/** Differences over the whole bracket under which a figure says nothing: px of open area, share of soft edge, 1/1000 of flicker. */
const LEAST = { open: 20, edgeLoss: 0.002, flicker: 0.3 };
/** Ranges up to which a figure weighs less than in full: half a per cent of edge is no reason to open a thousand pixels. */
const FULL = { open: 300, edgeLoss: 0.03, flicker: 3 };
/** What a blemish in the inside or the background weighs against lost edge, each on its own range over the bracket. */
const WEIGHT = { open: 1, edgeLoss: 1, flicker: 0.4 };

/**
 * The knee of the trade-off between solid and soft: the variant with the least sum of open area (holes and residue), lost edge and flicker, each
 * measured on its own range over the bracket. In a tie the one nearest to `now`.
 * @returns its index and why, in words; null where the figures hardly change, so that the eye must judge
 */
export function proposeKnee(points: readonly TradeOff[], now: number): { index: number; why: string } | null {
  const open = points.map((p) => p.holes + p.residue);
  const loss = points.map((p) => p.edgeLoss);
  const flicker = points.map((p) => p.flicker ?? 0);
  const range = (v: readonly number[]) => Math.max(...v) - Math.min(...v);
  const parts = [
    { values: open, least: LEAST.open, full: FULL.open, weight: WEIGHT.open },
    { values: loss, least: LEAST.edgeLoss, full: FULL.edgeLoss, weight: WEIGHT.edgeLoss },
    { values: flicker, least: LEAST.flicker, full: FULL.flicker, weight: WEIGHT.flicker },
  ].filter((p) => range(p.values) >= p.least);
  if (points.length < 2 || parts.length === 0) return null;
  const cost = points.map((_, i) =>
    parts.reduce((s, p) => s + (p.weight * ((p.values[i] as number) - Math.min(...p.values))) / Math.max(p.full, range(p.values)), 0),
  );
  let index = now;
  for (let i = 0; i < cost.length; i++) {
    const [c, best] = [cost[i] as number, cost[index] as number];
    if (c < best - 1e-9 || (Math.abs(c - best) <= 1e-9 && Math.abs(i - now) < Math.abs(index - now))) index = i;
  }
  const [a, b] = [points[now] as TradeOff, points[index] as TradeOff];
  if (index === now) return { index, why: "what it is now: any step costs more than it gains" };
  const said: string[] = [];
  const openBy = b.holes + b.residue - (a.holes + a.residue);
  if (Math.abs(openBy) >= 1) said.push(`holes and residue ${Math.round(a.holes + a.residue)} → ${Math.round(b.holes + b.residue)} px`);
  const lossBy = 100 * (b.edgeLoss - a.edgeLoss);
  if (Math.abs(lossBy) >= 0.05) said.push(`edge loss ${lossBy > 0 ? "+" : "−"}${Math.abs(lossBy).toFixed(1)} %`);
  if (a.flicker !== null && b.flicker !== null && Math.abs(b.flicker - a.flicker) >= 0.1)
    said.push(`flicker ${a.flicker.toFixed(1)} → ${b.flicker.toFixed(1)} ‰`);
  return { index, why: said.join(", ") };
}

/**
 * Values of a bracket around the present one, evenly spaced, all within the control's range: at its end the row is shifted inwards.
 * @returns ascending; the present value is among them
 */
export function bracketValues(now: number, step: number, count: number, min: number, max: number): number[] {
  const half = (count - 1) / 2;
  let first = -half;
  while (now + (first + count - 1) * step > max + 1e-9 && now + (first - 1) * step >= min - 1e-9) first--;
  while (now + first * step < min - 1e-9 && now + (first + count) * step <= max + 1e-9) first++;
  return Array.from({ length: count }, (_, k) => now + (first + k) * step).filter((v) => v >= min - 1e-9 && v <= max + 1e-9);
}
