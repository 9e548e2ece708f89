import path from "node:path";
import type { APIRoute } from "astro";
import { z } from "zod";
import { permittedPath } from "../../../server/files/folders";
import { answer, readJson } from "../../../server/http";
import { isPattern } from "../../../server/media/sequences";
import { takeFile } from "../../../server/media/store";

const bodySchema = z.strictObject({ path: z.string().min(1).max(4096) });

export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const { path: typed } = await readJson(request, bodySchema);
    // A sequence's pattern is no file; its folder is what must be permitted.
    const real = isPattern(typed) ? path.join(permittedPath(path.dirname(typed)), path.basename(typed)) : permittedPath(typed);
    return takeFile(real);
  });
