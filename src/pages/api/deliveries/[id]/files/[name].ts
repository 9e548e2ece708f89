import { Readable } from "node:stream";
import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../../server/http";
import { openDelivered } from "../../../../../server/jobs/deliveries";

export const GET: APIRoute = ({ params }) =>
  answer(() => {
    const name = params.name ?? "";
    const { stream, bytes } = openDelivered(numberFrom(params.id), name);
    return new Response(Readable.toWeb(stream) as ReadableStream, {
      headers: {
        "content-type": "application/octet-stream",
        "content-length": String(bytes),
        "content-disposition": `attachment; filename="${name}"`,
      },
    });
  });
