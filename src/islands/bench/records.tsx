import { Dialog, Tabs } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import type { LogEntry, LoggedFigures, Version } from "../../core/documents/shot";
import { Button } from "../ui/button";
import { clock, percent, whole } from "../ui/format";
import { toggleCompare } from "./looking";
import { keep, rename, restore, restoreEntry, searchLog, writeNote } from "./record-actions";
import { Reuse } from "./reuse";
import { complain, useBench } from "./store";

/** The log, the kept versions, and the recipe's use elsewhere. */
export default function Records({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const close = () => onOpenChange(false);
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-0 right-0 bottom-0 flex w-[480px] flex-col border-l border-black bg-panel p-5 shadow-2xl"
        >
          <Dialog.Title className="text-base font-semibold">Log and versions</Dialog.Title>
          <Tabs.Root defaultValue="log" className="mt-3 flex min-h-0 grow flex-col">
            <Tabs.List aria-label="Records" className="flex gap-1 border-b border-line">
              <Tab value="log">Log</Tab>
              <Tab value="versions">Versions</Tab>
              <Tab value="reuse">Use elsewhere</Tab>
            </Tabs.List>
            <Tabs.Content value="log" className="flex min-h-0 grow flex-col pt-3">
              <Log onDone={close} />
            </Tabs.Content>
            <Tabs.Content value="versions" className="min-h-0 grow overflow-y-auto pt-3">
              <Versions onDone={close} />
            </Tabs.Content>
            <Tabs.Content value="reuse" className="min-h-0 grow overflow-y-auto pt-3">
              <Reuse onDone={close} />
            </Tabs.Content>
          </Tabs.Root>
          <Dialog.Close className="absolute top-4 right-4 rounded px-2 py-1 text-soft hover:bg-raised">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const Tab = ({ value, children }: { value: string; children: ReactNode }) => (
  <Tabs.Trigger
    value={value}
    className="-mb-px border-b-2 border-transparent px-3 py-1.5 text-soft hover:text-text data-[state=active]:border-amber data-[state=active]:text-text"
  >
    {children}
  </Tabs.Trigger>
);

function Versions({ onDone }: { onDone: () => void }) {
  const versions = useBench((s) => s.versions);
  const compare = useBench((s) => s.compare);
  const [name, setName] = useState("");
  return (
    <>
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void keep(name.trim() || `Version ${(versions[0]?.number ?? 0) + 1}`).then(() => setName(""), complain);
        }}
      >
        <input
          value={name}
          onChange={(e) => setName(e.target.value)}
          maxLength={120}
          aria-label="Name of the version"
          placeholder="Name what is good about it"
          className="min-w-0 grow rounded-md border border-line bg-page px-2 py-1"
        />
        <Button type="submit" look="accent">
          Keep version
        </Button>
      </form>
      <ul className="mt-3 space-y-1.5" aria-label="Versions">
        {versions.length === 0 && <li className="text-soft">No version kept yet. A version can be restored and compared with.</li>}
        {versions.map((v) => (
          <VersionRow
            key={v.id}
            version={v}
            wiping={compare?.how === "wipe" && compare.versionId === v.id}
            onWipe={() => {
              toggleCompare("wipe", v.id);
              onDone();
            }}
            onRestore={() => {
              restore(v);
              onDone();
            }}
          />
        ))}
      </ul>
    </>
  );
}

/** Time that typing rests before the log is searched, ms. */
const REST = 200;

/** Everything that was done, newest first: searched, noted on, gone back to, saved. */
function Log({ onDone }: { onDone: () => void }) {
  const log = useBench((s) => s.log);
  const shotId = useBench((s) => s.shot.id);
  const [words, setWords] = useState("");
  const [found, setFound] = useState<readonly LogEntry[] | null>(null);
  const [note, setNote] = useState("");
  useEffect(() => {
    if (!words.trim()) {
      setFound(null);
      return;
    }
    const timer = setTimeout(() => void searchLog(words).then(setFound, complain), REST);
    return () => clearTimeout(timer);
  }, [words, log]);
  const shown = found ?? log;
  return (
    <>
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (note.trim()) void writeNote(note.trim()).then(() => setNote(""), complain);
        }}
      >
        <input
          value={note}
          onChange={(e) => setNote(e.target.value)}
          maxLength={2000}
          aria-label="A note for the log"
          placeholder="A note: what was tried, and why"
          className="min-w-0 grow rounded-md border border-line bg-page px-2 py-1"
        />
        <Button type="submit" disabled={!note.trim()}>
          Add note
        </Button>
      </form>
      <div className="mt-2 flex items-center gap-2">
        <input
          type="search"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          maxLength={200}
          aria-label="Search the log"
          placeholder="Search"
          className="min-w-0 grow rounded-md border border-line bg-page px-2 py-1"
        />
        <Link href={`/api/shots/${shotId}/log.md`} download>
          Markdown
        </Link>
        <Link href={`/api/shots/${shotId}/log.csv`} download>
          CSV
        </Link>
        <Link href={`/shots/${shotId}/sheet`} target="_blank">
          Sheet
        </Link>
      </div>
      <ol className="mt-2 min-h-0 grow overflow-y-auto" aria-label="Log" data-testid="log">
        {shown.length === 0 && (
          <li className="text-soft">
            {found ? "Nothing in the log holds these words." : "Every settled change is written here with its figures before and after."}
          </li>
        )}
        {shown.map((e) => (
          <LogRow key={e.id} entry={e} shotId={shotId} onBack={() => void restoreEntry(e).then(onDone, complain)} />
        ))}
      </ol>
    </>
  );
}

const Link = ({ children, ...rest }: { href: string; download?: boolean; target?: string; children: ReactNode }) => (
  <a {...rest} className="rounded-md border border-line bg-raised px-2 py-1 hover:bg-lifted">
    {children}
  </a>
);

function VersionRow({
  version,
  wiping,
  onWipe,
  onRestore,
}: {
  version: Version;
  wiping: boolean;
  onWipe: () => void;
  onRestore: () => void;
}) {
  const f = version.figures;
  return (
    <li className="rounded-md border border-line px-2.5 py-1.5">
      <div className="flex items-center gap-2">
        <span className="figure text-faint">{version.number}</span>
        <input
          aria-label={`Name of version ${version.number}`}
          className="min-w-0 grow rounded bg-transparent px-1 hover:bg-page focus:bg-page"
          defaultValue={version.name}
          onBlur={(e) =>
            e.target.value.trim() && e.target.value.trim() !== version.name && void rename(version, e.target.value.trim()).catch(complain)
          }
        />
        <Button look={wiping ? "chosen" : "quiet"} aria-pressed={wiping} onClick={onWipe}>
          Wipe
        </Button>
        <Button look="quiet" onClick={onRestore}>
          Restore
        </Button>
      </div>
      <p className="figure pl-5 text-[11px] text-soft">
        {f ? `holes ${whole(f.holes)} px · residue ${whole(f.residue)} px · edge loss ${percent(f.edgeLoss)}` : "no figures"}
      </p>
    </li>
  );
}

function LogRow({ entry, shotId, onBack }: { entry: LogEntry; shotId: number; onBack: () => void }) {
  const parts = (["holes", "residue", "edgeLoss"] as const)
    .map((key) => difference(key, entry.before, entry.after))
    .filter((p) => p !== null);
  const note = entry.step === "Note";
  return (
    <li className="group flex gap-2.5 border-b border-raised py-1.5">
      {entry.picture ? (
        <img
          src={`/api/shots/${shotId}/log/${entry.id}/picture`}
          alt=""
          loading="lazy"
          className="h-9 w-16 shrink-0 rounded-sm bg-page object-contain"
        />
      ) : (
        <span className="h-9 w-16 shrink-0" aria-hidden="true" />
      )}
      <div className="min-w-0 grow">
        <div className="flex justify-between gap-3">
          <span className={note ? "italic" : ""}>
            <span className="font-medium">{entry.step}</span> · {entry.what}
          </span>
          <span className="figure shrink-0 text-faint">{`f ${entry.frame} · ${clock(entry.at)}`}</span>
        </div>
        <div className="flex items-end justify-between gap-3">
          <p className="figure text-[11px] text-soft">{parts.join(" · ")}</p>
          {entry.restorable && (
            <button
              type="button"
              aria-label={`Go back to: ${entry.what}`}
              className="shrink-0 rounded px-1 text-[12px] text-faint hover:bg-raised hover:text-text"
              onClick={onBack}
            >
              go back here
            </button>
          )}
        </div>
        {entry.proposed && (
          <details className="text-[12px] text-soft">
            <summary className="cursor-pointer hover:text-text">why, and what it leaves</summary>
            <ul className="mt-1 space-y-1">
              {[...entry.proposed.notSolved.map((n) => n.what), ...entry.proposed.reasons].map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </details>
        )}
      </div>
    </li>
  );
}

const FIGURE_NAMES = { holes: "holes", residue: "residue", edgeLoss: "edge loss" } as const;
function difference(key: keyof typeof FIGURE_NAMES, before: LoggedFigures | null, after: LoggedFigures | null): string | null {
  // A figure stays on one line with its unit.
  const show = (f: LoggedFigures) => (key === "edgeLoss" ? percent(f.edgeLoss) : `${whole(f[key])} px`).replace(" ", "\u00a0");
  if (!after) return null;
  if (!before) return `${FIGURE_NAMES[key]} ${show(after)}`;
  return show(before) === show(after) ? null : `${FIGURE_NAMES[key]} ${show(before)} → ${show(after)}`;
}
