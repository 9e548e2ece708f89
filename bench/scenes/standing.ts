import type { Rgb } from "../../src/core/color/hue";
import type { At, Drawn } from "../../src/core/simulate/draw-plate";
import { CLOTHS, dice, HAIR, rgb, type Scene, SKINS, sceneOf, screenPaint, strandsOf } from "./parts";

const SIZES = [
  [960, 540],
  [640, 360],
  [800, 450],
  [540, 960],
] as const;
const WHITE = [rgb(0.75, 0.74, 0.7), rgb(0.72, 0.71, 0.68)] as const;
const SHOES = [rgb(0.02, 0.02, 0.02), rgb(0.7, 0.7, 0.7), rgb(0.3, 0.1, 0.05)];
const WOODS = [rgb(0.3, 0.15, 0.07), rgb(0.03, 0.03, 0.03), rgb(0.6, 0.6, 0.6)];
const HATS = [rgb(0.6, 0.45, 0.15), rgb(0.8, 0.78, 0.7), rgb(0.05, 0.05, 0.06)];
const RUNGS = [-2.4, -1.6, -0.8, 0, 2];
const PLACES_OF_BLUR = [-2, -1, 0, 1, 2];

/** Where the parts of somebody lie, px; all in heads of radius `head`. */
interface Figure {
  readonly x: number;
  readonly head: number;
  readonly face: number;
  readonly shoulders: number;
  readonly hip: number;
  readonly feet: number;
  readonly half: number;
}

/** Whether somebody's head, torso or legs are at a place, for the shadow that they cast. */
const hides = ({ x: cx, head, face, shoulders, hip, feet, half }: Figure, x: number, y: number): boolean =>
  Math.hypot(x - cx, (y - face) / 1.2) < head ||
  (y > shoulders && y < hip && Math.abs(x - cx) < half) ||
  (y >= hip && y < feet && Math.abs(Math.abs(x - cx) - 0.75 * head) < 0.55 * head);

/**
 * Somebody standing, near or far: on a floor of the screen's paint or with a contact shadow, with markers on the wall, a cast shadow of any softness,
 * the studio beyond the screen; with a chair, an arm akimbo or waving, a hat, strands, a veil; in white, checks or plain cloth. The same number draws
 * the same.
 */
export function drawStanding(number: number): Scene {
  const { next, told, pick, between, often } = dice(number * 104729 + 11);
  const [width, height] = pick(SIZES);
  const unit = Math.min(width, height) / 360;
  told.push(`${width}×${height}`);

  const base = screenPaint({ often, between }, 0.25);
  const level = pick([1.5, 1, 1, 0.6, 0.35]);
  const stops = often(0.3, "two stops uneven") ? 2 : 0.5;
  const floor = often(0.5, "floor") ? between(0.62, 0.8) * height : Number.POSITIVE_INFINITY;
  const floorLight = between(0.6, 1.5);
  const marker = pick(["crosses", "dots", "tape"]);
  const hasMarkers = often(0.4, marker);
  const [tone, pitch] = [pick([1.6, 0.5, 0.15]), unit * between(70, 130)];
  const screenEnd = often(0.3, "studio beyond") ? between(0.78, 0.92) * width : Number.POSITIVE_INFINITY;
  const cast = often(0.35, "cast shadow") ? unit * between(15, 60) : 0;
  const [castDark, castSoft] = [between(0.35, 0.8), unit * between(1, 10)];
  const spill = level * pick([0.02, 0.05, 0.1]);
  const [key, size] = [pick([0.6, 1, 1.4]), pick([0.35, 0.7, 1, 1.6])];
  told.push(`screen at ${level}`, `subject at ${key}`, `spill ${spill.toFixed(2)}`, `size ${size}`);

  const head = 31 * unit * size;
  const face = pick([0.12, 0.3]) * height + 1.2 * head;
  const shoulders = face + 1.3 * head;
  const figure: Figure = {
    x: width * between(0.35, 0.62),
    head,
    face,
    shoulders,
    hip: shoulders + 3 * head,
    feet: shoulders + 7 * head,
    half: 1.5 * head,
  };
  const { x: cx, hip, feet, half } = figure;

  /** Share of a cast shadow's middle at a place of the wall, and of a contact shadow. */
  const castAt = (x: number, y: number): number => {
    if (!cast || y > floor) return 0;
    const dark = PLACES_OF_BLUR.flatMap((k) =>
      PLACES_OF_BLUR.filter((j) => hides(figure, x - cast + (k * castSoft) / 2, y - 0.3 * cast + (j * castSoft) / 2)),
    );
    return dark.length / PLACES_OF_BLUR.length ** 2;
  };
  const contactAt = (x: number, y: number): number =>
    y > floor || floor === Number.POSITIVE_INFINITY
      ? 0.75 * Math.exp(-(((x - cx) / (1.8 * head)) ** 2) - ((y - feet) / (0.35 * head)) ** 2)
      : 0;
  const isMarker = (x: number, y: number): boolean => {
    if (!hasMarkers || y >= floor) return false;
    const [u, v] = [Math.abs(((x + pitch / 3) % pitch) - pitch / 2), Math.abs(((y + pitch / 5) % pitch) - pitch / 2)];
    if (marker === "dots") return Math.hypot(u, v) < 3.5 * unit;
    if (marker === "tape") return u < 5 * unit && v < 2 * unit;
    return Math.max(u, v) < 5 * unit && Math.min(u, v) < 1.2 * unit;
  };
  const screen: At<Rgb> = (x, y) => {
    if (x > screenEnd + 6 * unit * Math.sin(y / 40)) {
      const lamp = Math.hypot(x - screenEnd - 0.05 * width, y - 0.2 * height) < 12 * unit;
      const k = lamp ? 0.9 : 0.01 + 0.01 * Math.sin(x / 9) ** 2;
      return rgb(k, k, 0.9 * k);
    }
    const even = level * 2 ** (stops * (0.5 - Math.hypot(x / width - 0.5, y / height - 0.4))) * (y > floor ? floorLight : 1);
    const light = even * (1 - castDark * castAt(x, y)) * (1 - contactAt(x, y));
    if (!isMarker(x, y)) return rgb(light * base.r, light * base.g, light * base.b);
    if (tone === 0.15) return rgb(0.04 * light, 0.05 * light, 0.04 * light);
    if (tone === 1.6 && marker === "tape") return rgb(0.7 * light, 0.7 * light, 0.65 * light);
    return rgb(light * tone * base.r, light * tone * base.g, light * tone * base.b);
  };

  /** A surface's light: turned so far to the lamp, so far to the screen at its rim; and the nearer to the floor, the more of its light. */
  const lit = (c: Rgb, facing: number, rim: number, y: number): Rgb => {
    const own = key * (0.35 + 0.65 * Math.max(0, facing));
    const ofFloor = floor < Number.POSITIVE_INFINITY ? Math.max(0, (y - shoulders) / (feet - shoulders)) * spill * floorLight : 0;
    const green = spill * (0.25 + 0.75 * rim) + ofFloor;
    return rgb(own * c.r + green * base.r, own * c.g + green * base.g, own * c.b + green * base.b);
  };
  const [coat, trousers] = often(0.3, "white clothes") ? WHITE : [pick(CLOTHS), pick(CLOTHS)];
  const [skin, hair, second] = [pick(SKINS), pick(HAIR), pick(CLOTHS)];
  const checks = often(0.25, "checks") ? unit * pick([6, 10, 16]) : 0;
  const cloth = (c: Rgb, x: number, y: number): Rgb => (checks && (Math.floor(x / checks) + Math.floor(y / checks)) % 2 ? second : c);

  const things: Drawn[] = [];
  if (often(0.3, "chair")) {
    const [wood, thick] = [pick(WOODS), unit * between(1.5, 4)];
    things.push({
      covers: (x, y) => {
        const [u, v] = [x - cx - 2.4 * head, y - hip];
        const isLeg = Math.abs(Math.abs(u) - head) < thick && v > -2.5 * head && v < 3.6 * head;
        return isLeg || (Math.abs(u) < head && RUNGS.some((k) => Math.abs(v - k * head) < thick)) ? 1 : 0;
      },
      colour: (_, y) => lit(wood, 0.6, 0.4, y),
    });
  }
  things.push({
    covers: (x, y) =>
      y >= hip - 4 && y < feet && Math.abs(Math.abs(x - cx) - (0.5 + (0.35 * (y - hip)) / (feet - hip)) * head) < 0.5 * head ? 1 : 0,
    colour: (x, y) => lit(cloth(trousers, x, y), 0.7 + (0.2 * (x - cx)) / head, 0.3, y),
  });
  const shoe = pick(SHOES);
  things.push({
    covers: (x, y) => (Math.hypot((Math.abs(x - cx) - head) / 0.75, (y - feet) * 2) < head && y < feet + 0.25 * head ? 1 : 0),
    colour: (_, y) => lit(shoe, 0.6, 0.3, y),
  });
  things.push({
    covers: (x, y) =>
      y >= shoulders && y < hip && Math.abs(x - cx) < Math.min(half, 0.5 * half + Math.sqrt(0.9 * (y - shoulders) * half)) ? 1 : 0,
    colour: (x, y) => lit(cloth(coat, x, y), 0.7 + (0.5 * (x - cx)) / half, ((x - cx) / half) ** 4, y),
  });
  const isAkimbo = often(0.4, "akimbo");
  things.push({
    covers: (x, y) => {
      const [u, v] = [x - cx + half, y - shoulders - 1.4 * head];
      if (isAkimbo) return Math.abs(Math.hypot(u / 1.1, v) - head) < 0.24 * head && u < 0.2 * head ? 1 : 0;
      return Math.abs(u + 0.1 * head - 0.05 * v) < 0.3 * head && v > -0.9 * head && v < 2.2 * head ? 1 : 0;
    },
    colour: (x, y) => lit(y > shoulders + 2.6 * head ? skin : cloth(coat, x, y), 0.6, 0.5, y),
  });
  const moved = often(0.35, "waving") ? unit * between(4, 16) : 0;
  if (moved) {
    const times = Array.from({ length: 9 }, (_, k) => moved * (k / 8 - 0.5));
    const [ax, ay, dy] = [cx + 0.9 * half, shoulders + 0.4 * head, -1.8 * head];
    const at = (x: number, y: number, by: number) => {
      const dx = 1.9 * head + by;
      const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
      return { t, inside: Math.hypot(x - ax - t * dx, y - ay - t * dy) < 0.3 * head };
    };
    things.push({
      covers: (x, y) => times.filter((by) => at(x, y, by).inside).length / times.length,
      colour: (x, y) => lit(at(x, y, 0).t > 0.75 ? skin : cloth(coat, x, y), 0.7, 0.3, y),
    });
  }
  things.push({
    covers: (x, y) => (Math.hypot(x - cx, (y - face) / 1.2) <= head ? 1 : 0),
    colour: (x, y) =>
      lit(y < face - 0.35 * head ? hair : skin, 0.6 + (0.6 * (x - cx)) / head, (Math.hypot(x - cx, y - face) / (1.2 * head)) ** 4, y),
  });
  const count = pick([0, 60, 200, 400]);
  told.push(`${count} strands`);
  things.push(strandsOf(count, [cx, face, head], unit * between(0.5, 1.3), between(0.2, 0.9), next, () => lit(hair, 0.7, 1, 0)));
  const straw = pick(HATS);
  if (often(0.5, "hat"))
    things.push({
      covers: (x, y) =>
        (Math.abs(x - cx) < 1.9 * head && Math.abs(y - face + 0.6 * head) < 0.13 * head) ||
        (Math.abs(x - cx) < 0.9 * head && y < face - 0.6 * head && y > face - 1.5 * head)
          ? 1
          : 0,
      colour: (x, y) => lit(straw, 0.7 + (0.3 * (x - cx)) / head, 0.3, y),
    });
  if (often(0.4, "veil")) {
    const [mesh, cover] = [unit * between(2, 4), between(0.15, 0.6)];
    const [isDark, isWoven] = [often(0.7, "dark"), often(0.5, "woven")];
    const thread = isDark ? rgb(0.02, 0.02, 0.02) : rgb(0.7, 0.7, 0.68);
    things.push({
      covers: (x, y) => {
        if (Math.abs(x - cx) > 1.8 * head || y < face - 0.5 * head || y > shoulders + 0.6 * head) return 0;
        return isWoven && x % mesh >= mesh / 3 && y % mesh >= mesh / 3 ? 0 : cover * (0.85 + 0.15 * Math.sin(x / 7 / unit));
      },
      colour: (_, y) => lit(thread, 0.7, 0.5, y),
    });
  }
  const soft = pick([0, 0.4, 0.6, 1]);
  told.push(`lens ${soft} px`);
  return sceneOf(width, height, things, screen, soft, told);
}
