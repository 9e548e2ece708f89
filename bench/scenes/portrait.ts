import type { Rgb } from "../../src/core/color/hue";
import type { At, Drawn } from "../../src/core/simulate/draw-plate";
import { CLOTHS, dice, HAIR, rgb, type Scene, SKINS, sceneOf, screenPaint, strandsOf } from "./parts";

const SIZES = [
  [640, 360],
  [800, 450],
  [432, 768],
  [720, 480],
] as const;
/**
 * A head, a torso, an arm still or moving, strands, a veil, a mesh, smoke or a stick, before a screen of any light with gradients, folds and a
 * shadow. The same number draws the same.
 */
export function drawPortrait(number: number): Scene {
  const { next, told, pick, between, often } = dice(number * 7919 + 3);
  const [width, height] = pick(SIZES);
  const unit = Math.min(width, height) / 360;
  told.push(`${width}×${height}`);
  const base = screenPaint({ often, between }, 0.3);
  const level = pick([1.5, 1, 1, 0.6, 0.35]);
  const fold = often(0.35, "folds") ? between(0.05, 0.2) : 0;
  const shade = often(0.3, "shadow") ? between(0.2, 0.6) : 0;
  const [across, down, period, tilt] = [between(-0.5, 0.5), between(-0.3, 0.3), unit * between(15, 60), between(-0.3, 0.3)];
  const [shadeX, shadeSize] = [width * between(0.2, 0.8), unit * between(40, 110)];
  const light: At<number> = (x, y) =>
    level *
    (1 + across * (x / width - 0.5) + down * (y / height - 0.5)) *
    (1 - fold * Math.max(0, Math.sin((x + tilt * y) / period)) ** 6) *
    (1 - shade * Math.exp(-(((x - shadeX) / shadeSize) ** 2) - ((y - 0.9 * height) / (0.5 * shadeSize)) ** 2));
  const screen: At<Rgb> = (x, y) => rgb(light(x, y) * base.r, light(x, y) * base.g, light(x, y) * base.b);

  const spill = level * pick([0, 0.02, 0.05, 0.12]);
  const key = pick([0.6, 1, 1, 1.4]);
  told.push(`screen at ${level}`, `subject at ${key}`, `spill ${spill.toFixed(2)}`);
  /** A surface's light: turned so far to the lamp, so far to the screen at its rim. */
  const lit = (c: Rgb, facing: number, rim: number): Rgb => {
    const own = key * (0.35 + 0.65 * Math.max(0, facing));
    const green = spill * (0.25 + 0.75 * rim);
    return rgb(own * c.r + green * base.r, own * c.g + green * base.g, own * c.b + green * base.b);
  };

  const [cx, cy, radius] = [width * between(0.3, 0.7), height * between(0.25, 0.4), unit * between(32, 75)];
  const [cloth, second, skin, hair] = [pick(CLOTHS), pick(CLOTHS), pick(SKINS), pick(HAIR)];
  const stripes = often(0.3, "stripes") ? unit * pick([4, 8, 14]) : 0;
  const [shoulders, half, slope] = [cy + 1.25 * radius, radius * between(1.3, 1.9), between(0.02, 0.25)];
  const things: Drawn[] = [
    {
      covers: (x, y) => {
        const below = y - shoulders;
        return below >= 0 && Math.abs(x - cx) < Math.min(half, 0.55 * half + Math.sqrt(0.9 * below * half)) + slope * below ? 1 : 0;
      },
      colour: (x, y) => {
        const side = (x - cx) / (half + slope * (y - shoulders));
        return lit(stripes && Math.floor((x + 0.2 * y) / stripes) % 2 ? second : cloth, 0.7 + 0.5 * side, side ** 4);
      },
    },
  ];
  if (often(0.6, "arm")) {
    const moved = often(0.5, "moving") ? unit * between(4, 18) : 0;
    const side = pick([-1, 1]);
    const [ax, ay, angle, length] = [cx + side * 0.8 * half, shoulders + 0.5 * radius, between(-1.2, 0.6), radius * between(1.6, 3.2)];
    const [dx, dy] = [side * Math.cos(angle) * length, Math.sin(angle) * length];
    const thick = radius * between(0.22, 0.38);
    /** How far along it a place lies, and whether it is covered, when its end has moved so far. */
    const at = (x: number, y: number, by: number) => {
      const [ex, ey] = [dx - Math.sin(angle) * by, dy + Math.cos(angle) * by];
      const t = Math.max(0, Math.min(1, ((x - ax) * ex + (y - ay) * ey) / (ex * ex + ey * ey)));
      return { t, inside: Math.hypot(x - ax - t * ex, y - ay - t * ey) < thick * (1 - 0.25 * t) };
    };
    const times = moved ? Array.from({ length: 9 }, (_, k) => moved * (k / 8 - 0.5)) : [0];
    things.push({
      covers: (x, y) => times.filter((by) => at(x, y, by).inside).length / times.length,
      colour: (x, y) => lit(at(x, y, 0).t > 0.75 ? skin : cloth, 0.6, 0.3),
    });
  }
  things.push({
    covers: (x, y) => (Math.hypot(x - cx, (y - cy) / 1.2) <= radius ? 1 : 0),
    colour: (x, y) =>
      lit(y < cy - 0.35 * radius ? hair : skin, 0.6 + (0.6 * (x - cx)) / radius, (Math.hypot(x - cx, y - cy) / (1.2 * radius)) ** 4),
  });
  const count = pick([0, 60, 200, 500]);
  told.push(`${count} strands`);
  things.push(strandsOf(count, [cx, cy, radius], unit * between(0.6, 1.8), between(0.2, 0.9), next, () => lit(hair, 0.7, 1)));
  const extra = pick(["", "veil", "mesh", "smoke", "stick"]);
  if (extra) told.push(extra);
  const cover = between(0.15, 0.5);
  const [sx, sy, size] = [width * between(0.1, 0.9), height * between(0.2, 0.8), unit * between(30, 80)];
  if (extra === "veil" || extra === "mesh") {
    const pitch = unit * between(2.5, 5);
    const open = (v: number) => extra === "mesh" && v % pitch >= pitch / 4;
    const pale = often(0.5, "pale");
    things.push({
      covers: (x, y) =>
        Math.abs(x - cx) > 1.7 * radius || y < cy - 1.4 * radius || y > cy + 1.8 * radius || (open(x) && open(y)) ? 0 : cover,
      colour: () => lit(pale ? rgb(0.7, 0.69, 0.66) : rgb(0.03, 0.03, 0.03), 0.75, 0.5),
    });
  } else if (extra === "smoke")
    things.push({
      covers: (x, y) =>
        cover * Math.exp(-1.5 * (Math.hypot(x - sx, y - sy) / size) ** 2) * (0.8 + 0.2 * Math.sin(x / 7 / unit + Math.sin(y / 9 / unit))),
      colour: () => rgb(0.55 * key, 0.55 * key, 0.57 * key),
    });
  else if (extra === "stick") {
    const [turn, thick, paint] = [between(0, Math.PI), unit * between(1, 4), pick(CLOTHS)];
    things.push({
      covers: (x, y) => {
        const [along, off] = [(x - sx) * Math.cos(turn) + (y - sy) * Math.sin(turn), (y - sy) * Math.cos(turn) - (x - sx) * Math.sin(turn)];
        return Math.abs(along) < size && Math.abs(off) < thick / 2 ? 1 : 0;
      },
      colour: () => lit(paint, 0.6, 0.3),
    });
  }
  const soft = pick([0, 0.4, 0.6, 1]);
  told.push(`lens ${soft} px`);
  return sceneOf(width, height, things, screen, soft, told);
}
