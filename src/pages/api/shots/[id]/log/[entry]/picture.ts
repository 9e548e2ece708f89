import type { APIRoute } from "astro";
import { answer, numberFrom } from "../../../../../../server/http";
import { pictureOfEntry } from "../../../../../../server/records";

export const GET: APIRoute = ({ params }) =>
  answer(() => {
    const { type, bytes } = pictureOfEntry(numberFrom(params.id), numberFrom(params.entry));
    return new Response(bytes, { headers: { "content-type": type, "cache-control": "private, max-age=31536000, immutable" } });
  });
