import { defineMiddleware } from "astro:middleware";
import { resumeDeliveries } from "./server/jobs/deliveries";

/** Names under which this server may be addressed; MELLOW_SIEVE_HOSTS adds to them. Anything else is a rebound name. */
const HOSTS = new Set(["127.0.0.1", "localhost", "[::1]", ...(process.env.MELLOW_SIEVE_HOSTS ?? "").split(",").filter(Boolean)]);
const hostOf = (text: string): string => text.replace(/:\d+$/, "").toLowerCase();

const refuse = (what: string): Response =>
  new Response(JSON.stringify({ error: { what, remedy: "Open Mellow Sieve at the address it printed when it started." } }), {
    status: 403,
    headers: { "content-type": "application/json" },
  });

resumeDeliveries();

export const onRequest = defineMiddleware(async ({ request }, next) => {
  const host = request.headers.get("host") ?? "";
  if (!HOSTS.has(hostOf(host))) return refuse("This server does not answer to that name.");
  const origin = request.headers.get("origin");
  const changes = request.method !== "GET" && request.method !== "HEAD";
  if (origin && origin !== `http://${host}` && origin !== `https://${host}`) return refuse("Requests from other sites are refused.");
  if (changes && !origin && request.headers.get("sec-fetch-site") === "cross-site") return refuse("Requests from other sites are refused.");
  const response = await next();
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  response.headers.set("content-security-policy", "frame-ancestors 'none'");
  return response;
});
