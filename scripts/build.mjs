/** Builds the site, and what runs on Node beside it, into dist/. */
import { spawnSync } from "node:child_process";
import path from "node:path";
import { root } from "./setup.mjs";

const astro = spawnSync(process.execPath, [path.join(root, "node_modules/astro/astro.js"), "build", "--silent"], {
  cwd: root,
  stdio: "inherit",
  env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" },
});
if (astro.status !== 0) process.exit(astro.status ?? 1);
await import("./bundle.mjs");
