import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";

const CHANNELS = ["r", "g", "b"] as const;
const isPicture = (s: Picture | Rgb): s is Picture => (s as Picture).width !== undefined;

/**
 * The levelled plate: its screen brought to one colour, the subject untouched. Where a pixel is C = α·F + (1−α)·B,
 * C + (1−α)·(target − B) is the same mixture in front of an even screen. Linear light. An output of its own: to paint
 * on, to mend a clean plate by, to feed any keyer.
 * @param matte α of the pull
 * @param screen the screen at every pixel, or one colour
 * @param mix 0…1 of the way to the target
 * @param garbage 1 where the plate is left as it is
 */
export function levelPlate(
  plate: Picture,
  matte: Plane,
  screen: Picture | Rgb,
  target: Rgb,
  mix: number,
  garbage?: Plane,
  allocate: Allocate = fresh,
): Picture {
  const { width, height } = plate;
  const n = matte.data.length;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const share = new Float32Array(n);
  const m = matte.data;
  for (let i = 0; i < n; i++) share[i] = mix * (1 - (m[i] as number));
  if (garbage) for (let i = 0; i < n; i++) share[i] = (share[i] as number) * (1 - (garbage.data[i] as number));
  for (const c of CHANNELS) {
    const from = plate[c];
    const to = out[c];
    const back = isPicture(screen) ? screen[c] : null;
    const one = isPicture(screen) ? 0 : screen[c];
    const wanted = target[c];
    if (back) for (let i = 0; i < n; i++) to[i] = (from[i] as number) + (share[i] as number) * (wanted - (back[i] as number));
    else for (let i = 0; i < n; i++) to[i] = (from[i] as number) + (share[i] as number) * (wanted - one);
  }
  return out;
}
