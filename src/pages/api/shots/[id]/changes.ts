import type { APIRoute } from "astro";
import { changeSchema } from "../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../server/http";
import { saveChange } from "../../../../server/shots";

export const POST: APIRoute = ({ params, request }) =>
  answer(async () => saveChange(numberFrom(params.id), await readJson(request, changeSchema)));
