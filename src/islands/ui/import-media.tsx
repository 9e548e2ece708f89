import { type ReactNode, useId, useRef, useState } from "react";
import type { Media } from "../../core/documents/media-info";
import { call, upload } from "../api";
import { Button } from "./button";

const ACCEPT = ".png,.jpg,.jpeg,.tif,.tiff,.webp,.exr,.dpx,.mp4,.mov,.m4v,.webm,.mkv,.avi,.mxf";

/** Brings in a file, several numbered stills, or a path in a permitted folder. */
export function ImportMedia({ label, onDone }: { label: ReactNode; onDone: (media: Media) => void | Promise<void> }) {
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const [progress, setProgress] = useState<{ name: string; share: number } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [byPath, setByPath] = useState(false);
  const [typed, setTyped] = useState("");

  const run = async (work: () => Promise<Media>) => {
    setProblem(null);
    try {
      await onDone(await work());
      setByPath(false);
      setTyped("");
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setProgress(null);
      if (input.current) input.current.value = "";
    }
  };

  const takeFiles = (files: File[]) =>
    run(async () => {
      const ids: string[] = [];
      let last: Media | undefined;
      for (const [i, file] of files.entries()) {
        const name = files.length > 1 ? `${i + 1} of ${files.length}` : file.name;
        setProgress({ name, share: 0 });
        last = await upload<Media>(file, (share) => setProgress({ name, share }));
        ids.push(last.id);
      }
      if (ids.length > 1) return call<Media>("/api/media/sequence", "POST", { ids });
      return last as Media;
    });

  return (
    <div>
      <input
        ref={input}
        id={id}
        data-testid="import-file"
        type="file"
        multiple
        accept={ACCEPT}
        className="sr-only"
        tabIndex={-1}
        aria-label="Choose files"
        onChange={(e) => e.target.files?.length && void takeFiles([...e.target.files])}
      />
      <div className="flex gap-2">
        <Button className="grow" disabled={progress !== null} onClick={() => input.current?.click()}>
          {label}
        </Button>
        <Button look="quiet" aria-expanded={byPath} disabled={progress !== null} onClick={() => setByPath(!byPath)}>
          By path
        </Button>
      </div>
      {byPath && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void run(() => call<Media>("/api/media/from-path", "POST", { path: typed }));
          }}
        >
          <input
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            aria-label="Path on this machine"
            placeholder="/…/name.mov or name.%04d.png"
            className="min-w-0 grow rounded-md border border-line bg-page px-2 py-1"
          />
          <Button type="submit" disabled={!typed.trim()}>
            Bring in
          </Button>
        </form>
      )}
      {progress && (
        <div className="mt-2">
          <div className="flex justify-between text-soft">
            <span className="truncate">{progress.name}</span>
            <span className="figure">{progress.share < 1 ? `${Math.round(100 * progress.share)} %` : "reading…"}</span>
          </div>
          <div
            role="progressbar"
            aria-valuenow={Math.round(100 * progress.share)}
            aria-label="Upload"
            className="mt-1 h-1 rounded bg-lifted"
          >
            <div className="h-1 rounded bg-amber" style={{ width: `${100 * progress.share}%` }} />
          </div>
        </div>
      )}
      {problem && (
        <p role="alert" className="mt-2 rounded-md border border-line bg-raised p-2">
          {problem}
        </p>
      )}
    </div>
  );
}
