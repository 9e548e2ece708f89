import type { APIRoute } from "astro";
import { answer, hashFrom } from "../../../../server/http";
import { thumbnail } from "../../../../server/media/thumbnail";

export const GET: APIRoute = ({ params }) =>
  answer(
    async () =>
      new Response((await thumbnail(hashFrom(params.id))) as Uint8Array<ArrayBuffer>, {
        headers: { "content-type": "image/jpeg", "cache-control": "private, max-age=31536000, immutable" },
      }),
  );
