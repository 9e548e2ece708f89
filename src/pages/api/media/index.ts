import type { APIRoute } from "astro";
import { answer } from "../../../server/http";
import { listMedia, takeUpload } from "../../../server/media/store";

export const GET: APIRoute = () => answer(() => listMedia());

/** Body: the file itself. `?name=` its name. */
export const POST: APIRoute = ({ request, url }) => answer(() => takeUpload(request.body, url.searchParams.get("name") ?? ""));
