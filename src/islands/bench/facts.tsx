import type { MediaInfo } from "../../core/documents/media-info";
import type { Measured } from "../../core/recipe/judge";
import { useBench } from "./store";

export const depthName = (info: MediaInfo): string => (info.layout.kind === "half" ? "16-bit float" : `${info.layout.bits} bit`);
export const rateName = (info: MediaInfo): string => (info.rate ? `${Number((info.rate.num / info.rate.den).toFixed(3))} fps` : "still");

type Rows = readonly (readonly [name: string, value: string])[];

/** Figures of the frame, by themselves, so that their change under a moving hand draws nothing else anew. */
export function FigureFacts({ rows }: { rows: (figures: Measured | null) => Rows }) {
  const figures = useBench((s) => s.figures);
  return <Facts rows={rows(figures)} />;
}

/** Names and values in two columns. */
export function Facts({ rows }: { rows: Rows }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
      {rows.map(([k, v]) => (
        <div key={k} className="contents">
          <dt className="text-faint">{k}</dt>
          <dd className="figure text-right break-words">{v}</dd>
        </div>
      ))}
    </dl>
  );
}

/** A titled part of a panel. */
export function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="mt-4 border-t border-line pt-3">
      <h3 className="mb-1.5 font-semibold">{title}</h3>
      {children}
    </section>
  );
}
