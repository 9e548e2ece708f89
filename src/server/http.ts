import type { z } from "zod";
import { asComplaint, Complaint } from "./files/complaint";
import { partsOf } from "./files/parts";

const json = (value: unknown, status = 200): Response =>
  new Response(JSON.stringify(value), { status, headers: { "content-type": "application/json", "cache-control": "no-store" } });

/** Runs an endpoint; its value becomes JSON, its errors a message that says what to do. */
export async function answer(run: () => unknown): Promise<Response> {
  try {
    const value = await run();
    return value instanceof Response ? value : json(value ?? {});
  } catch (error) {
    const complaint = asComplaint(error);
    if (complaint.status === 500) console.error(error);
    return json({ error: { what: complaint.what, remedy: complaint.remedy } }, complaint.status);
  }
}

/** Most bytes of a JSON body; recipes with many shapes stay far below this. */
const MAX_JSON = 8 * 1024 * 1024;

/** The body as text; counted as it comes, whatever length the request states or does not. @throws Complaint when it is too large */
async function textOf(request: Request): Promise<string> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  if (!request.body) return "";
  for await (const part of partsOf(request.body)) {
    bytes += part.byteLength;
    if (bytes > MAX_JSON) throw new Complaint(413, "The request is too large.", "Send less at once.");
    parts.push(part);
  }
  return Buffer.concat(parts).toString("utf8");
}

/** Reads and checks a JSON body. @throws Complaint that names the first wrong field */
export async function readJson<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  const text = await textOf(request);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new Complaint(400, "The request is not valid JSON.", "Reload the page and try again.");
  }
  const result = schema.safeParse(body);
  if (result.success) return result.data;
  const issue = result.error.issues[0];
  throw new Complaint(
    422,
    `Not valid: ${issue?.path.length ? `${issue.path.join(".")}: ` : ""}${issue?.message ?? "unknown"}.`,
    "Nothing was changed; correct it and try again.",
  );
}

/** A whole number from the address. */
export function numberFrom(text: string | undefined): number {
  const n = Number(text);
  if (!text || !Number.isInteger(n) || n < 1) throw new Complaint(404, "There is nothing at this address.", "Go back to the jobs page.");
  return n;
}

/** A content hash from the address. */
export function hashFrom(text: string | undefined): string {
  if (!text || !/^[0-9a-f]{64}$/.test(text)) throw new Complaint(404, "There is nothing at this address.", "Go back to the jobs page.");
  return text;
}
