import type { APIRoute } from "astro";
import { logCsv, logMarkdown } from "../../../../core/documents/log-text";
import { Complaint } from "../../../../server/files/complaint";
import { answer, numberFrom } from "../../../../server/http";
import { listLog } from "../../../../server/records";
import { getShot } from "../../../../server/shots";

/** Most entries that a saved log holds. */
const MOST = 100_000;

/** The whole log as a file: log.md or log.csv. */
export const GET: APIRoute = ({ params }) =>
  answer(() => {
    const shot = getShot(numberFrom(params.id));
    const entries = listLog(shot.id, "", MOST);
    const { format } = params;
    if (format !== "md" && format !== "csv") throw new Complaint(404, "A log is saved as .md or .csv.", "Choose one of them.");
    const text = format === "md" ? logMarkdown(shot, entries) : logCsv(entries);
    const name = `${shot.name.replace(/[^\w.-]+/g, "-").slice(0, 80) || "shot"}-log.${format}`;
    return new Response(text, {
      headers: {
        "content-type": `${format === "md" ? "text/markdown" : "text/csv"}; charset=utf-8`,
        "content-disposition": `attachment; filename="${name}"`,
        "cache-control": "no-store",
      },
    });
  });
