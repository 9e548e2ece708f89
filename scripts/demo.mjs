/** npm run demo: installs what is missing, builds, seeds the demo job, serves it. */
import { ensurePort, serve } from "./serve.mjs";
import { ensureBuilt, ensureCompiled, ensureFfmpeg, ensureNode, ensurePackages, run, say, stop } from "./setup.mjs";

ensureNode();
await ensurePort();
await Promise.all([ensurePackages(), ensureFfmpeg()]);
await Promise.all([ensureCompiled(), ensureBuilt()]);
say("Seeding the demo job “Linden Hill”…");
if ((await run("npx", ["--no-install", "tsx", "demo/seed.ts"])) !== 0)
  stop("The demo could not be seeded.", "The lines above say why. The data folder is MELLOW_SIEVE_DATA, or data/ in the project.");
await serve();
