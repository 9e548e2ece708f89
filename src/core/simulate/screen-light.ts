import { luminance, type Rgb } from "../color/hue";
import { gaussianBlur } from "../image/blur";
import { makePicture, type Picture } from "../image/plane";
import type { StageScreen } from "./stage";

/** Luminance of what is seen where the screen ends: an unlit room, relative to the screen. */
const ROOM = 0.02;
/** Brighter and darker creases in equal number; the sum of two waves of different length never repeats within a frame. */
const crease = (u: number, v: number, count: number): number =>
  Math.sin(2 * Math.PI * (count * u + 0.6 * Math.sin(2 * Math.PI * v))) + Math.sin(2 * Math.PI * (0.618 * count * u + 0.35 * v + 0.2));

/**
 * The lit screen of a stage without a subject, in scene-linear light.
 * @param light luminance of the evenly lit screen
 * @param shade coverage of the subject, moved and blurred to where its shadow falls, or undefined
 */
export function lightScreen(screen: StageScreen, width: number, height: number, light: number, shade?: Float32Array): Picture {
  const out = makePicture(width, height);
  const k = light / luminance(screen.colour);
  const paint: Rgb = { r: screen.colour.r * k, g: screen.colour.g * k, b: screen.colour.b * k };
  const [dx, dy] = [Math.cos((screen.angle * Math.PI) / 180), Math.sin((screen.angle * Math.PI) / 180)];
  // From side to side along the angle the plane rises by exactly the stops asked for.
  const reach = Math.abs(dx) + Math.abs(dy);
  const room = ROOM * light;
  // Each wave has a mean square of 1/2, so their sum has one of 1.
  const creases = screen.wrinkles.stops;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const u = (x + 0.5) / width;
      const v = (y + 0.5) / height;
      let stops = (screen.gradient * ((u - 0.5) * dx + (v - 0.5) * dy)) / reach;
      for (const h of screen.hotSpots) {
        const d2 = (u - h.x) ** 2 + (((v - h.y) * height) / width) ** 2;
        stops += h.stops * Math.exp(-d2 / (2 * h.radius * h.radius));
      }
      if (creases) stops += creases * crease(u, v, screen.wrinkles.count);
      for (const s of screen.seams) if (Math.abs(u - s.x) < s.width / 2) stops += s.stops;
      if (shade && screen.shadow) stops -= screen.shadow.stops * (shade[i] as number);
      const gain = 2 ** stops;
      let colour = paint;
      let level = gain;
      for (const m of screen.markers) {
        const [mx, my] = [Math.abs(u - m.x), (Math.abs(v - m.y) * height) / width];
        if (Math.max(mx, my) < m.size && Math.min(mx, my) < m.size / 4) {
          colour = m.colour;
          level = gain * light * 2;
        }
      }
      // The end of the screen is a straight edge, anti-aliased across its pixel.
      const lit = Math.min(1, Math.max(0, screen.endsAt * width - x));
      out.r[i] = lit * colour.r * level + (1 - lit) * room;
      out.g[i] = lit * colour.g * level + (1 - lit) * room;
      out.b[i] = lit * colour.b * level + (1 - lit) * room;
    }
  return out;
}

/** The subject's coverage where its shadow falls on the screen. */
export function castShade(coverage: Float32Array, width: number, height: number, shadow: NonNullable<StageScreen["shadow"]>): Float32Array {
  const moved = new Float32Array(coverage.length);
  const dx = Math.round(shadow.x * width);
  const dy = Math.round(shadow.y * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [sx, sy] = [x - dx, y - dy];
      if (sx >= 0 && sx < width && sy >= 0 && sy < height) moved[y * width + x] = coverage[sy * width + sx] as number;
    }
  return gaussianBlur(moved, width, height, shadow.blur * width);
}
