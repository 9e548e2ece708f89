import type { APIRoute } from "astro";
import { z } from "zod";
import { figuresSchema } from "../../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../../server/http";
import { completeEntry } from "../../../../../server/shots";

const bodySchema = z.strictObject({ after: figuresSchema });

export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => completeEntry(numberFrom(params.id), numberFrom(params.entry), (await readJson(request, bodySchema)).after));
