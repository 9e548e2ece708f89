import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { Toaster } from "sonner";
import { useStore } from "zustand";
import type { Media } from "../../core/documents/media-info";
import type { Shot } from "../../core/documents/shot";
import { timecode } from "../../core/documents/timecode";
import { call } from "../api";
import { Button } from "../ui/button";
import { allActions, handleKey } from "./actions";
import { startEngine, startWorkers } from "./engine";
import { Ladder } from "./ladder";
import { goToStep, VIEWING } from "./looking";
import { flushView, loadShot, redo, undo, useBench } from "./store";
import { Strip } from "./strip";
import { Tuner } from "./tuner";
import { ViewBar } from "./view-bar";
import { Viewer } from "./viewer";

const Palette = lazy(() => import("./palette"));
const ProbeList = lazy(() => import("./probe-list"));
const Records = lazy(() => import("./records"));

/** The bench: one shot, from plate to delivered key. */
export default function Bench({ shotId }: { shotId: number }) {
  const [state, setState] = useState<"loading" | "ready" | { problem: string }>("loading");
  useEffect(() => {
    startWorkers();
    Promise.all([call<Shot>(`/api/shots/${shotId}`), call<Media[]>("/api/media")]).then(
      ([shot, media]) => {
        loadShot(shot, media);
        setState("ready");
      },
      (error: Error) => setState({ problem: error.message }),
    );
  }, [shotId]);
  if (state === "ready") return <Open />;
  return (
    <main className="grid h-screen place-items-center">
      {state === "loading" ? (
        <p className="text-soft">Opening the shot…</p>
      ) : (
        <div className="max-w-md text-center" role="alert">
          <h1 className="text-lg font-semibold">The shot could not be opened</h1>
          <p className="mt-2 text-soft">{state.problem}</p>
          <a href="/" className="mt-4 inline-block underline">
            Jobs and shots
          </a>
        </div>
      )}
    </main>
  );
}

function Open() {
  const [palette, setPalette] = useState(false);
  const [records, setRecords] = useState(false);
  const [probes, setProbes] = useState(false);
  const actions = useMemo(
    () =>
      allActions({
        deliver: () => goToStep("Deliver"),
        log: () => setRecords(true),
        probes: () => setProbes(true),
        palette: () => setPalette(true),
      }),
    [],
  );
  useEffect(startEngine, []);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => handleKey(e, actions);
    window.addEventListener("keydown", onKey);
    window.addEventListener("pagehide", flushView);
    return () => {
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("pagehide", flushView);
    };
  }, [actions]);
  return (
    <div className="flex h-screen min-w-[1100px] flex-col overflow-hidden select-none">
      <Header onRecords={() => setRecords(true)} onPalette={() => setPalette(true)} />
      <main className="flex min-h-0 grow">
        <Ladder />
        <div className="flex min-w-0 grow flex-col">
          <div className="flex min-h-0 grow">
            <div id={VIEWING} className="flex min-w-0 grow flex-col">
              <Viewer />
              <ViewBar onProbes={() => setProbes(true)} />
            </div>
            <Tuner />
          </div>
          <Strip />
        </div>
      </main>
      <Suspense>
        {palette && <Palette open onOpenChange={setPalette} actions={actions} />}
        {probes && <ProbeList open onOpenChange={setProbes} />}
        {records && <Records open onOpenChange={setRecords} />}
      </Suspense>
      <Toaster
        theme="dark"
        position="bottom-center"
        toastOptions={{ style: { background: "#272727", color: "#ececec", border: "1px solid #3a3a3a" } }}
      />
    </div>
  );
}

const SAVING = { saved: "Saved", saving: "Saving…", failed: "Not saved" } as const;

function Header({ onRecords, onPalette }: { onRecords: () => void; onPalette: () => void }) {
  const shot = useBench((s) => s.shot);
  const frame = useBench((s) => s.view.frame);
  const saving = useBench((s) => s.saving);
  const newest = useBench((s) => s.versions[0]?.number ?? 0);
  const canUndo = useStore(useBench.temporal, (t) => t.pastStates.length > 0);
  const canRedo = useStore(useBench.temporal, (t) => t.futureStates.length > 0);
  const { info } = shot.plate;
  return (
    <header className="flex h-11 shrink-0 items-center gap-4 border-b border-black bg-page px-3.5">
      <a href="/" className="font-bold tracking-tight">
        Mellow Sieve
      </a>
      <h1 className="truncate text-soft">
        {shot.job.name} <span className="text-faint">/</span> <span className="text-text">{shot.name}</span>
      </h1>
      <p className="figure ml-auto flex gap-4">
        <span>{timecode(frame, info.rate, info.timecode)}</span>
        <span>
          <span className="text-soft">frame</span> <span data-testid="frame">{frame}</span>{" "}
          <span className="text-soft">of {info.frames}</span>
        </span>
      </p>
      <span className="ml-auto w-16 text-right text-faint" role="status">
        {SAVING[saving]}
      </span>
      <div className="flex gap-2">
        <Button disabled={!canUndo} onClick={undo}>
          Undo
        </Button>
        <Button disabled={!canRedo} onClick={redo}>
          Redo
        </Button>
        <Button onClick={onPalette}>Actions</Button>
        <Button onClick={onRecords}>{newest ? `Log · version ${newest}` : "Log"}</Button>
        <Button look="accent" onClick={() => goToStep("Deliver")}>
          Deliver
        </Button>
      </div>
    </header>
  );
}
