import type { Shape } from "../../core/recipe/schema";
import { Button } from "../ui/button";
import { Follow, FrameButton } from "./follow";
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
      <Follow
        of={shape.id}
        label="Follow it"
        within="Keys it by what lies under it; draw it within the thing that moves."
        anew="Set its corners there and follow on."
        turns
        onFollow={(towards) => void followShape(shape, towards)}
      />
    </>
  );
}
