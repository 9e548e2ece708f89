import type { Drawn, DrawRequest } from "../../workers/key-worker";
import { drawRequest, drawWorker, measureWorker } from "./engine";
import { complain, look, useBench } from "./store";

const state = useBench.getState;

/** Most pixels of one played frame, and most bytes of all of them. */
const FRAME_PIXELS = 350_000;
const ALL_BYTES = 320 * 1024 * 1024;
/** Time over which the true rate is told, ms. */
const RATE_MS = 1000;

let stopPlaying: (() => void) | undefined;

export function togglePlaying(): void {
  if (stopPlaying) stopPlaying();
  else play();
}

/**
 * Loops the shot in the present view at reduced size. Frames are drawn by both workers in their order and kept: the first round goes as fast
 * as they come, later ones at the shot's own rate. The rate that is reached is measured, not assumed.
 */
function play(): void {
  const { info } = state().shot.plate;
  const request = drawRequest(true);
  if (!request || info.frames < 2) return;
  const { rate, frames } = { rate: info.rate ? info.rate.num / info.rate.den : 24, frames: info.frames };
  const played = reducedFor(request, frames, info.width, info.height);
  const drawn = new Map<number, Drawn>();
  let stopped = false;
  const shownAt: number[] = [];
  // From the frame that is shown on, round and round.
  const first = state().view.frame;
  const order = Array.from({ length: frames }, (_, k) => ((first - 1 + k) % frames) + 1);
  let next = 0;
  const drawWith = async (worker: ReturnType<typeof drawWorker>) => {
    while (!stopped && next < order.length) {
      const frame = order[next++] as number;
      drawn.set(frame, await worker.draw({ ...played, frame }));
    }
  };

  let at = 0;
  let due = performance.now();
  const tick = () => {
    if (stopped) return;
    const now = performance.now();
    if (now >= due) {
      const frame = order[at % frames] as number;
      const picture = drawn.get(frame);
      if (picture) {
        at++;
        shownAt.push(now);
        while (now - (shownAt[0] as number) > RATE_MS) shownAt.shift();
        // Behind time, nothing is skipped: every frame is seen.
        due = Math.max(due + 1000 / rate, now - 1000 / rate);
        const over = now - (shownAt[0] as number);
        useBench.setState((s) => ({
          drawn: picture,
          view: { ...s.view, frame },
          playing: {
            rate: shownAt.length > 3 && over > 250 ? (1000 * (shownAt.length - 1)) / over : null,
            drawn: drawn.size,
            total: frames,
          },
        }));
      }
    }
    requestAnimationFrame(tick);
  };
  const { recipe } = state();
  const end = useBench.subscribe((s) => {
    // A hand on the recipe ends it; so does another view.
    if (s.live || s.recipe !== recipe || s.view.view !== request.view || s.view.ground !== request.ground) stopPlaying?.();
  });
  stopPlaying = () => {
    stopped = true;
    stopPlaying = undefined;
    end();
    useBench.setState({ playing: null });
    look({ frame: state().view.frame });
  };
  useBench.setState({ playing: { rate: null, drawn: 0, total: frames }, compare: null, compareDrawn: null, four: null, fourDrawn: [] });
  for (const worker of [drawWorker(), measureWorker()])
    drawWith(worker).catch((error) => {
      stopPlaying?.();
      complain(error);
    });
  requestAnimationFrame(tick);
}

/** The request at a size at which all frames fit in memory. */
function reducedFor(request: DrawRequest, frames: number, width: number, height: number): DrawRequest {
  const { region } = request;
  const pixels = (reduce: number) => ((region?.width ?? width) * (region?.height ?? height)) / reduce ** 2;
  let { reduce } = request;
  while (pixels(reduce) > Math.min(FRAME_PIXELS, ALL_BYTES / 4 / frames)) reduce++;
  return { ...request, reduce };
}
