import { describe, expect, it } from "vitest";
import { distanceTo } from "../image/distance";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { coloursAlong, coloursAround } from "./mixtures";

type Vector = readonly [number, number, number];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const less = (a: Vector, b: Vector, k = 1): Vector => [a[0] - k * b[0], a[1] - k * b[1], a[2] - k * b[2]];
const at = ({ r, g, b }: Picture, i: number): Vector => [r[i]!, g[i]!, b[i]!];

const [width, height] = [41, 29];
const next = random(5);
const screen: Vector = [0.06, 0.45, 0.09];
/** Subject of two shades and mixtures of it with the screen, a third of it known. */
const picture = makePicture(width, height);
const known = new Uint8Array(width * height);
for (let i = 0; i < known.length; i++) {
  known[i] = next() < 0.33 ? 1 : 0;
  const own = next() < 0.5 ? [0.4, 0.3, 0.2] : [0.1, 0.12, 0.15];
  const share = known[i] ? 0 : 0.7 * next();
  for (const [k, c] of (["r", "g", "b"] as const).entries())
    picture[c][i] = (1 - share) * own[k]! * (0.9 + 0.2 * next()) + share * screen[k]!;
}

describe("colours around a pixel", () => {
  const rays = Array.from({ length: 5 }, (_, k) =>
    [1, 2, 5].map((t) => ({ x: Math.round(t * Math.cos(k)), y: Math.round(t * Math.sin(k)) })),
  );
  const [least, most, shade, unexplained] = [0.03, 0.6, 2, 0.02 ** 2];
  /** The same, colour by colour. */
  function plain(x: number, y: number, ray: (typeof rays)[number]): number {
    const pixel = at(picture, y * width + x);
    let found = 0;
    for (const step of ray) {
      const [qx, qy] = [x + step.x, y + step.y];
      if (qx < 0 || qy < 0 || qx >= width || qy >= height || !known[qy * width + qx]) continue;
      const colour = at(picture, qy * width + qx);
      const det = dot(colour, colour) * dot(screen, screen) - dot(colour, screen) ** 2;
      const v = (dot(pixel, screen) * dot(colour, colour) - dot(pixel, colour) * dot(colour, screen)) / det;
      const u = (dot(pixel, colour) * dot(screen, screen) - dot(pixel, screen) * dot(colour, screen)) / det;
      const rest = less(less(pixel, colour, u), screen, v);
      const fits = v >= least && v <= most && u <= shade * (1 - v) && shade * u >= 1 - v;
      if (fits && dot(rest, rest) <= unexplained * dot(screen, screen)) found = Math.max(found, v);
    }
    return found;
  }
  const lookAround = () => {
    const around = coloursAround(picture, known, rays);
    around.told.set([...screen, least, most, shade, unexplained], 3);
    const look = (x: number, y: number): number[] => {
      around.told.set(at(picture, y * width + x));
      around.mostBehind(x, y);
      return [...around.most];
    };
    return { look, change: around.change };
  };
  it("tell how much of the screen it holds as plain sums do, to the frame's edge", () => {
    const { look } = lookAround();
    let [some, worst] = [0, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        look(x, y).forEach((v, k) => {
          worst = Math.max(worst, Math.abs(v - plain(x, y, rays[k]!)));
          if (v > 0) some++;
        });
    expect(worst).toBeLessThan(1e-12);
    expect(some).toBeGreaterThan(500);
  });
  it("tell nothing once they are known no longer, and again when they are", () => {
    const { look, change } = lookAround();
    const [x, y] = [20, 14];
    const before = look(x, y);
    expect(Math.max(...before)).toBeGreaterThan(0);
    const all = rays.flat().map((s) => [x + s.x, y + s.y] as const);
    for (const [qx, qy] of all) change(qx, qy, false, 1, 1, 1);
    expect(look(x, y)).toEqual(rays.map(() => 0));
    for (const [qx, qy] of all) change(qx, qy, known[qy * width + qx] === 1, ...at(picture, qy * width + qx));
    expect(look(x, y)).toEqual(before);
  });
});

describe("colours along rays", () => {
  const angles = Array.from({ length: 12 }, (_, k) => (2 * Math.PI * (k + 0.5)) / 12);
  const distance = distanceTo(known, width, height, 100);
  const [price, leastShare, perTolerance, longest, deeper] = [0.01, 0.05, 900, 9, 2.5];
  const lightBehind = 2.25 * dot(screen, screen);
  /** The same, ray by ray: cover, error, distance, and whether the subject ends there. */
  function plain(x: number, y: number): number[][] {
    const met: number[][] = [];
    const over = less(at(picture, y * width + x), screen);
    const place = (t: number, a: number) => {
      const [px, py] = [Math.round(x + t * Math.cos(a)), Math.round(y + t * Math.sin(a))];
      return px >= 0 && py >= 0 && px < width && py < height ? py * width + px : -1;
    };
    for (const a of angles) {
      let t = Math.max(1, distance[y * width + x]!);
      let i = -1;
      while (t <= longest) {
        i = place(t, a);
        if (i < 0 || distance[i] === 0) break;
        t += Math.max(1, distance[i]!);
        i = -1;
      }
      if (i < 0) continue;
      const beyond = place(t + deeper, a);
      const goesOn = beyond >= 0 && known[beyond] === 1;
      const own = at(picture, goesOn ? beyond : i);
      const apart = less(own, screen);
      const square = dot(apart, apart);
      const about = Math.min(1, Math.max(leastShare, dot(over, apart) / square));
      const dear = (price * square) / about ** 2;
      // Least squares of over = a·apart + d·own, d at that price.
      const [aa, ab, bb] = [square, dot(apart, own), dot(own, own) + dear];
      const [ca, cb] = [dot(over, apart), dot(over, own)];
      const cover = Math.min(1, Math.max(0, (ca * bb - cb * ab) / (aa * bb - ab * ab)));
      const d = (cb - cover * ab) / bb;
      const rest = less(less(over, apart, cover), own, d);
      const scale = lightBehind < square ? (1 - cover) * Math.sqrt(lightBehind / square) + cover : 1;
      met.push([cover, ((dot(rest, rest) + dear * d * d) / (square * scale ** 2)) * perTolerance, t, goesOn ? 0 : 1]);
    }
    return met;
  }
  it("are met, and mixed with the screen, as plain sums do", () => {
    const { told, cover, error, far, ends, mixturesAlong } = coloursAlong(picture, known, distance, angles);
    told.set([...screen, price, leastShare, lightBehind, perTolerance, longest, deeper], 3);
    let [some, deep, none, worst] = [0, 0, 0, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        told.set(less(at(picture, y * width + x), screen));
        const wanted = plain(x, y);
        worst = Math.max(worst, Math.abs(mixturesAlong(x, y) - wanted.length));
        none += angles.length - wanted.length;
        wanted.forEach(([a, e, t, end], k) => {
          const errorApart = Math.abs(error[k]! - e!) / Math.max(1, e!);
          worst = Math.max(worst, Math.abs(cover[k]! - a!), errorApart, Math.abs(far[k]! - t!), Math.abs(ends[k]! - end!));
          some++;
          if (!end) deep++;
        });
      }
    expect(worst).toBeLessThan(1e-9);
    expect(some).toBeGreaterThan(10_000);
    expect(deep).toBeGreaterThan(1000);
    expect(none).toBeGreaterThan(100);
  });
  it("explain nothing that has the screen's own colour", () => {
    const like = makePicture(4, 1);
    for (let i = 0; i < 4; i++) [like.r[i], like.g[i], like.b[i]] = screen;
    const two = coloursAlong(like, new Uint8Array([0, 0, 1, 1]), new Float32Array([2, 1, 0, 0]), [0]);
    two.told.set([0.1, 0.1, 0.1, ...screen, price, leastShare, lightBehind, perTolerance, longest, deeper]);
    expect(two.mixturesAlong(0, 0)).toBe(1);
    expect(two.error[0]).toBe(Number.POSITIVE_INFINITY);
  });
});
