import type { APIRoute } from "astro";
import { keepSchema } from "../../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../../server/http";
import { keepVersion, listVersions } from "../../../../../server/records";

export const GET: APIRoute = ({ params }) => answer(() => listVersions(numberFrom(params.id)));
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => keepVersion(numberFrom(params.id), await readJson(request, keepSchema)));
