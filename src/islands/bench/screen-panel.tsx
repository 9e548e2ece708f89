import { Plus } from "lucide-react";
import { useState } from "react";
import { encodeWith } from "../../core/color/transfer";
import type { Recipe } from "../../core/recipe/schema";
import { describeColour } from "../../core/screen/find";
import { PRIMARY_NAME, screenName, screenPrimary } from "../../core/screen/primary";
import { Button } from "../ui/button";
import { percent, whole } from "../ui/format";
import { ImportMedia } from "../ui/import-media";
import { Select } from "../ui/select";
import { Facts, Section } from "./facts";
import { RecipeControl } from "./recipe-control";
import { cleanPlateOverTime } from "./screen-actions";
import { complain, look, refreshMedia, settle, useBench } from "./store";

/** The measured colour of the screen, and what the pull reads it from. */
export function ScreenPanel() {
  const recipe = useBench((s) => s.recipe);
  const tool = useBench((s) => s.tool);
  const evenness = useBench((s) => s.figures?.evenness ?? null);
  const { colour, boxes, strokes } = recipe.screen;
  const encode = encodeWith("srgb");
  const about = colour && describeColour(colour, encodeWith("bt709"));
  const css =
    colour && `rgb(${[colour.r, colour.g, colour.b].map((v) => Math.round(255 * Math.min(1, Math.max(0, encode(v))))).join(" ")})`;
  return (
    <>
      <Button
        look={tool === "sample" ? "chosen" : colour ? "plain" : "accent"}
        className="w-full"
        aria-pressed={tool === "sample"}
        onClick={() => useBench.setState({ tool: tool === "sample" ? "look" : "sample" })}
      >
        {tool === "sample" ? "Drag a box on the picture…" : colour ? "Sample again" : "Sample the screen"}
      </Button>
      <div className="mt-2 flex gap-2">
        {boxes.length + strokes.length > 0 && boxes.length < 16 && (
          <Button
            look={tool === "sample-more" ? "chosen" : "plain"}
            className="grow"
            aria-pressed={tool === "sample-more"}
            title="The colour becomes the robust average over all of them"
            onClick={() => useBench.setState({ tool: tool === "sample-more" ? "look" : "sample-more" })}
          >
            {tool === "sample-more" ? "Drag another box…" : "Add a box"}
          </Button>
        )}
        {strokes.length < 16 && (
          <Button
            look={tool === "sample-stroke" ? "chosen" : "plain"}
            className="grow"
            aria-pressed={tool === "sample-stroke"}
            title="Sample along a line drawn over the screen; grain, markers and strands under it are set aside"
            onClick={() => useBench.setState({ tool: tool === "sample-stroke" ? "look" : "sample-stroke" })}
          >
            {tool === "sample-stroke" ? "Draw over the screen…" : boxes.length + strokes.length > 0 ? "Add a stroke" : "Sample a stroke"}
          </Button>
        )}
      </div>
      {colour && about && css ? (
        <div className="mt-3">
          <div
            className="mb-3 h-14 rounded-md border border-black"
            role="img"
            aria-label={`Screen colour, ${screenName(colour)}, hue ${about.hue.toFixed(0)} degrees`}
            style={{ background: css }}
          />
          <Facts
            rows={[
              ["screen primary", PRIMARY_NAME[screenPrimary(colour)]],
              ["linear", [colour.r, colour.g, colour.b].map((v) => v.toFixed(4)).join("  ")],
              ["hue", `${about.hue.toFixed(1)}°`],
              ["saturation", percent(about.saturation, 0)],
              ["level", `${about.level.toFixed(0)} % BT.709`],
              ["evenness", evenness === null ? "…" : `±${evenness.toFixed(2)} st`],
              ["sampled", describeSamples(boxes, strokes)],
            ]}
          />
          <CleanPlate />
          <p className="mt-3 text-faint">
            About 40 % is common practice for the screen's level. Evenness matters more than the exact level.
          </p>
        </div>
      ) : (
        <p className="mt-3 text-soft">
          Choose clean screen close to the most important edge. Grain, markers and strands in the box are set aside.
        </p>
      )}
    </>
  );
}

function describeSamples(boxes: Recipe["screen"]["boxes"], strokes: Recipe["screen"]["strokes"]): string {
  const parts = [
    ...boxes.map((b) => `${b.width}×${b.height} px, frame ${b.frame}`),
    ...strokes.map((s) => `stroke ${whole(2 * s.radius)} px wide, frame ${s.frame}`),
  ];
  return parts.length ? parts.join("; ") : "typed";
}

/** Stops under the screen from which on a levelling target is too dark. Common practice warns of it, without a figure; this one is ours. */
const DARKER = 0.5;

const CLEAN_NAMES = { none: "one colour", synthesised: "its own pixels", supplied: "a clean plate" } as const;

/** What the pull reads the screen from, and the levelled plate that follows from it. */
function CleanPlate() {
  const { from: source, cleanPlate, colour } = useBench((s) => s.recipe.screen);
  const darker = useBench((s) => s.figures?.darker ?? null);
  const [merging, setMerging] = useState(false);
  const plate = useBench((s) => s.shot.plate);
  const media = useBench((s) => s.media);
  const fitting = media.filter((m) => m.id !== plate.id && m.info.width === plate.info.width && m.info.height === plate.info.height);
  const choose = (id: string | null, from: Recipe["screen"]["from"], what: string) =>
    settle("Screen", what, (r) => ({ ...r, screen: { ...r.screen, from, cleanPlate: id } }));
  return (
    <Section title="Clean plate">
      <Select
        label="Read the screen from"
        value={source === "supplied" && cleanPlate ? cleanPlate : source}
        choices={[["none", CLEAN_NAMES.none], ["synthesised", CLEAN_NAMES.synthesised], ...fitting.map((m) => [m.id, m.name] as const)]}
        onChange={(v) =>
          v === "none" || v === "synthesised"
            ? choose(null, v, `Screen read from ${CLEAN_NAMES[v]}`)
            : choose(v, "supplied", `Clean plate: ${media.find((m) => m.id === v)?.name ?? ""}`)
        }
      />
      <ImportMedia
        label={
          <>
            <Plus size={14} /> Bring in a clean plate
          </>
        }
        onDone={async (m) => {
          await refreshMedia();
          if (m.info.width !== plate.info.width || m.info.height !== plate.info.height)
            complain(
              new Error(
                `${m.name} is ${m.info.width}×${m.info.height}, the plate ${plate.info.width}×${plate.info.height}: a clean plate must be of the same size.`,
              ),
            );
          else choose(m.id, "supplied", `Clean plate: ${m.name}`);
        }}
      />
      {plate.info.frames > 1 && colour && (
        <Button
          className="mt-2 w-full"
          disabled={merging}
          title="For a locked-off camera: the frames in which each pixel shows nothing but screen, merged"
          onClick={() => {
            setMerging(true);
            void cleanPlateOverTime()
              .catch(complain)
              .finally(() => setMerging(false));
          }}
        >
          {merging ? "Merging frames…" : "Make one from the whole shot"}
        </Button>
      )}
      {source !== "none" && (
        <>
          <RecipeControl
            label="Level the plate"
            step="Screen"
            initial={100}
            hint="How far the levelled plate's screen is brought to the sampled colour. The picture itself keeps its own pixels."
            path="screen.level"
          />
          {darker !== null && darker > DARKER && (
            <p className="rounded-md bg-raised p-2 text-soft">
              The sampled colour is {darker.toFixed(1)} st darker than the screen: levelled to it, soft and motion-blurred edges break up.
              Sample lighter screen near the subject.
            </p>
          )}
          <div className="mt-1 flex gap-2">
            <Button className="grow" onClick={() => look({ view: "cleanPlate" })}>
              Clean plate
            </Button>
            <Button className="grow" onClick={() => look({ view: "levelled" })}>
              Levelled plate
            </Button>
          </div>
        </>
      )}
    </Section>
  );
}
