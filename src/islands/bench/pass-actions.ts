import type { Point } from "../../core/matte/polygon";
import type { StrandsPlace } from "../../core/measure/strands";
import type { Pass, Recipe } from "../../core/recipe/schema";
import { percent } from "../ui/format";
import { currentPass, move, settle, useBench, withPass } from "./store";

const state = useBench.getState;

export const MOST_PASSES = 8;

/** A pass by its place and role. */
export const passLabel = (p: Pass, k: number): string => `${k + 1} ${p.role}`;

/** Sets the passes and which of them is chosen: the one that was, without another. */
export function putPasses(next: Pass[], what: string, select = currentPass(state()).id): void {
  settle("Pull", what, (r) => ({ ...r, passes: next }));
  const { solo } = state();
  useBench.setState({ selectedPass: select, solo: next.some((p) => p.id === solo) ? solo : null });
}

/** Adds a pass like another, with what differs, after all others. */
export function addPass(like: Pass, what: string, change: Partial<Pass>): void {
  const { passes } = state().recipe;
  let n = passes.length + 1;
  while (passes.some((p) => p.id === `pass-${n}`)) n++;
  const made: Pass = { ...structuredClone(like), id: `pass-${n}`, on: true, ...change };
  putPasses([...passes, made], what, made.id);
}

/** How far around the place a strands pass counts, as a share of its side. */
const AROUND = 0.25;

/** A gentle pass where strands are lost: levels wide open, the inside held well away from them, in place of what stood there. */
export function addStrandsPass({ place, loss }: StrandsPlace): void {
  const like = currentPass(state());
  const { width, height } = state().shot.plate.info;
  const room = AROUND * Math.max(place.width, place.height);
  const [left, top] = [Math.max(-room, place.x - room), Math.max(-room, place.y - room)];
  const [right, bottom] = [Math.min(width + room, place.x + place.width + room), Math.min(height + room, place.y + place.height + room)];
  const side = Math.max(place.width, place.height);
  addPass(like, `Strands pass added where soft edges lose ${percent(loss, 0)}`, {
    role: "strands",
    combine: "replace",
    region: {
      kind: "drawn",
      keys: [],
      smooth: false,
      soft: Math.min(400, Math.round(0.3 * side)),
      points: [
        { x: left, y: top },
        { x: right, y: top },
        { x: right, y: bottom },
        { x: left, y: bottom },
      ],
    },
    matte: {
      ...like.matte,
      black: Math.min(like.matte.black, 0.02),
      white: Math.max(like.matte.white, 0.98),
      bounds: {
        ...like.matte.bounds,
        on: true,
        grow: Math.max(20, like.matte.bounds.grow),
        shrink: Math.max(20, like.matte.bounds.shrink),
      },
    },
  });
}

/** The current pass counts inside this outline. */
export function drawRegion(points: readonly Point[]): void {
  settle("Pull", `Counts in a drawn shape, ${points.length} corners`, (r) =>
    withPass(r, (p) => ({
      ...p,
      region: { kind: "drawn", points: [...points], keys: [], smooth: true, soft: p.region.kind === "drawn" ? p.region.soft : 12 },
    })),
  );
}

type DrawnRegion = Extract<Pass["region"], { kind: "drawn" }>;

/** Changes where a pass counts, which has a drawn region. */
export function changeRegion(id: string, change: Partial<Omit<DrawnRegion, "kind">>, settled: boolean, what: string): void {
  const apply = (r: Recipe): Recipe => ({
    ...r,
    passes: r.passes.map((p) => (p.id === id && p.region.kind === "drawn" ? { ...p, region: { ...p.region, ...change } } : p)),
  });
  if (settled) settle("Pull", what, apply);
  else move(apply);
}
