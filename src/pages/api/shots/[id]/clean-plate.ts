import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../server/http";
import { cleanPlateOfShot } from "../../../../server/jobs/clean-plate";

/** Makes a clean plate from the frames of the whole shot. */
export const POST: APIRoute = ({ params }) => answer(() => cleanPlateOfShot(numberFrom(params.id)));
