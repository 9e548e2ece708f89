import type { Rgb } from "../color/hue";
import { distanceTo } from "../image/distance";
import { around } from "../image/neighbours";
import { isPicture, type Picture } from "../image/plane";
import type { KnownColours } from "./known-colours";

/** What is known of the subject before rims are looked through; changed in place. */
export interface Known {
  /** 1 where the subject is solid. */
  readonly firm: Uint8Array;
  /** 1 where its colour is known; within what is solid. */
  readonly certain: Uint8Array;
  readonly colours: KnownColours;
  /** First matte. */
  readonly first: Float32Array;
}

/** Directions in which a purer colour is looked for, and how far along each, px. */
const RAYS = 12;
const STEPS = [1, 2, 3, 5, 8, 12, 18];
/** Least and most of the screen that a mixture may hold: less is spill and shade, more would not have passed for solid. */
const LEAST = 0.03;
const MOST = 0.6;
/** How much brighter or darker than the purer colour the surface itself may be. */
const SHADE = 2;
/** What the mixture may leave unexplained, as a share of the screen's own light. */
const TOLERANCE = 0.02;
/** Share of the screen's own hue in a surface from which on its rim is left alone: it would be told as a mixture of any paler one. */
const OWN_HUE = 0.1;
/** How deep a blurred edge is followed, as a share of the reach, how much cover may climb over a px of it, and what half an 8-bit code may take back. */
const RAMP = 0.25;
const CLIMB = 0.12;
const DIP = 0.005;
/** Directions that must tell of a purer colour. */
const ENOUGH = 4;

/**
 * Rims that passed for solid though the screen shows in them. Where a first matte took the subject beside an edge to be
 * redder or bluer than it is, mixed pixels of its rim read as solid, and their colour as the subject's. A pixel beside one
 * that is not solid is opened where around it are colours that explain it as a mixture with the screen, C = u·F + v·B:
 * its coverage is 1 − v, the middle one of those that its directions tell. Every round goes a pixel deeper, from what the one
 * before opened; beyond `rounds` only where cover climbs evenly on from there, as it does where the edge is blurred by motion or
 * lens: texture does not.
 *
 * For plates of little grain: under much of it a mixture cannot be told from a shade.
 * @param known changed: opened pixels are no longer solid, and their first matte is what was found
 * @param reach how far purer colours are looked for, px
 * @param rounds how many pixels deep, whatever is found there
 * @param nearScreen 0…1: how far the surface itself has the screen's hue
 */
export function openMixedRims(
  plate: Picture,
  screen: Picture | Rgb,
  known: Known,
  reach: number,
  rounds: number,
  nearScreen?: Float32Array,
): void {
  const { width, height } = plate;
  const { firm, certain, colours, first } = known;
  const back = isPicture(screen) ? screen : null;
  const steps = STEPS.filter((t) => t <= reach);
  const offsets = Array.from({ length: RAYS }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.5)) / RAYS;
    return steps.map((t) => [Math.round(t * Math.cos(angle)), Math.round(t * Math.sin(angle))] as const);
  });
  let rim = besideOpen(firm, width, height);
  // A blurred edge goes on deeper: there, cover climbs evenly from what the round before opened.
  const ramp = Math.round(reach * RAMP);
  const cover = new Map<number, number>();
  for (let round = 0; round < rounds + ramp && rim.length > 0; round++) {
    const opened: { at: number; coverage: number }[] = [];
    for (const i of rim) {
      if (nearScreen && (nearScreen[i] as number) > OWN_HUE) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      const br = back ? (back.r[i] as number) : (screen as Rgb).r;
      const bg = back ? (back.g[i] as number) : (screen as Rgb).g;
      const bb = back ? (back.b[i] as number) : (screen as Rgb).b;
      const cr = plate.r[i] as number;
      const cg = plate.g[i] as number;
      const cb = plate.b[i] as number;
      const BB = br * br + bg * bg + bb * bb;
      const CB = cr * br + cg * bg + cb * bb;
      const told: number[] = [];
      for (let k = 0; k < RAYS && told.length + RAYS - k >= ENOUGH; k++) {
        let most = 0;
        for (const [dx, dy] of offsets[k] as (typeof offsets)[number]) {
          const [qx, qy] = [x + dx, y + dy];
          if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
          const j = qy * width + qx;
          if (!certain[j]) continue;
          colours.meet(j);
          const fr = colours.r[j] as number;
          const fg = colours.g[j] as number;
          const fb = colours.b[j] as number;
          const FF = fr * fr + fg * fg + fb * fb;
          const FB = fr * br + fg * bg + fb * bb;
          const CF = cr * fr + cg * fg + cb * fb;
          const det = FF * BB - FB * FB;
          if (det < 1e-3 * FF * BB) continue;
          const u = (CF * BB - CB * FB) / det;
          const v = (CB * FF - CF * FB) / det;
          if (v < LEAST || v > MOST || v <= most || u > SHADE * (1 - v) || SHADE * u < 1 - v) continue;
          const er = cr - u * fr - v * br;
          const eg = cg - u * fg - v * bg;
          const eb = cb - u * fb - v * bb;
          if (er * er + eg * eg + eb * eb <= TOLERANCE * TOLERANCE * BB) most = v;
        }
        if (most > 0) told.push(most);
      }
      if (told.length < ENOUGH) continue;
      told.sort((a, b) => b - a);
      const coverage = 1 - (told[told.length >> 1] as number);
      if (round >= rounds && !around(i, width, height).every((j) => climbs(cover.get(j), coverage))) continue;
      opened.push({ at: i, coverage });
    }
    // All at once: what a round opens is no purer for having been looked at last.
    for (const { at, coverage } of opened) {
      firm[at] = certain[at] = 0;
      first[at] = Math.min(first[at] as number, coverage);
      colours.forget(at);
      cover.set(at, coverage);
    }
    rim = [...new Set(opened.flatMap(({ at }) => around(at, width, height)))].filter((i) => firm[i]);
  }
}

/** Whether cover goes on climbing evenly from what a neighbour had, if it was opened at all. */
const climbs = (before: number | undefined, here: number): boolean =>
  before === undefined || (here >= before - DIP && here <= before + CLIMB);

/** Solid pixels that touch one that is not, corners counted. */
function besideOpen(firm: Uint8Array, width: number, height: number): number[] {
  const toOpen = distanceTo(
    firm.map((v) => 1 - v),
    width,
    height,
    2,
  );
  const rim: number[] = [];
  for (let i = 0; i < firm.length; i++) if (firm[i] && (toOpen[i] as number) < 1.5) rim.push(i);
  return rim;
}
