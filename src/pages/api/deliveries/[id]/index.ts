import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../server/http";
import { cancelDelivery, getDelivery } from "../../../../server/jobs/deliveries";

export const GET: APIRoute = ({ params }) => answer(() => getDelivery(numberFrom(params.id)));
export const DELETE: APIRoute = ({ params }) => answer(() => cancelDelivery(numberFrom(params.id)));
