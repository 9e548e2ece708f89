import type { APIRoute } from "astro";
import { versionChangeSchema } from "../../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../../server/http";
import { changeVersion } from "../../../../../server/records";

export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => changeVersion(numberFrom(params.id), numberFrom(params.version), await readJson(request, versionChangeSchema)));
