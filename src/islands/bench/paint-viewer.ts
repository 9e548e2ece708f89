import type { Size } from "../../core/image/plane";
import type { Drawn } from "../../workers/key-worker";
import { differenceOf, toCanvas } from "./drawn";
import type { Compare } from "./store";
import type { Mapping } from "./viewer";

export interface Shown {
  readonly drawn: Drawn | null;
  readonly compare: Compare | null;
  readonly compareDrawn: Drawn | null;
  /** Four pictures for four panes, or none. */
  readonly four: readonly Drawn[];
}

/** Left and top of each of the four panes, in shares of the viewer. */
export const PANES = [
  [0, 0],
  [0.5, 0],
  [0, 0.5],
  [0.5, 0.5],
] as const;

/**
 * Paints what the workers drew, as it lies on the screen.
 * @param pane size of what the mapping fills: the viewer, or one of its four panes; in CSS px
 */
export function paintViewer(canvas: HTMLCanvasElement, shown: Shown, map: Mapping, pane: Size, frame: Size, density: number): void {
  const ctx = canvas.getContext("2d") as CanvasRenderingContext2D;
  ctx.clearRect(0, 0, canvas.width, canvas.height);
  ctx.imageSmoothingEnabled = map.zoomY * density < 1;
  ctx.imageSmoothingQuality = "high";
  const put = (d: Drawn) =>
    ctx.drawImage(
      toCanvas(d),
      (d.region.x * map.zoomX + map.left) * density,
      (d.region.y * map.zoomY + map.top) * density,
      d.region.width * map.zoomX * density,
      d.region.height * map.zoomY * density,
    );
  const within = (left: number, top: number, draw: () => void) => {
    ctx.save();
    ctx.translate(Math.round(left * density), Math.round(top * density));
    ctx.beginPath();
    ctx.rect(0, 0, pane.width * density, pane.height * density);
    ctx.clip();
    // Reduced frames round their size up; what lies over the frame's edge is cut.
    ctx.beginPath();
    ctx.rect(map.left * density, map.top * density, frame.width * map.zoomX * density, frame.height * map.zoomY * density);
    ctx.clip();
    draw();
    ctx.restore();
  };
  if (shown.four.length) {
    PANES.forEach(([x, y], k) => {
      within(2 * x * pane.width, 2 * y * pane.height, () => shown.four[k] && put(shown.four[k]));
    });
    return;
  }
  within(0, 0, () => {
    const { drawn, compare, compareDrawn } = shown;
    if (!drawn) return;
    if (!compare || !compareDrawn) put(drawn);
    else if (compare.how === "blink") put(compare.shows ? compareDrawn : drawn);
    else if (compare.how === "difference") put(differenceOf(drawn, compareDrawn) ?? drawn);
    else {
      put(drawn);
      const x = (map.left + frame.width * compare.at * map.zoomX) * density;
      ctx.beginPath();
      ctx.rect(0, 0, x, canvas.height);
      ctx.save();
      ctx.clip();
      put(compareDrawn);
      ctx.restore();
      ctx.fillStyle = "#fff";
      ctx.fillRect(Math.round(x) - 1, 0, 2, canvas.height);
    }
  });
}
