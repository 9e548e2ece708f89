/** The `sieve` command: bundled anew where its sources are newer, then run. */
import { existsSync } from "node:fs";
import path from "node:path";
import { isNewer, root, stop } from "./setup.mjs";

const bundle = path.join(root, "dist/cli/sieve.js");
if (!existsSync(path.join(root, "node_modules/esbuild")))
  stop("The packages that the command needs are not installed yet.", "Run npm run demo once; it installs them.");
if (isNewer(["src", "package-lock.json", "scripts/bundle.mjs"], bundle)) await import("./bundle.mjs");
await import(bundle);
