import { luminance } from "../color/hue";
import { distanceTo } from "../image/distance";
import { lumaOf } from "../image/luma";
import { makePicture, type Picture, type Plane } from "../image/plane";
import type { RawFrame } from "../image/raw-frame";
import { placePicture } from "../image/resample";
import { record } from "./camera";
import { defocus } from "./lens";
import { castShade, lightScreen } from "./screen-light";
import { expose } from "./shutter";
import { outlineShare } from "./spill-share";
import type { Camera, Stage } from "./stage";

/** A subject cut out perfectly: the truth that a plate is made from. */
export interface Element {
  /** Exact coverage, 0…1. */
  readonly coverage: Plane;
  /** Spill-free colour, premultiplied, scene-linear. */
  readonly colour: Picture;
}

/** What is known of a simulated plate. Same geometry as the plate. */
export interface Truth {
  readonly coverage: Plane;
  /** Spill-free colour, premultiplied, scene-linear. */
  readonly colour: Picture;
  /** Screen light on the subject, premultiplied, scene-linear. */
  readonly spill: Picture;
  /** The lit screen as the lens sees it, shadow and all. */
  readonly screen: Picture;
  /** The plate's light before the sensor. */
  readonly light: Picture;
}

export interface Shot {
  readonly plate: RawFrame;
  readonly clean: RawFrame;
  readonly truth: Truth;
}

const NAMES = ["r", "g", "b"] as const;
/** Spill reaches in from the outline by this share of the frame's height before it has fallen to 1/e. */
const RIM = 0.02;
/** A surface that turns the key light's brightest into the subject's brightest, for the albedo. */
const BRIGHTEST_ALBEDO = 0.8;

/** Median luminance of the solid subject, and the one that only 2 % exceed. */
function subjectLight(element: Element): { median: number; bright: number } {
  const { coverage, colour } = element;
  const values = lumaOf(colour).data.filter((_, i) => (coverage.data[i] as number) > 0.99);
  if (values.length === 0) throw new RangeError("The element has no solid part: its coverage stays under 0.99 everywhere.");
  values.sort();
  return { median: values[values.length >> 1] as number, bright: values[Math.floor(0.98 * (values.length - 1))] as number };
}

/**
 * Screen light on the subject: what the outline receives by geometry, fading inwards as surfaces turn to the camera,
 * times the surface's albedo, which the spill-free colour stands for. Ours; common practice only says that it falls with distance.
 */
function spillLight(element: Element, stage: Stage, screenLight: number, bright: number): Picture {
  const { coverage, colour } = element;
  const { width, height } = coverage;
  const out = makePicture(width, height);
  const toOutside = distanceTo(
    Uint8Array.from(coverage.data, (v) => (v < 0.5 ? 1 : 0)),
    width,
    height,
  );
  const share = outlineShare(stage.screenWidth, stage.screenHeight, stage.distance);
  const k = screenLight / luminance(stage.screen.colour);
  for (const c of NAMES) {
    const received = share * stage.screen.colour[c] * k * (BRIGHTEST_ALBEDO / bright);
    for (let i = 0; i < out[c].length; i++)
      out[c][i] = received * (colour[c][i] as number) * Math.exp(-(toOutside[i] as number) / (RIM * height));
  }
  return out;
}

const each = (p: Picture, f: (c: Float32Array) => Float32Array): Picture => ({ ...p, r: f(p.r), g: f(p.g), b: f(p.b) });

/** Squeezes a picture's width for pixels that are wider than high. */
function squeeze(p: Picture, aspect: number): Picture {
  if (aspect === 1) return p;
  const width = Math.round(p.width / aspect);
  const scaleX = width / p.width;
  const { a: _, ...out } = placePicture(p, width, p.height, { scaleX, scaleY: 1, offsetX: 0, offsetY: 0 }, true);
  return out;
}

/** Interleaves two moments: even lines of the first, odd lines of the second. */
function weave(first: Float32Array, second: Float32Array, width: number): Float32Array {
  const out = first.slice();
  for (let y = width; y < out.length; y += 2 * width) out.set(second.subarray(y, y + width), y);
  return out;
}

/**
 * Shoots an element on a stage. Linear light throughout; repeatable for the camera's seed.
 * @returns plate and clean plate as the camera writes them, and the truth in the plate's own geometry
 * @throws RangeError when the element's sizes differ or nothing of it is solid
 */
export function shoot(element: Element, stage: Stage, camera: Camera): Shot {
  const full = element.coverage;
  if (element.colour.width !== full.width || element.colour.height !== full.height)
    throw new RangeError(`Sizes differ: coverage ${full.width}×${full.height}, colour ${element.colour.width}×${element.colour.height}.`);
  const light = subjectLight(element);
  const screenLight = light.median * 2 ** stage.screen.level;
  const spill = spillLight(element, stage, screenLight, light.bright);

  const square = { width: full.width, height: full.height };
  const cover = squeeze({ ...square, r: full.data, g: full.data, b: full.data }, camera.pixelAspect);
  const { width, height } = cover;
  const open = stage.shutter / 360;
  const moment = (phase: number) => (c: Float32Array) =>
    defocus(
      expose(c, width, height, stage.motion.x * open, stage.motion.y * open, stage.motion.x * phase, stage.motion.y * phase),
      width,
      height,
      stage.defocus.subject,
    );
  // The two fields of an interlaced frame are half a frame apart.
  const see = (c: Float32Array) => (camera.interlaced ? weave(moment(-0.25)(c), moment(0.25)(c), width) : moment(0)(c));
  const coverage: Plane = { width, height, data: see(cover.r) };
  const colour = each(squeeze(element.colour, camera.pixelAspect), see);
  const onSubject = each(squeeze(spill, camera.pixelAspect), see);

  const shade = stage.screen.shadow ? castShade(coverage.data, width, height, stage.screen.shadow) : undefined;
  const lens = (p: Picture) => each(p, (c) => defocus(c, width, height, stage.defocus.screen));
  const screen = lens(lightScreen(stage.screen, width, height, screenLight, shade));
  const empty = () => (shade ? lens(lightScreen(stage.screen, width, height, screenLight)) : screen);
  const plate = makePicture(width, height);
  for (const c of NAMES)
    for (let i = 0; i < plate[c].length; i++)
      plate[c][i] = (colour[c][i] as number) + (onSubject[c][i] as number) + (1 - (coverage.data[i] as number)) * (screen[c][i] as number);
  let clean: RawFrame | undefined;
  return {
    plate: record(plate, camera),
    // Few ask for it, and recording takes as long as all the rest.
    get clean() {
      clean ??= record(empty(), { ...camera, seed: (camera.seed % 2147483645) + 1 });
      return clean;
    },
    truth: { coverage, colour, spill: onSubject, screen, light: plate },
  };
}
