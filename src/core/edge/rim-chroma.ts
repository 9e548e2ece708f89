import { distanceTo } from "../image/distance";
import { maskUnder } from "../image/mask";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";

/** Matte under which a pixel holds screen, and over which it is solid but for what grain and coarse chroma take from it. */
const SCREEN = 0.97;
const SOLID = 0.9;
/** Matte up to which there is no subject whose colour could be put right. */
const EMPTY = 0.02;
/** Distances from pixels that hold screen, px: up to the first coarse chroma has mixed colours in full, from the second on it has not. */
const MIXED = 3;
const CLEAR = 5;
/** Distances over which a pixel's chroma is taken for the subject's own, the more the farther. */
const PURE = 1;
const PUREST = 2;
/** How far such pixels are looked for, px, and the deviation of their weights. */
const REACH = 4;
const NEAR = 1.8;
/** Difference of luma, as shares of full scale, that counts as much as one deviation of place. */
const LIKE = 0.08;
/** Weight of neighbours at which half of the rebuilt chroma stays. */
const DOUBT = 0.5;
/** Weights of luma by difference of luma, up to four deviations. */
const STEPS = 256;
const LIKENESS = Float32Array.from({ length: STEPS + 1 }, (_, k) => Math.exp(-0.5 * ((4 * k) / STEPS) ** 2));
const PLACES = Float32Array.from({ length: (2 * REACH + 1) ** 2 }, (_, k) => {
  const [dx, dy] = [(k % (2 * REACH + 1)) - REACH, Math.floor(k / (2 * REACH + 1)) - REACH];
  return Math.exp(-(dx * dx + dy * dy) / (2 * NEAR * NEAR));
});

/** Luma of linear light, as shares of full scale: a square root stands for the camera's curve, and undoes itself exactly. */
const lumaOfLight = (r: number, g: number, b: number): number =>
  0.2126 * Math.sqrt(Math.max(0, r)) + 0.7152 * Math.sqrt(Math.max(0, g)) + 0.0722 * Math.sqrt(Math.max(0, b));

/**
 * Puts right the colour that coarse chroma (4:2:0, 4:2:2) mixed across the subject's edge: a sample shared by subject and screen
 * leaves the screen's colour on the rim, and the subject's in mixed pixels. Mixed pixels get the rebuilt chroma; nearly solid ones
 * the chroma of clear subject beside them, that of their own luma most, each at its own luma. Pixels farther than a few from the
 * edge stay the plate's own.
 * Source: Kopf, Cohen, Lischinski & Uyttendaele, "Joint Bilateral Upsampling", SIGGRAPH 2007, with samples that hold screen left out.
 * @param plate linear light, full size
 * @param rebuilt the same frame with its chroma rebuilt along luma
 * @param matte the pull, of the plate's size
 * @param amount 0…1
 */
export function rimChroma(plate: Picture, rebuilt: Picture, matte: Plane, amount: number, allocate: Allocate = fresh): Picture {
  const { width, height } = plate;
  const m = matte.data;
  const from = [plate.r, plate.g, plate.b] as const;
  const fine = [rebuilt.r, rebuilt.g, rebuilt.b] as const;
  const out = from.map((c) => {
    const copy = allocate(c.length);
    copy.set(c);
    return copy;
  }) as [Float32Array, Float32Array, Float32Array];
  const toScreen = distanceTo(maskUnder(m, SCREEN), width, height, CLEAR + REACH + 1);
  const lumaAt = (c: typeof from, i: number) => lumaOfLight(c[0][i] as number, c[1][i] as number, c[2][i] as number);
  // Only rims are looked at: luma is worked out where it is asked for.
  const lumas = new Float32Array(m.length).fill(-1);
  const luma = (i: number): number => {
    const known = lumas[i] as number;
    if (known >= 0) return known;
    const l = lumaAt(from, i);
    lumas[i] = l;
    return l;
  };
  const target: [number, number, number] = [0, 0, 0];
  /** Mixes what the clear pixels around (x, y) have into the target. */
  const fromClear = (x: number, y: number, here: number) => {
    let weight = 0;
    const sum: [number, number, number] = [0, 0, 0];
    for (let dy = Math.max(-REACH, -y); dy <= Math.min(REACH, height - 1 - y); dy++)
      for (let dx = Math.max(-REACH, -x); dx <= Math.min(REACH, width - 1 - x); dx++) {
        const j = (y + dy) * width + x + dx;
        const far = toScreen[j] as number;
        if (far <= PURE) continue;
        const unlike = Math.round((Math.abs(luma(j) - here) / (4 * LIKE)) * STEPS);
        if (unlike > STEPS) continue;
        const place = PLACES[(dy + REACH) * (2 * REACH + 1) + dx + REACH] as number;
        const w = Math.min(1, (far - PURE) / (PUREST - PURE)) * place * (LIKENESS[unlike] as number);
        weight += w;
        for (let k = 0; k < 3; k++) sum[k] = (sum[k] as number) + w * (fine[k as 0 | 1 | 2][j] as number);
      }
    if (!(weight > 0)) return;
    const mean = lumaOfLight(sum[0] / weight, sum[1] / weight, sum[2] / weight);
    const shade = mean > 1e-4 ? (here / mean) ** 2 / weight : 0;
    const share = weight / (weight + DOUBT);
    for (let k = 0; k < 3; k++) target[k] = (target[k] as number) + share * (shade * (sum[k] as number) - (target[k] as number));
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const far = toScreen[i] as number;
      if (far >= CLEAR || (m[i] as number) <= EMPTY) continue;
      fine.forEach((c, k) => {
        target[k] = c[i] as number;
      });
      if ((m[i] as number) >= SOLID) fromClear(x, y, luma(i));
      const share = amount * Math.min(1, (CLEAR - far) / (CLEAR - MIXED));
      out.forEach((c, k) => {
        c[i] = (c[i] as number) + share * ((target[k] as number) - (c[i] as number));
      });
    }
  return { width, height, r: out[0], g: out[1], b: out[2] };
}
