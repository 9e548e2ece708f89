import type { Rgb } from "../color/hue";
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
  const steps = STEPS.filter((t) => t <= reach);
  // Steps of the first direction, then of the next.
  const [DX, DY] = [new Int32Array(RAYS * steps.length), new Int32Array(RAYS * steps.length)];
  for (let k = 0; k < RAYS; k++)
    for (let s = 0; s < steps.length; s++) {
      const angle = (2 * Math.PI * (k + 0.5)) / RAYS;
      DX[k * steps.length + s] = Math.round((steps[s] as number) * Math.cos(angle));
      DY[k * steps.length + s] = Math.round((steps[s] as number) * Math.sin(angle));
    }
  let rim = besideOpen(firm, width, height);
  // A blurred edge goes on deeper: there, cover climbs evenly from what the round before opened.
  const ramp = Math.round(reach * RAMP);
  // 0 where nothing was opened.
  const cover = new Float32Array(width * height);
  const told = new Float64Array(RAYS);
  // The last round after which a pixel was put among the next one's.
  const asked = new Int16Array(width * height).fill(-1);
  for (let round = 0; round < rounds + ramp && rim.length > 0; round++) {
    const [opened, covers]: [number[], number[]] = [[], []];
    for (const i of rim) {
      if (nearScreen && (nearScreen[i] as number) > OWN_HUE) continue;
      const x = i % width;
      const y = (i - x) / width;
      const br = back ? (back.r[i] as number) : (screen as Rgb).r;
      const bg = back ? (back.g[i] as number) : (screen as Rgb).g;
      const bb = back ? (back.b[i] as number) : (screen as Rgb).b;
      const cr = R[i] as number;
      const cg = G[i] as number;
      const cb = B[i] as number;
      const BB = br * br + bg * bg + bb * bb;
      const CB = cr * br + cg * bg + cb * bb;
      const least = TOLERANCE * TOLERANCE * BB;
      let count = 0;
      for (let k = 0; k < RAYS && count + RAYS - k >= ENOUGH; k++) {
        let most = 0;
        for (let s = k * steps.length; s < (k + 1) * steps.length; s++) {
          const qx = x + (DX[s] as number);
          const qy = y + (DY[s] as number);
          if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
          const j = qy * width + qx;
          if (!certain[j]) continue;
          if (stale[j]) meet(j);
          const fr = FR[j] as number;
          const fg = FG[j] as number;
          const fb = FB[j] as number;
          const FF = fr * fr + fg * fg + fb * fb;
          const mixed = fr * br + fg * bg + fb * bb;
          const CF = cr * fr + cg * fg + cb * fb;
          const det = FF * BB - mixed * mixed;
          if (det < 1e-3 * FF * BB) continue;
          const v = (CB * FF - CF * mixed) / det;
          if (v < LEAST || v > MOST || v <= most) continue;
          const u = (CF * BB - CB * mixed) / det;
          if (u > SHADE * (1 - v) || SHADE * u < 1 - v) continue;
          const er = cr - u * fr - v * br;
          const eg = cg - u * fg - v * bg;
          const eb = cb - u * fb - v * bb;
          if (er * er + eg * eg + eb * eb <= least) most = v;
        }
        if (most === 0) continue;
        // Kept in order, the largest first.
        let at = count++;
        for (; at > 0 && (told[at - 1] as number) < most; at--) told[at] = told[at - 1] as number;
        told[at] = most;
      }
      if (count < ENOUGH) continue;
      const coverage = 1 - (told[count >> 1] as number);
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
        for (let i = row + Math.max(0, x - 1); i <= row + Math.min(width - 1, x + 1); i++)
          if (firm[i] && asked[i] !== round) {
            asked[i] = round;
            rim.push(i);
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
