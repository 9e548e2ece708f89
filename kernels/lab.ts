/** Pointwise steps in CIELAB; see pointwise.ts. */
import { all, choose, most, operand, parameter, result, unit } from "./blocks";

/** Constants of a* and b*, set once a block: an engine builds a constant anew wherever it stands in the code. */
let magic: v128 = i32x4.splat(0);
let epsilon: v128 = i32x4.splat(0);
let slope: v128 = i32x4.splat(0);
let start: v128 = i32x4.splat(0);
const XW: f32 = 0.4124 + 0.3576 + 0.1805;
const ZW: f32 = 0.0193 + 0.1192 + 0.9505;

/** ε and κ of CIE 15:2004, 8.2.1, and the first guess of a cube root. */
function readLab(): void {
  magic = i32x4.splat(709921077);
  epsilon = all(216.0 / 24389.0);
  slope = all(24389.0 / 27.0 / 116.0);
  start = all(16.0 / 116.0);
}

/** A row of the matrix to XYZ, white brought to 1. */
function row(kr: f32, r: v128, kg: f32, g: v128, kb: f32, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(all(kr), r), f32x4.mul(all(kg), g)), f32x4.mul(all(kb), b));
}
/** A first guess of a cube root: a third of the bits, as 1/4 + 1/16 and on, leaves a third of the exponent. */
function guess(t: v128): v128 {
  let bits = i32x4.add(i32x4.shr_u(t, 2), i32x4.shr_u(t, 4));
  bits = i32x4.add(bits, i32x4.shr_u(bits, 4));
  return i32x4.add(magic, i32x4.add(bits, i32x4.shr_u(bits, 8)));
}
/** A nearer cube root: a step of Halley's method. */
function nearer(t: v128, x: v128): v128 {
  const cube = f32x4.mul(f32x4.mul(x, x), x);
  return f32x4.mul(x, f32x4.div(f32x4.add(cube, f32x4.add(t, t)), f32x4.add(t, f32x4.add(cube, cube))));
}
/** f of CIE 15:2004, 8.2.1. @param root cube root where `t` is above ε */
function labOf(t: v128, root: v128): v128 {
  return choose(root, f32x4.add(f32x4.mul(slope, t), start), f32x4.gt(t, epsilon));
}

let starA: v128 = i32x4.splat(0);
let starB: v128 = i32x4.splat(0);
/** a* and b* of four pixels, for `starA` and `starB`. Three roots side by side: none waits for another. */
function readChroma(r: v128, g: v128, b: v128): void {
  const x = row(0.4124 / XW, r, 0.3576 / XW, g, 0.1805 / XW, b);
  const y = row(0.2126, r, 0.7152, g, 0.0722, b);
  const z = row(0.0193 / ZW, r, 0.1192 / ZW, g, 0.9505 / ZW, b);
  const tx = most(x, epsilon);
  const ty = most(y, epsilon);
  const tz = most(z, epsilon);
  let rx = guess(tx);
  let ry = guess(ty);
  let rz = guess(tz);
  for (let k = 0; k < 2; k++) {
    rx = nearer(tx, rx);
    ry = nearer(ty, ry);
    rz = nearer(tz, rz);
  }
  const fy = labOf(y, ry);
  starA = f32x4.mul(all(500), f32x4.sub(labOf(x, rx), fy));
  starB = f32x4.mul(all(200), f32x4.sub(fy, labOf(z, rz)));
}

/** R, G, B; gives a* and b*, and their direction from grey, that of a* where there is none. */
export function chroma(bytes: i32): void {
  readLab();
  for (let at = 0; at < bytes; at += 16) {
    readChroma(operand(0, at), operand(1, at), operand(2, at));
    const square = f32x4.add(f32x4.mul(starA, starA), f32x4.mul(starB, starB));
    const coloured = f32x4.gt(square, all(1e-12));
    const unitLength = f32x4.div(all(1), f32x4.sqrt(square));
    result(0, at, starA);
    result(1, at, starB);
    result(2, at, choose(f32x4.mul(starA, unitLength), all(1), coloured));
    result(3, at, v128.and(f32x4.mul(starB, unitLength), coloured));
  }
}

/**
 * R, G, B of the plate, a* and b* of the screen, and their direction from grey; parameters: inner radius, 1 / (outer − inner), stretch.
 * Distance along the axis from grey through the screen, and across it.
 */
export function chromaDistance(bytes: i32): void {
  readLab();
  const inner = parameter(0);
  const k = parameter(1);
  const narrower = f32x4.div(all(1), parameter(2));
  for (let at = 0; at < bytes; at += 16) {
    readChroma(operand(0, at), operand(1, at), operand(2, at));
    const da = f32x4.sub(starA, operand(3, at));
    const db = f32x4.sub(starB, operand(4, at));
    const ua = operand(5, at);
    const ub = operand(6, at);
    const along = f32x4.mul(f32x4.add(f32x4.mul(da, ua), f32x4.mul(db, ub)), narrower);
    const across = f32x4.sub(f32x4.mul(da, ub), f32x4.mul(db, ua));
    const d = f32x4.sqrt(f32x4.add(f32x4.mul(along, along), f32x4.mul(across, across)));
    result(0, at, unit(f32x4.mul(f32x4.sub(d, inner), k)));
  }
}
