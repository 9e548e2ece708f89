import type { APIRoute } from "astro";
import { z } from "zod";
import { answer, readJson } from "../../../server/http";
import { createJob, listJobs } from "../../../server/shots";

const bodySchema = z.strictObject({ name: z.string().trim().min(1).max(120) });

export const GET: APIRoute = () => answer(() => listJobs());
export const POST: APIRoute = ({ request }) => answer(async () => ({ id: createJob((await readJson(request, bodySchema)).name) }));
