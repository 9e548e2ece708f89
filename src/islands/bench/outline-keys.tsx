import { Button } from "../ui/button";
import { Follow, FrameButton } from "./follow";
import { followOutline, keyOutline, type Outline, unkeyOutline } from "./outline-actions";
import { useBench } from "./store";

/** On which frames an outline is keyed, and following what lies under it. */
export function OutlineKeys({ outline }: { outline: Outline }) {
  const frame = useBench((s) => s.view.frame);
  const here = outline.keys.some((k) => k.frame === frame);
  return (
    <>
      <div className="flex items-center gap-1.5 py-1">
        <span className="grow text-soft">{outline.keys.length ? `${outline.keys.length} keys` : "Stands still"}</span>
        <Button onClick={() => (here ? unkeyOutline(outline) : keyOutline(outline))}>{here ? "Remove key" : "Key this frame"}</Button>
      </div>
      {outline.keys.length > 0 && (
        <div className="flex flex-wrap gap-1 pb-1">
          {outline.keys.map((k) => (
            <FrameButton key={k.frame} frame={k.frame} label={`Go to the key on frame ${k.frame}`} shown={k.frame === frame} />
          ))}
        </div>
      )}
      <Follow
        of={outline.id}
        label="Follow it"
        within="Keys it by what lies under it; draw it within the thing that moves."
        anew="Set its corners there and follow on."
        turns
        onFollow={(towards) => void followOutline(outline, towards)}
      />
    </>
  );
}

/** Takes the whole outline between handles instead of its corners. */
export function TransformWhole({ of }: { of: "shape" | "region" }) {
  const transforming = useBench((s) => s.transforming);
  return (
    <Button
      className="mt-1 w-full"
      look={transforming ? "chosen" : "plain"}
      aria-pressed={transforming}
      title="Move, turn and scale the whole outline; Alt and an arrow key nudges it"
      onClick={() => useBench.setState({ transforming: !transforming })}
    >
      Transform whole {of}
    </Button>
  );
}
