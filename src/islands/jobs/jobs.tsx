import { QueryClientProvider, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { chromaFormat, type Media } from "../../core/documents/media-info";
import type { ListedJob, ListedShot } from "../../core/documents/shot";
import { call } from "../api";
import { localQueries } from "../queries";
import { Button } from "../ui/button";
import { ImportMedia } from "../ui/import-media";

const client = localQueries();

export default function Jobs() {
  // The bench is what comes next: it is fetched while one looks through the list.
  useEffect(() => {
    void import("../bench/bench");
  }, []);
  return (
    <QueryClientProvider client={client}>
      <List />
    </QueryClientProvider>
  );
}

function List() {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => call<ListedJob[]>("/api/jobs") });
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const create = useMutation({
    mutationFn: (jobName: string) => call<{ id: number }>("/api/jobs", "POST", { name: jobName }),
    onSuccess: () => {
      setName("");
      void queries.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
  return (
    <div className="mx-auto max-w-6xl px-8 py-8">
      <header className="flex items-end justify-between gap-6 border-b border-line pb-5">
        <div>
          <h1 className="text-2xl font-bold tracking-tight">Mellow Sieve</h1>
          <p className="mt-1 text-soft">From a plate to a proven, delivered key.</p>
        </div>
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (name.trim()) create.mutate(name.trim());
          }}
        >
          <input
            value={name}
            onChange={(e) => setName(e.target.value)}
            maxLength={120}
            aria-label="Name of a new job"
            placeholder="Name of a new job"
            className="rounded-md border border-line bg-panel px-2.5 py-1"
          />
          <Button type="submit" disabled={!name.trim()}>
            Add job
          </Button>
        </form>
      </header>
      {jobs.isPending && <p className="mt-10 text-soft">Loading…</p>}
      {jobs.isError && (
        <p role="alert" className="mt-10">
          {jobs.error.message}{" "}
          <Button className="ml-2" onClick={() => jobs.refetch()}>
            Try again
          </Button>
        </p>
      )}
      {create.isError && (
        <p role="alert" className="mt-4">
          {create.error.message}
        </p>
      )}
      {jobs.data?.length === 0 && <p className="mt-10 text-soft">No job yet. Name one above, then bring its first plate in.</p>}
      {jobs.data?.map((job) => (
        <Job key={job.id} job={job} />
      ))}
    </div>
  );
}

function Job({ job }: { job: ListedJob }) {
  const queries = useQueryClient();
  const addShot = async (m: Media) => {
    await call(`/api/jobs/${job.id}/shots`, "POST", { name: m.name.replace(/\.[a-z0-9]+$/i, "").slice(0, 120) || "Shot", plateId: m.id });
    await queries.invalidateQueries({ queryKey: ["jobs"] });
  };
  return (
    <section aria-label={job.name} className="mt-8">
      <h2 className="text-lg font-semibold">{job.name}</h2>
      <ul className="mt-3 grid grid-cols-3 gap-5">
        {job.shots.map((shot) => (
          <ShotCard key={shot.id} shot={shot} />
        ))}
        <li className="flex min-h-44 flex-col justify-center rounded-lg border border-dashed border-line p-5">
          <p className="mb-3 text-soft">{job.shots.length ? "Another plate" : "No plate yet"}</p>
          <ImportMedia
            label={
              <>
                <Plus size={14} /> Bring a plate in
              </>
            }
            onDone={addShot}
          />
          <p className="mt-3 text-faint">A still, a clip, or several numbered stills of one sequence.</p>
        </li>
      </ul>
    </section>
  );
}

function ShotCard({ shot }: { shot: ListedShot }) {
  const { info } = shot;
  return (
    <li>
      <a href={`/shots/${shot.id}`} className="block overflow-hidden rounded-lg border border-line bg-panel hover:border-faint">
        <img src={`/api/media/${shot.plateId}/thumb`} alt="" className="aspect-video w-full bg-page object-contain" />
        <span className="block p-3">
          <span className="flex items-baseline justify-between gap-2">
            <span className="truncate font-semibold">{shot.name}</span>
            <span className="shrink-0 text-soft">{shot.touched ? "screen sampled" : "untouched"}</span>
          </span>
          <span className="figure mt-1 block text-[11px] text-faint">{`${info.width}×${info.height} · ${chromaFormat(info)} · ${info.frames} ${info.frames === 1 ? "frame" : "frames"}`}</span>
        </span>
      </a>
    </li>
  );
}
