import { useState } from "react";
import { chromaFormat } from "../../core/documents/media-info";
import type { NotSolved } from "../../core/recipe/not-solved";
import { Button } from "../ui/button";
import { bytes } from "../ui/format";
import { depthName, Facts, rateName, Section } from "./facts";
import { openFindings } from "./finding-actions";
import { flyTo, goToStep, takeTool } from "./looking";
import { ReadAs } from "./read-as";
import { PlateReportView } from "./report";
import { proposeAll } from "./screen-actions";
import { useBench } from "./store";

/** What a key cannot solve, by its kind, in so many places. */
const UNSOLVED: Record<NotSolved["kind"], (places: number) => string> = {
  "passes-end": () => "The subject passes the screen's end. What of it lies beyond is thrown away: a holdout along its outline keeps it.",
  "lit-wall": () =>
    "The screen ends along a straight line before something lit, above the frame's bottom. If that is the room, throw it away with a garbage shape; the set around a window or a display stays.",
  clipped: () =>
    "The screen is clipped, or what it shows through: how much screen lies there is lost. Bring the plate in darker from its source, where that holds more.",
  "near-screen": (places) =>
    `${places === 1 ? "A stretch stays" : "Stretches stay"} half open between solid parts, as cloth near the screen's colour does. Where nothing shows through, draw a holdout.`,
  "half-open": (places) =>
    `${places === 1 ? "One place stays" : `${places} places stay`} half open inside the subject, as mirror-like metal and glossy white do. No key can tell them: look whether they want a holdout.`,
};
const KINDS = Object.keys(UNSOLVED) as NotSolved["kind"][];

/** What was filmed, how its file is read, and the report on it. */
export function PlatePanel() {
  const shot = useBench((s) => s.shot);
  const [proposed, setProposed] = useState<Awaited<ReturnType<typeof proposeAll>>>({ reasons: [], notSolved: [] });
  const unsolved = KINDS.map((kind) => [kind, proposed.notSolved.filter((n) => n.kind === kind)] as const).filter(
    ([, places]) => places.length > 0,
  );
  const { info, name } = shot.plate;
  return (
    <>
      <Button look="accent" className="w-full" onClick={async () => setProposed(await proposeAll())}>
        Propose the whole key
      </Button>
      {proposed.reasons.length > 0 && <Next />}
      {proposed.notSolved.length > 0 && (
        <div className="mt-2 rounded border-l-2 border-amber bg-raised p-2" data-testid="not-solved">
          {unsolved.map(([kind, places]) => (
            <div key={kind} className="mb-2.5">
              <p>{UNSOLVED[kind](places.length)}</p>
              <div className="mt-1.5 flex flex-wrap gap-1.5">
                {places.map(({ what, place }) => (
                  <Button key={what} title={what} onClick={() => flyTo(place)}>
                    Show {1 + proposed.notSolved.findIndex((n) => n.what === what)}
                  </Button>
                ))}
              </div>
            </div>
          ))}
          {unsolved.some(([kind]) => kind === "lit-wall") && (
            <Button look="quiet" onClick={() => takeTool("Bounds", "draw")}>
              Draw garbage
            </Button>
          )}
          {unsolved.some(([kind]) => kind !== "lit-wall") && (
            <Button look="quiet" onClick={() => takeTool("Bounds", "draw-holdout")}>
              Draw a holdout
            </Button>
          )}
        </div>
      )}
      {proposed.reasons.length > 0 && (
        <ul className="mt-2 space-y-1.5 text-soft" data-testid="reasons">
          {proposed.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      )}
      <Section title="Report">
        <PlateReportView />
      </Section>
      <Section title="File">
        <Facts
          rows={[
            ["name", name],
            ["size", `${info.width}×${info.height} px`],
            ...(info.turn ? ([["turned", `${90 * info.turn}° clockwise`]] as const) : []),
            ["frames", `${info.frames} · ${rateName(info)}`],
            ["codec", `${info.codec} in ${info.format}`],
            ["samples", `${chromaFormat(info)} · ${depthName(info)}`],
            ...(info.told?.chroma ? ([["colour recorded as", info.told.chroma]] as const) : []),
            ["pixel aspect", info.pixelAspect.toFixed(3)],
            ["fields", info.fieldOrder],
            ["timecode", info.timecode ?? "none"],
            ["sound", info.audio ? `${info.audio.codec} · ${info.audio.channels} ch` : "none"],
            ["bytes", bytes(shot.plate.bytes)],
          ]}
        />
        {info.warning && <p className="mt-2 rounded bg-raised p-2">{info.warning}</p>}
      </Section>
      <Section title="Read as">
        <ReadAs />
      </Section>
    </>
  );
}

/** Where to go from a proposed key. */
function Next() {
  const findings = useBench((s) => (s.findings?.recipe === s.recipe ? openFindings(s).length : null));
  const background = useBench((s) => s.recipe.scene.background !== null);
  return (
    <div className="mt-2 flex gap-1.5">
      {!background && (
        <Button className="grow" onClick={() => goToStep("Scene")}>
          Choose a background
        </Button>
      )}
      <Button className="grow" onClick={() => goToStep("Proof")}>
        {findings === null
          ? "Measuring…"
          : findings === 0
            ? "Nothing found: Proof"
            : `See ${findings} ${findings === 1 ? "finding" : "findings"}`}
      </Button>
    </div>
  );
}
