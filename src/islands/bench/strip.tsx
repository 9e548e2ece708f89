import { Play, Square } from "lucide-react";
import { lazy, type PointerEvent, Suspense, useRef } from "react";
import { goToFrame } from "./looking";
import { chosenOutline } from "./outline-actions";
import { togglePlaying } from "./playing";
import { useBench } from "./store";

// Charts are fetched when there is something to draw, so that the picture is not kept waiting.
const StripCurves = lazy(() => import("./strip-curves"));

/** The shot's frames under the measured curves. Drag to scrub. */
export function Strip() {
  const frames = useBench((s) => s.shot.plate.info.frames);
  const frame = useBench((s) => s.view.frame);
  const proof = useBench((s) => s.proof);
  const recipe = useBench((s) => s.recipe);
  const keyed = useBench((s) => chosenOutline(s)?.keys);
  const track = useRef<HTMLDivElement>(null);
  const scrubbing = useRef(false);
  const current = proof && proof.recipe === recipe && proof.frames.length > 0 ? proof.frames : null;
  // The middle of a frame's place on the track, in percent.
  const at = (n: number) => (100 * (n - 0.5)) / frames;
  const scrub = (e: PointerEvent) => {
    const r = (track.current as HTMLDivElement).getBoundingClientRect();
    goToFrame(Math.floor(((e.clientX - r.left) / r.width) * frames) + 1);
  };
  const every = frames <= 60 ? 1 : frames <= 300 ? 5 : Math.ceil(frames / 60);
  const numbered = frames <= 12 ? 1 : Math.ceil(frames / 12 / 5) * 5 || 5;
  const ticks = Array.from({ length: frames }, (_, i) => i + 1).filter((n) => n === 1 || n === frames || n % every === 0);
  const worst = current
    ? [...current]
        .sort((a, b) => b.holes + b.residue - (a.holes + a.residue))
        .slice(0, 3)
        .filter((w) => w.holes + w.residue > 0)
    : [];
  return (
    <section aria-label="Frames" className="h-[124px] shrink-0 border-t border-black bg-page px-4 py-2.5">
      <div className="flex h-5 items-center justify-between text-soft">
        <span className="flex items-center gap-4">
          {frames > 1 && <PlayButton />}
          <LegendLine label="holes px" />
          <LegendLine label="residue px" dash="4 3" />
          <LegendLine label="edge flicker ‰" dash="1 3" />
          <LegendLine label="clearance px" dash="9 3 2 3" />
          {!current && (
            <span className="text-faint">
              {frames > 1 ? "Proof measures every frame and draws its curves here." : "A still has one frame."}
            </span>
          )}
        </span>
        {worst.length > 0 && (
          <span>
            worst{" "}
            {worst.map((w) => (
              <button
                type="button"
                key={w.frame}
                className="figure ml-1.5 rounded px-1 text-text hover:bg-raised"
                onClick={() => goToFrame(w.frame)}
              >
                {w.frame}
              </button>
            ))}
          </span>
        )}
      </div>
      <div
        ref={track}
        data-testid="strip"
        role="slider"
        tabIndex={0}
        aria-label="Frame"
        aria-valuemin={1}
        aria-valuemax={frames}
        aria-valuenow={frame}
        className="relative mt-1 h-[82px] cursor-ew-resize touch-none"
        onPointerDown={(e) => {
          scrubbing.current = true;
          e.currentTarget.setPointerCapture(e.pointerId);
          scrub(e);
        }}
        onPointerMove={(e) => scrubbing.current && scrub(e)}
        onPointerUp={() => {
          scrubbing.current = false;
        }}
        onKeyDown={(e) => {
          const to = { ArrowLeft: frame - 1, ArrowRight: frame + 1, Home: 1, End: frames, PageUp: frame - 10, PageDown: frame + 10 }[e.key];
          if (to === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          goToFrame(to);
        }}
      >
        {current && (
          <div className="pointer-events-none absolute inset-x-0 top-0 h-[52px]">
            <Suspense>
              <StripCurves measured={current} frames={frames} />
            </Suspense>
          </div>
        )}
        <div className="absolute inset-x-0 bottom-0 h-7 border-t border-line">
          {ticks.map((n) => (
            <span
              key={n}
              className="absolute top-0 w-px bg-faint"
              style={{ left: `${at(n)}%`, height: n === 1 || n % numbered === 0 ? 8 : 4 }}
            />
          ))}
          {ticks
            .filter((n) => n === 1 || n % numbered === 0)
            .map((n) => (
              <span key={n} className="figure absolute top-2.5 -translate-x-1/2 text-[11px] text-faint" style={{ left: `${at(n)}%` }}>
                {n}
              </span>
            ))}
        </div>
        {keyed?.map((k) => (
          <span
            key={k.frame}
            title={`Key on frame ${k.frame}`}
            className="absolute bottom-4 h-3 w-[3px] -translate-x-1/2 rounded-full bg-white"
            style={{ left: `${at(k.frame)}%` }}
          />
        ))}
        <span className="absolute top-0 bottom-[19px] w-0.5 -translate-x-1/2 bg-amber" style={{ left: `${at(frame)}%` }} />
      </div>
    </section>
  );
}

/** Plays the shot in a loop; says how fast it really goes. */
function PlayButton() {
  const playing = useBench((s) => s.playing);
  const rate = useBench((s) => s.shot.plate.info.rate);
  const full = rate ? rate.num / rate.den : 24;
  const named = full.toFixed(full % 1 ? 2 : 0);
  return (
    <span className="flex items-center gap-2">
      <button
        type="button"
        aria-label={playing ? "Stop" : "Play in a loop"}
        title={playing ? "Stop (Space)" : "Play in a loop (Space)"}
        className="grid size-5 place-items-center rounded bg-raised text-text hover:bg-lifted"
        onClick={togglePlaying}
      >
        {playing ? <Square size={10} fill="currentColor" /> : <Play size={11} fill="currentColor" />}
      </button>
      <span data-testid="play-rate" className={`figure w-36 ${playing ? "text-text" : "text-faint"}`}>
        {!playing
          ? `${named} fps`
          : playing.drawn < playing.total
            ? `drawing ${playing.drawn} of ${playing.total}`
            : `${playing.rate === null ? "…" : playing.rate.toFixed(1)} of ${named} fps`}
      </span>
    </span>
  );
}

function LegendLine({ label, dash }: { label: string; dash?: string }) {
  return (
    <span className="flex items-center gap-1.5">
      <svg width="18" height="4" aria-hidden="true">
        <line x1="0" x2="18" y1="2" y2="2" stroke="#d0d0d0" strokeWidth="2" {...(dash ? { strokeDasharray: dash } : {})} />
      </svg>
      {label}
    </span>
  );
}
