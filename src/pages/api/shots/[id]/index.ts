import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../server/http";
import { getShot } from "../../../../server/shots";

export const GET: APIRoute = ({ params }) => answer(() => getShot(numberFrom(params.id)));
