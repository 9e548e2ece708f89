import { boxMean } from "../image/box";
import { areaRuns } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskUnder, notOf } from "../image/mask";
import type { Plane } from "../image/plane";

/**
 * First matte under which a place is open; least first matte in a pattern, where another surface's excess was carried over its own; and share of the
 * pixels over the first thousand that may have less: grain takes single ones of a large area there, and of what is truly mixed far more has less.
 */
const OPEN = 0.5;
const WAVERS = 0.6;
const FEW = 0.03;
const LARGE = 1000;
/** How far from what is open a pattern stands, as a share of the reach: nearer, hair is as thin, and a blurred edge goes that deep. */
const INSIDE = 0.4;
/** Mean departure from the 5 × 5 px around, as a share of the screen's light, from which on a place has a pattern: a blurred edge climbs evenly. */
const BUSY = 0.06;

/**
 * Closes places of a pattern that passed for mixed. Checks and stripes are smaller than what a surface's own excess is carried over, so that their
 * first matte wavers; and a pale check is like a mixture of the dark one with the screen. An area of that, far from anything open and nowhere
 * open itself, has no screen in it.
 * @param firm 1 where the subject is solid @param certain 1 where its colour is known; both changed in place
 * @param first first matte @param light the plate's screen primary, linear @param ofScreen the screen's own
 * @param reach how far subject colours are looked for, px
 */
export function closePattern(
  { firm, certain }: { readonly firm: Uint8Array; readonly certain: Uint8Array },
  first: Float32Array,
  { data: light, width, height }: Plane,
  ofScreen: Float32Array | number,
  reach: number,
): void {
  const deep = INSIDE * reach;
  const toOpen = distanceTo(maskUnder(first, OPEN), width, height, deep + 1);
  const unsure = notOf(firm);
  for (let i = 0; i < unsure.length; i++) if ((toOpen[i] as number) <= deep) unsure[i] = 0;
  const { count, starts, ends, labels, areas } = areaRuns(unsure, width, height);
  const [wavers, low] = [new Uint8Array(areas.length).fill(1), new Uint32Array(areas.length)];
  const eachRun = (does: (label: number, start: number, end: number) => void) => {
    for (let k = 0; k < count; k++) if (wavers[labels[k] as number]) does(labels[k] as number, starts[k] as number, ends[k] as number);
  };
  eachRun((label, start, end) => {
    for (let i = start; i < end; i++) if ((first[i] as number) < WAVERS) low[label]!++;
  });
  areas.forEach((area, label) => {
    if ((low[label] as number) > FEW * Math.max(0, area - LARGE)) wavers[label] = 0;
  });
  // The first is no area's.
  if (!wavers.includes(1, 1)) return;
  const around = boxMean(light, width, height, 2);
  const departs = boxMean(
    light.map((v, i) => Math.abs(v - (around[i] as number))),
    width,
    height,
    2,
  );
  const [busy, usual] = [new Float64Array(areas.length), new Float64Array(areas.length)];
  eachRun((label, start, end) => {
    for (let i = start; i < end; i++) {
      busy[label]! += departs[i] as number;
      usual[label]! += typeof ofScreen === "number" ? ofScreen : (ofScreen[i] as number);
    }
  });
  eachRun((label, start, end) => {
    if ((busy[label] as number) < BUSY * (usual[label] as number)) return;
    firm.fill(1, start, end);
    certain.fill(1, start, end);
  });
}
