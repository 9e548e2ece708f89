import type { APIRoute } from "astro";
import { carrySchema } from "../../../../core/documents/setup";
import { carryToShots } from "../../../../server/carry";
import { answer, numberFrom, readJson } from "../../../../server/http";

/** Carries the shot's recipe to other shots of its job. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => carryToShots(numberFrom(params.id), await readJson(request, carrySchema)));
