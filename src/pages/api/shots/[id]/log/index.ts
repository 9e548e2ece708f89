import type { APIRoute } from "astro";
import { noteSchema } from "../../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../../server/http";
import { addNote, listLog } from "../../../../../server/records";

/** The newest entries; those that hold every word of `search`, with it. */
export const GET: APIRoute = ({ params, url }) =>
  answer(() => listLog(numberFrom(params.id), (url.searchParams.get("search") ?? "").slice(0, 200)));
/** A note by hand. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => addNote(numberFrom(params.id), await readJson(request, noteSchema)));
