import { QueryClientProvider, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Delivery, DeliverySettings } from "../../core/documents/delivery";
import { call } from "../api";
import { localQueries } from "../queries";
import { Button } from "../ui/button";
import { bytes, clock, seconds } from "../ui/format";
import { NumberInput } from "../ui/number-input";
import { Select } from "../ui/select";
import { complain, savedRevision, useBench } from "./store";

const client = localQueries({ retry: true, retryDelay: 1000 });

const UNSAVED =
  "The last change is not saved, and would not be in what is delivered. The next change saves again; deliver once the bar above says Saved.";

/** Waits for what is still being saved, so that what is shown is what is delivered. */
async function deliver(shotId: number, settings: DeliverySettings): Promise<Delivery> {
  await savedRevision();
  if (useBench.getState().saving === "failed") throw new Error(UNSAVED);
  return call<Delivery>(`/api/shots/${shotId}/deliveries`, "POST", settings);
}

export function DeliverPanel() {
  return (
    <QueryClientProvider client={client}>
      <Deliver />
    </QueryClientProvider>
  );
}

const active = (d: Delivery) => d.state === "queued" || d.state === "running";

function Deliver() {
  const shot = useBench((s) => s.shot);
  const ready = useBench((s) => s.recipe.screen.colour !== null);
  const unsaved = useBench((s) => s.saving === "failed");
  const queries = useQueryClient();
  const { frames, audio } = shot.plate.info;
  const [settings, setSettings] = useState<DeliverySettings>({ format: "png", alpha: "straight", firstFrame: 1, lastFrame: frames });
  const key = ["deliveries", shot.id];
  const list = useQuery({
    queryKey: key,
    queryFn: () => call<Delivery[]>(`/api/shots/${shot.id}/deliveries`),
    refetchInterval: (q) => (q.state.status === "error" || q.state.data?.some(active) ? 500 : false),
  });
  const begin = useMutation({
    mutationFn: () => deliver(shot.id, settings),
    onError: complain,
    onSettled: () => queries.invalidateQueries({ queryKey: key }),
  });
  const cancel = useMutation({
    mutationFn: (id: number) => call<Delivery>(`/api/deliveries/${id}`, "DELETE"),
    onError: complain,
    onSettled: () => queries.invalidateQueries({ queryKey: key }),
  });
  const setFrame = (field: "firstFrame" | "lastFrame", frame: number) =>
    setSettings({ ...settings, [field]: Math.min(frames, Math.max(1, Math.round(frame))) });
  const frameInput = (label: string, field: "firstFrame" | "lastFrame") => (
    <div className="flex flex-1 items-center justify-between gap-2">
      <label htmlFor={field}>{label}</label>
      <NumberInput
        id={field}
        shown={`${settings[field]}`}
        className="figure w-16 rounded bg-page px-1.5 py-1 text-right outline-none focus:ring-1 focus:ring-amber"
        onCommit={(text) => Number(text) > 0 && setFrame(field, Number(text))}
        onNudge={(steps) => setFrame(field, settings[field] + steps)}
      />
    </div>
  );
  return (
    <>
      <Select
        label="As"
        value={settings.format}
        choices={[
          ["png", "PNG, 16 bit, RGBA"],
          ["mov", "ProRes 4444 MOV"],
        ]}
        onChange={(format) => setSettings({ ...settings, format })}
      />
      <Select
        label="Alpha"
        value={settings.alpha}
        choices={[
          ["straight", "straight"],
          ["premultiplied", "premultiplied"],
        ]}
        onChange={(alpha) => setSettings({ ...settings, alpha })}
      />
      <div className="flex gap-4 py-1.5">
        {frameInput("From", "firstFrame")}
        {frameInput("to", "lastFrame")}
      </div>
      <p className="mb-2 text-faint">
        {settings.format === "png"
          ? "sRGB-coded colour, linear coverage."
          : `BT.709-coded colour, 16-bit alpha. ${audio ? "The plate's sound is kept." : "The plate has no sound."}`}
      </p>
      <Button
        look="accent"
        className="w-full"
        disabled={!ready || unsaved || begin.isPending || settings.lastFrame < settings.firstFrame}
        onClick={() => begin.mutate()}
      >
        Deliver{" "}
        {settings.lastFrame - settings.firstFrame + 1 === 1
          ? "1 frame"
          : `${Math.max(0, settings.lastFrame - settings.firstFrame + 1)} frames`}
      </Button>
      {!ready && <p className="mt-2 text-soft">Sample the screen first: there is no matte yet.</p>}
      {unsaved && <p className="mt-2 text-soft">{UNSAVED}</p>}
      {list.isError && <p className="mt-2 text-soft">The server does not answer; deliveries go on when it is back.</p>}
      <ul className="mt-4 space-y-2" aria-label="Deliveries">
        {list.data?.map((d) => (
          <DeliveryCard key={d.id} delivery={d} onCancel={() => cancel.mutate(d.id)} />
        ))}
      </ul>
    </>
  );
}

const STATE_WORDS: Record<Delivery["state"], string> = {
  queued: "waiting",
  running: "rendering",
  done: "done",
  failed: "failed",
  cancelled: "cancelled",
};

function DeliveryCard({ delivery: d, onCancel }: { delivery: Delivery; onCancel: () => void }) {
  const share = d.totalFrames ? d.doneFrames / d.totalFrames : 0;
  const files = d.files.filter((f) => !f.name.endsWith(".json"));
  const total = files.reduce((n, f) => n + f.bytes, 0);
  return (
    <li className="rounded-md border border-line p-2.5" data-testid={`delivery-${d.id}`} data-state={d.state}>
      <div className="flex items-center justify-between">
        <span className="font-medium">{`${d.settings.format === "png" ? "PNG" : "ProRes 4444"}, ${d.settings.alpha}`}</span>
        <span className="text-soft">{`${STATE_WORDS[d.state]} · ${clock(d.createdAt)}`}</span>
      </div>
      {active(d) && (
        <>
          <div role="progressbar" aria-label="Delivery" aria-valuenow={Math.round(100 * share)} className="mt-2 h-1 rounded bg-lifted">
            <div className="h-1 rounded bg-amber" style={{ width: `${100 * share}%` }} />
          </div>
          <div className="mt-1.5 flex items-center justify-between">
            <span className="figure text-soft">{`${d.doneFrames} of ${d.totalFrames}${d.timeLeft === null ? "" : ` · ${seconds(d.timeLeft)} left`}`}</span>
            <Button look="quiet" onClick={onCancel}>
              Cancel
            </Button>
          </div>
        </>
      )}
      {d.resumed > 0 && (
        <p className="mt-1 text-faint">{`Taken up again after a restart${d.resumed > 1 ? `, ${d.resumed} times` : ""}.`}</p>
      )}
      {d.error && (
        <p role="alert" className="mt-1">
          {d.error}
        </p>
      )}
      {d.state === "done" && (
        <>
          <p className="figure mt-1 text-[11px] break-all text-soft">{d.folder}</p>
          <ul className="mt-1 max-h-28 overflow-y-auto">
            {files.map((f) => (
              <li key={f.name} className="flex justify-between">
                <a
                  className="underline decoration-faint underline-offset-2 hover:decoration-text"
                  href={`/api/deliveries/${d.id}/files/${f.name}`}
                  download
                >
                  {f.name}
                </a>
                <span className="figure text-faint">{bytes(f.bytes)}</span>
              </li>
            ))}
          </ul>
          {files.length > 1 && <p className="figure mt-1 text-faint">{`${files.length} files, ${bytes(total)}`}</p>}
        </>
      )}
    </li>
  );
}
