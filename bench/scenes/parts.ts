/** What scenes that are drawn at random are made of: dice, colours, strands, and how they become a plate. */
import type { Rgb } from "../../src/core/color/hue";
import { gaussianBlur } from "../../src/core/image/blur";
import type { Picture, Plane } from "../../src/core/image/plane";
import { random } from "../../src/core/image/random";
import { type At, type Drawn, drawPlate } from "../../src/core/simulate/draw-plate";

/** A plate of known coverage, and in words what was drawn. */
export interface Scene {
  readonly plate: Picture;
  readonly truth: Plane;
  readonly told: string;
}

export const rgb = (r: number, g: number, b: number): Rgb => ({ r, g, b });
export const CLOTHS = [
  rgb(0.7, 0.68, 0.62),
  rgb(0.02, 0.02, 0.025),
  rgb(0.4, 0.05, 0.04),
  rgb(0.03, 0.05, 0.12),
  rgb(0.6, 0.42, 0.05),
  rgb(0.2, 0.12, 0.06),
  rgb(0.3, 0.3, 0.3),
  rgb(0.35, 0.1, 0.25),
];
export const SKINS = [rgb(0.56, 0.33, 0.24), rgb(0.25, 0.13, 0.08), rgb(0.1, 0.05, 0.035), rgb(0.65, 0.45, 0.36)];
export const HAIR = [rgb(0.09, 0.05, 0.03), rgb(0.5, 0.38, 0.2), rgb(0.01, 0.008, 0.007), rgb(0.25, 0.09, 0.03), rgb(0.55, 0.53, 0.5)];

/** Dice that fall the same for the same seed, and the words for what fell. */
export function dice(seed: number) {
  const next = random(seed);
  const told: string[] = [];
  return {
    next,
    told,
    pick: <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)] as T,
    between: (low: number, high: number) => low + (high - low) * next(),
    /** In so many of all cases true, and then told of. */
    often: (share: number, name: string): boolean => {
      const is = next() < share;
      if (is) told.push(name);
      return is;
    },
  };
}

/** The paint of a screen, blue in so many of all cases and green else. */
export function screenPaint({ often, between }: Pick<ReturnType<typeof dice>, "often" | "between">, blue: number): Rgb {
  return often(blue, "blue screen")
    ? rgb(between(0.02, 0.05), between(0.06, 0.13), between(0.3, 0.5))
    : rgb(between(0.03, 0.09), between(0.3, 0.5), between(0.05, 0.12));
}

/** Things before a screen through a lens that spreads light by `soft` px. */
export function sceneOf(
  width: number,
  height: number,
  things: readonly Drawn[],
  screen: At<Rgb>,
  soft: number,
  told: readonly string[],
): Scene {
  const { plate, truth } = drawPlate(width, height, things, screen);
  const lens = (c: Float32Array) => (soft > 0 ? gaussianBlur(c, width, height, soft) : c);
  return {
    plate: { width, height, r: lens(plate.r), g: lens(plate.g), b: lens(plate.b) },
    truth: { ...truth, data: lens(truth.data) },
    told: told.join(", "),
  };
}

/** Bent strands that leave the upper half of a head, thinning to their ends. */
export function strandsOf(
  count: number,
  [cx, cy, radius]: readonly [number, number, number],
  width: number,
  curl: number,
  next: () => number,
  colour: At<Rgb>,
): Drawn {
  const CELL = 4;
  const cells = new Map<string, [number, number, number][]>();
  const cellOf = (x: number, y: number) => `${Math.floor(x / CELL)},${Math.floor(y / CELL)}`;
  for (let k = 0; k < count; k++) {
    const [from, length, bend, thick] = [
      Math.PI * (1 + next()),
      radius * (0.25 + 0.65 * next()),
      curl * (2 * next() - 1),
      width * (0.5 + 0.8 * next()),
    ];
    for (let s = 0; s <= 1; s += 0.01) {
      const [angle, far] = [from + bend * s * s, radius - 2 + length * s];
      const [x, y] = [cx + far * Math.cos(angle), cy + 1.2 * far * Math.sin(angle)];
      const id = cellOf(x, y);
      cells.set(id, [...(cells.get(id) ?? []), [x, y, (thick * (1 - 0.7 * s)) / 2]]);
    }
  }
  const covers: At<number> = (x, y) => {
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++)
        for (const [px, py, r] of cells.get(cellOf(x + CELL * i, y + CELL * j)) ?? []) if ((px - x) ** 2 + (py - y) ** 2 <= r * r) return 1;
    return 0;
  };
  return { covers, colour };
}
