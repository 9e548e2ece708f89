import type { APIRoute } from "astro";
import { packRawFrame } from "../../../../../core/image/raw-frame";
import { answer, hashFrom, numberFrom } from "../../../../../server/http";
import { readerOf } from "../../../../../server/media/store";

/** One frame as raw 16-bit planes. The workers keep decoded frames; a browser's disk cache would choke on their size. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const frame = await readerOf(hashFrom(params.id)).frame(numberFrom(params.n));
    return new Response(packRawFrame(frame) as Uint8Array<ArrayBuffer>, {
      headers: { "content-type": "application/octet-stream", "cache-control": "no-store" },
    });
  });
