import { chromaFormat } from "../../core/documents/media-info";
import { type NotSolved, UNSOLVED_KINDS } from "../../core/documents/proposed";
import type { Point } from "../../core/matte/polygon";
import { Button } from "../ui/button";
import { bytes } from "../ui/format";
import { depthName, Facts, rateName, Section } from "./facts";
import { openFindings } from "./finding-actions";
import { flyTo, goToStep, takeTool } from "./looking";
import { ReadAs } from "./read-as";
import { PlateReportView } from "./report";
import { proposeAll } from "./screen-actions";
import { holdPlaces } from "./shape-actions";
import { look, useBench } from "./store";

/** What a key cannot solve, by its kind, in so many places. */
const UNSOLVED: Record<NotSolved["kind"], (places: number) => string> = {
  "passes-end": () => "The subject passes the screen's end. What of it lies beyond is thrown away: a holdout along its outline keeps it.",
  "lit-wall": () =>
    "The screen ends along a straight line before something lit, above the frame's bottom. If that is the room, throw it away with a garbage shape; the set around a window or a display stays.",
  clipped: () =>
    "The screen is clipped, or what it shows through: how much screen lies there is lost. Bring the plate in darker from its source, where that holds more.",
  "near-screen": (places) =>
    `${places === 1 ? "A stretch stays" : "Stretches stay"} half open between solid parts, as cloth near the screen's colour does. Where nothing shows through, hold it.`,
  "half-open": (places) =>
    `${places === 1 ? "One place stays" : `${places} places stay`} half open inside the subject, as mirror-like metal and glossy white do. No key can tell them: look whether they are to be held.`,
};
/** What was filmed, how its file is read, and the report on it. */
export function PlatePanel() {
  const shot = useBench((s) => s.shot);
  // One that was undone is told of no more.
  const proposed = useBench((s) => (s.recipe.screen.colour ? s.proposed : null));
  const { info, name } = shot.plate;
  return (
    <>
      <Button look="accent" className="w-full" onClick={() => void proposeAll()}>
        Propose the whole key
      </Button>
      {proposed && (
        <>
          <Next />
          {proposed.notSolved.length > 0 && <Unsolved places={proposed.notSolved} frame={proposed.frame} />}
          <Section title={`Why, as proposed on frame ${proposed.frame}`}>
            <ul className="space-y-1.5 text-soft" data-testid="reasons">
              {proposed.reasons.map((r) => (
                <li key={r}>{r}</li>
              ))}
            </ul>
          </Section>
        </>
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

/** What the key cannot solve: each place can be looked at, and closed along its outline where that would do. */
function Unsolved({ places, frame }: { places: readonly NotSolved[]; frame: number }) {
  const shapes = useBench((s) => s.recipe.bounds.garbage);
  const held = (outline: readonly Point[]) => shapes.some((s) => JSON.stringify(s.points) === JSON.stringify(outline));
  const kinds = UNSOLVED_KINDS.filter((kind) => places.some((p) => p.kind === kind));
  return (
    <div className="mt-2 rounded border-l-2 border-amber bg-raised p-2" data-testid="not-solved">
      {kinds.map((kind) => (
        <div key={kind} className="mb-2.5">
          <p>{UNSOLVED[kind](places.filter((p) => p.kind === kind).length)}</p>
          <ul className="mt-1.5 space-y-1.5">
            {places.map(({ kind: k, what, place, outline }, n) =>
              k !== kind ? null : (
                <li key={what} className="flex gap-1.5">
                  <Button
                    title={what}
                    onClick={() => {
                      look({ frame });
                      flyTo(place);
                    }}
                  >
                    Show {n + 1}
                  </Button>
                  {outline && outline.length > 2 && (
                    <Button
                      title="Adds a holdout along its outline, as it stands on this frame. Where it moves, follow it in Bounds."
                      disabled={held(outline)}
                      onClick={() => {
                        look({ frame });
                        holdPlaces([outline]);
                      }}
                    >
                      {held(outline) ? `Held ${n + 1}` : `Hold ${n + 1}`}
                    </Button>
                  )}
                </li>
              ),
            )}
          </ul>
        </div>
      ))}
      {kinds.includes("lit-wall") && (
        <Button look="quiet" onClick={() => takeTool("Bounds", "draw")}>
          Draw garbage
        </Button>
      )}
      {kinds.some((kind) => kind !== "lit-wall") && (
        <Button look="quiet" onClick={() => takeTool("Bounds", "draw-holdout")}>
          Draw a holdout
        </Button>
      )}
    </div>
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
