import type { APIRoute } from "astro";
import { z } from "zod";
import { answer, numberFrom, readJson } from "../../../../../server/http";
import { renameVersion } from "../../../../../server/records";

const bodySchema = z.strictObject({ name: z.string().trim().min(1).max(120) });

export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => renameVersion(numberFrom(params.id), numberFrom(params.version), (await readJson(request, bodySchema)).name));
