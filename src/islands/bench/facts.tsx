import type { MediaInfo } from "../../core/documents/media-info";

export const depthName = (info: MediaInfo): string => (info.layout.kind === "half" ? "16-bit float" : `${info.layout.bits} bit`);
export const rateName = (info: MediaInfo): string => (info.rate ? `${Number((info.rate.num / info.rate.den).toFixed(3))} fps` : "still");

/** Names and values in two columns. */
export function Facts({ rows }: { rows: readonly (readonly [string, string])[] }) {
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
