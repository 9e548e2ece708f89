import type { APIRoute } from "astro";
import { completedSchema } from "../../../../../../core/documents/shot";
import { answer, numberFrom, readJson } from "../../../../../../server/http";
import { completeEntry, recipeOfEntry } from "../../../../../../server/records";

/** The recipe as it was after the entry. */
export const GET: APIRoute = ({ params }) => answer(() => ({ recipe: recipeOfEntry(numberFrom(params.id), numberFrom(params.entry)) }));
export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => completeEntry(numberFrom(params.id), numberFrom(params.entry), await readJson(request, completedSchema)));
