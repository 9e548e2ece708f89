import type { Rgb } from "../color/hue";
import { distanceTo } from "../image/distance";
import { notOf } from "../image/mask";
import { linesOf, type Picture, type Plane, type Region } from "../image/plane";
import type { Point } from "../matte/polygon";
import type { Primary } from "../screen/primary";
import type { SpillLimit } from "../spill/limit";
import { blinkingSpecks, grainMismatch } from "./faults-in-motion";
import { darkLine, rimColour, screenInside } from "./faults-of-colour";
import { grainInBackground, hardEdge, holes, nearScreen, residue, touchesGarbage } from "./faults-of-matte";
import { type FigureMap, outlineMargin, subjectOutline } from "./figures";
import type { Judged } from "./judged";

/** What can be wrong with a key on one frame. */
export const FINDING_KINDS = [
  "holes",
  "near-screen",
  "residue",
  "hard-edge",
  "spill-left",
  "over-corrected",
  "dark-line",
  "touches-garbage",
  "grain-in-background",
  "screen-inside",
  "blinking-specks",
  "grain-mismatch",
] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** The steps of the bench at which a finding is mended. */
export type FindingStep = "Bounds" | "Pull" | "Matte" | "Spill" | "Edge" | "Scene";

/** One value that a remedy sets, by its dotted path: in the pass, or in the recipe as a whole. */
export interface RemedyChange {
  readonly path: string;
  readonly value: number | string | boolean;
  readonly recipe?: boolean;
}

/** A measured problem. */
export interface Finding {
  readonly kind: FindingKind;
  /** How bad, 0…1; the list runs from the worst. */
  readonly severity: number;
  /** The figure with its unit. */
  readonly figure: string;
  readonly what: string;
  readonly why: string;
  readonly remedy: string;
  readonly step: FindingStep;
  /** Where it is worst, px of the full frame. */
  readonly place: Region | null;
  /** What a hand has to draw where no value mends it. */
  readonly draw?: "garbage" | "holdout";
  /** Outlines of holdouts that would close it, px of the full frame, the largest first. */
  readonly hold?: readonly (readonly Point[])[];
  /** What trying the remedy sets; null where a hand must draw or look. */
  readonly changes: readonly RemedyChange[] | null;
}

/** What one evaluated frame shows, all of one size. */
export interface JudgedFrame {
  readonly plate: Picture;
  readonly pull: Plane;
  readonly matte: Plane;
  /** Straight colour after spill and edge treatment. */
  readonly foreground: Picture;
  /** What bounds throw away; and whether garbage shapes were drawn, or only what lies beyond the screen goes. */
  readonly garbage?: Plane | undefined;
  readonly drawn: boolean;
  readonly figures: FigureMap;
  readonly screen: Rgb;
  readonly primary: Primary;
  /** The screen behind every pixel, where it is known; else it is of one colour. */
  readonly clean?: Picture | undefined;
  /** Where the pull takes surfaces for cloth of the screen's own hue, 0…1, when it looks for them. */
  readonly nearScreen?: Plane | undefined;
  /** The mattes of the frames before and after, for what blinks. */
  readonly nearby?: readonly Plane[];
  /** What lies behind, of the same size. */
  readonly background?: Picture | undefined;
  /** This frame's size over the full one's. */
  readonly scale: number;
}

/** The pass's settings that remedies start from. */
export interface JudgedPass {
  readonly matte: { readonly black: number; readonly white: number; readonly bounds: { readonly on: boolean; readonly glossy: number } };
  readonly spill: { readonly amount: number; readonly limit: SpillLimit; readonly mix?: number; readonly protect: number };
  readonly edge: { readonly screenOut: number; readonly carry: number };
}

/**
 * What is wrong with one frame of a key, worst first. Judged without a known truth: by the subject's outline, what lies inside and outside
 * of it, and how its rim compares with its inside. Thresholds are ours, set on the truth plates so that planted faults are named.
 */
export function findFaults(frame: JudgedFrame, pass: JudgedPass): Finding[] {
  const { width, height } = frame.pull;
  const solid = subjectOutline(frame.pull, 1 / frame.scale ** 2);
  const area = solid.reduce((s, v) => s + v, 0);
  if (area < 0.001 * width * height) return [];
  const across = linesOf(frame.pull);
  const lines = across / frame.scale / 1080;
  const judged: Judged = {
    ...frame,
    width,
    height,
    solid,
    area,
    depth: distanceTo(notOf(solid), width, height),
    away: distanceTo(solid, width, height),
    margin: Math.max(1.5, outlineMargin(across / frame.scale) * frame.scale),
    side: Math.max(12, across / 9),
    lines,
  };
  const all = [
    holes(judged, pass),
    nearScreen(judged),
    residue(judged, pass),
    hardEdge(judged, pass),
    ...rimColour(judged, pass),
    darkLine(judged, pass),
    touchesGarbage(judged),
    grainInBackground(judged, pass),
    screenInside(judged, pass),
    blinkingSpecks(judged, frame.nearby ?? []),
    frame.background ? grainMismatch(judged, frame.background) : null,
  ];
  return all.filter((f): f is Finding => f !== null).sort((a, b) => b.severity - a.severity);
}
