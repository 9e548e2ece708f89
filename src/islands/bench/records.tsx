import { Dialog } from "radix-ui";
import { useState } from "react";
import type { LogEntry, LoggedFigures, Version } from "../../core/documents/shot";
import { Button } from "../ui/button";
import { clock, percent, whole } from "../ui/format";
import { toggleCompare } from "./looking";
import { complain, keep, rename, restore, useBench } from "./store";

/** The log and the kept versions of the shot. */
export default function Records({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const versions = useBench((s) => s.versions);
  const log = useBench((s) => s.log);
  const compare = useBench((s) => s.compare);
  const [name, setName] = useState("");
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-0 right-0 bottom-0 flex w-[460px] flex-col border-l border-black bg-panel p-5 shadow-2xl"
        >
          <Dialog.Title className="text-base font-semibold">Log and versions</Dialog.Title>
          <form
            className="mt-3 flex gap-2"
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
          <ul className="mt-3 max-h-[38%] space-y-1.5 overflow-y-auto" aria-label="Versions">
            {versions.length === 0 && <li className="text-soft">No version kept yet. A version can be restored and compared with.</li>}
            {versions.map((v) => (
              <VersionRow
                key={v.id}
                version={v}
                wiping={compare?.how === "wipe" && compare.versionId === v.id}
                onWipe={() => {
                  toggleCompare("wipe", v.id);
                  onOpenChange(false);
                }}
                onRestore={() => {
                  restore(v);
                  onOpenChange(false);
                }}
              />
            ))}
          </ul>
          <h3 className="mt-4 border-t border-line pt-3 font-semibold">Log</h3>
          <ol className="mt-1 min-h-0 grow overflow-y-auto" aria-label="Log" data-testid="log">
            {log.length === 0 && <li className="text-soft">Every settled change is written here with its figures before and after.</li>}
            {log.map((e) => (
              <LogRow key={e.id} entry={e} />
            ))}
          </ol>
          <Dialog.Close className="absolute top-4 right-4 rounded px-2 py-1 text-soft hover:bg-raised">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

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

function LogRow({ entry }: { entry: LogEntry }) {
  const parts = (["holes", "residue", "edgeLoss"] as const)
    .map((key) => difference(key, entry.before, entry.after))
    .filter((p) => p !== null);
  return (
    <li className="border-b border-raised py-1.5">
      <div className="flex justify-between gap-3">
        <span>
          <span className="font-medium">{entry.step}</span> · {entry.what}
        </span>
        <span className="figure shrink-0 text-faint">{`f ${entry.frame} · ${clock(entry.at)}`}</span>
      </div>
      {parts.length > 0 && <p className="figure text-[11px] text-soft">{parts.join(" · ")}</p>}
    </li>
  );
}

const FIGURE_NAMES = { holes: "holes", residue: "residue", edgeLoss: "edge loss" } as const;
function difference(key: keyof typeof FIGURE_NAMES, before: LoggedFigures | null, after: LoggedFigures | null): string | null {
  const show = (f: LoggedFigures) => (key === "edgeLoss" ? percent(f.edgeLoss) : `${whole(f[key])} px`);
  if (!after) return null;
  if (!before) return `${FIGURE_NAMES[key]} ${show(after)}`;
  return show(before) === show(after) ? null : `${FIGURE_NAMES[key]} ${show(before)} → ${show(after)}`;
}
