import type { APIRoute } from "astro";
import { viewSchema } from "../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../server/http";
import { saveView } from "../../../../server/shots";

/** PUT from the page; POST from a closing page's beacon. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => saveView(numberFrom(params.id), await readJson(request, viewSchema)));
export const POST = PUT;
