import type { Proposed } from "./proposed";
import type { LogEntry, LoggedFigures, Shot } from "./shot";

const px = (v: number) => `${Math.round(v)} px`;
const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
/** Time as written in records: UTC, to the second. */
export const stamp = (ms: number): string => new Date(ms).toISOString().slice(0, 19).replace("T", " ");

/** Figures in words. */
export const figuresText = (f: LoggedFigures | null): string =>
  f
    ? `holes ${px(f.holes)}, residue ${px(f.residue)}, edge loss ${percent(f.edgeLoss)}, clearance ${f.clearance === null ? "–" : px(f.clearance)}, spill ${percent(f.spill)}`
    : "–";

/** Text that is taken as it is in Markdown, on one line. */
const plain = (text: string): string => text.replace(/[\\`*_{}[\]<>|#]/g, "\\$&").replace(/\s+/g, " ");

/** A shot's versions and log as Markdown, newest first. */
export function logMarkdown(shot: Pick<Shot, "name" | "job" | "plate" | "versions">, entries: readonly LogEntry[]): string {
  const { info } = shot.plate;
  return [
    `# ${plain(shot.name)}`,
    "",
    `Job ${plain(shot.job.name)} · plate ${plain(shot.plate.name)}, ${info.width}×${info.height}, ${info.frames} frames. Times are UTC.`,
    "",
    "## Versions",
    "",
    ...(shot.versions.length ? ["| no. | name | frame | kept | figures |", "|---|---|---|---|---|"] : ["None kept."]),
    ...shot.versions.map((v) => `| ${v.number} | ${plain(v.name)} | ${v.frame} | ${stamp(v.createdAt)} | ${figuresText(v.figures)} |`),
    "",
    "## Log",
    "",
    "| when | frame | step | what | before | after |",
    "|---|---|---|---|---|---|",
    ...entries.map(
      (e) => `| ${stamp(e.at)} | ${e.frame} | ${plain(e.step)} | ${plain(e.what)} | ${figuresText(e.before)} | ${figuresText(e.after)} |`,
    ),
    "",
    ...entries.flatMap((e) => (e.proposed ? proposedMarkdown(e, e.proposed) : [])),
  ].join("\n");
}

const proposedMarkdown = (e: LogEntry, { reasons, notSolved }: Proposed): string[] => [
  `## As proposed on frame ${e.frame}, ${stamp(e.at)}`,
  "",
  ...reasons.map((r) => `- ${plain(r)}`),
  ...notSolved.map((n) => `- Not solved: ${plain(n.what)}`),
  "",
];

/**
 * A field of a CSV file (RFC 4180). Text that a spreadsheet would take for a formula is led by an apostrophe.
 */
function field(value: string | number | null): string {
  if (value === null) return "";
  if (typeof value === "number") return String(value);
  const safe = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

const FIGURES = ["holes", "residue", "edgeLoss", "clearance", "spill"] as const;
const HEADER = [
  "time_utc",
  "frame",
  "step",
  "what",
  ...["before", "after"].flatMap((when) => ["holes_px", "residue_px", "edge_loss", "clearance_px", "spill"].map((f) => `${when}_${f}`)),
];

/** A log as CSV (RFC 4180), newest first; shares are 0…1. */
export function logCsv(entries: readonly LogEntry[]): string {
  const figures = (f: LoggedFigures | null) => FIGURES.map((name) => (f?.[name] == null ? null : Number(f[name].toFixed(4))));
  const rows = entries.map((e) => [stamp(e.at), e.frame, e.step, e.what, ...figures(e.before), ...figures(e.after)]);
  return [HEADER, ...rows].map((r) => `${r.map(field).join(",")}\r\n`).join("");
}
