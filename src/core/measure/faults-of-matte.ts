import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOver } from "../image/mask";
import { linesOf } from "../image/plane";
import { percentile, valuesWhere } from "../image/rank";
import { closeGlossyRims, glossyDepth } from "../matte/glossy-rims";
import type { Point } from "../matte/polygon";
import { HOLE_LEVEL, RESIDUE_LEVEL } from "./figures";
import type { Finding, JudgedPass } from "./findings";
import { clamp, floats, type Judged, place, share } from "./judged";
import { placeAround } from "./open-places";
import { openStretches } from "./open-stretches";
import { outlinesOf } from "./outline";

/** Least area of holes and of residue that is worth a word: px at 1080 lines. */
const LEAST_AREA = 60;

/** Least area of a hole that a holdout is offered for, px of the judged frame; and most of them. */
const LEAST_HELD = 6;
const MOST_HELD = 6;

/** How far a soft fringe (strands, motion blur) may reach from the outline and still be one, as a share of the frame's lines. */
const FRINGE = 0.05;

/**
 * Marked places less the soft fringe of the outline: what hangs together with it counts only where it reaches far beyond a fringe, and then
 * only its far part.
 * @param distance from the outline, px of this frame
 */
function beyondFringe(j: Judged, mark: number, distance: Float32Array): { marks: Float32Array; count: number } {
  const { width, height } = j;
  const source = j.figures.marks;
  const marked = new Uint8Array(source.length);
  for (let i = 0; i < marked.length; i++) if (source[i] === mark) marked[i] = 1;
  const { labels, areas } = labelComponents(marked, width, height);
  const reach = FRINGE * linesOf(j);
  const nearest = new Float32Array(areas.length).fill(Number.POSITIVE_INFINITY);
  const farthest = new Float32Array(areas.length);
  for (let i = 0; i < labels.length; i++) {
    const l = labels[i] as number;
    if (!l) continue;
    nearest[l] = Math.min(nearest[l] as number, distance[i] as number);
    farthest[l] = Math.max(farthest[l] as number, distance[i] as number);
  }
  const marks = new Float32Array(labels.length);
  let count = 0;
  for (let i = 0; i < labels.length; i++) {
    const l = labels[i] as number;
    if (!l) continue;
    const fringe = (nearest[l] as number) <= j.margin + 1.5;
    if (fringe && ((farthest[l] as number) < reach || (distance[i] as number) < 0.5 * reach)) continue;
    marks[i] = 1;
    count++;
  }
  return { marks, count };
}

/** Why the whole frame's figure is larger than a finding's. */
const restOf = (whole: number, found: number): string =>
  whole > 1.2 * found ? ` The other ${Math.round(whole - found)} px counted hang on the outline, as strands and soft edges do.` : "";

/** Rims that mirror the screen and stand open, as far as they are counted as holes. */
function glossyRims(j: Judged): { marks: Float32Array; count: number; depth: number } {
  const depth = glossyDepth(linesOf(j) / j.scale);
  const marks = new Float32Array(j.matte.data.length);
  let count = 0;
  const { data } = closeGlossyRims(j.matte, depth * j.scale);
  for (let i = 0; i < data.length; i++)
    if (j.figures.marks[i] === 1 && (data[i] as number) >= HOLE_LEVEL) {
      marks[i] = 1;
      count++;
    }
  return { marks, count, depth };
}

export function holes(j: Judged, pass: JudgedPass): Finding | null {
  const least = LEAST_AREA * j.lines ** 2;
  const area = (count: number) => Math.round(count / j.scale ** 2);
  const { marks, count } = beyondFringe(j, 1, j.depth);
  const told = (counted: number, at: Float32Array) =>
    ({
      kind: "holes",
      severity: clamp(0.35 + 8 * (counted / j.area)),
      figure: `${area(counted)} px`,
      what: "Holes in the subject",
      place: place(j, at),
    }) as const;
  // The fringe says nothing here: such rims are as narrow, and no soft edge.
  const { on, glossy } = pass.matte.bounds;
  const rims = on && glossy === 0 ? glossyRims(j) : null;
  if (rims && rims.count >= 3 && area(rims.count) >= least && rims.count >= count)
    return {
      ...told(rims.count, rims.marks),
      why: "They lie right behind a sharp outline and grow solid further in, as metal and glaze do that mirror the screen.",
      remedy: "Close glossy rims",
      step: "Bounds",
      changes: [{ path: "matte.bounds.glossy", value: rims.depth }],
    };
  const full = area(count);
  if (full < least || count < 3) return null;
  const low = percentile(valuesWhere(j.pull.data, marks), 0.1, Number.NaN);
  const white = clamp(Math.round(1000 * low) / 1000, pass.matte.black + 0.05, 1);
  // A white point far below what it is now costs too much edge: hold the inside instead.
  const byWhite = low > 0.75 * pass.matte.white && white < pass.matte.white;
  return {
    ...told(count, marks),
    why: `Inside the outline the pull falls to ${share(low)}, so the background shows through.${restOf(j.figures.figures.holes, full)}`,
    remedy: byWhite
      ? "Lower the white point to what the holes hold"
      : pass.matte.bounds.on
        ? "Hold them where nothing shows through: no key can tell them from the screen"
        : "Hold the inside with automatic bounds; it costs no edge",
    step: byWhite ? "Matte" : "Bounds",
    ...(!byWhite && pass.matte.bounds.on ? { draw: "holdout" as const, hold: outlinesOfHoles(j, marks) } : {}),
    changes: byWhite ? [{ path: "matte.white", value: white }] : pass.matte.bounds.on ? null : [{ path: "matte.bounds.on", value: true }],
  };
}

/** Outlines of the largest holes, over what is solid around them. */
function outlinesOfHoles(j: Judged, marks: Float32Array): Point[][] {
  const { labels, areas } = labelComponents(maskOver(marks, 0.5), j.width, j.height);
  const largest = areas
    .map((area, label) => ({ area, label }))
    .filter(({ area, label }) => label > 0 && area >= LEAST_HELD)
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_HELD);
  const over = { may: (i: number) => (j.matte.data[i] as number) >= HOLE_LEVEL, within: 2 };
  return outlinesOf(largest, labels, j.matte, over, 1 / j.scale).map((o) => o.outline);
}

export function nearScreen(j: Judged): Finding | null {
  const [largest, ...others] = openStretches(j.matte, 1 / j.scale);
  if (!largest) return null;
  const area = others.reduce((sum, o) => sum + o.area, largest.area);
  return {
    kind: "near-screen",
    severity: clamp(0.3 + 4 * ((area * j.scale ** 2) / j.area)),
    figure: `${area} px`,
    what: "Even stretches inside the subject are half open",
    why: "They lie between solid parts, as cloth does whose colour is near the screen's. No key can tell it from something sheer.",
    remedy: "Hold them where nothing shows through",
    step: "Bounds",
    place: placeAround(largest),
    draw: "holdout",
    hold: [largest, ...others].slice(0, MOST_HELD).map((o) => o.outline),
    changes: null,
  };
}

export function residue(j: Judged, pass: JudgedPass): Finding | null {
  const { marks, count } = beyondFringe(j, 2, j.away);
  const full = Math.round(count / j.scale ** 2);
  if (full < 3 * LEAST_AREA * j.lines ** 2 || count < 6) return null;
  const high = percentile(valuesWhere(j.pull.data, marks), 0.95, Number.NaN);
  const byBlack = high < 0.2;
  const black = clamp(Math.round(1000 * (high + 0.005)) / 1000, 0, pass.matte.white - 0.05);
  return {
    kind: "residue",
    severity: clamp(0.25 + 3 * (count / j.area)),
    figure: `${full} px`,
    what: "Residue outside the subject",
    why: `What should be empty holds a matte of up to ${share(high)}; it shows as a veil over the background.${restOf(j.figures.figures.residue, full)}`,
    remedy: byBlack
      ? pass.matte.bounds.on
        ? "Raise the black point above it"
        : "Throw it away with automatic bounds; it costs no edge"
      : "A veil or smoke stays; around anything else that is no screen, draw a garbage matte",
    step: byBlack && pass.matte.bounds.on ? "Matte" : "Bounds",
    place: place(
      j,
      floats(marks.length, (i) => (marks[i] as number) * (j.matte.data[i] as number)),
    ),
    ...(byBlack ? {} : { draw: "garbage" as const }),
    changes: byBlack ? (pass.matte.bounds.on ? [{ path: "matte.black", value: black }] : [{ path: "matte.bounds.on", value: true }]) : null,
  };
}

/** Share of the soft band lost to the levels from which on edges look cut out. */
const LOSS = 0.35;
export function hardEdge(j: Judged, pass: JudgedPass): Finding | null {
  const { soft, lost, marks } = j.figures.edge;
  const edgeLoss = lost / Math.max(1, soft);
  if (edgeLoss < LOSS || soft < 20) return null;
  const { black, white } = pass.matte;
  const wide = black > 0.02 || white < 0.98;
  return {
    kind: "hard-edge",
    severity: clamp(edgeLoss),
    figure: share(edgeLoss),
    what: "Edges are cut hard",
    why: `Levels and bounds pushed ${share(edgeLoss)} of the soft band to 0 or 1: strands and soft cloth turn into paper cut-outs.`,
    remedy: wide
      ? "Take black and white point half back, and hold the inside with automatic bounds"
      : "Give bounds more room: a wider shrink and grow",
    step: "Matte",
    place: place(j, marks),
    changes: wide
      ? [
          { path: "matte.black", value: Math.round(500 * black) / 1000 },
          { path: "matte.white", value: Math.round(1000 * (white + 0.5 * (1 - white))) / 1000 },
          { path: "matte.bounds.on", value: true },
        ]
      : null,
  };
}

/** Clearance under which a garbage matte is too near, px at 1080 lines. */
const CLEAR = 4;

export function touchesGarbage(j: Judged): Finding | null {
  const { clearance } = j.figures.figures;
  if (clearance === null || !j.garbage || !j.drawn || clearance > CLEAR * j.lines) return null;
  const { garbage, width, height } = j;
  const thrown = distanceTo(maskOver(garbage.data, 0.5), width, height);
  const reach = Math.max(1.5, CLEAR * j.lines * j.scale);
  return {
    kind: "touches-garbage",
    severity: 0.8,
    figure: `${Math.round(clearance)} px`,
    what: "The garbage matte touches the subject",
    why: "What the subject enters is thrown away; on other frames it may cut deeper.",
    remedy: "Draw it wider here, or key it over time",
    step: "Bounds",
    place: place(
      j,
      floats(thrown.length, (i) => (j.figures.subject[i] && (thrown[i] as number) <= reach ? 1 : 0)),
    ),
    changes: null,
  };
}

/** Share of the empty background that holds a faint matte from which on its grain shows. */
const GRAINY = 0.1;
const FAINT = 0.0015;

export function grainInBackground(j: Judged, pass: JudgedPass): Finding | null {
  const n = j.pull.data.length;
  const marks = new Float32Array(n);
  let [empty, count] = [0, 0];
  for (let i = 0; i < n; i++) {
    if (j.solid[i] || (j.away[i] as number) < 2 * j.margin || (j.garbage && (j.garbage.data[i] as number) > 0.5)) continue;
    empty++;
    const m = j.matte.data[i] as number;
    if (m > FAINT && m <= 4 * RESIDUE_LEVEL) {
      marks[i] = 1;
      count++;
    }
  }
  if (empty < 200 || count < GRAINY * empty) return null;
  const black = Math.round(1000 * (percentile(valuesWhere(j.pull.data, marks), 0.95, Number.NaN) + 0.002)) / 1000;
  return {
    kind: "grain-in-background",
    severity: clamp(0.15 + 0.2 * (count / empty)),
    figure: share(count / empty),
    what: "The screen's grain shows in the background",
    why: `${share(count / empty)} of what should be empty holds a faint, restless matte.`,
    remedy: pass.matte.bounds.on ? "Raise the black point over the grain" : "Throw it away with automatic bounds",
    step: pass.matte.bounds.on ? "Matte" : "Bounds",
    place: place(j, marks),
    changes: pass.matte.bounds.on
      ? [{ path: "matte.black", value: clamp(black, pass.matte.black, pass.matte.white - 0.05) }]
      : [{ path: "matte.bounds.on", value: true }],
  };
}
