/** Builds the site and the server's render thread into dist/. */
import { spawnSync } from "node:child_process";
import path from "node:path";
import { build } from "esbuild";

const root = path.resolve(import.meta.dirname, "..");
const astro = spawnSync(process.execPath, [path.join(root, "node_modules/astro/astro.js"), "build", "--silent"], {
  cwd: root,
  stdio: "inherit",
  env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" },
});
if (astro.status !== 0) process.exit(astro.status ?? 1);
await build({
  absWorkingDir: root,
  entryPoints: ["src/server/jobs/render-thread.ts"],
  outdir: "dist/threads",
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  packages: "external",
  sourcemap: true,
});
