import type { Drawn } from "../../workers/key-worker";

const canvases = new WeakMap<Drawn, HTMLCanvasElement>();
/** A drawn picture as something a canvas can draw, made once. */
export function toCanvas(d: Drawn): HTMLCanvasElement {
  let c = canvases.get(d);
  if (!c) {
    c = document.createElement("canvas");
    c.width = d.width;
    c.height = d.height;
    c.getContext("2d")?.putImageData(new ImageData(d.pixels, d.width, d.height), 0, 0);
    canvases.set(d, c);
  }
  return c;
}

/** By how much a difference is raised for looking at it. */
const DIFFERENCE_GAIN = 4;

const differences = new WeakMap<Drawn, { from: Drawn; made: Drawn }>();
/** How far two drawings of the same place differ, as grey: the channel that differs most, raised. Null where their places differ. */
export function differenceOf(a: Drawn, b: Drawn): Drawn | null {
  if (a.width !== b.width || a.height !== b.height || a.reduce !== b.reduce || a.region.x !== b.region.x || a.region.y !== b.region.y)
    return null;
  const kept = differences.get(a);
  if (kept?.from === b) return kept.made;
  const pixels = new Uint8ClampedArray(a.pixels.length);
  for (let i = 0; i < pixels.length; i += 4) {
    let most = 0;
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs((a.pixels[i + c] as number) - (b.pixels[i + c] as number)));
    pixels.fill(DIFFERENCE_GAIN * most, i, i + 3);
    pixels[i + 3] = 255;
  }
  const made: Drawn = { ...a, pixels };
  differences.set(a, { from: b, made });
  return made;
}
