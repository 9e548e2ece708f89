import type { APIRoute } from "astro";
import { z } from "zod";
import { answer, numberFrom, readJson } from "../../../../server/http";
import { listDeliveries, startDelivery } from "../../../../server/jobs/deliveries";

export const GET: APIRoute = ({ params }) => answer(() => listDeliveries(numberFrom(params.id)));
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => startDelivery(numberFrom(params.id), await readJson(request, z.unknown())));
