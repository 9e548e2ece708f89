import type { APIRoute } from "astro";
import { z } from "zod";
import { answer, numberFrom, readJson } from "../../../../server/http";
import { createShot } from "../../../../server/shots";

const bodySchema = z.strictObject({ name: z.string().trim().min(1).max(120), plateId: z.string().regex(/^[0-9a-f]{64}$/) });

export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { name, plateId } = await readJson(request, bodySchema);
    return { id: createShot(numberFrom(params.id), name, plateId) };
  });
