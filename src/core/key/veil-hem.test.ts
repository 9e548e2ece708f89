import { describe, expect, it } from "vitest";
import { makePicture, type Picture } from "../image/plane";
import { random } from "../image/random";
import { againstScreen, certainSubject, palerThanScreen } from "./certain-subject";

const [WIDTH, HEIGHT] = [320, 180];
const B = { r: 0.05, g: 0.4, b: 0.08 };
const VEIL = { r: 0.62, g: 0.62, b: 0.59 };
const COVER = 0.45;
const SHIRT = { r: 0.3, g: 0.12, b: 0.1 };

/** A head and a shirt; over all of them, or only over the screen, a square of something pale green. */
function portrait(overSubject: boolean, screen = B): Picture {
  const p = makePicture(WIDTH, HEIGHT);
  const next = random(3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const subject = Math.hypot(x - 160, y - 60) < 30 || (y > 100 && Math.abs(x - 160) < 70);
      const square = Math.abs(x - 160) < 60 && y > 15 && y < 135;
      const grain = 1 + 0.01 * (next() - 0.5);
      for (const c of ["r", "g", "b"] as const) {
        const bare = subject ? SHIRT[c] : screen[c];
        // Before the screen that is what cloth of such a colour looks like, too.
        const veiled = COVER * VEIL[c] + (1 - COVER) * bare;
        p[c][y * WIDTH + x] = grain * (square && (overSubject || !subject) ? veiled : bare);
      }
    }
  return p;
}

/** Share of the square, beside the head, that is certain subject. */
function certainBesideHead(plate: Picture, screen = B): number {
  const seen = againstScreen(plate, screen, "g", 0.5);
  const { certain } = certainSubject(plate, "g", seen, palerThanScreen(seen));
  const beside = [...certain.keys()].filter((i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    return Math.abs(x - 160) < 54 && Math.abs(x - 160) > 36 && y > 24 && y < 92;
  });
  return beside.reduce((sum, i) => sum + (certain[i] as number), 0) / beside.length;
}

describe("a veil's hem", () => {
  it("over the subject tells an even veil with a sharp outline from cloth of the same colour", () => {
    expect(certainBesideHead(portrait(true))).toBe(0);
    expect(certainBesideHead(portrait(false))).toBe(1);
  });
  it("tells it though compression leaves ripples beside every edge", () => {
    const dim = { r: 0.3 * B.r, g: 0.3 * B.g, b: 0.3 * B.b };
    const rippled = (overSubject: boolean) => {
      const plate = portrait(overSubject, dim);
      for (let y = 0; y < HEIGHT; y++)
        for (let x = 0; x < WIDTH; x++)
          if (y > 106) {
            const i = y * WIDTH + x;
            plate.g[i] = (plate.g[i] as number) + 0.012 * Math.sin(1.6 * x) * Math.cos(1.6 * y);
          }
      return plate;
    };
    expect(certainBesideHead(rippled(true), dim)).toBe(0);
    expect(certainBesideHead(rippled(false), dim)).toBeGreaterThan(0.9);
  });
});
