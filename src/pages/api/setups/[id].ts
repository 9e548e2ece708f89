import type { APIRoute } from "astro";
import { removeSetup } from "../../../server/carry";
import { answer, numberFrom } from "../../../server/http";

export const DELETE: APIRoute = ({ params }) => answer(() => removeSetup(numberFrom(params.id)));
