import type { APIRoute } from "astro";
import { newSetupSchema } from "../../../core/documents/setup";
import { keepSetup, listSetups } from "../../../server/carry";
import { answer, readJson } from "../../../server/http";

export const GET: APIRoute = () => answer(listSetups);
export const POST: APIRoute = ({ request }) => answer(async () => keepSetup(await readJson(request, newSetupSchema)));
