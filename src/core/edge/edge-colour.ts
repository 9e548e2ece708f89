import type { Rgb } from "../color/hue";
import { type Allocate, fresh, type Picture, type Plane } from "../image/plane";
import { pointwise } from "../kernels/pointwise";
import { otherChannels } from "../screen/primary";
import { evenPutBack, putBack, type SpillSettings, spillParameters } from "../spill/limit";

/**
 * The subject's own colour in mixed pixels. A mixed pixel is C = α·F + (1−α)·B with a known screen B; taking the
 * share `amount` of the screen out gives F = (C − s·(1−α)·B) / (1 − s·(1−α)), s = amount. Solid pixels
 * (α = 1) are `treated`, the spill-limited plate, unchanged; mixed ones get the same spill treatment after the screen is out.
 * Straight colour, linear light, not below 0 where the screen was taken out.
 * Source: Porter & Duff, "Compositing Digital Images", SIGGRAPH 1984, solved for F.
 * @param screen one colour, or the screen at every pixel
 * @param ownShare excess that is the surface's own at each pixel, as a share of its luminance
 */
export function edgeColour(
  plate: Picture,
  treated: Picture,
  matte: Plane,
  screen: Rgb | Picture,
  amount: number,
  spill: SpillSettings,
  allocate: Allocate = fresh,
  ownShare?: Float32Array,
): Picture {
  const { width, height } = plate;
  const n = matte.data.length;
  const out = { width, height, r: allocate(n), g: allocate(n), b: allocate(n) };
  const { primary } = spill;
  const [un, vn] = otherChannels(primary);
  const taken = evenPutBack(spill) ? null : new Float32Array(n);
  const channelsOf = (p: Picture | Rgb) => [p[primary], p[un], p[vn]];
  pointwise(
    "screenOut",
    [...spillParameters(spill), amount],
    [...channelsOf(plate), ...channelsOf(treated), matte.data, ...channelsOf(screen), ownShare ?? 0],
    [out[primary], out[un], out[vn], taken],
  );
  if (taken) putBack(out, taken, spill);
  return out;
}
