import type { Shape } from "../../core/recipe/schema";
import { Button } from "../ui/button";
import { goToFrame } from "./looking";
import { followShape, keyShape, unkeyShape } from "./shape-actions";
import { useBench } from "./store";

/** On which frames the shape's outline is keyed. */
export function ShapeKeys({ shape }: { shape: Shape }) {
  const frame = useBench((s) => s.view.frame);
  const here = shape.keys.some((k) => k.frame === frame);
  return (
    <>
      <div className="flex items-center gap-1.5 py-1">
        <span className="grow text-soft">{shape.keys.length ? `${shape.keys.length} keys` : "Stands still"}</span>
        <Button onClick={() => (here ? unkeyShape(shape) : keyShape(shape))}>{here ? "Remove key" : "Key this frame"}</Button>
      </div>
      {shape.keys.length > 0 && (
        <div className="flex flex-wrap gap-1 pb-1">
          {shape.keys.map((k) => (
            <FrameButton key={k.frame} frame={k.frame} label={`Go to the key on frame ${k.frame}`} shown={k.frame === frame} />
          ))}
        </div>
      )}
      <Follow shape={shape} />
    </>
  );
}

/** Follows what lies under the shape from the shown frame to an end of the shot, and tells how far it went. */
function Follow({ shape }: { shape: Shape }) {
  const frame = useBench((s) => s.view.frame);
  const { frames } = useBench((s) => s.shot.plate.info);
  const all = useBench((s) => s.following);
  const following = all?.shape === shape.id ? all : null;
  const going = following !== null && !("found" in following);
  const elsewhere = all !== null && !("found" in all) && !going;
  const found = following && "found" in following ? following : null;
  const last = found?.found.outlines[found.found.outlines.length - 1]?.frame;
  return (
    <div data-testid="follow" className="pb-1">
      {going ? (
        <Button className="w-full" onClick={() => void followShape(shape, "end")}>
          Stop · frame {following.frame}
        </Button>
      ) : (
        <div className="flex items-center gap-1.5">
          <span className="grow text-soft">Follow it</span>
          <Button
            aria-label="Follow to the start"
            disabled={frame === 1 || elsewhere}
            title="Keys it by what lies under it, from this frame back to the first. Draw it within the thing that moves."
            onClick={() => void followShape(shape, "start")}
          >
            to the start
          </Button>
          <Button
            aria-label="Follow to the end"
            disabled={frame === frames || elsewhere}
            title="Keys it by what lies under it, from this frame on to the last. Draw it within the thing that moves."
            onClick={() => void followShape(shape, "end")}
          >
            to the end
          </Button>
        </div>
      )}
      {found && (
        <p className="mt-1.5 text-soft">
          {last !== found.from && `Followed from frame ${found.from} to ${last}. `}
          {found.found.lost && (
            <>
              Lost on frame{" "}
              <FrameButton frame={found.found.lost.frame} label={`Go to frame ${found.found.lost.frame}, where it was lost`} />:{" "}
              {found.found.lost.why}. Set its corners there and follow on.
            </>
          )}
          {found.found.unturned.length > 0 && (
            <>
              {" "}
              Only its shift was told on{" "}
              {found.found.unturned.slice(0, 6).map((n) => (
                <FrameButton key={n} frame={n} label={`Go to frame ${n}`} />
              ))}
              {found.found.unturned.length > 6 && "and others"}: look whether it turns there.
            </>
          )}
        </p>
      )}
    </div>
  );
}

/** Goes to a frame. @param onGo what is done there besides */
export function FrameButton({ frame, label, shown, onGo }: { frame: number; label: string; shown?: boolean; onGo?: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      className={`figure rounded px-1.5 py-0.5 text-[12px] hover:bg-lifted ${shown ? "bg-lifted text-white" : "bg-page text-text"}`}
      onClick={() => {
        goToFrame(frame);
        onGo?.();
      }}
    >
      {frame}
    </button>
  );
}
