import { describe, expect, it } from "vitest";
import { logCsv, logMarkdown } from "./log-text";
import type { LogEntry } from "./shot";

const figures = { holes: 12.4, residue: 0, edgeLoss: 0.0312, clearance: null, spill: 0.05 };
const entry = (what: string): LogEntry => ({
  id: 1,
  at: Date.UTC(2026, 4, 3, 9, 8, 7),
  frame: 12,
  step: "Matte",
  what,
  before: null,
  after: figures,
  restorable: true,
  picture: false,
  proposed: null,
});

/** A reader of CSV as RFC 4180 describes it, written apart from the writer. */
function readCsv(text: string): string[][] {
  const rows: string[][] = [[""]];
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const row = rows[rows.length - 1]!;
    const c = text[i]!;
    if (quoted) {
      if (c !== '"') row[row.length - 1] += c;
      else if (text[i + 1] === '"') row[row.length - 1] += text[++i] as string;
      else quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === ",") row.push("");
    else if (c === "\r" && text[i + 1] === "\n") {
      i++;
      if (i + 1 < text.length) rows.push([""]);
    } else row[row.length - 1] += c;
  }
  return rows;
}

describe("a log as text", () => {
  it("is CSV that reads back whole, whatever was written in it (RFC 4180)", () => {
    const nasty = 'said "soft", then\nleft it';
    const [header, first, second] = readCsv(logCsv([entry(nasty), entry("=HYPERLINK(1)")]));
    expect(header).toHaveLength(14);
    expect(first).toHaveLength(14);
    expect(first![3]).toBe(nasty);
    expect(first!.slice(0, 3)).toEqual(["2026-05-03 09:08:07", "12", "Matte"]);
    expect(first!.slice(4, 9)).toEqual(["", "", "", "", ""]);
    expect(first![9]).toBe("12.4");
    // What a spreadsheet would run is text.
    expect(second![3]).toBe("'=HYPERLINK(1)");
  });

  it("is Markdown whose table no entry can break", () => {
    const shot = {
      name: "LH-010 | veil",
      job: { id: 1, name: "Linden Hill" },
      plate: { id: "a", name: "veil.mp4", bytes: 1, info: { width: 1280, height: 720, frames: 24 } },
      versions: [],
    } as unknown as Parameters<typeof logMarkdown>[0];
    const text = logMarkdown(shot, [entry("a | b\n<script>")]);
    const row = text.split("\n").find((l) => l.includes("Matte"))!;
    expect(row.replaceAll("\\|", "").split("|")).toHaveLength(8);
    expect(row).toContain("\\<script\\>");
    expect(row).toContain("edge loss 3.1 %");
    expect(text).toContain("# LH-010 \\| veil");
    expect(text).not.toContain("proposed");
    const place = { x: 1, y: 2, width: 3, height: 4 };
    const proposed = { reasons: ["Screen: *green*"], notSolved: [{ kind: "half-open" as const, what: "A lid", place }] };
    const told = logMarkdown(shot, [{ ...entry("Whole key proposed"), proposed }]);
    expect(told).toContain("## As proposed on frame 12, 2026-05-03 09:08:07\n\n- Screen: \\*green\\*\n- Not solved: A lid\n");
  });
});
