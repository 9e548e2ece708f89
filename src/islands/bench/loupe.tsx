import { useEffect, useRef } from "react";
import { toCanvas } from "./drawn";
import { measureWorker } from "./engine";
import { shownRecipe, useBench, viewedRecipe, withFootage } from "./store";

/** The loupe: so many px of the plate, so many times as large. */
const ACROSS = 23;
const TIMES = 8;

/** The place under the pointer at full size, eightfold, whatever the zoom. */
export function Loupe() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const probe = useBench((s) => s.probe);
  const view = useBench((s) => s.view.view);
  const recipe = useBench(shownRecipe);
  const x = probe ? probe.box.x + Math.floor(probe.box.width / 2) : undefined;
  const y = probe ? probe.box.y + Math.floor(probe.box.height / 2) : undefined;
  useEffect(() => {
    if (x !== undefined && y !== undefined) look(x, y, canvas.current as HTMLCanvasElement);
    // What is drawn is read from the store; these tell when to draw again.
  }, [x, y, view, recipe]);
  return (
    <figure data-testid="loupe" className="pointer-events-none absolute bottom-3 left-3 rounded-md border border-line bg-panel p-1">
      <canvas ref={canvas} width={ACROSS * TIMES} height={ACROSS * TIMES} className="block" />
      <span className="absolute top-1/2 left-1/2 size-2.5 -translate-1/2 border border-white outline outline-black" />
      <figcaption className="figure mt-1 flex justify-between px-1 text-[11px]">
        <span className="text-faint">{TIMES}×</span>
        {probe ? `${x}, ${y}` : "point at the picture"}
      </figcaption>
    </figure>
  );
}

let busy = false;
let next: { x: number; y: number; canvas: HTMLCanvasElement } | null = null;
/** Draws the place under the loupe; a newer place takes over from one that waits. */
function look(x: number, y: number, canvas: HTMLCanvasElement): void {
  next = { x, y, canvas };
  if (!busy) void draw();
}

async function draw(): Promise<void> {
  busy = true;
  while (next) {
    const { x, y, canvas } = next;
    next = null;
    const s = useBench.getState();
    const half = (ACROSS - 1) / 2;
    const drawn = await measureWorker()
      .draw({
        ...withFootage(viewedRecipe(s)),
        frame: s.view.frame,
        view: s.view.view,
        ground: s.view.ground,
        stretch: s.view.stretch,
        reduce: 1,
        region: { x: x - half, y: y - half, width: ACROSS, height: ACROSS },
      })
      .catch(() => null);
    const ctx = canvas.getContext("2d");
    if (!drawn || !ctx) continue;
    ctx.imageSmoothingEnabled = false;
    ctx.clearRect(0, 0, canvas.width, canvas.height);
    // At the frame's border there is less than a whole loupe.
    const { region } = drawn;
    ctx.drawImage(
      toCanvas(drawn),
      TIMES * (region.x - x + half),
      TIMES * (region.y - y + half),
      TIMES * region.width,
      TIMES * region.height,
    );
  }
  busy = false;
}
