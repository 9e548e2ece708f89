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
