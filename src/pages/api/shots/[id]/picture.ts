import type { APIRoute } from "astro";
import { Complaint } from "../../../../server/files/complaint";
import { answer, numberFrom } from "../../../../server/http";
import { pictureSchema, shotPicture } from "../../../../server/jobs/shot-picture";

/** A reduced picture of the shot, for sheets. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => {
    const asked = pictureSchema.safeParse(Object.fromEntries(url.searchParams));
    if (!asked.success) throw new Complaint(422, "There is no such picture.", "Ask for plate, matte or composite of one frame.");
    const bytes = await shotPicture(numberFrom(params.id), asked.data);
    return new Response(bytes, { headers: { "content-type": "image/jpeg", "cache-control": "no-store" } });
  });
