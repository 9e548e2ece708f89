/** Starts the built server, waits until it answers, prints its address. */
import { spawn } from "node:child_process";
import path from "node:path";
import { root, say, stop } from "./setup.mjs";

export async function serve({ host = process.env.HOST ?? "127.0.0.1", port = process.env.PORT ?? "4417" } = {}) {
  const child = spawn(process.execPath, [path.join(root, "dist/server/entry.mjs")], {
    cwd: root,
    stdio: "inherit",
    // Planes of 4K frames go back to the system when they are let go: among smaller ones they leave gaps that nothing fills.
    env: { MALLOC_MMAP_THRESHOLD_: "16777216", ...process.env, HOST: host, PORT: port },
  });
  let ended = false;
  child.on("exit", (code) => {
    ended = true;
    process.exit(code ?? 1);
  });
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
  const address = `http://${host.includes(":") ? `[${host}]` : host}:${port}`;
  // The first answer also takes up deliveries that a stopped server left unfinished.
  for (let tries = 0; tries < 200 && !ended; tries++) {
    try {
      const ask = host === "0.0.0.0" ? `http://127.0.0.1:${port}` : address;
      if ((await fetch(`${ask}/api/health`)).ok) {
        say(`Mellow Sieve is at ${address}`);
        return child;
      }
    } catch {
      await new Promise((r) => setTimeout(r, 100));
    }
  }
  child.kill();
  stop(`The server did not start on ${address}.`, `Is the port taken? Choose another: PORT=4500 npm run demo`);
}

if (process.argv[1] === import.meta.filename) await serve();
