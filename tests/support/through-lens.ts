import type { Rgb } from "../../src/core/color/hue";
import { cornerOf, type Fringes } from "../../src/core/image/fringes";
import { makePicture, makePlane, type Picture, type Plane } from "../../src/core/image/plane";
import { random } from "../../src/core/image/random";

export interface Disc {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
  readonly colour: Rgb;
}

const COLOURS = [
  { r: 0.56, g: 0.33, b: 0.24 },
  { r: 0.03, g: 0.05, b: 0.12 },
  { r: 0.7, g: 0.68, b: 0.62 },
  { r: 0.4, g: 0.05, b: 0.04 },
];

/** Discs of four colours all over a frame. */
export function scattered(width: number, height: number, count = 40): Disc[] {
  const next = random(11);
  return Array.from({ length: count }, (_, k) => ({
    x: width * next(),
    y: height * next(),
    radius: height * (0.04 + 0.07 * next()),
    colour: COLOURS[k % COLOURS.length] as Rgb,
  }));
}

/**
 * Discs before an even screen, as a lens draws them that makes red and blue larger than green, by px at the frame's corners: each colour is drawn at
 * its own size, so that nothing is read between pixels. Their rims are a pixel wide. The truth is that of the green image.
 */
export function throughLens(
  width: number,
  height: number,
  discs: readonly Disc[],
  screen: Rgb,
  { red, blue }: Fringes,
): { readonly plate: Picture; readonly truth: Plane } {
  const plate = makePicture(width, height);
  const truth = makePlane(width, height);
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const draw = (channel: Float32Array, px: number, behind: number, light: (d: Disc) => number) => {
    const size = 1 + px / cornerOf(width, height);
    channel.fill(behind);
    for (const d of discs) {
      const [x, y, radius] = [cx + size * (d.x - cx), cy + size * (d.y - cy), size * d.radius];
      const from = (at: number) => Math.max(0, Math.floor(at - radius - 1));
      for (let j = from(y); j < Math.min(height, y + radius + 1); j++)
        for (let i = from(x); i < Math.min(width, x + radius + 1); i++) {
          const cover = Math.min(1, Math.max(0, radius + 0.5 - Math.hypot(i - x, j - y)));
          const at = j * width + i;
          channel[at] = cover * light(d) + (1 - cover) * (channel[at] as number);
        }
    }
  };
  draw(plate.r, red, screen.r, (d) => d.colour.r);
  draw(plate.g, 0, screen.g, (d) => d.colour.g);
  draw(plate.b, blue, screen.b, (d) => d.colour.b);
  draw(truth.data, 0, 0, () => 1);
  return { plate, truth };
}
