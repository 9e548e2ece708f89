import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../server/http";
import { measureShotFigures, shotFigures, stopShotFigures } from "../../../../server/jobs/shot-figures";

/** Figures of every frame under the shot's recipe: read, measured in the background, stopped. */
export const GET: APIRoute = ({ params }) => answer(() => shotFigures(numberFrom(params.id)));
export const POST: APIRoute = ({ params }) => answer(() => measureShotFigures(numberFrom(params.id)));
export const DELETE: APIRoute = ({ params }) => answer(() => stopShotFigures(numberFrom(params.id)));
