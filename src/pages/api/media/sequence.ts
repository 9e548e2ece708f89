import type { APIRoute } from "astro";
import { z } from "zod";
import { answer, readJson } from "../../../server/http";
import { joinSequence } from "../../../server/media/store";

const bodySchema = z.strictObject({
  ids: z
    .array(z.string().regex(/^[0-9a-f]{64}$/))
    .min(2)
    .max(20_000),
});

export const POST: APIRoute = ({ request }) => answer(async () => joinSequence((await readJson(request, bodySchema)).ids));
