import type { APIRoute } from "astro";
import { database } from "../../server/db/open";
import { answer } from "../../server/http";

export const GET: APIRoute = () => answer(() => ({ ok: database().$client.open }));
