import { useEffect, useState } from "react";
import type { Setup } from "../../core/documents/setup";
import type { ListedJob, ListedShot } from "../../core/documents/shot";
import { call } from "../api";
import { Button } from "../ui/button";
import { Switch } from "../ui/switch";
import { Section } from "./facts";
import { applySetup, carryTo, keepSetup, listSetups, removeSetup } from "./record-actions";
import { EXPOSABLE, exposedName } from "./setup-controls";
import { complain, useBench } from "./store";

/** The recipe's use elsewhere: on other shots of the job, and as a set-up with few controls. */
export function Reuse({ onDone }: { onDone: () => void }) {
  return (
    <>
      <OtherShots />
      <Setups onDone={onDone} />
    </>
  );
}

function OtherShots() {
  const { id, job } = useBench((s) => s.shot);
  const ready = useBench((s) => s.recipe.screen.colour !== null);
  const [shots, setShots] = useState<readonly ListedShot[] | null>(null);
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const [resample, setResample] = useState(true);
  const [busy, setBusy] = useState(false);
  const load = () =>
    call<ListedJob[]>("/api/jobs").then(
      (jobs) => setShots(jobs.find((j) => j.id === job.id)?.shots.filter((s) => s.id !== id) ?? []),
      complain,
    );
  useEffect(() => {
    void load();
  }, []);
  return (
    <section aria-label="Other shots">
      <h3 className="font-semibold">Copy the recipe to other shots of {job.name}</h3>
      <p className="mt-0.5 text-soft">
        Drawn shapes, paint and backgrounds stay with their shot. Each copy can be gone back on in that shot's log.
      </p>
      <ul className="mt-2 max-h-48 overflow-y-auto">
        {shots?.length === 0 && <li className="text-soft">This job has no other shot.</li>}
        {shots?.map((s) => (
          <li key={s.id}>
            <label className="flex items-center gap-2 rounded px-1 py-1 hover:bg-raised">
              <input
                type="checkbox"
                className="accent-white"
                checked={chosen.includes(s.id)}
                onChange={(e) => setChosen(e.target.checked ? [...chosen, s.id] : chosen.filter((c) => c !== s.id))}
              />
              {s.name}
              <span className="text-faint">{s.touched ? "has a key" : "untouched"}</span>
            </label>
          </li>
        ))}
      </ul>
      <Switch label="Sample the screen there" checked={resample} onChange={setResample} />
      <Button
        className="w-full"
        disabled={!ready || busy || chosen.length === 0}
        onClick={() => {
          setBusy(true);
          void carryTo(chosen, resample)
            .then(() => {
              setChosen([]);
              return load();
            }, complain)
            .finally(() => setBusy(false));
        }}
      >
        {busy ? "Copying…" : `Copy to ${chosen.length || "no"} ${chosen.length === 1 ? "shot" : "shots"}`}
      </Button>
    </section>
  );
}

function Setups({ onDone }: { onDone: () => void }) {
  const ready = useBench((s) => s.recipe.screen.colour !== null);
  const [setups, setSetups] = useState<readonly Setup[]>([]);
  const [name, setName] = useState("");
  const [controls, setControls] = useState<readonly string[]>(["matte.white", "spill.amount"]);
  const [resample, setResample] = useState(true);
  const load = () => listSetups().then(setSetups, complain);
  useEffect(() => {
    void load();
  }, []);
  return (
    <Section title="Set-ups">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (!name.trim()) return;
          void keepSetup(name.trim(), controls).then(() => {
            setName("");
            return load();
          }, complain);
        }}
      >
        <div className="flex gap-2">
          <input
            value={name}
            onChange={(e) => setName(e.target.value)}
            maxLength={120}
            aria-label="Name of the set-up"
            placeholder="Keep this recipe as a set-up"
            className="min-w-0 grow rounded-md border border-line bg-page px-2 py-1"
          />
          <Button type="submit" disabled={!ready || !name.trim()}>
            Keep set-up
          </Button>
        </div>
        <fieldset className="mt-2">
          <legend className="text-soft">It shows these controls</legend>
          <div className="mt-1 grid grid-cols-2">
            {EXPOSABLE.map(({ path, label }) => (
              <label key={path} className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  className="accent-white"
                  checked={controls.includes(path)}
                  onChange={(e) => setControls(e.target.checked ? [...controls, path] : controls.filter((c) => c !== path))}
                />
                {label}
              </label>
            ))}
          </div>
        </fieldset>
      </form>
      <div className="mt-3 border-t border-line pt-2">
        {setups.length > 0 && <Switch label="Sample the screen here" checked={resample} onChange={setResample} />}
        <ul aria-label="Set-ups" className="space-y-1.5">
          {setups.length === 0 && (
            <li className="text-soft">None kept yet. A set-up is a good recipe with the few controls that matter.</li>
          )}
          {setups.map((s) => (
            <li key={s.id} className="rounded-md border border-line px-2.5 py-1.5">
              <div className="flex items-center gap-2">
                <span className="min-w-0 grow truncate font-medium">{s.name}</span>
                <Button
                  look="quiet"
                  aria-label={`Use the set-up ${s.name}`}
                  onClick={() => void applySetup(s, resample).then(onDone, complain)}
                >
                  Use
                </Button>
                <Button look="quiet" aria-label={`Remove the set-up ${s.name}`} onClick={() => void removeSetup(s.id).then(load, complain)}>
                  Remove
                </Button>
              </div>
              <p className="text-[12px] text-faint">{s.controls.map(exposedName).join(", ") || "no controls"}</p>
            </li>
          ))}
        </ul>
      </div>
    </Section>
  );
}
