import type { Rgb } from "../color/hue";
import { isPicture, type Picture } from "../image/plane";
import { coloursAround } from "../kernels/mixtures";
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
/** How much less cover a rim may have than what was opened before it. */
const FALL = 0.04;
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
  const { r: FR, g: FG, b: FB, stale, meet } = colours;
  const [R, G, B] = [plate.r, plate.g, plate.b];
  const back = isPicture(screen) ? screen : null;
  const rays = Array.from({ length: RAYS }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.5)) / RAYS;
    return STEPS.filter((t) => t <= reach).map((t) => ({ x: Math.round(t * Math.cos(angle)), y: Math.round(t * Math.sin(angle)) }));
  });
  const { told, most, mostBehind, change } = coloursAround({ width, height, r: FR, g: FG, b: FB }, certain, rays);
  told.set([LEAST, MOST, SHADE, TOLERANCE * TOLERANCE], 6);
  let rim = besideOpen(firm, width, height);
  // A blurred edge goes on deeper: there, cover climbs evenly from what the round before opened.
  const ramp = Math.round(reach * RAMP);
  // 0 where nothing was opened.
  const cover = new Float32Array(width * height);
  const tells = new Float64Array(RAYS);
  // The last round after which a pixel was put among the next one's.
  const asked = new Int16Array(width * height).fill(-1);
  for (let round = 0; round < rounds + ramp && rim.length > 0; round++) {
    const [opened, covers]: [number[], number[]] = [[], []];
    for (const i of rim) {
      if (nearScreen && (nearScreen[i] as number) > OWN_HUE) continue;
      const x = i % width;
      const y = (i - x) / width;
      told[0] = R[i] as number;
      told[1] = G[i] as number;
      told[2] = B[i] as number;
      told[3] = back ? (back.r[i] as number) : (screen as Rgb).r;
      told[4] = back ? (back.g[i] as number) : (screen as Rgb).g;
      told[5] = back ? (back.b[i] as number) : (screen as Rgb).b;
      mostBehind(x, y);
      let count = 0;
      for (let k = 0; k < RAYS; k++) {
        const v = most[k] as number;
        if (v === 0) continue;
        // Kept in order, the largest first.
        let at = count++;
        for (; at > 0 && (tells[at - 1] as number) < v; at--) tells[at] = tells[at - 1] as number;
        tells[at] = v;
      }
      if (count < ENOUGH) continue;
      const coverage = 1 - (tells[count >> 1] as number);
      if (round < rounds ? falls(cover, i, coverage, width) : !climbs(cover, i, coverage, width)) continue;
      opened.push(i);
      covers.push(coverage);
    }
    // All at once: what a round opens is no purer for having been looked at last.
    opened.forEach((at, k) => {
      const coverage = covers[k] as number;
      firm[at] = certain[at] = 0;
      first[at] = Math.min(first[at] as number, coverage);
      colours.forget(at);
      cover[at] = coverage;
    });
    rim = [];
    for (const at of opened) {
      const x = at % width;
      for (let row = Math.max(0, at - x - width); row <= at - x + width && row < firm.length; row += width)
        for (let i = row + Math.max(0, x - 1); i <= row + Math.min(width - 1, x + 1); i++) {
          if (stale[i]) {
            if (certain[i]) meet(i);
            else stale[i] = 0;
            change(i % width, row / width, certain[i] === 1, FR[i] as number, FG[i] as number, FB[i] as number);
          }
          if (firm[i] && asked[i] !== round) {
            asked[i] = round;
            rim.push(i);
          }
        }
    }
  }
}

/** Whether cover goes on climbing evenly at a pixel from what those around it were opened by, if they were. */
function climbs(cover: Float32Array, i: number, here: number, width: number): boolean {
  const x = i % width;
  for (let row = Math.max(0, i - x - width); row <= i - x + width && row < cover.length; row += width)
    for (let j = row + Math.max(0, x - 1); j <= row + Math.min(width - 1, x + 1); j++) {
      const before = cover[j] as number;
      if (before !== 0 && !(here >= before - DIP && here <= before + CLIMB)) return false;
    }
  return true;
}

/** Whether cover falls at a pixel from all around it that were opened: a shade of the subject, since rims climb. */
function falls(cover: Float32Array, i: number, here: number, width: number): boolean {
  const x = i % width;
  let some = false;
  for (let row = Math.max(0, i - x - width); row <= i - x + width && row < cover.length; row += width)
    for (let j = row + Math.max(0, x - 1); j <= row + Math.min(width - 1, x + 1); j++) {
      const before = cover[j] as number;
      if (before === 0) continue;
      if (!(before > here + FALL)) return false;
      some = true;
    }
  return some;
}

/** Solid pixels that touch one that is not, corners counted. */
function besideOpen(firm: Uint8Array, width: number, height: number): number[] {
  const rim: number[] = [];
  for (let y = 0; y < height; y++) {
    const [above, below] = [y > 0 ? -width : 0, y < height - 1 ? width : 0];
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!firm[i]) continue;
      const [left, right] = [x > 0 ? i - 1 : i, x < width - 1 ? i + 1 : i];
      const upper = firm[left + above]! & firm[i + above]! & firm[right + above]!;
      const lower = firm[left + below]! & firm[i + below]! & firm[right + below]!;
      if (!(upper & lower & firm[left]! & firm[right]!)) rim.push(i);
    }
  }
  return rim;
}
