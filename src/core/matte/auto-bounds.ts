import { boxMean } from "../image/box";
import { labelComponents } from "../image/components";
import { distanceTo } from "../image/distance";
import { type Allocate, fresh, type Plane } from "../image/plane";
import { pointwise } from "../kernels/pointwise";

/** Bounds that follow the subject without keyframes: a harsh key, grown for what is out, shrunk for what is in. */
export interface AutoBounds {
  /** Matte from which on a pixel may be subject; what lies `grow` px beyond is thrown away. */
  readonly outLevel: number;
  readonly grow: number;
  /** Matte under which a pixel is not solid; what lies `shrink` px inside is held. */
  readonly inLevel: number;
  readonly shrink: number;
  /** Width of both soft edges, px. */
  readonly soft: number;
  /** Islands up to this area are dropped, pinholes and enclosed thin places up to this area are filled, px². */
  readonly specks: number;
  /** Islands alone are dropped up to this area, px²: markers on the screen. Pinholes are not touched. */
  readonly islands: number;
}

export interface Bounds {
  /** 1 where everything is out. */
  readonly out: Float32Array;
  /** 1 where everything is in. */
  readonly in: Float32Array;
}

/** An enclosed area whose matte falls under this somewhere and which is larger than a speck is a true gap to the screen. */
const GAP = 0.4;

/** Share of other soft places around one, above which it belongs to strands and is left open. */
const CROWD = 0.06;

const ramp = (v: number): number => (v <= 0 ? 0 : v >= 1 ? 1 : v * v * (3 - 2 * v));

/**
 * Automatic garbage and holdout from the pull itself. Locally adaptive: a place is held only when nothing soft lies within
 * `shrink` px, so strands and mesh, which are soft everywhere, are never filled; enclosed places that stay well off the
 * screen (a reflection, spill) are closed, true gaps are not.
 * @param scale this plane's size over the full frame's; all lengths are in pixels of the full frame
 */
export function automaticBounds(pull: Plane, settings: AutoBounds, scale: number, allocate: Allocate = fresh): Bounds {
  const { width, height } = pull;
  const n = pull.data.length;
  // Over 3 × 3, so that single noisy pixels decide nothing.
  const calm = boxMean(pull.data, width, height, 1);
  const area = scale * scale;

  const present = new Uint8Array(n);
  for (let i = 0; i < n; i++) present[i] = (calm[i] as number) > settings.outLevel ? 1 : 0;
  const islands = labelComponents(present, width, height);
  // The island's own size, without the rim that the averaging gave it.
  const sizes = new Float64Array(islands.areas.length);
  for (let i = 0; i < n; i++) if ((pull.data[i] as number) > settings.outLevel) sizes[islands.labels[i] as number]!++;
  const least = Math.max(settings.specks, settings.islands) * area;
  for (let i = 0; i < n; i++) if (present[i] && (sizes[islands.labels[i] as number] as number) <= least) present[i] = 0;
  const grow = Math.max(1, settings.grow * scale);
  const shrink = Math.max(1, settings.shrink * scale);
  const soft = Math.max(0.5, settings.soft * scale);
  const toPresent = distanceTo(present, width, height, grow + soft + 1);

  const thin = new Uint8Array(n);
  for (let i = 0; i < n; i++) thin[i] = (calm[i] as number) < settings.inLevel ? 1 : 0;
  const places = labelComponents(thin, width, height);
  const lowest = new Float32Array(places.areas.length).fill(1);
  for (let i = 0; i < n; i++) {
    const label = places.labels[i] as number;
    if (label) lowest[label] = Math.min(lowest[label] as number, calm[i] as number);
  }
  // A pinhole stands alone in a solid place; among strands or mesh one gap follows another.
  const crowd = boxMean(new Float32Array(thin), width, height, Math.ceil(2 * shrink));
  const crowded = new Float64Array(places.areas.length);
  for (let i = 0; i < n; i++) crowded[places.labels[i] as number]! += crowd[i] as number;
  const window = (2 * Math.ceil(2 * shrink) + 1) ** 2;
  const closed = places.areas.map((size, label) => {
    if (label === 0 || places.atBorder[label]) return false;
    const own = Math.min(1, size / window);
    const others = (crowded[label] as number) / size - own;
    if (others > CROWD) return false;
    return size <= settings.specks * area || (lowest[label] as number) > GAP;
  });
  for (let i = 0; i < n; i++) if (closed[places.labels[i] as number]) thin[i] = 0;
  const toThin = distanceTo(thin, width, height, shrink + soft + 1);

  const out = allocate(n);
  const held = allocate(n);
  for (let i = 0; i < n; i++) {
    out[i] = ramp(((toPresent[i] as number) - grow) / soft);
    held[i] = ramp(((toThin[i] as number) - shrink) / soft);
  }
  return { out, in: held };
}

/** Applies automatic bounds: in wins over the matte, out over both. */
export function applyBounds(matte: Plane, bounds: Bounds, allocate: Allocate = fresh): Plane {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, bounds.in, bounds.out], [data]);
  return { width: matte.width, height: matte.height, data };
}
